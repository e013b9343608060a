// The board of the day: what is in the shop, where, what each waits on, and the promises.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { Today, TodayRow } from '../../api/types'
import { useAllDeeds } from '../../delivery/use'
import { deliver } from '../../delivery/queue'
import { Board, type Block, type Look } from '../../parts/board/board'
import { useToast } from '../../parts/ui/toast'
import { wordsFor } from '../../api/client'

const hour = 3_600_000
const noPlace = 'No place'

const lookOf: Record<TodayRow['waits'], Look> = {
  stop: 'danger',
  rest: 'wait',
  clean: 'wait',
  charge: 'wait',
  hands: 'hands',
  customer: 'live',
}

export default function DayBoard({ today, rows }: { today: Today; rows: TodayRow[] }) {
  const now = Date.parse(today.now)
  const [placeOf, move] = useMoves(rows)
  const blocks = rows.map((row): Block => {
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
  // What stands at a place that is off the list by now is there to be moved all the same.
  const lanes = [...new Set([...today.places, ...blocks.map((b) => b.lane)])]
  return (
    <Board
      name="Board of the day"
      lanes={lanes}
      blocks={blocks}
      now={now}
      window={windowOf(now, rows)}
      zone={today.shop.time_zone}
      move={move}
    />
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
