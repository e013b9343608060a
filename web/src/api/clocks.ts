// The clocks of the shop. The server keeps them; each device counts by itself, so
// that a clock rings when the line is down as well.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useSyncExternalStore } from 'react'
import type { Deed } from '../delivery/deeds'
import { useAllDeeds } from '../delivery/use'
import { client, keptHere, take } from './client'
import { clocksKey, counted, type Counted } from './counted'
import type { RunningClock } from './types'

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
      const clocks = await take(call)
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

/** How often what is counted is looked at anew, in milliseconds. */
const beat = 250

let present = Date.now()
let ticker: ReturnType<typeof setInterval> | undefined
const hearers = new Set<() => void>()

/** One ticker for all that counts, as long as anything does. */
function hear(hearer: () => void) {
  present = Date.now()
  hearers.add(hearer)
  ticker ??= setInterval(() => {
    present = Date.now()
    hearers.forEach((each) => each())
  }, beat)
  return () => {
    hearers.delete(hearer)
    if (hearers.size > 0) return
    clearInterval(ticker)
    ticker = undefined
  }
}

const still = () => () => undefined

/** The present, while something is counted. */
export function useSeconds(running: boolean): number {
  return useSyncExternalStore(running ? hear : still, () => present)
}

/** The seconds that a clock has left; below zero it rings, without a clock it is 0. */
export function useLeft(clock: RunningClock | undefined): number {
  const { data } = useServerClocks()
  const now = useSeconds(!!clock)
  return clock ? left(clock, data?.offset ?? 0, now) : 0
}
