// The clocks of the shop. The server keeps them; each device counts by itself, so
// that a clock rings when the line is down as well.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import type { Deed } from '../delivery/deeds'
import { useAllDeeds } from '../delivery/use'
import { client, keptHere, takeAs } from './client'
import { clocksKey, counted, type Counted } from './counted'
import type { Clocks, RunningClock } from './types'

/** The clocks as the server has them, with those set going and stopped here that it has
 * not been told of yet. */
export function useClocks() {
  const { data } = useServerClocks()
  const waiting = useAllDeeds()
  return useMemo(() => ({ data: withWaiting(data, waiting) }), [data, waiting])
}

function withWaiting(data: Counted | undefined, waiting: Deed[]): Counted | undefined {
  const offset = data?.offset ?? 0
  let clocks = data?.clocks ?? []
  for (const deed of waiting) {
    if (deed.refused) continue
    if (deed.kind === 'clock_stop') clocks = clocks.filter((c) => c.id !== deed.clock)
    if (deed.kind !== 'clock') continue
    const begun = Date.parse(deed.at) + offset
    const mine = {
      ...deed.clock,
      id: deed.id,
      started_at: new Date(begun).toISOString(),
      ends_at: new Date(begun + deed.clock.seconds * 1000).toISOString(),
    }
    clocks = [...clocks.filter((c) => c.battery_id !== mine.battery_id || c.kind !== mine.kind), mine]
  }
  return data || clocks.length > 0 ? { now: data?.now ?? '', offset, clocks } : data
}

function useServerClocks() {
  const cache = useQueryClient()
  return useQuery({
    queryKey: clocksKey,
    queryFn: async () => {
      const call = client.GET('/clocks')
      const clocks = await takeAs<Clocks>(call)
      if (!(await keptHere(call))) return counted(clocks)
      // What it says of the time no longer holds.
      return cache.getQueryData<Counted>(clocksKey) ?? { ...clocks, offset: 0 }
    },
    // What a wait adds to a reading grows by the minute.
    refetchInterval: (query) => (query.state.data?.clocks.length ? 20_000 : 120_000),
  })
}

/** The seconds until a clock is over; below zero it rings. */
export function left(clock: RunningClock, offset: number, now: number): number {
  // A tick may be a moment older than the clock: never more than all of it is left.
  return Math.min(clock.seconds, (Date.parse(clock.ends_at) - (now + offset)) / 1000)
}

/** The present, by the second, while something is counted. */
export function useSeconds(running: boolean): number {
  const [now, tick] = useState(() => Date.now())
  useEffect(() => {
    if (!running) return
    const timer = setInterval(() => tick(Date.now()), 250)
    return () => clearInterval(timer)
  }, [running])
  return now
}
