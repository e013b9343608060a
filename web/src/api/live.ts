// What changes in the shop, as it is told by the server: each change has the
// pages it touches read again. A line that was down is caught up on.
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useSyncExternalStore } from 'react'
import type { Change } from './types'

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

export function useLineUp(): boolean {
  return useSyncExternalStore((tell) => {
    watching.add(tell)
    return () => watching.delete(tell)
  }, lineUp)
}

/** What the stream tells, to this tab and to the others of the browser. */
type Told = { kind: 'up' | 'down' | 'anew' } | { kind: 'change'; change: Change }

/** Reads again what a change touches; more than one at a time is read once. */
function hear(cache: QueryClient, told: Told) {
  if (told.kind === 'up' || told.kind === 'down') setUp(told.kind === 'up')
  const change = told.kind === 'change' ? told.change : null
  if (told.kind === 'anew' || (change && !change.job_id)) void cache.invalidateQueries()
  if (!change?.job_id) return
  for (const queryKey of [['clocks'], ['today'], ['job', change.job_id]]) void cache.invalidateQueries({ queryKey })
}

/** The stream itself. A line that was down is caught up on by reading all anew. */
function open(tell: (told: Told) => void): () => void {
  const stream = new EventSource('/api/events')
  let lost = false
  stream.onopen = () => {
    tell({ kind: 'up' })
    if (lost) tell({ kind: 'anew' })
    lost = false
  }
  stream.onerror = () => {
    lost = true
    tell({ kind: 'down' })
  }
  stream.addEventListener('change', (event) => {
    tell({ kind: 'change', change: JSON.parse(event.data as string) as Change })
  })
  stream.addEventListener('anew', () => tell({ kind: 'anew' }))
  return () => stream.close()
}

/** Listens for as long as somebody is signed in. One tab of a browser holds the
 * stream for all of them: over plain HTTP a browser opens only a few connections. */
export function useLive(signedIn: boolean) {
  const cache = useQueryClient()
  useEffect(() => {
    if (!signedIn) return
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
