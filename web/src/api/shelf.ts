// The shelf: all that charges and waits for it, as the server plans it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'
import type { Bodies, Shelf } from './types'

const key = ['shelf']

export function useShelf() {
  return useQuery({
    queryKey: key,
    queryFn: async ({ signal }) => await take(client.GET('/shelf', { signal })),
    refetchInterval: 60_000,
  })
}

export function usePlaces() {
  return useQuery({ queryKey: ['places'], queryFn: async () => await take(client.GET('/places')) })
}

export function useCharge(charge: string) {
  return useQuery({
    queryKey: [...key, charge],
    queryFn: async ({ signal }) =>
      await take(client.GET('/shelf/charges/{charge}', { params: { path: { charge } }, signal })),
    refetchInterval: 60_000,
  })
}

/** What a logger sees of a charge, read again while it follows it. */
export function useLogged(charge: string) {
  return useQuery({
    queryKey: loggedKey(charge),
    queryFn: async ({ signal }) =>
      await take(client.GET('/shelf/charges/{charge}/trace', { params: { path: { charge } }, signal })),
    refetchInterval: (query) => (query.state.data?.logged?.followed ? 10_000 : false),
  })
}

const loggedKey = (charge: string) => [...key, charge, 'logged']

/** Has a charge followed by a logger, or no longer. */
export function useFollow(charge: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (instrument: string | null) => {
      const params = { path: { charge } }
      return instrument
        ? take(client.PUT('/shelf/charges/{charge}/logger', { params, body: { instrument_id: instrument } }))
        : take(client.DELETE('/shelf/charges/{charge}/logger', { params }))
    },
    onSuccess: (answer) => cache.setQueryData(loggedKey(charge), answer),
  })
}

/** What the batteries of a job were charged with. */
export function useCharged(job: string) {
  return useQuery({
    queryKey: [...key, 'of', job],
    queryFn: async ({ signal }) => await take(client.GET('/jobs/{job}/charges', { params: { path: { job } }, signal })),
  })
}

/** What is done to a charge: each is said again after a lost line without being done twice. */
export type ShelfDeed =
  | { kind: 'ask'; charge: string; body: Bodies['AskChargeInputBody'] }
  | { kind: 'on'; charge: string; body: Bodies['ConnectInputBody'] }
  | { kind: 'off'; charge: string; body: Bodies['TakeOffInputBody'] }
  | { kind: 'decide'; charge: string; body: Bodies['DecideInputBody'] }
  | { kind: 'take back'; charge: string }

function send(deed: ShelfDeed): Promise<Shelf> {
  const params = { path: { charge: deed.charge } }
  switch (deed.kind) {
    case 'ask':
      return take(client.PUT('/shelf/charges/{charge}', { params, body: deed.body }))
    case 'on':
      return take(client.PUT('/shelf/charges/{charge}/on', { params, body: deed.body }))
    case 'off':
      return take(client.PUT('/shelf/charges/{charge}/off', { params, body: deed.body }))
    case 'decide':
      return take(client.PUT('/shelf/charges/{charge}/decision', { params, body: deed.body }))
    case 'take back':
      return take(client.DELETE('/shelf/charges/{charge}/decision', { params }))
  }
}

export function useShelfDeed() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSuccess: (shelf) => {
      cache.setQueryData(key, shelf)
      void cache.invalidateQueries({ queryKey: key })
    },
  })
}

type Check = { charge: string; reading: string; line: string; taken: string }

/** Keeps a check of a charge. */
export function useCheck() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: ({ charge, reading, line, taken }: Check) =>
      take(
        client.PUT('/shelf/charges/{charge}/readings/{reading}', {
          params: { path: { charge, reading } },
          body: { line, taken_at: taken },
        }),
      ),
    onSuccess: (page) => {
      cache.setQueryData([...key, page.item.charge.id], page)
      void cache.invalidateQueries({ queryKey: key })
    },
  })
}
