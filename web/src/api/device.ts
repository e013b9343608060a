// What the device answers by itself while the line to the server is down: the core
// runs in it as well. It is fetched late, and made ready when it is needed.
import core from '../../device/core.wasm?url'
import { ApiProblem, Offline } from './client'
import { lineUp } from './live'
import { outOfDate } from './release'
import type { ProblemBody } from './types'
import program from './device-worker?worker&url'

type Question = 'page' | 'preview' | 'account' | 'sum' | 'complete'

type Outcome = { answer?: unknown; problem?: Pick<ProblemBody, 'status' | 'detail'> & { errors: Partial<Field>[] } }
type Field = ProblemBody['errors'][number]

/** The zone of the shop and how far it is ahead of UTC now: its days are judged. */
let zone: { zone?: string; offset_s?: number } = {}

/** Says where the shop is. */
export function inZone(name: string | undefined) {
  if (!name) return
  const parts = new Intl.DateTimeFormat('en', { timeZone: name, timeZoneName: 'longOffset' }).formatToParts(new Date())
  const [, sign, hours, minutes] =
    /GMT([+-])(\d+):(\d+)/.exec(parts.find((p) => p.type === 'timeZoneName')?.value ?? '') ?? []
  const ahead = hours ? Number(hours) * 3600 + Number(minutes) * 60 : 0
  zone = { zone: name, offset_s: sign === '-' ? -ahead : ahead }
}

let worker: Worker | undefined
let asked = 0
const open = new Map<number, (text?: string) => void>()

function device(): Worker {
  if (worker) return worker
  worker = new Worker(program, { type: 'module', name: 'core' })
  worker.addEventListener('message', (event: MessageEvent<{ id: number; text?: string }>) => {
    open.get(event.data.id)?.(event.data.text)
    open.delete(event.data.id)
  })
  worker.addEventListener('error', () => {
    open.forEach((done) => done())
    open.clear()
    worker = undefined
  })
  return worker
}

/** The question at hand: the next one waits for it, and is not put at all if nobody
 * wants the answer any more by then. */
let last: Promise<unknown> = Promise.resolve()

function put(question: Question, about: object): Promise<string | undefined> {
  const id = ++asked
  return new Promise((done) => {
    open.set(id, done)
    device().postMessage({ id, question, asked: JSON.stringify({ ...about, ...zone }) })
  })
}

/** Asks the core on the device. Where it is not at hand it is as if the line were down. */
export async function ask<T>(question: Question, about: object, signal?: AbortSignal): Promise<T> {
  const turn = last.then(() => {
    signal?.throwIfAborted()
    return put(question, about)
  })
  last = turn.catch(() => undefined)
  const text = await turn
  if (text === undefined) throw new Offline()
  const { answer, problem } = JSON.parse(text) as Outcome
  if (!problem) return answer as T
  const errors = problem.errors.map((e) => ({ start: 0, end: 0, suggest: [], ...e }) as unknown as Field)
  throw new ApiProblem({ ...problem, errors, type: 'about:blank', title: '', request_id: '' })
}

/** Whether the core on the device has been made ready: it then answers first. */
let ready = false

/** Asks the core on the device once it is there, and while the server cannot be reached
 * or does not know of what waits here to be sent; else the server. */
export async function either<T>(
  server: () => Promise<T>,
  question: Question,
  about: Record<string, unknown> & { waiting?: object[] },
  signal?: AbortSignal,
): Promise<T> {
  if (!lineUp() || outOfDate() || about.waiting?.length) return ask(question, about, signal)
  if (ready) {
    try {
      return await ask<T>(question, about, signal)
    } catch (error) {
      // It is gone or failed, rather than the question was wrong.
      if (!(error instanceof Offline) && !(error instanceof ApiProblem && error.status >= 500)) throw error
    }
  }
  try {
    return await server()
  } catch (error) {
    if (error instanceof Offline) return ask(question, about, signal)
    throw error
  }
}

/** Fetches the core to where it is kept for when the line is down, and makes it ready. */
export async function beReady() {
  if (!navigator.serviceWorker?.controller) return
  for (const file of [program, core]) if (!(await caches.match(file))) await fetch(file)
  await ask('complete', { line: '' })
  ready = true
}
