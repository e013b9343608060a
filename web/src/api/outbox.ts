// Readings and answers that wait on this device for the line: sent in the order they
// were given, each with its own ID and time, so that every one is kept once.
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useSyncExternalStore } from 'react'
import { ApiProblem, client, Offline, take, wordsFor } from './client'
import { lineUp, useLineUp } from './live'
import type { Hello, JobPage } from './types'

/** What a person did: a line of readings, or an answer to a step. */
export type Deed = {
  id: string
  job: string
  battery: string
  takenAt: string
} & ({ line: string } | Answered)

type Answered = { code: string; value: string; note?: string }

export type Pending = Deed & {
  /** Who did it: it is sent under their name only. */
  person?: string
  by?: string
  /** What the server had against it; it then waits for a person. */
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

/** What waits of a job, in the form the core on the device counts it in. */
export function useWaiting(job: string) {
  const all = usePending()
  return useMemo(
    () =>
      all
        .filter((p) => p.job === job && !p.refused)
        .map(({ id, battery, by, takenAt, ...rest }) => ({
          id,
          battery_id: battery,
          by,
          at: takenAt,
          ...('line' in rest ? { line: rest.line } : { code: rest.code, value: rest.value, note: rest.note }),
        })),
    [all, job],
  )
}

function signedIn(cache: QueryClient) {
  return cache.getQueryData<Hello>(['hello'])?.person
}

/** The next deed of whoever is signed in, the oldest first. */
function next(cache: QueryClient): Pending | undefined {
  const person = signedIn(cache)?.id
  return list.find((p) => !p.refused && p.person === person)
}

/** Sends a deed, or keeps it on the device while the line is down, behind what waits
 * there already; the answer is then null. */
export async function sendOrPost<T>(deed: Deed, cache: QueryClient, send: (deed: Deed) => Promise<T>) {
  if (lineUp() && !next(cache)) {
    try {
      return await send(deed)
    } catch (error) {
      if (!(error instanceof Offline)) throw error
    }
  }
  const person = signedIn(cache)
  // A key hit twice keeps one thing.
  if (!list.some((p) => p.id === deed.id)) set([...list, { ...deed, person: person?.id, by: person?.name }])
  later(cache)
  return null
}

/** Takes a deed back out, to be done otherwise. */
export function takeBack(id: string) {
  set(list.filter((p) => p.id !== id))
}

export function sendReading(reading: Deed & { line: string }) {
  return take(
    client.PUT('/jobs/{job}/readings/{reading}', {
      params: { path: { job: reading.job, reading: reading.id } },
      body: { line: reading.line, battery_id: reading.battery, taken_at: reading.takenAt },
    }),
  )
}

export function sendAnswer({ job, id, battery, takenAt, ...given }: Deed & Answered) {
  return take(
    client.PUT('/jobs/{job}/answers/{answer}', {
      params: { path: { job, answer: id } },
      body: { battery_id: battery, at: takenAt, ...given },
    }),
  )
}

/** Sends a deed; the answer is its job as it stands then. */
async function send(deed: Pending): Promise<JobPage> {
  const page = 'line' in deed ? (await sendReading(deed)).page : await sendAnswer(strip(deed))
  return page as unknown as JobPage
}

/** A deed without what only the device knows of it. */
function strip({ id, job, battery, takenAt, code, value, note }: Pending & Answered) {
  return { id, job, battery, takenAt, code, value, note }
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
    for (let deed = next(cache); deed; deed = next(cache)) {
      const { id } = deed
      try {
        const page = await send(deed)
        cache.setQueryData(['job', deed.job], page)
        takeBack(id)
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
    if (!person || !next(cache)) return
    tries = 0
    void flush(cache)
  }, [cache, person, up])
  useEffect(() => {
    const back = () => void flush(cache)
    addEventListener('online', back)
    return () => removeEventListener('online', back)
  }, [cache])
}
