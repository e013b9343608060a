import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { ApiProblem, client, Offline, take } from './client'
import { either } from './device'

export type Inputs = Record<string, string>

const sums = {
  queryKey: ['sums'],
  queryFn: async () => await take(client.GET('/sums')),
  staleTime: Infinity,
}

/** Every card of the bench, with its inputs and their words. */
export function useSums() {
  return useQuery(sums)
}

/** Fetches the cards to where they are kept for when the line is down. */
export function fetchSums(cache: QueryClient) {
  return cache.prefetchQuery(sums)
}

/** A sum worked out by the core, on the device while the line is down; the last answer
 * stays while the next is on its way. */
export function useSum(sum: string, inputs: Inputs) {
  const own = useSums().data?.own
  return useQuery({
    queryKey: ['sum', sum, inputs, own],
    queryFn: ({ signal }) =>
      either(
        async () => await take(client.POST('/sums/{sum}', { params: { path: { sum } }, body: { inputs }, signal })),
        'sum',
        { sum, inputs, own },
        signal,
      ),
    retry: (count, error) => !(error instanceof ApiProblem) && count < 3,
    placeholderData: (before, query) => (query?.queryKey[1] === sum ? before : undefined),
  })
}

/** What may be typed next in a reading line. */
export function useCompletions(line: string) {
  return useQuery({
    queryKey: ['complete', line],
    queryFn: ({ signal }) =>
      either(
        async () => await take(client.POST('/complete', { body: { line }, signal })),
        'complete',
        { line },
        signal,
      ),
    enabled: line.trim() !== '',
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    placeholderData: keepPreviousData,
  })
}

const figuresKey = ['figures']

/** Every figure of the trade with its source, and the shop's own. */
export function useFigures() {
  return useQuery({
    queryKey: figuresKey,
    queryFn: async () => await take(client.GET('/figures')),
  })
}

/** Sets the shop's own figure for a limit, or goes back to the trade's. */
export function useOwnFigure(limit: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (own: { value: number; note: string } | null) =>
      own
        ? take(client.PUT('/limits/{limit}', { params: { path: { limit } }, body: own }))
        : take(client.DELETE('/limits/{limit}', { params: { path: { limit } } })),
    retry: (count, error) => error instanceof Offline && count < 5,
    onSuccess: (figures) => {
      cache.setQueryData(figuresKey, figures)
      // Every verdict may stand otherwise now.
      void cache.invalidateQueries({ queryKey: ['job'] })
      void cache.invalidateQueries({ queryKey: ['sum'] })
      void cache.invalidateQueries({ queryKey: ['sums'] })
    },
  })
}

/** A job as plain text, handed to the browser as a file. */
export function useTextFile() {
  return useMutation({
    mutationFn: async (input: { job: string; name: string }) => {
      const { text } = await take(client.GET('/jobs/{job}/text', { params: { path: { job: input.job } } }))
      const link = document.createElement('a')
      link.href = URL.createObjectURL(new Blob([text], { type: 'text/plain;charset=utf-8' }))
      link.download = `${input.name}.txt`
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 1000)
    },
  })
}

/** Takes a job in from plain text, all or nothing. */
export function useImport() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (text: string) => take(client.POST('/import', { body: { text } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ['today'] }),
  })
}
