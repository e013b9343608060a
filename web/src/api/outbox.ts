// Readings that wait on this device for the line: sent in the order they were
// taken, each with its own ID and time, so that every one is kept once.
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useSyncExternalStore } from 'react'
import { ApiProblem, client, Offline, take, wordsFor } from './client'
import { useLineUp } from './live'
import type { Hello } from './types'

export type Pending = {
  id: string
  job: string
  battery: string
  line: string
  takenAt: string
  /** Who took it: it is sent under their name only. */
  person?: string
  /** What the server had against it; such a reading waits for a person. */
  refused?: string
}

const place = 'grapnel-outbox'
const watching = new Set<() => void>()
let list: Pending[] = load()
let sending = false
let tries = 0
let timer: ReturnType<typeof setTimeout> | undefined

function load(): Pending[] {
  try {
    return JSON.parse(localStorage.getItem(place) ?? '[]') as Pending[]
  } catch {
    return []
  }
}

function set(next: Pending[]) {
  list = next
  localStorage.setItem(place, JSON.stringify(next))
  watching.forEach((tell) => tell())
}

/** What waits on this device. */
export function usePending(): Pending[] {
  return useSyncExternalStore(
    (tell) => {
      watching.add(tell)
      return () => watching.delete(tell)
    },
    () => list,
  )
}

function signedIn(cache: QueryClient): string | undefined {
  return cache.getQueryData<Hello>(['hello'])?.person?.id
}

/** The next reading of whoever is signed in, the oldest first. */
function next(cache: QueryClient): Pending | undefined {
  const person = signedIn(cache)
  return list.find((p) => !p.refused && p.person === person)
}

/** Whether something waits to be sent: what is kept now goes behind it. */
export function waiting(cache: QueryClient): boolean {
  return next(cache) !== undefined
}

export function post(reading: Pending, cache: QueryClient) {
  set([...list, { ...reading, person: signedIn(cache) }])
  later(cache)
}

/** Takes a reading back out, to be changed in the line. */
export function takeBack(id: string) {
  set(list.filter((p) => p.id !== id))
}

export function send(reading: Pending) {
  return take(
    client.PUT('/jobs/{job}/readings/{reading}', {
      params: { path: { job: reading.job, reading: reading.id } },
      body: { line: reading.line, battery_id: reading.battery, taken_at: reading.takenAt },
    }),
  )
}

function later(cache: QueryClient) {
  clearTimeout(timer)
  timer = setTimeout(() => void flush(cache), Math.min(500 * 2 ** tries, 5000))
}

/** Sends what waits, the oldest first, until the line is down again. */
async function flush(cache: QueryClient) {
  if (sending) return
  sending = true
  try {
    for (let reading = next(cache); reading; reading = next(cache)) {
      const { id } = reading
      try {
        const answer = await send(reading)
        takeBack(id)
        cache.setQueryData(['job', reading.job], answer.page)
        tries = 0
      } catch (error) {
        if (error instanceof Offline || (error instanceof ApiProblem && error.status === 401)) {
          tries++
          later(cache)
          return
        }
        set(list.map((p) => (p.id === id ? { ...p, refused: wordsFor(error) } : p)))
      }
    }
    void cache.invalidateQueries({ queryKey: ['today'] })
  } finally {
    sending = false
  }
}

/** Sends what was left when the application was closed, and whenever the line comes
 * back. */
export function useOutbox(person: string | undefined) {
  const cache = useQueryClient()
  const up = useLineUp()
  useEffect(() => {
    if (!person || !waiting(cache)) return
    tries = 0
    void flush(cache)
  }, [cache, person, up])
  useEffect(() => {
    const back = () => void flush(cache)
    addEventListener('online', back)
    return () => removeEventListener('online', back)
  }, [cache])
}
