// What a person did that is to be written down: one row each, with its own ID, which is
// the key under which the server does it once. How each kind is sent stands in one table.
import { ApiProblem, client, Offline, take } from '../api/client'
import type {
  AttemptPage,
  Clocks,
  Desk,
  JobPage,
  LabelSaid,
  Mounting,
  ProblemBody,
  ProblemField,
  RunningClock,
  Stop,
  VehicleBody,
} from '../api/types'

/** What was done, by its kind. */
export type Doing =
  | { kind: 'reading'; battery: string; line: string }
  | { kind: 'answer'; battery: string; code: string; value: string; note?: string }
  | { kind: 'stop'; battery: string; stop: Stop['stop']; readings: string[]; revision: number; reason: string }
  | { kind: 'label'; battery: string; tag: string; maker: string; label: LabelSaid }
  | { kind: 'vehicle'; vehicle: VehicleBody }
  | { kind: 'mounting'; battery: string; mounting: Mounting }
  | { kind: 'desk'; desk: Desk }
  | { kind: 'close' }
  | { kind: 'reopen' }
  | { kind: 'correct'; reading: string; line: string; reason: string }
  | { kind: 'mistaken'; reading: string; reason: string }
  | { kind: 'undo'; reading: string }
  | { kind: 'clock'; battery: string; clock: Omit<RunningClock, 'id' | 'started_at' | 'ends_at'> }
  | { kind: 'clock_stop'; clock: string }
  | { kind: 'sum'; sum: string; title: string; inputs: Record<string, string> }
  | { kind: 'picture'; note: string; body: Blob }
  | { kind: 'visit'; line: string; did: 'looked' | 'charged' | 'moved'; note: string; name: string }
  | {
      kind: 'step'
      attempt: string
      step: number
      did: 'done' | 'back' | 'left' | 'taken_up' | 'finished'
      note: string
    }
  /** What somebody else did here: it is sealed for them. */
  | { kind: 'sealed' }

export type Kind = Doing['kind']

/** What the server had against a deed. */
export type Refusal = { text: string; status: number; fields: ProblemField[] }

export type Deed = Doing & {
  id: string
  /** The job, battery or vehicle it is done to: deeds of one subject are sent in order. */
  subject: string
  /** When it was done, by the device's own time. */
  at: string
  /** Who did it: it is sent under their name only. */
  person?: string
  by?: string
  /** It then waits for a person. */
  refused?: Refusal
  /** Its place among all deeds of this device. */
  order?: number
}

/** What the server answered: the subject as it stands then. */
export type Sent = { page?: JobPage; clocks?: Clocks; reopened?: boolean; attempt?: AttemptPage }

type Of<K extends Kind> = Extract<Deed, { kind: K }>

const key = (deed: Deed) => ({ header: { 'Idempotency-Key': deed.id } })

async function page(call: Promise<JobPage>): Promise<Sent> {
  return { page: await call }
}

async function clocks(call: Promise<Clocks>): Promise<Sent> {
  return { clocks: await call }
}

const change = (deed: Of<'correct' | 'mistaken' | 'undo'>) => ({
  params: { path: { job: deed.subject, reading: deed.reading } },
  body: {
    id: deed.id,
    line: 'line' in deed ? deed.line : undefined,
    reason: 'reason' in deed ? deed.reason : undefined,
  },
})

const ways: { [K in Kind]: (deed: Of<K>) => Promise<Sent> } = {
  sealed: () => Promise.reject(new Offline()),
  reading: async ({ subject, id, line, battery, at }) => {
    const answer = await take(
      client.PUT('/jobs/{job}/readings/{reading}', {
        params: { path: { job: subject, reading: id } },
        body: { line, battery_id: battery, taken_at: at },
      }),
    )
    return { page: answer.page, reopened: answer.kept.reopened }
  },
  answer: ({ subject, id, battery, at, code, value, note }) =>
    page(
      take(
        client.PUT('/jobs/{job}/answers/{answer}', {
          params: { path: { job: subject, answer: id } },
          body: { battery_id: battery, at, code, value, note },
        }),
      ),
    ),
  stop: ({ subject, id, battery, stop, readings, revision, reason }) =>
    page(
      take(
        client.PUT('/jobs/{job}/clearings/{clearing}', {
          params: { path: { job: subject, clearing: id } },
          body: { battery_id: battery, stop, readings, revision, reason },
        }),
      ),
    ),
  label: (deed) =>
    page(
      take(
        client.PUT('/jobs/{job}/label', {
          params: { path: { job: deed.subject }, ...key(deed) },
          body: { id: deed.battery, tag: deed.tag, maker: deed.maker, label: deed.label },
        }),
      ),
    ),
  vehicle: (deed) =>
    page(
      take(
        client.PUT('/jobs/{job}/vehicle', {
          params: { path: { job: deed.subject }, ...key(deed) },
          body: deed.vehicle,
        }),
      ),
    ),
  mounting: (deed) =>
    page(
      take(
        client.PUT('/jobs/{job}/batteries/{battery}/mounting', {
          params: { path: { job: deed.subject, battery: deed.battery }, ...key(deed) },
          body: deed.mounting,
        }),
      ),
    ),
  desk: (deed) =>
    page(
      take(client.PUT('/jobs/{job}/desk', { params: { path: { job: deed.subject }, ...key(deed) }, body: deed.desk })),
    ),
  close: (deed) =>
    page(take(client.POST('/jobs/{job}/close', { params: { path: { job: deed.subject }, ...key(deed) } }))),
  reopen: (deed) =>
    page(take(client.POST('/jobs/{job}/reopen', { params: { path: { job: deed.subject }, ...key(deed) } }))),
  correct: (deed) => page(take(client.POST('/jobs/{job}/readings/{reading}/correct', change(deed)))),
  mistaken: (deed) => page(take(client.POST('/jobs/{job}/readings/{reading}/mistaken', change(deed)))),
  undo: (deed) => page(take(client.POST('/jobs/{job}/readings/{reading}/undo', change(deed)))),
  clock: ({ subject, id, battery, at, clock }) =>
    clocks(
      take(
        client.PUT('/jobs/{job}/clocks/{clock}', {
          params: { path: { job: subject, clock: id } },
          body: { battery_id: battery, kind: clock.kind, started_at: at },
        }),
      ),
    ),
  clock_stop: (deed) =>
    clocks(take(client.POST('/clocks/{clock}/stop', { params: { path: { clock: deed.clock }, ...key(deed) } }))),
  sum: ({ subject, id, sum, inputs }) =>
    page(
      take(
        client.PUT('/jobs/{job}/sums/{kept}', { params: { path: { job: subject, kept: id } }, body: { sum, inputs } }),
      ),
    ),
  picture: sendPicture,
  visit: async ({ subject, id, line, did, note, at }) => {
    await take(
      client.PUT('/standing/{standing}/visits/{visit}', {
        params: { path: { standing: subject, visit: id } },
        body: { line, did, note, at },
      }),
    )
    return {}
  },
  step: async ({ subject, id, attempt, step, did, note, at }) => ({
    attempt: await take(
      client.PUT('/jobs/{job}/attempts/{attempt}/events/{event}', {
        params: { path: { job: subject, attempt, event: id } },
        body: { step, did, note, at },
      }),
    ),
  }),
}

/** A picture goes as it is. Only the one answer that the server gives for a kept one
 * counts: what stands between answers 200 with a page of its own. */
async function sendPicture({ subject, id, note, at, body }: Of<'picture'>): Promise<Sent> {
  const about = new URLSearchParams({ note, taken_at: at })
  const limit = AbortSignal.timeout(uploadTime)
  const answer = await fetch(`/api/jobs/${subject}/photos/${id}?${about}`, {
    method: 'PUT',
    body,
    signal: limit,
  }).catch(() => null)
  if (answer?.status === 204) return {}
  const problem = (await answer?.json().catch(() => null)) as ProblemBody | null
  if (!problem || !Array.isArray(problem.errors)) throw new Offline()
  throw new ApiProblem(problem)
}

/** How long a picture may take on a slow line, in milliseconds. */
const uploadTime = 60_000

/** Sends a deed. */
export function send(deed: Deed): Promise<Sent> {
  return (ways[deed.kind] as (deed: Deed) => Promise<Sent>)(deed)
}

/** A deed in the form in which the core on the device counts it in; what it does not know is
 * passed over. */
export function asWaiting(deed: Deed): object {
  const said = deed.kind === 'vehicle' ? deed.vehicle : deed.kind === 'desk' ? deed.desk : {}
  return { ...said, ...deed, battery_id: 'battery' in deed ? deed.battery : undefined }
}

/** What a deed says, for a list of them; word gives the trade's word for a code. */
export function says(deed: Deed, word: (code: string) => string): string {
  switch (deed.kind) {
    case 'reading':
      return deed.line
    case 'correct':
      return `corrected to ${deed.line}`
    case 'answer':
      return `${word(deed.code)}: ${deed.value === '' ? 'taken back' : word(deed.value)}`
    case 'stop':
      return `stop rule lifted: ${deed.reason}`
    case 'picture':
      return deed.note === '' ? 'a picture' : `picture: ${deed.note}`
    case 'clock':
      return deed.clock.text.text
    case 'sum':
      return `sum: ${deed.title}`
    case 'visit':
      return [`${deed.name}: ${word(`did_${deed.did}`)}`, deed.line].filter(Boolean).join(', ')
    case 'step':
      return `step ${deed.step + 1}: ${word(`did_${deed.did}`)}`
    default:
      return plain[deed.kind]
  }
}

const plain = {
  sealed: 'sealed: only they can open it',
  label: 'the label',
  vehicle: 'what is known of the vehicle',
  mounting: 'how it sits',
  desk: 'where it stands and who has it',
  close: 'handed back',
  reopen: 'taken up again',
  mistaken: 'a reading marked mistaken',
  undo: 'a change taken back',
  clock_stop: 'a clock stopped',
}
