// The one way to the server. Every write carries its own ID, so that trying
// again after a lost line stores once.
import createClient from 'openapi-fetch'
import type { paths } from './gen/schema'
import { answeredBy, outOfDate } from './release'
import type { ProblemBody, ProblemField } from './types'

/** How long the server is waited for, in milliseconds, before the line counts as down:
 * out of reach of the workshop's network nothing else tells. Trying again stores once. */
const patience = 8000

export const client = createClient<paths>({
  baseUrl: '/api',
  fetch: async (request) => {
    // What a page of another build would make of the answers nobody knows.
    if (outOfDate()) throw new Offline()
    const limit = AbortSignal.any([request.signal, AbortSignal.timeout(patience)])
    const answer = await fetch(request, { signal: limit })
    if (answer.headers.has(fromDevice)) heardKept()
    else answeredBy(answer.headers.get('grapnel-build'))
    if (outOfDate()) throw new Offline()
    return answer
  },
})

let heardKept = () => {}

/** Tells whenever the device has answered with what it kept of an earlier answer. */
export function whenKept(tell: () => void) {
  heardKept = tell
}

/** What the worker writes on an answer that it kept of an earlier one. */
const fromDevice = 'x-kept'

/** An answer that is a problem: what is wrong, field by field. */
export class ApiProblem extends Error {
  status: number
  fields: ProblemField[]
  requestId: string
  constructor(body: ProblemBody) {
    super(body.detail)
    this.status = body.status
    this.fields = body.errors
    this.requestId = body.request_id
  }
}

/** The line to the server is down; nothing is known of what it did. */
export class Offline extends Error {
  constructor() {
    super('The server cannot be reached.')
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Takes the data out of an answer, or throws what went wrong. */
export async function take<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Offline()
  }
  if (answer.response.ok) return answer.data as T
  const body = answer.error as ProblemBody | undefined
  if (body && Array.isArray(body.errors)) throw new ApiProblem(body)
  throw new Offline()
}

/** Whether an answer is only what this device kept of an earlier one. */
export async function keptHere(call: Promise<Answer<unknown>>): Promise<boolean> {
  return (await call).response.headers.has(fromDevice)
}

/** What to tell a person about any error. */
export function wordsFor(error: unknown): string {
  if (error instanceof ApiProblem) {
    return error.fields.length > 0 ? error.fields.map((f) => f.text).join(' ') : error.message
  }
  if (error instanceof Error) return error.message
  return 'Something failed.'
}
