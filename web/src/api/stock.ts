// The shop's own batteries, what fits in place of one, and the joints it is fitted by.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'
import type { Bodies, CaseBody, JobPage, Wants } from './types'

const stockKey = ['stock']

export function useStock() {
  return useQuery({
    queryKey: stockKey,
    queryFn: async ({ signal }) => await take(client.GET('/stock', { signal })),
  })
}

type Kept = { battery: string; body: Bodies['KeepStockInputBody'] }

/** Takes a battery into the stock, or changes it; said twice it is one. */
export function useKeepStock() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: ({ battery, body }: Kept) =>
      take(client.PUT('/stock/{battery}', { params: { path: { battery } }, body })),
    onSuccess: (page) => cache.setQueryData(stockKey, page),
  })
}

export function useLeaveStock() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: ({ battery, how }: { battery: string; how: string }) =>
      take(client.PUT('/stock/{battery}/gone', { params: { path: { battery } }, body: { how } })),
    onSuccess: (page) => cache.setQueryData(stockKey, page),
  })
}

/** The joints as the job stands: read again with each of its revisions. */
export function useTerminals({ job }: JobPage, battery: string) {
  return useQuery({
    queryKey: ['job', job.id, 'terminals', battery, job.revision],
    placeholderData: keepPreviousData,
    enabled: battery !== '',
    refetchOnMount: 'always',
    queryFn: async ({ signal }) =>
      await take(
        client.GET('/jobs/{job}/batteries/{battery}/terminals', { params: { path: { job: job.id, battery } }, signal }),
      ),
  })
}

/** What fits: worked out anew with each change of what is asked. */
export function useFit({ job }: JobPage, battery: string, coldest: string, reach: boolean) {
  return useQuery({
    queryKey: ['job', job.id, 'fit', battery, coldest, reach, job.revision],
    enabled: battery !== '',
    refetchOnMount: 'always',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) =>
      await take(
        client.GET('/jobs/{job}/batteries/{battery}/fit', {
          params: { path: { job: job.id, battery }, query: { coldest_c: coldest, cables_reach: reach } },
          signal,
        }),
      ),
  })
}

/** A change of a job after which everything of it is read again. */
function useOfJob<T>(job: string, send: (said: T) => Promise<unknown>) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSuccess: async () => {
      await Promise.all([
        cache.invalidateQueries({ queryKey: ['job', job] }),
        cache.invalidateQueries({ queryKey: stockKey }),
      ])
    },
  })
}

export function useKeepWants(job: string) {
  return useOfJob(job, (body: Wants) => take(client.PUT('/jobs/{job}/wants', { params: { path: { job } }, body })))
}

export function useKeepBody(job: string, battery: string) {
  return useOfJob(job, (body: CaseBody) =>
    take(client.PUT('/jobs/{job}/batteries/{battery}/body', { params: { path: { job, battery } }, body })),
  )
}

type Replaced = { replacement: string; body: Bodies['ReplaceInputBody'] }

export function useReplace(job: string) {
  return useOfJob(job, ({ replacement, body }: Replaced) =>
    take(client.PUT('/jobs/{job}/replacements/{replacement}', { params: { path: { job, replacement } }, body })),
  )
}

export function useTakeBack(job: string) {
  return useOfJob(job, (replacement: string) =>
    take(client.DELETE('/jobs/{job}/replacements/{replacement}', { params: { path: { job, replacement } } })),
  )
}
