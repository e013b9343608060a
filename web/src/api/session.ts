import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { client, take } from './client'
import { forgetDrafts } from '../parts/draft'
import type { Hello, Operation, Person } from './types'

const key = ['hello']

/** Who is signed in, and what the browser needs to begin. */
export function useHello() {
  return useQuery({
    queryKey: key,
    queryFn: async (): Promise<Hello & { left?: boolean }> => await take(client.GET('/hello')),
    staleTime: 60_000,
    // What the owner has to see to is found out without being asked for.
    refetchInterval: 10 * 60_000,
  })
}

/** Whether whoever is signed in may do something. */
export function useMay(operation: Operation): boolean {
  const { data } = useHello()
  // What the device kept of an earlier release says nothing of it.
  return !!data && 'may' in data && data.may.includes(operation)
}

function useEnter<T>(call: (input: T) => Promise<Hello>) {
  const cache = useQueryClient()
  return useMutation({ mutationFn: call, onSuccess: (hello) => cache.setQueryData(key, hello) })
}

export function useSignIn() {
  return useEnter(
    async (body: { sign_in: string; password: string; second?: string }) =>
      await take(client.POST('/sign-in', { body })),
  )
}

/** Sets another password with a code that was handed out. */
export function useResetCode() {
  return useEnter(
    async (body: { sign_in: string; code: string; password: string }) => await take(client.POST('/reset', { body })),
  )
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
      cache.removeQueries({ predicate: (query) => query.queryKey[0] !== key[0] })
    },
  })
}

/** Forgets, as soon as nobody is signed in, what was kept of whoever was: answers, what was begun,
 * and the key of what waits unsent. What stands on the screen is covered until they come again. */
export function useNobodyHere(hello: Hello | undefined) {
  const cache = useQueryClient()
  const nobody = !!hello && !hello.person
  useEffect(() => {
    if (!nobody) return
    void import('../delivery/forget').then(({ forgetHere }) => forgetHere())
    forgetDrafts()
    cache.removeQueries({ type: 'inactive', predicate: (query) => query.queryKey[0] !== key[0] })
  }, [cache, nobody])
}

/** Who works here. */
export function usePeople() {
  return useQuery({
    queryKey: ['people'],
    queryFn: async () => await take(client.GET('/people')),
    staleTime: 60_000,
  })
}

/** Changes of a person by the owner. */
export function useChangePerson() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async ({ id, name, role, active }: Pick<Person, 'id' | 'name' | 'role' | 'active'>) =>
      await take(client.PUT('/people/{person}', { params: { path: { person: id } }, body: { name, role, active } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ['people'] }),
  })
}

/** Makes a code with which somebody sets another password. */
export function useResetPerson() {
  return useMutation({
    mutationFn: async (person: string) =>
      await take(client.POST('/people/{person}/reset', { params: { path: { person } } })),
  })
}

/** Signs somebody out everywhere. */
export function useEndSessions() {
  return useMutation({
    mutationFn: async (person: string) =>
      await take(client.DELETE('/people/{person}/sessions', { params: { path: { person } } })),
  })
}

const mine = ['my sessions']

/** Where whoever is signed in is signed in. */
export function useMySessions() {
  return useQuery({ queryKey: mine, queryFn: async () => await take(client.GET('/me/sessions')) })
}

/** Ends one of one's own sessions, or all but this one. */
export function useEndMine() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async (session: string | null) =>
      session === null
        ? await take(client.DELETE('/me/sessions'))
        : await take(client.DELETE('/me/sessions/{session}', { params: { path: { session } } })),
    onSuccess: (list) => cache.setQueryData(mine, list),
  })
}

export function useBeginSecond() {
  return useMutation({ mutationFn: async () => await take(client.POST('/me/second', {})) })
}

export function useConfirmSecond() {
  return useMutation({ mutationFn: async (code: string) => await take(client.PUT('/me/second', { body: { code } })) })
}

export function useDropSecond() {
  return useEnter(async (had: string) => await take(client.POST('/me/second/off', { body: { had } })))
}
