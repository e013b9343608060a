import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'
import type { Bodies } from './types'

const key = ['instruments']

export function useInstruments() {
  return useQuery({
    queryKey: key,
    queryFn: async () => await take(client.GET('/instruments')),
    staleTime: 60_000,
  })
}

/** What the shop's instruments show now, read again while a screen looks. */
export function useInstrumentsNow() {
  const { data: known } = useInstruments()
  return useQuery({
    queryKey: [...key, 'now'],
    queryFn: async () => await take(client.GET('/instruments/now')),
    enabled: known?.some((one) => one.kind !== 'logger') ?? false,
    refetchInterval: 600,
    retry: false,
    staleTime: 0,
  })
}

export function useKeepInstrument() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async ({ id, ...body }: Bodies['KeepInstrumentInputBody'] & { id: string }) =>
      await take(client.PUT('/instruments/{instrument}', { params: { path: { instrument: id } }, body })),
    onSuccess: (list) => cache.setQueryData(key, list),
  })
}

export function useDropInstrument() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async (id: string) =>
      await take(client.DELETE('/instruments/{instrument}', { params: { path: { instrument: id } } })),
    onSuccess: (list) => cache.setQueryData(key, list),
  })
}

export function useProbe() {
  return useMutation({
    mutationFn: (address: string) => take(client.POST('/instruments/probe', { body: { address } })),
  })
}
