import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'
import { forgetDrafts } from '../parts/draft'
import type { Hello } from './types'

const key = ['hello']

/** Who is signed in, and what the browser needs to begin. */
export function useHello() {
  return useQuery({
    queryKey: key,
    queryFn: async (): Promise<Hello & { left?: boolean }> => await take(client.GET('/hello')),
    staleTime: 60_000,
  })
}

function useEnter<T>(call: (input: T) => Promise<Hello>) {
  const cache = useQueryClient()
  return useMutation({ mutationFn: call, onSuccess: (hello) => cache.setQueryData(key, hello) })
}

export function useSignIn() {
  return useEnter(async (body: { sign_in: string; password: string }) => await take(client.POST('/sign-in', { body })))
}

export type SetUpBody = {
  code: string
  shop_name: string
  time_zone: string
  name: string
  sign_in: string
  password: string
}

export function useSetUp() {
  return useEnter(async (body: SetUpBody) => await take(client.POST('/set-up', { body })))
}

export function useSignOut() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async () => await take(client.POST('/sign-out', {})),
    onSuccess: (hello) => {
      cache.setQueryData(key, { ...hello, left: true })
      // Nothing of the person who left stays behind, on the screen or on the device, but for
      // what they did and the server has not been told of.
      for (const name of ['grapnel-pages', 'grapnel-constants']) void globalThis.caches?.delete(name)
      forgetDrafts()
      cache.removeQueries({ predicate: (query) => query.queryKey[0] !== key[0] })
    },
  })
}

/** Who works here. */
export function usePeople() {
  return useQuery({
    queryKey: ['people'],
    queryFn: async () => await take(client.GET('/people')),
    staleTime: 60_000,
  })
}
