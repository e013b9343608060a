// The charge of a battery as the server plans and judges it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'
import type { Bodies, JobPage } from './types'

/** The plan with a charger of the shop; without one, with one that is kind to the battery. */
export function useChargePlan({ job: { id: job, revision } }: JobPage, battery: string, charger: string) {
  return useQuery({
    queryKey: ['charge plan', job, revision, battery, charger],
    queryFn: async ({ signal }) =>
      await take(
        client.GET('/jobs/{job}/batteries/{battery}/charge', {
          params: { path: { job, battery }, query: charger === '' ? {} : { charger } },
          signal,
        }),
      ),
    // While the next answer is on its way the last one stays.
    placeholderData: (before) => before,
  })
}

export function useChargers() {
  return useQuery({
    queryKey: ['chargers'],
    queryFn: async () => await take(client.GET('/chargers')),
    staleTime: 60_000,
  })
}

const makerKey = (battery: string) => ['maker charge', battery]

/** How a battery's maker wants it charged. */
export function useMakerCharge(battery: string) {
  return useQuery({
    queryKey: makerKey(battery),
    queryFn: async ({ signal }) =>
      await take(client.GET('/batteries/{battery}/maker-charge', { params: { path: { battery } }, signal })),
  })
}

export function useSetMakerCharge(battery: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (body: Bodies['MakerInputBody']) =>
      take(client.PUT('/batteries/{battery}/maker-charge', { params: { path: { battery } }, body })),
    onSuccess: (said) => cache.setQueryData(makerKey(battery), said),
  })
}
