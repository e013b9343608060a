// The clocks of the shop. The server keeps them; each device counts by itself, so
// that a clock rings when the line is down as well.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { client, keptHere, Offline, take } from './client'
import type { ClockKind, Clocks, JobPage, RunningClock } from './types'

const key = ['clocks']

type Counted = Clocks & { offset: number }

export function useClocks() {
  const cache = useQueryClient()
  return useQuery({
    queryKey: key,
    queryFn: async () => {
      const call = client.GET('/clocks')
      const clocks = (await take(call)) as Clocks
      if (!(await keptHere(call))) return counted(clocks)
      // What it says of the time no longer holds.
      return cache.getQueryData<Counted>(key) ?? { ...clocks, offset: 0 }
    },
    // What a wait adds to a reading grows by the minute.
    refetchInterval: (query) => (query.state.data?.clocks.length ? 20_000 : 120_000),
  })
}

/** How far the server's time is ahead of this device's. */
function counted(clocks: Clocks): Counted {
  return { ...clocks, offset: Date.parse(clocks.now) - Date.now() }
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

type Start = { kind: ClockKind; id?: string; at?: string }

/** Sets a clock going on a battery: on this device at once, and on every other when
 * the server has it. */
export function useStartClock(page: JobPage, battery: string) {
  const cache = useQueryClient()
  const job = page.job.id
  return useMutation({
    mutationFn: (input: Start) =>
      take(
        client.PUT('/jobs/{job}/clocks/{clock}', {
          params: { path: { job, clock: input.id ?? '' } },
          body: { battery_id: battery, kind: input.kind.kind, started_at: input.at ?? '' },
        }),
      ),
    onMutate: (input) => {
      input.id ??= uuid()
      const now = Date.now()
      input.at ??= new Date(now).toISOString()
      const old = cache.getQueryData<Counted>(key)
      const offset = old?.offset ?? 0
      const mine: RunningClock = {
        id: input.id,
        job_id: job,
        battery_id: battery,
        kind: input.kind.kind,
        seconds: input.kind.seconds,
        started_at: new Date(now + offset).toISOString(),
        ends_at: new Date(now + offset + input.kind.seconds * 1000).toISOString(),
        plate: page.vehicle?.plate ?? '',
        place: page.job.place,
        by: '',
        text: input.kind.text,
        rings: input.kind.rings,
        says: '',
        early: true,
      }
      const others = (old?.clocks ?? []).filter((c) => c.battery_id !== battery || c.kind !== mine.kind)
      cache.setQueryData(key, { now: mine.started_at, offset, clocks: [...others, mine] })
    },
    retry: (_, error) => error instanceof Offline,
    networkMode: 'always',
    onSuccess: (clocks) => cache.setQueryData(key, counted(clocks as Clocks)),
  })
}

export function useStopClock() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (clock: string) => take(client.POST('/clocks/{clock}/stop', { params: { path: { clock } } })),
    retry: (count, error) => error instanceof Offline && count < 20,
    networkMode: 'always',
    onSuccess: (clocks) => cache.setQueryData(key, counted(clocks as Clocks)),
  })
}
