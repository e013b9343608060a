import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { ApiProblem, client, keptHere, Offline, take } from './client'
import { either, ask } from './device'
import { useWaiting } from '../delivery/use'
import type { BringInBody, JobPage, Today } from './types'

export const nobody = '00000000-0000-0000-0000-000000000000'

export function useToday() {
  return useQuery({
    queryKey: ['today'],
    queryFn: async () => await take(client.GET('/today', { params: { query: {} } })),
    refetchInterval: 60_000,
  })
}

export function useChoices() {
  return useQuery({
    queryKey: ['choices'],
    queryFn: async () => await take(client.GET('/choices')),
    staleTime: Infinity,
  })
}

export function useVehicles(query: string) {
  return useQuery({
    queryKey: ['vehicles', query],
    queryFn: async ({ signal }) => await take(client.GET('/vehicles', { params: { query: { q: query } }, signal })),
    enabled: query.trim().length > 1,
    placeholderData: (before) => before,
  })
}

export function useBringIn() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (body: BringInBody) => take(client.POST('/jobs', { body })),
    retry: (count, error) => error instanceof Offline && count < 5,
    onSuccess: () => cache.invalidateQueries({ queryKey: ['today'] }),
  })
}

export function useBattery(id: string) {
  return useQuery({
    queryKey: ['battery', id],
    queryFn: async () => await take(client.GET('/batteries/{battery}', { params: { path: { battery: id } } })),
  })
}

const jobKey = (id: string) => ['job', id]

/** What a job's page was worked out from, as the server gave it last. */
function recordsOf(cache: QueryClient, id: string): unknown {
  return cache.getQueryData<JobPage>(jobKey(id))?.records
}

/** The page of a job. What the device kept of it is no newer than what is shown. */
async function fetchJob(cache: QueryClient, id: string): Promise<JobPage> {
  const call = client.GET('/jobs/{job}', { params: { path: { job: id } } })
  const page = await take(call)
  return (await keptHere(call)) ? (cache.getQueryData<JobPage>(jobKey(id)) ?? page) : page
}

export function useJob(id: string) {
  return useQuery({
    queryKey: jobKey(id),
    queryFn: ({ client: cache }) => fetchJob(cache, id),
    retry: (count, error) => !(error instanceof ApiProblem) && count < 3,
  })
}

/** How many of the day's jobs are fetched ahead, and how long after the board stands. */
const ahead = 12
const aheadAfter = 2500

/** Fetches the day's jobs ahead where they can be kept for when the line is down. */
export function useDayAtHand(today: Today) {
  const cache = useQueryClient()
  const ids = today.open
    .slice(0, ahead)
    .map((row) => row.job.id)
    .join(' ')
  useEffect(() => {
    if (!navigator.serviceWorker?.controller || ids === '') return
    const timer = setTimeout(() => {
      for (const id of ids.split(' ')) {
        void cache.prefetchQuery({
          queryKey: jobKey(id),
          queryFn: ({ client }) => fetchJob(client, id),
          staleTime: 60_000,
        })
      }
    }, aheadAfter)
    return () => clearTimeout(timer)
  }, [cache, ids])
}

/** The job with what waits on this device counted in, as the core on the device works
 * it out. */
export function useWithWaiting(page: JobPage | undefined, updated: number): JobPage | undefined {
  const id = page?.job.id ?? nobody
  const waiting = useWaiting(id)
  const { data } = useQuery({
    queryKey: ['with-waiting', id, updated, waiting],
    queryFn: ({ client, signal }) => ask<JobPage>('page', { records: recordsOf(client, id), waiting }, signal),
    enabled: !!page && waiting.length > 0,
    retry: false,
    // While the next is worked out the last one stays.
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
  })
  return waiting.length > 0 && data ? data : page
}

/** What would hold if the line were kept, and without the readings set aside. Each
 * keystroke ends the one before. */
export function usePreview(
  { job: { id: job, revision } }: JobPage,
  battery: string,
  line: string,
  more: { replaces?: string; aside?: string[] } = {},
) {
  const { replaces, aside } = more
  const waiting = useWaiting(job)
  return useQuery({
    queryKey: ['preview', job, revision, battery, line, replaces, aside, waiting],
    queryFn: ({ client: cache, signal }) => {
      const body = { line, battery_id: battery, replaces, aside }
      const onDevice = { records: recordsOf(cache, job), waiting, ...body }
      return either(
        async () => await take(client.POST('/jobs/{job}/preview', { params: { path: { job } }, body, signal })),
        'preview',
        onDevice,
        signal,
      )
    },
    enabled: line.trim() !== '' || (aside?.length ?? 0) > 0,
    retry: false,
    gcTime: 30_000,
    staleTime: 0,
    // While the next answer is on its way the last one stays.
    placeholderData: (before) => before,
  })
}

/** What would turn the verdict, where the schools disagree, what the customer is told. */
export function useAccount(page: JobPage, battery: string, wanted: boolean) {
  const { id, revision } = page.job
  const waiting = useWaiting(id)
  return useQuery({
    queryKey: ['account', id, battery, revision, waiting],
    queryFn: ({ client: cache, signal }) => {
      const onDevice = { records: recordsOf(cache, id), waiting, battery_id: battery }
      const options = { params: { path: { job: id, battery } } }
      return either(
        async () => await take(client.GET('/jobs/{job}/batteries/{battery}/account', options)),
        'account',
        onDevice,
        signal,
      )
    },
    enabled: wanted,
    placeholderData: (before) => before,
  })
}
