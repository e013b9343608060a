// The board of time: by the day or the week what is in the shop, where, what each waits on, the
// promises, the charges and the walks; by the season what stands.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useShelf } from '../../api/shelf'
import { useRounds, useYard } from '../../api/standing'
import type { Rounds, Shelf, Today, TodayRow } from '../../api/types'
import { useAllDeeds } from '../../delivery/use'
import { deliver } from '../../delivery/queue'
import { Board, type Block, type Look } from '../../parts/board/board'
import { shortDate } from '../../parts/format'
import { useToast } from '../../parts/ui/toast'
import { wordsFor } from '../../api/client'

const hour = 3_600_000
const day = 24 * hour
const noPlace = 'No place'

const lookOf: Record<TodayRow['waits'], Look> = {
  stop: 'danger',
  rest: 'wait',
  clean: 'wait',
  charge: 'wait',
  hands: 'hands',
  customer: 'live',
}

/** How much of time the board shows. */
export type Zoom = 'day' | 'week' | 'season'

type BoardProps = { today: Today; rows: TodayRow[]; zoom: Zoom }

export default function TimeBoard({ today, rows, zoom }: BoardProps) {
  return zoom === 'season' ? <SeasonBoard today={today} /> : <WorkBoard today={today} rows={rows} zoom={zoom} />
}

/** The jobs at their places, the charges on their channels, and the walks. */
function WorkBoard({ today, rows, zoom }: BoardProps) {
  const now = Date.parse(today.now)
  const zone = today.shop.time_zone
  const [placeOf, move] = useMoves(rows)
  const { data: shelf } = useShelf()
  const { data: rounds } = useRounds()
  const week = zoom === 'week'
  const window: [number, number] = week ? [now - day, now + 6 * day] : windowOf(now, rows)
  const jobs = rows.map((row): Block => {
    const promised = row.job.promised_at ? Date.parse(row.job.promised_at) : now
    return {
      id: row.job.id,
      lane: placeOf(row) || noPlace,
      from: Date.parse(row.job.opened_at),
      to: now,
      tail: Math.max(now, promised),
      title: row.plate || row.description,
      words: row.brief,
      look: row.action === 'replace' ? 'danger' : lookOf[row.waits],
      href: `/jobs/${row.job.id}`,
    }
  })
  const others = [...chargesOf(shelf, window), ...walksOf(rounds, now, window, week)]
  const blocks = [...jobs, ...others]
  // What stands at a place that is off the list by now is there to be moved all the same.
  const lanes = [...new Set([...today.places, ...blocks.map((b) => b.lane)])]
  const taken = new Set(others.map((b) => b.lane))
  return (
    <Board
      name={week ? 'Board of the week' : 'Board of the day'}
      lanes={lanes}
      blocks={blocks}
      now={now}
      window={window}
      zone={zone}
      say={week ? (t) => weekday(t, zone) : undefined}
      move={(id, lane) => !taken.has(lane) && move(id, lane)}
    />
  )
}

const weekday = (t: Date, zone: string) =>
  t.toLocaleString('en-GB', { weekday: 'short', day: 'numeric', timeZone: zone })

/** What charges and what is planned to, each on its channel, with how long it may take. */
function chargesOf(shelf: Shelf | undefined, [from, to]: [number, number]): Block[] {
  if (!shelf) return []
  const short = shortLanes(shelf)
  return shelf.items.flatMap((item): Block[] => {
    if (item.state === 'unplaced' || !item.on_at) return []
    const begin = Date.parse(item.on_at)
    const end = Date.parse(item.ready_from ?? item.off ?? shelf.to)
    if (begin > to || end < from) return []
    return [
      {
        id: item.charge.id,
        lane: short.get(item.lane) ?? item.lane,
        from: begin,
        to: Math.max(begin, end),
        tail: Date.parse(item.ready_to ?? item.off ?? shelf.to),
        title: item.plate || item.tag,
        words: item.label,
        look: item.stop || item.late > 0 ? 'danger' : item.state === 'planned' ? 'planned' : 'live',
        href: `/shelf/${item.charge.id}`,
        fixed: true,
      },
    ]
  })
}

/** Names of the channels that stand beside a lane of one line: without what they can give. */
function shortLanes({ lanes }: Shelf): Map<string, string> {
  const charger = (name: string) => name.split(',')[0] ?? name
  return new Map(
    lanes.map((lane) => {
      const own = charger(lane.name)
      const several = lanes.some((other) => other !== lane && charger(other.name) === own)
      return [lane.name, several ? `${own} · ${lane.channel}` : own]
    }),
  )
}

/** About how long a stop of a walk takes, in milliseconds: it is drawn so long. */
const stopTime = 600_000

/** The walks to what stands, each on its day; that of today from now on. */
function walksOf(rounds: Rounds | undefined, now: number, [from, to]: [number, number], week: boolean): Block[] {
  if (!rounds) return []
  return rounds.walks.flatMap((w): Block[] => {
    const today = w.on === rounds.today
    const begin = today ? now : Date.parse(`${w.on}T09:00:00Z`)
    if ((!today && !week) || begin > to || begin < from - day) return []
    return [
      {
        id: `walk ${w.on}`,
        lane: 'Rounds',
        from: begin,
        to: begin + w.stops.length * stopTime,
        title: `${w.stops.length} ${w.stops.length === 1 ? 'stop' : 'stops'}`,
        words: w.stops.map((s) => s.name).join(', '),
        look: w.stops.some((s) => s.overdue) ? 'danger' : 'planned',
        href: '/yard/rounds',
        fixed: true,
      },
    ]
  })
}

/** How many that stand are drawn: the worst. */
const drawn = 40

/** What stands, each from when it was seen to when somebody has to come, and on to its bad day. */
function SeasonBoard({ today }: { today: Today }) {
  const now = Date.parse(today.now)
  const zone = today.shop.time_zone
  const { data: yard } = useYard('')
  const { data: rounds } = useRounds()
  const window: [number, number] = [now - 21 * day, now + 180 * day]
  const at = (date: string) => Date.parse(`${date}T12:00:00Z`)
  const stands = (yard?.rows ?? []).slice(0, drawn).map((row): Block => {
    const due = at(row.due.to)
    return {
      id: row.id,
      lane: [row.place, row.spot].filter(Boolean).join(', ') || noPlace,
      from: Date.parse(row.seen_at),
      to: Math.max(due, now),
      tail: Math.max(due, row.bad ? at(row.bad.on) : due),
      title: row.name,
      words: row.overdue ? `was due ${shortDate(row.due.to)}` : `by ${shortDate(row.due.to)}`,
      look: row.overdue || (row.bad && row.bad.days <= 14) ? 'danger' : row.bad ? 'wait' : 'live',
      href: `/yard/${row.id}`,
    }
  })
  const walks = walksOf(rounds, now, window, true)
  const blocks = [...stands, ...walks]
  if (yard && blocks.length === 0) return <p className="px-5 py-6 text-lead">Nothing stands.</p>
  return (
    <>
      <Board
        name="Board of the season"
        lanes={[...new Set(blocks.map((b) => b.lane))]}
        blocks={blocks}
        now={now}
        window={window}
        zone={zone}
        say={(t) => shortDate(t.toISOString().slice(0, 10))}
      />
      {yard && yard.rows.length > drawn && (
        <p className="px-5 py-2 text-small text-lead">
          The {drawn} worst of {yard.rows.length} that stand.
        </p>
      )}
    </>
  )
}

/** From a little before the first of the day's jobs to the last promise, 8 hours at least. */
function windowOf(now: number, rows: TodayRow[]): [number, number] {
  const begins = rows.map((r) => Date.parse(r.job.opened_at)).filter((t) => now - t < 7 * hour)
  const ends = rows
    .map((r) => (r.job.promised_at ? Date.parse(r.job.promised_at) : now))
    .filter((t) => t - now < 9 * hour)
  const start = Math.min(now - 2 * hour, ...begins) - hour / 2
  return [start, Math.max(now + 4 * hour, ...ends) + hour / 2]
}

/** Where each job stands, with what was moved here and is not told back yet; and how one is
 * moved. */
function useMoves(rows: TodayRow[]) {
  const cache = useQueryClient()
  const say = useToast()
  const waiting = useAllDeeds()
  const [moved, setMoved] = useState<Record<string, string>>({})
  const placeOf = (row: TodayRow) => {
    const said = waiting.findLast((d) => d.kind === 'desk' && d.subject === row.job.id && !d.refused)
    return said?.kind === 'desk' ? (said.desk.place ?? '') : (moved[row.job.id] ?? row.job.place)
  }
  const move = (id: string, lane: string, back?: boolean) => {
    const row = rows.find((r) => r.job.id === id)
    if (!row) return
    const before = placeOf(row) || noPlace
    const place = lane === noPlace ? '' : lane
    const { assigned_to, waits_for, waits_note } = row.job
    const name = row.plate || row.description
    const desk = { place, assigned_to: assigned_to ?? undefined, waits_for, waits_note }
    setMoved((now) => ({ ...now, [id]: place }))
    void deliver(id, { kind: 'desk', desk })
      .then(() => say(`${name}: ${lane}.`, back ? undefined : () => move(id, before, true)))
      .catch((error: unknown) => say(wordsFor(error)))
      .then(() => cache.invalidateQueries({ queryKey: ['today'] }))
      .finally(() => setMoved((now) => Object.fromEntries(Object.entries(now).filter(([job]) => job !== id))))
  }
  return [placeOf, move] as const
}
