// The charge of a battery as the server plans and judges it.
import { useQuery } from '@tanstack/react-query'
import { client, take } from './client'
import type { JobPage } from './types'

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
