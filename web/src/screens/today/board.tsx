// The time board: lanes are places, solid blocks hands at work, hatched blocks
// waits, with a dotted tail to the promised time and a now-line.
import { scaleTime } from 'd3-scale'
import { useNavigate } from 'react-router'
import type { Today, TodayRow } from '../../api/types'
import { useWord } from '../../api/words'
import { clock } from '../../parts/format'
import { Hatch } from '../../parts/plot/hatch'
import { useWidth } from '../../parts/width'

const leastLane = 52
const mostLane = 84
const gap = 6
const left = 96
const top = 44

type Placed = { row: TodayRow; from: number; to: number; tail: number; y: number }

export function Board({ today, rows }: { today: Today; rows: TodayRow[] }) {
  const [ref, width, room] = useWidth<HTMLDivElement>(900)
  const now = Date.parse(today.now)
  const [start, end] = windowOf(now, rows)
  const x = scaleTime([start, end], [left, width - 14])
  const { lane, lanes, placed, height } = arrange(today, rows, now, room)
  const zone = today.shop.time_zone
  return (
    <div ref={ref} className="min-h-full">
      <svg width={width} height={height} className="block" role="group" aria-label="Board of the day">
        <defs>
          <Hatch id="board-wait" />
        </defs>
        {x.ticks(8).map((t) => (
          <g key={+t}>
            <path d={`M${x(t)} ${top - 8}V${height}`} className="stroke-line" />
            <text x={x(t)} y={24} textAnchor="middle" className="num fill-lead text-tick">
              {Math.abs(x(t) - x(now)) < 62 ? '' : clock(t.toISOString(), zone)}
            </text>
          </g>
        ))}
        {lanes.map((l) => (
          <g key={l.name}>
            <text x={18} y={l.y + lane / 2 + 5} className="fill-ink font-bold">
              {l.name}
            </text>
            <path d={`M${left} ${l.y + l.height}H${width}`} className="stroke-line" />
          </g>
        ))}
        <path d={`M${x(now)} ${top - 10}V${height}`} className="stroke-oxide" strokeWidth="2" />
        <rect x={x(now) - 28} y={8} width={56} height={24} rx={6} className="fill-oxide" />
        <text x={x(now)} y={25} textAnchor="middle" className="num fill-sheet text-tick font-bold">
          {clock(today.now, zone)}
        </text>
        {placed.map((p) => (
          <Block key={p.row.job.id} placed={p} x={x} right={width} lane={lane} />
        ))}
      </svg>
    </div>
  )
}

const hour = 3_600_000

/** From a little before the first of the day's jobs to the last promise, 8 hours at least. */
function windowOf(now: number, rows: TodayRow[]): [number, number] {
  const begins = rows.map((r) => Date.parse(r.job.opened_at)).filter((t) => now - t < 7 * hour)
  const ends = rows
    .map((r) => (r.job.promised_at ? Date.parse(r.job.promised_at) : now))
    .filter((t) => t - now < 9 * hour)
  const start = Math.min(now - 2 * hour, ...begins) - hour / 2
  return [start, Math.max(now + 4 * hour, ...ends) + hour / 2]
}

function arrange(today: Today, rows: TodayRow[], now: number, room: number) {
  const names = [...today.places]
  if (rows.some((r) => !r.job.place)) names.push('No place')
  const placed: Placed[] = []
  const tall = names.reduce(
    (sum, name) => sum + Math.max(1, rows.filter((r) => (r.job.place || 'No place') === name).length),
    0,
  )
  const lane = Math.min(mostLane, Math.max(leastLane, Math.floor((room - top - 14) / tall)))
  const lanes: { name: string; y: number; height: number }[] = []
  let y = top
  for (const name of names) {
    const here = rows.filter((r) => (r.job.place || 'No place') === name)
    here.forEach((row, i) => {
      const opened = Date.parse(row.job.opened_at)
      const tail = row.job.promised_at ? Date.parse(row.job.promised_at) : now
      placed.push({ row, from: opened, to: now, tail, y: y + gap / 2 + i * lane })
    })
    const height = Math.max(1, here.length) * lane
    lanes.push({ name, y, height })
    y += height
  }
  return { lane, lanes, placed, height: y + 10 }
}

const looks: Record<string, { box: string; fill?: string }> = {
  stop: { box: 'fill-oxide-wash stroke-oxide' },
  rest: { box: 'stroke-marigold', fill: 'url(#board-wait)' },
  clean: { box: 'stroke-marigold', fill: 'url(#board-wait)' },
  charge: { box: 'stroke-marigold', fill: 'url(#board-wait)' },
  hands: { box: 'fill-sheet stroke-ink' },
  customer: { box: 'fill-verdigris-wash stroke-verdigris' },
}

const waiting: Record<string, string> = {
  rest: 'rest, then volts',
  charge: 'charge, then load',
  clean: 'clean, then test',
}

const least = 122

type BlockProps = { placed: Placed; x: (t: number) => number; right: number; lane: number }

function Block({ placed, x, right, lane }: BlockProps) {
  const word = useWord()
  const navigate = useNavigate()
  const { row } = placed
  const from = Math.max(left, x(placed.from))
  const width = Math.max(least, x(placed.to) - from)
  const tail = Math.min(right - 8, x(placed.tail)) - (from + width)
  const look = (row.action === 'replace' ? looks.stop : looks[row.waits]) ?? { box: 'fill-sheet stroke-ink' }
  const words = waiting[row.waits] ?? word(row.action)
  const mid = placed.y + (lane - gap) / 2
  const open = () => void navigate(`/jobs/${row.job.id}`)
  const characters = Math.floor((width - 16) / 7.2)
  return (
    <g
      role="link"
      tabIndex={0}
      onClick={open}
      onKeyDown={(e) => e.key === 'Enter' && open()}
      className="cursor-pointer"
    >
      {tail > 4 && (
        <rect
          x={from + width}
          y={placed.y + 8}
          width={tail}
          height={lane - gap - 16}
          className="fill-transparent stroke-lead"
          strokeDasharray="2 4"
        />
      )}
      <rect
        x={from}
        y={placed.y}
        width={width}
        height={lane - gap}
        rx={6}
        className={look.box}
        fill={look.fill}
        strokeWidth="1.8"
      />
      <text x={from + 9} y={mid - 4} className="fill-ink text-tick font-bold">
        {shorten(row.plate || row.description, characters)}
      </text>
      <text x={from + 9} y={mid + 15} className="fill-ink text-small">
        {shorten(words, Math.floor((width - 16) / 6.6))}
      </text>
    </g>
  )
}

function shorten(text: string, characters: number) {
  return text.length <= characters ? text : `${text.slice(0, Math.max(1, characters - 1)).trimEnd()}…`
}
