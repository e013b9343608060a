// What stands: the yard, one battery over its season, the walks, the calendars.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { client, take } from './client'
import type { Bodies, SeasonPage, StandingSaid } from './types'

const root = ['standing']

export function useYard(tonight: string) {
  return useQuery({
    queryKey: [...root, 'yard', tonight],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) =>
      await take(client.GET('/standing', { params: { query: { tonight_c: tonight } }, signal })),
    // A forecast that is being made anew is there in a moment.
    refetchInterval: (query) => (query.state.data?.rows.some((row) => row.stale) ? 3000 : false),
  })
}

export function useSeason(standing: string) {
  return useQuery({
    queryKey: [...root, 'season', standing],
    queryFn: async ({ signal }) =>
      await take(client.GET('/standing/{standing}', { params: { path: { standing } }, signal })),
  })
}

export function useRounds() {
  return useQuery({
    queryKey: [...root, 'rounds'],
    queryFn: async ({ signal }) => await take(client.GET('/standing/rounds', { signal })),
  })
}

/** A change of one that stands, after which everything that shows it is read again. */
function useOfStanding<T>(standing: string, send: (said: T) => Promise<SeasonPage>) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSuccess: async (page) => {
      cache.setQueryData([...root, 'season', standing], page)
      await cache.invalidateQueries({ queryKey: root, predicate: (q) => q.queryKey[1] !== 'season' })
    },
  })
}

export type PutAwayBody = Bodies['PutAwayInputBody']

export function usePutAway(standing: string) {
  return useOfStanding(standing, (body: PutAwayBody) =>
    take(client.PUT('/standing/{standing}', { params: { path: { standing } }, body })),
  )
}

/** What a page of a season says of its battery, as it is sent back with a change. */
export function bodyOf({ standing }: SeasonPage, change: Partial<StandingSaid>): PutAwayBody {
  return {
    battery_id: standing.battery_id,
    place_id: standing.place_id,
    from_at: standing.from_at,
    said: { ...standing.said, ...change },
  }
}

export function useEndStanding(standing: string) {
  return useOfStanding(standing, (back: boolean) =>
    take(
      client.PUT('/standing/{standing}/end', {
        params: { path: { standing }, header: { 'Idempotency-Key': uuid() } },
        body: { back },
      }),
    ),
  )
}

/** A visit that was written down by mistake. */
export function useMistakenVisit(standing: string) {
  return useOfStanding(standing, (visit: string) =>
    take(client.DELETE('/standing/{standing}/visits/{visit}', { params: { path: { standing, visit } } })),
  )
}

export function useKeepClimate() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (body: Bodies['OwnClimate']) =>
      take(client.PUT('/climate', { params: { header: { 'Idempotency-Key': uuid() } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: root }),
  })
}

const feedsKey = ['calendar', 'feeds']

export function useFeeds() {
  return useQuery({
    queryKey: feedsKey,
    queryFn: async ({ signal }) => await take(client.GET('/calendar/feeds', { signal })),
  })
}

export function useMakeFeed() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (name: string) =>
      take(client.PUT('/calendar/feeds/{feed}', { params: { path: { feed: uuid() } }, body: { name } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: feedsKey }),
  })
}

export function useWithdrawFeed() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (feed: string) => take(client.DELETE('/calendar/feeds/{feed}', { params: { path: { feed } } })),
    onSuccess: (list) => cache.setQueryData(feedsKey, list),
  })
}
