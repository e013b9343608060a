// What changes in the shop, as it is told by the server: each change has the
// pages it touches read again. A line that was down is caught up on.
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useSyncExternalStore } from 'react'
import { whenKept } from './client'
import type { Change, JobPage } from './types'

let up = true
const watching = new Set<() => void>()

function setUp(now: boolean) {
  if (up === now) return
  up = now
  watching.forEach((tell) => tell())
}

/** Whether the server can be heard. */
export function lineUp(): boolean {
  return up
}

export function watchLine(tell: () => void): () => void {
  watching.add(tell)
  return () => watching.delete(tell)
}

export function useLineUp(): boolean {
  return useSyncExternalStore(watchLine, lineUp)
}

/** What the stream tells, to this tab and to the others of the browser. */
type Told = { kind: 'up' | 'down' | 'anew' } | { kind: 'change'; change: Change }

/** Changes within this time are read again at once, in milliseconds. */
const burst = 100

let touched = new Map<string, number>()
let soon: ReturnType<typeof setTimeout> | undefined

function hear(cache: QueryClient, told: Told) {
  if (told.kind === 'up' || told.kind === 'down') setUp(told.kind === 'up')
  const change = told.kind === 'change' ? told.change : null
  // A charge that goes on or off changes the shelf and its clocks, and nothing else.
  if (change?.kind.startsWith('charge_')) {
    for (const queryKey of [['shelf'], ['clocks']]) void cache.invalidateQueries({ queryKey })
    return
  }
  if (told.kind === 'anew') void cache.invalidateQueries()
  if (change && !change.job_id) all ??= setTimeout(() => allAgain(cache), burst)
  if (!change?.job_id) return
  touched.set(change.job_id, Math.max(change.id, touched.get(change.job_id) ?? 0))
  soon ??= setTimeout(() => {
    soon = undefined
    const burstOf = touched
    touched = new Map()
    readAgain(cache, burstOf)
  }, burst)
}

/** How long after the device has answered for a server that was only slow it is asked again, in
 * milliseconds. */
const slowPause = 3000

let slow: ReturnType<typeof setTimeout> | undefined

/** Has what the device answered read again while the server can be heard: it was slow, and nothing
 * else would tell that what is shown is of before. */
function askSlow(cache: QueryClient) {
  if (!up) return
  slow ??= setTimeout(() => {
    slow = undefined
    if (up) allAgain(cache)
  }, slowPause)
}

let all: ReturnType<typeof setTimeout> | undefined

/** Reads everything again, once for a burst of changes of the shop. */
function allAgain(cache: QueryClient) {
  all = undefined
  void cache.invalidateQueries()
}

/** Reads again what a burst of changes touched, but for pages that have it already. */
function readAgain(cache: QueryClient, changes: Map<string, number>) {
  for (const queryKey of [['clocks'], ['today'], ['shelf'], ['attempt']]) void cache.invalidateQueries({ queryKey })
  for (const [job, event] of changes) {
    const page = cache.getQueryData<JobPage>(['job', job])
    if (!page || page.event < event) void cache.invalidateQueries({ queryKey: ['job', job] })
  }
}

/** The server says every five seconds that it is there; after so long it is not, in
 * milliseconds. */
const silence = 12_000

/** How long after a stream ended another is opened, in milliseconds: longer each time. */
const [firstPause, longestPause] = [500, 10_000]

/** The stream itself, opened anew for as long as it is wanted. A line that was down is
 * caught up on by reading all anew. */
function open(tell: (told: Told) => void): () => void {
  let stream: EventSource | undefined
  let [lost, tries] = [false, 0]
  let watchdog: ReturnType<typeof setTimeout> | undefined
  let again: ReturnType<typeof setTimeout> | undefined

  const heard = () => {
    clearTimeout(watchdog)
    watchdog = setTimeout(fail, silence)
  }
  const fail = () => {
    clearTimeout(watchdog)
    stream?.close()
    lost = true
    tell({ kind: 'down' })
    again = setTimeout(begin, Math.min(firstPause * 2 ** tries++, longestPause))
  }
  const begin = () => {
    stream = new EventSource('/api/events')
    heard()
    stream.onopen = () => {
      heard()
      tries = 0
      tell({ kind: 'up' })
      if (lost) tell({ kind: 'anew' })
      lost = false
    }
    // Whatever it was, an answer that is no stream or a line that broke off.
    stream.onerror = fail
    stream.addEventListener('ping', heard)
    stream.addEventListener('change', (event) => {
      heard()
      tell({ kind: 'change', change: JSON.parse(event.data as string) as Change })
    })
    stream.addEventListener('anew', () => {
      heard()
      tell({ kind: 'anew' })
    })
  }
  const now = () => {
    if (!lost) return
    clearTimeout(again)
    clearTimeout(watchdog)
    stream?.close()
    begin()
  }
  addEventListener('online', now)
  begin()
  return () => {
    removeEventListener('online', now)
    clearTimeout(again)
    clearTimeout(watchdog)
    stream?.close()
  }
}

/** Listens for as long as somebody is signed in. One tab of a browser holds the
 * stream for all of them: over plain HTTP a browser opens only a few connections. */
export function useLive(signedIn: boolean) {
  const cache = useQueryClient()
  useEffect(() => {
    if (!signedIn) return
    whenKept(() => askSlow(cache))
    // Both are there in a secure context only.
    if (!('locks' in navigator)) return open((told) => hear(cache, told))
    const channel = new BroadcastChannel('grapnel-live')
    channel.onmessage = (event) => hear(cache, event.data as Told)
    const gone = new AbortController()
    navigator.locks
      .request('grapnel-live', { signal: gone.signal }, () => {
        const close = open((told) => {
          hear(cache, told)
          channel.postMessage(told)
        })
        return new Promise<void>((done) => {
          gone.signal.addEventListener('abort', () => {
            close()
            done()
          })
        })
      })
      .catch(() => undefined) // given up while waiting for another tab
    return () => {
      gone.abort()
      channel.close()
    }
  }, [cache, signedIn])
}
