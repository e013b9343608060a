// Helpers beside a test: two methods against each other, the reserve check
// planned, the drain hunted fuse by fuse. Every figure is the core's.
import { useState } from 'react'
import { scaleLinear } from 'd3-scale'
import type { Hunt, Methods, Picture, Power, ReservePlan } from '../../../api/types'
import { useWord } from '../../../api/words'
import { CurvePicture } from '../../../parts/plot/curve'
import { useRem } from '../../../parts/rem'
import { percent, thin } from '../../../parts/format'
import { useWidth } from '../../../parts/width'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { TextField } from '../../../parts/ui/field'

/** What load and conductance say of the cranking power, and what to see to where they differ. */
export function TwoMethods({ methods }: { methods: Methods }) {
  if (methods.state === 'none') return null
  return (
    <section aria-label="Two methods" className="grid gap-2 border-t border-line pt-3">
      <h2 className="text-small font-bold text-lead">Cranking power by each method, of the label’s</h2>
      {(methods.load ?? methods.conductance) && <Powers methods={methods} />}
      <p>{methods.text.text}</p>
      {(methods.checks ?? []).length > 0 && (
        <ul className="grid gap-1">
          {methods.checks.map((c) => (
            <li key={c.text.code} className="grid grid-cols-[4.4rem_1fr] gap-x-2">
              <span className={`text-small ${c.done ? 'text-verdigris-text' : 'font-bold text-marigold-text'}`}>
                {c.done ? 'seen to' : 'still to do'}
              </span>
              {c.text.text}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

const rowHeight = 34

function Powers({ methods }: { methods: Methods }) {
  const [ref, width] = useWidth<HTMLDivElement>(560)
  const rem = useRem()
  const rows: [string, Power][] = []
  if (methods.load) rows.push(['load test', methods.load])
  if (methods.conductance) rows.push(['conductance', methods.conductance])
  const most = Math.max(1.25, ...rows.map(([, p]) => p.high))
  const x = scaleLinear([0, most], [108, width - 64])
  const bottom = rows.length * rowHeight + 8
  return (
    <div ref={ref} className="min-w-0 overflow-hidden">
      <svg width={width} height={bottom + 24} role="img" aria-label={rows.map(([n, p]) => told(n, p)).join('. ')}>
        <rect
          x={x(methods.least)}
          y={4}
          width={x(most) - x(methods.least)}
          height={bottom - 8}
          className="fill-verdigris-wash"
        />
        <path d={`M${x(methods.least)} 0V${bottom}`} className="stroke-oxide" strokeWidth="2" />
        {[0, 0.5, 1]
          .filter((v) => Math.abs(x(v) - x(methods.least)) > 2.6 * rem)
          .map((v) => (
            <text key={v} x={x(v)} y={bottom + 18} textAnchor="middle" className="num fill-ink text-tick">
              {v * 100}
            </text>
          ))}
        <text x={x(methods.least)} y={bottom + 18} textAnchor="middle" className="num fill-oxide-text text-tick">
          {percent(methods.least)}
        </text>
        <text x={width - 4} y={bottom + 18} textAnchor="end" className="fill-lead text-small">
          {thin}%
        </text>
        {rows.map(([name, p], i) => {
          const y = 8 + rowHeight * (i + 0.5) - 4
          return (
            <g key={name} opacity={p.valid ? 1 : 0.6}>
              <text x={0} y={y + 5} className="fill-ink text-small">
                {name}
              </text>
              <path
                d={`M${x(p.low)} ${y}H${x(p.high)}M${x(p.low)} ${y - 5}v10M${x(p.high)} ${y - 5}v10`}
                className="stroke-ink"
                strokeWidth="1.6"
              />
              <circle
                cx={x(p.share)}
                cy={y}
                r="6"
                className={`fill-sheet ${p.valid ? 'stroke-ink' : 'stroke-marigold'}`}
                strokeWidth="3"
              />
              <text x={width - 4} y={y + 5} textAnchor="end" className="num fill-ink text-tick">
                {p.amps}
                {thin}A
              </text>
            </g>
          )
        })}
      </svg>
    </div>
  )
}

function told(name: string, p: Power): string {
  return `${name}: ${percent(p.share)} %, ${percent(p.low)} to ${percent(p.high)}, ${p.amps} A${p.valid ? '' : ', does not count yet'}`
}

type ReserveProps = { plan: ReservePlan; open: boolean; setLine: (line: string) => void }

/** The timed discharge: what to draw, for how long, and what lost capacity looks like. */
export function ReserveHelper({ plan, open, setLine }: ReserveProps) {
  const word = useWord()
  const points = (pick: (p: ReservePlan['curve'][number]) => number) =>
    plan.curve.map((p) => [p.minutes, pick(p)] as [number, number])
  const lowest = Math.min(...plan.curve.map((p) => p.least), ...plan.taken.map((t) => t.volts)) - 0.15
  const curve = {
    x_unit: 'min',
    y_unit: 'V',
    marks: plan.taken.map((t) => [t.minutes, t.volts]),
    lines: [
      { label: word('reserve_sound'), points: points((p) => p.low), upper: points((p) => p.high) },
      {
        label: word('reserve_weak'),
        points: falling(
          points((p) => p.weak_cell),
          lowest,
        ),
      },
      { label: word('reserve_least'), points: points((p) => p.least), limit: true },
    ],
  }
  return (
    <details open={open} className="border-t border-line pt-3">
      <summary className="text-small font-bold text-lead">Reserve check: what lost capacity looks like</summary>
      <div className="grid gap-2 pt-2 [&>*]:min-w-0">
        <p>{plan.text.text}</p>
        <CurvePicture curve={curve} title="Volts under the load" places={[0.85, 'beside', 0.75]} />
        <div>
          <Button onClick={() => setLine(`reserve ${plan.amps}a ${plan.minutes}min to `)}>Begin its line</Button>
        </div>
      </div>
    </details>
  )
}

/** A curve down to where it leaves the picture. */
function falling(points: [number, number][], floor: number): [number, number][] {
  const out = points.findIndex(([, v]) => v < floor)
  const [a, b] = [points[out - 1], points[out]]
  if (!a || !b) return points
  const share = (a[1] - floor) / (a[1] - b[1])
  return [...points.slice(0, out), [a[0] + share * (b[0] - a[0]), floor]]
}

type HuntProps = { hunt: Hunt; kept: number; open: boolean; setLine: (line: string) => void }

/** Where a drain goes: the whole, each fuse's share of it, and what none explains. */
export function DrainHunt({ hunt, kept, open, setLine }: HuntProps) {
  const [asleep, setAsleep] = useState('')
  const begun = hunt.whole !== null || hunt.fuses.length > 0
  return (
    <details open={begun || open} className="border-t border-line pt-3">
      <summary className="text-small font-bold text-lead">Drain, fuse by fuse</summary>
      <div className="grid gap-2 pt-2 [&>*]:min-w-0">
        <p>{hunt.text.text}</p>
        {begun && <Currents hunt={hunt} />}
        {/* Begun anew once a fuse is kept. */}
        <FuseEntry key={kept} ratings={hunt.ratings} asleep={asleep} setAsleep={setAsleep} setLine={setLine} />
      </div>
    </details>
  )
}

function Currents({ hunt }: { hunt: Hunt }) {
  const { whole, fuses } = hunt
  const most = Math.max(whole?.high ?? 0, ...fuses.map((f) => f.high), hunt.limit * 1.2)
  const rows = [
    ...(whole ? [{ name: 'whole car', ...whole, hatched: false }] : []),
    ...fuses.map((f) => ({ name: f.fuse ? `fuse ${f.fuse}` : 'a fuse', ...f, hatched: false })),
  ]
  return (
    <table className="w-full max-w-2xl border-collapse">
      <thead className="sr-only">
        <tr>
          <th>Where</th>
          <th>Share</th>
          <th>Current</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.reading} className="border-b border-line">
            <td className="w-28 py-1.5 pr-2">{r.name}</td>
            <td>
              <Span low={r.low} high={r.high} at={r.amps} most={most} limit={hunt.limit} valid={r.valid} />
            </td>
            <td className="num w-32 text-right">{milliamps(r.amps)}</td>
          </tr>
        ))}
        {whole && fuses.length > 0 && (
          <tr>
            <td className="py-1.5 pr-2 text-lead">not explained</td>
            <td>
              <Span low={hunt.least_left} high={hunt.most_left} most={most} limit={hunt.limit} valid={false} />
            </td>
            <td className="num w-32 text-right text-lead">
              {hunt.least_left > 0 ? `${bare(hunt.least_left)} to ` : 'up to '}
              {milliamps(hunt.most_left)}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  )
}

type SpanProps = { low: number; high: number; at?: number; most: number; limit: number; valid: boolean }

function Span({ low, high, at, most, limit, valid }: SpanProps) {
  const x = (amps: number) => (amps / most) * 100
  return (
    <svg className="block h-4 w-full" viewBox="0 0 100 16" preserveAspectRatio="none" aria-hidden="true">
      <path d="M0 8H100" className="stroke-line" vectorEffect="non-scaling-stroke" />
      {at !== undefined && (
        <rect y="4" width={x(at)} height="8" className={valid ? 'fill-lead' : 'fill-marigold'} opacity="0.45" />
      )}
      <path
        d={`M${x(low)} 8H${x(high)}`}
        className={valid ? 'stroke-ink' : 'stroke-marigold'}
        strokeWidth="3"
        vectorEffect="non-scaling-stroke"
      />
      <path d={`M${x(limit)} 0V16`} className="stroke-oxide" strokeWidth="2" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}

function bare(amps: number): string {
  return amps < 1 ? `${Math.round(amps * 1000)}` : amps.toFixed(1)
}

function milliamps(amps: number): string {
  return bare(amps) + thin + (amps < 1 ? 'mA' : 'A')
}

type EntryProps = {
  ratings: number[]
  asleep: string
  setAsleep: (minutes: string) => void
  setLine: (line: string) => void
}

/** One fuse's line put together from its name, its rating and the millivolts across it. */
function FuseEntry({ ratings, asleep, setAsleep, setLine }: EntryProps) {
  const [name, setName] = useState('')
  const [rating, setRating] = useState(15)
  const [millivolts, setMillivolts] = useState('')
  const write = (next: { name?: string; rating?: number; millivolts?: string; asleep?: string }) => {
    const now = { name, rating, millivolts, asleep, ...next }
    if (now.millivolts.trim() === '') return setLine('')
    const parts = ['fuse', now.name.trim(), `${now.rating}a`, `${now.millivolts.trim()}mv`]
    if (now.asleep.trim()) parts.push(`asleep ${now.asleep.trim()}min`)
    setLine(parts.filter(Boolean).join(' '))
  }
  return (
    <fieldset className="grid gap-2">
      <legend className="text-small text-lead">The next fuse, by the millivolts across it</legend>
      <div className="flex flex-wrap gap-1.5" role="group" aria-label="Rating of the fuse">
        {ratings.map((r) => (
          <Chip
            key={r}

            className="num"
            aria-pressed={r === rating}
            onClick={() => {
              setRating(r)
              write({ rating: r })
            }}
          >
            {r}
            {thin}A
          </Chip>
        ))}
      </div>
      <div className="grid max-w-xl grid-cols-3 gap-2">
        <TextField
          label="its name"
          placeholder="F12"
          maxLength={20}
          value={name}
          set={(name) => {
            setName(name)
            write({ name })
          }}
        />
        <TextField
          label="millivolts"
          numeric
          value={millivolts}
          set={(millivolts) => {
            setMillivolts(millivolts)
            write({ millivolts })
          }}
        />
        <TextField
          label="asleep, min"
          numeric
          value={asleep}
          set={(asleep) => {
            setAsleep(asleep)
            write({ asleep })
          }}
        />
      </div>
    </fieldset>
  )
}

/** Whether the reserve check is what comes next, or has been taken. */
export function reserveWanted(picture: Picture, next: string | undefined): boolean {
  return next === 'reserve' || (picture.reserve?.taken.length ?? 0) > 0
}
