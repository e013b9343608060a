// Every write goes through here: it is kept on the device first, then sent, strictly in
// order for each job, battery or vehicle, by one tab at a time, until the server has it.
// What the server refuses waits for a person and holds up nothing else.
import type { QueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { ApiProblem, wordsFor } from '../api/client'
import { clocksKey, counted } from '../api/counted'
import { lineUp } from '../api/live'
import { outOfDate } from '../api/release'
import type { AttemptPage, JobPage } from '../api/types'
import { send, type Deed, type Doing, type Refusal, type Sent } from './deeds'
import { inMemory, type Keeper } from './memory'

/** How long whoever did something is kept waiting for the server, in milliseconds: after
 * that it counts as waiting, and the work goes on. */
const patience = 3000

/** Two like deeds within this time are one tap that was hit twice, in milliseconds. */
const doubleTap = 800

/** Between two tries of what could not be sent, in milliseconds. */
const [firstPause, longestPause] = [500, 5000]

/** A tab that has carried for so long without an answer is taken for frozen. */
const frozen = 20_000

type Waiter = { resolve: (sent: Sent | null) => void; reject: (error: unknown) => void }

/** For whom this tab sends, and where answers are shown. */
let carrier: { person: string; by: string; cache: QueryClient } | undefined
let list: Deed[] = []
/** Those of the list that are not just on their way. */
let waiting: Deed[] = []
/** Those that have been seen to wait: they do until they are done. */
const waited = new Set<string>()
let keeper: Promise<Keeper> | undefined
let lasts = true
let held = ''
const watching = new Set<() => void>()
const waiters = new Map<string, Waiter>()
const channel = 'BroadcastChannel' in globalThis ? new BroadcastChannel('grapnel-deeds') : undefined

type Told =
  { kind: 'list' } | { kind: 'sent'; id: string; sent: Sent } | { kind: 'refused'; id: string; refusal: Refusal }

channel?.addEventListener('message', (event: MessageEvent<Told>) => {
  const told = event.data
  if (told.kind === 'list') void reread().then(carry)
  if (told.kind === 'sent') settled(told.id, told.sent)
  if (told.kind === 'refused') void claimed(told.id, told.refusal)
})

/** Everything that was done here and that the server has not been told of, in order. */
export function deeds(): Deed[] {
  return list
}

/** What of it waits: for the line, or for a person. What is just on its way does not. */
export function waitingDeeds(): Deed[] {
  return waiting
}

/** Why the server does not take what waits now, in its own words; empty where it is the line
 * that is waited for, or nothing. */
export function heldBack(): string {
  return held
}

/** Whether what waits outlives the page. */
export function deedsLast(): boolean {
  return lasts
}

export function watchDeeds(tell: () => void): () => void {
  watching.add(tell)
  return () => watching.delete(tell)
}

async function kept(): Promise<Keeper> {
  keeper ??= import('./kept').then(({ openKeeper }) => openKeeper(), inMemory)
  const opened = await keeper
  lasts = opened.lasts
  return opened
}

async function reread() {
  list = await (await kept()).all()
  notify()
}

let later: ReturnType<typeof setTimeout> | undefined

/** Says that the list is another, or that what was on its way has come to wait. */
function notify() {
  const now = Date.now()
  const young = (d: Deed) => waiters.has(d.id) || (lineUp() && now - Date.parse(d.at) < patience)
  const next = list.filter((d) => d.refused || waited.has(d.id) || !young(d))
  next.forEach((d) => waited.add(d.id))
  // Another tab's may come to wait without a word.
  clearTimeout(later)
  if (next.length < list.length) later = setTimeout(notify, patience)
  if (next.length > 0 || waiting.length > 0) waiting = next
  watching.forEach((tell) => tell())
}

/** Says here and in the other tabs that the list has changed. */
async function changed() {
  await reread()
  channel?.postMessage({ kind: 'list' } satisfies Told)
}

/** Begins to send for somebody; what an earlier visit left goes first. */
export function carryFor(person: string, by: string, cache: QueryClient) {
  carrier = { person, by, cache }
  pauses.clear()
  void kept()
    .then((keeper) => keeper.unlock(person, () => carrier?.person === person))
    .catch(() => undefined) // it is kept as it is, and sent all the same
    .then(reread)
    .then(carry)
}

/** Nobody is signed in any more: everything waits. */
export function carryForNobody() {
  carrier = undefined
}

let recent: { text: string; at: number; outcome: Promise<Sent | null> } | undefined

/** Does something: it is on the device when this begins to wait, and is sent in its
 * turn. The answer is null where it waits for the line; what the server refuses at once
 * is thrown, and nothing of it is left. */
export function deliver(subject: string, doing: Doing): Promise<Sent | null> {
  const now = Date.now()
  const text = doing.kind === 'picture' ? '' : JSON.stringify([subject, doing])
  if (text !== '' && recent?.text === text && now - recent.at < doubleTap) return recent.outcome
  const outcome = add(subject, doing)
  recent = { text, at: now, outcome }
  outcome.catch(() => {
    recent = undefined
  })
  return outcome
}

async function add(subject: string, doing: Doing): Promise<Sent | null> {
  const id = uuid()
  const at = new Date().toISOString()
  const outcome = new Promise<Sent | null>((resolve, reject) => waiters.set(id, { resolve, reject }))
  await (await kept()).put({ ...doing, id, subject, at, person: carrier?.person, by: carrier?.by })
  await changed()
  if (lineUp() && !outOfDate()) setTimeout(() => settled(id, null), patience)
  else settled(id, null)
  void carry()
  return outcome
}

/** Ends the wait of whoever did a deed in this tab. */
function settled(id: string, sent: Sent | null) {
  const waiter = waiters.get(id)
  if (sent?.page) show(sent.page)
  if (sent?.attempt) showAttempt(sent.attempt)
  if (!waiter) return
  waiters.delete(id)
  waiter.resolve(sent)
  if (sent !== null) return
  void navigator.storage?.persist?.().catch(() => false)
  notify()
}

/** Shows a job as it was answered, unless what is shown is newer. */
function show(page: JobPage) {
  carrier?.cache.setQueryData<JobPage>(['job', page.job.id], (now) => (now && now.event > page.event ? now : page))
}

/** Shows an attempt as it was answered, unless what is shown has more done. */
function showAttempt(page: AttemptPage) {
  const key = ['attempt', page.attempt.id, page.attempt.job_id]
  carrier?.cache.setQueryData<AttemptPage>(key, (now) => (now && now.events.length > page.events.length ? now : page))
}

/** Hands a refusal to whoever waits for it here; the deed is theirs again then. */
async function claimed(id: string, refusal: Refusal): Promise<boolean> {
  const waiter = waiters.get(id)
  if (!waiter) return false
  waiters.delete(id)
  await takeBack(id)
  waiter.reject(problemOf(refusal))
  return true
}

function problemOf({ text, status, fields }: Refusal): ApiProblem {
  return new ApiProblem({ type: '', title: '', status, detail: text, request_id: '', errors: fields })
}

/** Takes a deed off the device, to be done otherwise. */
export async function takeBack(id: string) {
  const found = list.find((d) => d.id === id)
  if (found) await (await kept()).drop(found)
  await changed()
  void carry()
}

/** Has a deed that was refused sent again as it is. */
export async function tryAgain(id: string) {
  const found = list.find((d) => d.id === id)
  if (!found) return
  await (await kept()).put({ ...found, refused: undefined })
  pauses.delete(found.subject)
  await changed()
  void carry()
}

/** The line is back: nothing waits out its pause. */
export function tryNow() {
  pauses.clear()
  void carry()
}

const pauses = new Map<string, { tries: number; until: number }>()
let carrying = false
let wanted = false
let wake = () => {}

/** Sends what waits. One tab does it for all. */
async function carry() {
  wanted = true
  wake()
  if (carrying || !carrier) return
  carrying = true
  try {
    while (wanted) await alone(sendAll)
  } finally {
    carrying = false
  }
}

async function alone(work: () => Promise<void>) {
  // Where there are no locks, a key that is sent twice is still done once.
  if (!('locks' in navigator)) return work()
  const given = new AbortController()
  const timer = setTimeout(() => given.abort(), frozen)
  try {
    await navigator.locks.request('grapnel-delivery', { signal: given.signal }, () => {
      clearTimeout(timer)
      return work()
    })
  } catch (error) {
    if (!given.signal.aborted) throw error
    await work()
  }
}

/** Sends from every subject that has something due, side by side, until none has. */
async function sendAll() {
  const running = new Map<string, Promise<void>>()
  do {
    wanted = false
    // What is added from here on ends the wait below.
    const woken = new Promise<void>((done) => (wake = done))
    await reread()
    for (const subject of new Set(list.map((d) => d.subject))) {
      if (running.has(subject) || !due(subject)) continue
      running.set(
        subject,
        sendSubject(subject).finally(() => running.delete(subject)),
      )
    }
    if (running.size > 0) await Promise.race([...running.values(), woken])
  } while (running.size > 0 || wanted)
}

function due(subject: string): boolean {
  return (pauses.get(subject)?.until ?? 0) <= Date.now() && nextOf(subject) !== undefined
}

/** What of a subject is to be sent next. A refused deed is stepped over, but nothing is
 * handed back before it has been seen to, nor past what another person did here. */
function nextOf(subject: string): Deed | undefined {
  if (!carrier || outOfDate()) return undefined
  let left = false
  for (const deed of list) {
    if (deed.subject !== subject) continue
    if (deed.refused || deed.kind === 'sealed' || deed.person !== carrier.person) left = true
    else return deed.kind === 'close' && left ? undefined : deed
  }
  return undefined
}

async function sendSubject(subject: string) {
  for (let deed = nextOf(subject); deed; deed = nextOf(subject)) {
    try {
      const sent = await send(deed)
      await (await kept()).drop(deed)
      pauses.delete(subject)
      held = ''
      list = list.filter((d) => d.id !== deed?.id)
      tell(deed, sent)
      await changed()
    } catch (error) {
      if (!refusesForGood(error)) return pause(subject, error)
      await refuse(deed, error)
    }
  }
}

function refusesForGood(error: unknown): error is ApiProblem {
  return error instanceof ApiProblem && error.status < 500 && ![401, 408, 425, 429].includes(error.status)
}

function tell(deed: Deed, sent: Sent) {
  channel?.postMessage({ kind: 'sent', id: deed.id, sent } satisfies Told)
  settled(deed.id, sent)
  if (!carrier) return
  const { cache } = carrier
  if (sent.clocks) cache.setQueryData(clocksKey, counted(sent.clocks))
  if (!sent.page) void cache.invalidateQueries({ queryKey: ['job', deed.subject] })
  // Clocks that a write set going or ended are told by the stream.
  for (const queryKey of [['today'], ['battery'], ...(deed.kind === 'visit' ? [['standing']] : [])])
    void cache.invalidateQueries({ queryKey })
}

/** Marks a deed refused, unless whoever did it waits here for the answer. */
async function refuse(deed: Deed, error: ApiProblem) {
  const refused = { text: wordsFor(error), status: error.status, fields: error.fields }
  if (await claimed(deed.id, refused)) return
  await (await kept()).put({ ...deed, refused })
  // There is nothing to stop of a clock that does not run.
  const stops = deed.kind === 'clock' ? list.filter((d) => d.kind === 'clock_stop' && d.clock === deed.id) : []
  for (const stop of stops) await (await kept()).drop(stop)
  await changed()
  channel?.postMessage({ kind: 'refused', id: deed.id, refusal: refused } satisfies Told)
}

/** What could not be sent waits, longer with each try; whoever did it is let go on. */
function pause(subject: string, error: unknown) {
  const tries = (pauses.get(subject)?.tries ?? 0) + 1
  const long = Math.min(firstPause * 2 ** (tries - 1), longestPause)
  pauses.set(subject, { tries, until: Date.now() + long })
  setTimeout(() => void carry(), long + 10)
  // Who is signed out is asked to come in again, which says enough.
  held = error instanceof ApiProblem && error.status !== 401 ? wordsFor(error) : ''
  for (const deed of list) if (deed.subject === subject) settled(deed.id, null)
  notify()
  if (error instanceof ApiProblem && error.status === 401)
    void carrier?.cache.invalidateQueries({ queryKey: ['hello'] })
}
