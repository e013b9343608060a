// One order of work, step by step: on a phone one step a screen, its picture above the
// sentence; at a desk the whole order beside the picture.
import { Dialog } from 'radix-ui'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { progressWith, useAttempt } from '../../api/attempts'
import { useJob } from '../../api/jobs'
import { useHello } from '../../api/session'
import type { AttemptPage, ShownStep } from '../../api/types'
import { useKeepPhoto } from '../../api/photos'
import type { Deed } from '../../delivery/deeds'
import { deliver } from '../../delivery/queue'
import { useAllDeeds } from '../../delivery/use'
import { wordsFor } from '../../api/client'
import { clock } from '../../parts/format'
import { typing } from '../../parts/keys'
import { SceneView } from '../../parts/scene/scene'
import { Shell } from '../../parts/shell'
import { useTitle } from '../../parts/title'
import { useWide } from '../../parts/width'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { FileButton } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { Sheet } from '../../parts/ui/sheet'
import { PrintedOrder } from './printed'

export function ProcedureScreen() {
  const { job = '', attempt = '' } = useParams()
  const query = useAttempt(job, attempt)
  return (
    <Shell fill>
      <Loaded query={query} whole>
        {(page) => <Walk key={attempt} job={job} page={page} />}
      </Loaded>
    </Shell>
  )
}

type Did = 'done' | 'back' | 'left' | 'taken_up' | 'finished'

/** What is done at a step: kept here first, sent in its turn. */
function useDoing(job: string, { attempt }: AttemptPage) {
  const [trouble, setTrouble] = useState('')
  const say = (step: number, did: Did, note = '') => {
    setTrouble('')
    return deliver(job, { kind: 'step', attempt: attempt.id, step, did, note }).catch((error: unknown) =>
      setTrouble(wordsFor(error)),
    )
  }
  const keep = (line: string) =>
    deliver(job, { kind: 'reading', battery: attempt.battery_id, line }).then(
      () => true,
      (error: unknown) => {
        setTrouble(wordsFor(error))
        return false
      },
    )
  return { trouble, say, keep }
}

function Walk({ job, page }: { job: string; page: AttemptPage }) {
  const plate = useJob(job).data?.vehicle?.plate ?? ''
  const all = useAllDeeds()
  const progress = progressWith(page, all, page.attempt.id)
  const doing = useDoing(job, page)
  const [printing, setPrinting] = useState(false)
  const [me, setMe] = useMe(page.attempt.id)
  const step = page.steps[Math.min(progress.at, page.steps.length - 1)]
  useTitle([plate, page.title].filter(Boolean).join(', '))
  useEffect(() => {
    if (!printing) return
    const over = () => setPrinting(false)
    addEventListener('afterprint', over)
    print()
    return () => removeEventListener('afterprint', over)
  }, [printing])
  if (!step) return null
  const over = progress.at === page.steps.length
  return (
    <>
      <header className="no-print flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-2 md:px-5">
        <div className="min-w-0">
          <h1 className="font-bold">
            {page.title} {plate && <span className="num font-normal text-lead">{plate}</span>}
          </h1>
          <p className="text-small text-lead">{[page.sits, page.way.word].filter(Boolean).join(' · ')}</p>
          <Schools page={page} />
        </div>
        <div className="ml-auto flex flex-wrap items-center gap-2">
          {page.attempt.people > 1 && (
            <OneOf
              name="I am at"
              quiet
              options={[
                { code: '1', word: 'I am here' },
                { code: '2', word: 'I am the second' },
              ]}
              value={me}
              pick={setMe}
            />
          )}
          <Button className="max-md:hidden" onClick={() => setPrinting(true)}>
            Print
          </Button>
          <Button asChild>
            <Link to={`/jobs/${job}`}>To the job</Link>
          </Button>
        </div>
      </header>
      <Chain at={progress.at} of={page.steps.length} />
      <div className="no-print grid min-h-0 flex-1 grid-rows-[1fr_auto] lg:grid-cols-[1fr_400px] lg:grid-rows-1">
        <main className="grid min-h-0 min-w-0 place-items-center bg-paper p-2 md:p-4 lg:overflow-y-auto">
          <Picture step={step} />
        </main>
        <section
          aria-label="The order"
          className="flex min-h-0 flex-col border-line bg-sheet lg:border-l max-lg:sticky max-lg:bottom-0"
        >
          <Order page={page} at={progress.at} />
          {!progress.open ? (
            <Ended page={page} ended={progress.ended} job={job} />
          ) : over ? (
            <Over job={job} page={page} doing={doing} at={progress.at} />
          ) : (
            <Now
              key={progress.at}
              job={job}
              page={page}
              at={progress.at}
              since={doneAt(page, all, progress.at - 1)}
              step={step}
              me={me}
              doing={doing}
            />
          )}
        </section>
      </div>
      {printing && <PrintedOrder page={page} plate={plate} />}
    </>
  )
}

/** When a step was done, by what the server has of it or what waits here: a wait goes on from
 * there on every device. */
function doneAt(page: AttemptPage, waiting: Deed[], step: number): number | undefined {
  const here = waiting.filter((d) => d.kind === 'step' && d.attempt === page.attempt.id && d.did === 'done')
  const last =
    here.findLast((d) => d.kind === 'step' && d.step === step) ??
    page.events.findLast((e) => e.did === 'done' && e.step === step)
  return last && Date.parse(last.at)
}

const place = 'grapnel-whoami'

/** Which of two people this device is with. */
function useMe(attempt: string): [string, (who: string) => void] {
  const [me, setMe] = useState(() => {
    try {
      return sessionStorage.getItem(`${place}-${attempt}`) ?? ''
    } catch {
      return ''
    }
  })
  return [
    me,
    (who) => {
      setMe(who)
      try {
        sessionStorage.setItem(`${place}-${attempt}`, who)
      } catch {
        // It is asked again the next time.
      }
    },
  ]
}

/** The school that is followed and the others, each with its reason. */
function Schools({ page }: { page: AttemptPage }) {
  if (page.other.length === 0) return null
  return (
    <details className="text-small">
      <summary className="cursor-pointer text-lead">Why this way, and the other</summary>
      <dl className="max-w-[60ch] pt-1">
        {[page.way, ...page.other].map((w) => (
          <div key={w.code} className="pb-1">
            <dt className="font-bold">{w.word}</dt>
            <dd>{w.why}</dd>
          </div>
        ))}
      </dl>
    </details>
  )
}

/** How far it has come, link by link. */
function Chain({ at, of }: { at: number; of: number }) {
  return (
    <div
      role="img"
      aria-label={`${Math.min(at + 1, of)} of ${of}`}
      className="no-print flex items-center gap-2 border-b border-line bg-sheet px-4 py-2 md:px-5"
    >
      <span className="num font-bold">{Math.min(at + 1, of)}</span>
      <span className="flex min-w-0 flex-1 gap-[3px]">
        {Array.from({ length: of }, (_, i) => (
          <span
            key={i}
            className={`h-2 min-w-[3px] flex-1 rounded-full ${i < at ? 'bg-verdigris' : i === at ? 'bg-marigold' : 'bg-line'}`}
          />
        ))}
      </span>
      <span className="text-small text-lead">of {of}</span>
    </div>
  )
}

/** The picture: on a narrow screen the part of it where the hand is. */
function Picture({ step }: { step: ShownStep }) {
  const wide = useWide()
  if (!wide) {
    return (
      <div className="w-full max-w-[430px]">
        <SceneView scene={step.drawing} narrow className="h-auto max-h-[44dvh] w-full" />
      </div>
    )
  }
  return (
    <div className="w-full">
      <SceneView scene={step.drawing} className="mx-auto max-h-[calc(100dvh-15rem)] w-full" />
      <Legend />
    </div>
  )
}

/** What the lines and squares of a picture mean. */
function Legend() {
  const line = (striped: boolean) => (
    <svg viewBox="0 0 44 12" className="h-3 w-11" fill="none">
      <path d="M4 6H40" className="stroke-ink" strokeWidth="7" strokeLinecap="round" />
      <path d="M4 6H40" className={striped ? 'stroke-sheet' : 'stroke-lead'} strokeWidth="3.4" />
      {striped && <path d="M4 6H40" className="stroke-ink" strokeWidth="3.4" strokeDasharray="5 5" />}
    </svg>
  )
  const item = 'inline-flex items-center gap-2'
  return (
    <p className="flex flex-wrap justify-center gap-x-6 gap-y-1 pt-2 text-small text-lead" aria-hidden="true">
      <span className={item}>{line(false)} plus, plain</span>
      <span className={item}>{line(true)} minus, striped</span>
      <span className={item}>
        <span className="inline-block size-4 rounded-[4px] bg-verdigris" /> on
      </span>
      <span className={item}>
        <span className="inline-block size-4 rounded-[4px] bg-marigold" /> now
      </span>
      <span className="text-oxide-text">hatched: no clamp, no hand</span>
    </p>
  )
}

/** The whole order, the step at hand in view. */
function Order({ page, at }: { page: AttemptPage; at: number }) {
  return (
    // What scrolls must be reached by keyboard.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <ol aria-label="All steps" tabIndex={0} className="hidden min-h-0 flex-1 overflow-y-auto px-4 py-2 lg:block">
      {page.steps.map((s, i) => (
        <li
          key={s.number}
          ref={i === at ? show : undefined}
          aria-current={i === at ? 'step' : undefined}
          className={`flex gap-3 border-b border-line py-1.5 text-[0.9375rem] ${i === at ? '-mx-2 rounded-part bg-marigold-wash px-2 font-bold' : i < at ? 'text-lead' : ''}`}
        >
          <span className={`num w-6 shrink-0 text-right ${i < at ? 'text-verdigris-text' : ''}`}>{s.number}</span>
          <span>
            {s.text}
            {s.reverse_of > 0 && <span className="font-normal text-lead"> takes back {s.reverse_of}</span>}
          </span>
        </li>
      ))}
    </ol>
  )
}

const show = (line: HTMLLIElement | null) => line?.scrollIntoView({ block: 'nearest' })

type NowProps = {
  job: string
  page: AttemptPage
  at: number
  since: number | undefined
  step: ShownStep
  me: string
  doing: ReturnType<typeof useDoing>
}

/** The step at hand: its sentence, why, what it looks like when right, its caution, Done. */
function Now({ job, page, at, since, step, me, doing }: NowProps) {
  const [line, setLine] = useState(step.line)
  const before = at > 0 ? page.steps[at - 1] : undefined
  const other = me !== '' && step.by > 0 && String(step.by) !== me
  const done = () => void doIt()
  const doIt = async () => {
    const typed = line.trim()
    const reads = step.asks === 'reading'
    // A line that is not taken stays where it was typed, and the step with it.
    if (reads && typed !== '' && typed !== step.line.trim() && !(await doing.keep(typed))) return
    await doing.say(at, 'done', reads ? '' : typed)
  }
  useStepKeys(done, () => before && void doing.say(at - 1, 'back'))
  return (
    <div className="grid gap-2.5 border-t border-line bg-paper px-4 py-3">
      {page.stopped.length > 0 && (
        <p role="alert" className="rounded-part bg-oxide-wash px-3 py-2 text-oxide-text">
          {page.stopped.join(' ')}
        </p>
      )}
      <div aria-live="polite">
        {step.by > 0 && (
          <p className="text-small font-bold text-marigold-text">
            {me === ''
              ? step.by === 1
                ? 'The person at this vehicle'
                : 'The second person'
              : other
                ? 'The other person'
                : 'You'}
          </p>
        )}
        <h2 className="text-[1.375rem] leading-tight font-bold">{step.text}</h2>
        {step.why && <p className="pt-1">{step.why}</p>}
        {step.recalls && <p className="pt-1 font-bold">Noted when they came off: {step.recalls}</p>}
        {step.right && <p className="pt-1 text-verdigris-text">Right: {step.right}</p>}
      </div>
      {step.cautions.map((c) => (
        <p key={c.id} className="rounded-part bg-marigold-wash px-3 py-2 text-small">
          {c.text}
        </p>
      ))}
      <Asked job={job} step={step} since={since} line={line} setLine={setLine} done={done} />
      {doing.trouble && (
        <p role="alert" className="rounded-part bg-oxide-wash px-3 py-2 text-oxide-text">
          {doing.trouble}
        </p>
      )}
      <div className="flex gap-2">
        <Button weight="main" className="min-h-16 flex-1 text-[1.1875rem]" onClick={done}>
          Done
        </Button>
        {before && <BackButton undo={before.undo} back={() => void doing.say(at - 1, 'back')} />}
        <Leave page={page} at={at} leave={(note) => void doing.say(at, 'left', note)} />
      </div>
    </div>
  )
}

type AskedProps = {
  job: string
  step: ShownStep
  since: number | undefined
  line: string
  setLine: (line: string) => void
  done: () => void
}

const asked = { reading: 'The reading, as one line', answer: 'Your answer', photo: 'What the picture shows' } as const

/** What a step wants back: a wait, a picture, a line. */
function Asked({ job, step, since, line, setLine, done }: AskedProps) {
  if (step.asks === undefined || step.asks === '') return null
  if (step.asks === 'wait') return <Waiting minutes={step.minutes} since={since} />
  return (
    <div className="flex flex-wrap items-end gap-2">
      <label className="grid min-w-0 flex-1 gap-1 text-small">
        {asked[step.asks as keyof typeof asked]}
        <input
          className={`field ${step.asks === 'reading' ? 'num' : ''}`}
          value={line}
          onChange={(e) => setLine(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            done()
          }}
        />
      </label>
      {step.asks === 'photo' && <TakePicture job={job} note={line.trim() || step.text} />}
    </div>
  )
}

/** A picture of it, kept with the job. */
function TakePicture({ job, note }: { job: string; note: string }) {
  const keep = useKeepPhoto(job)
  return (
    <FileButton accept="image/*" capture="environment" take={(file) => keep.mutate({ file, note })}>
      {keep.isPending ? 'Keeping' : keep.isSuccess ? 'Kept; another' : 'Take a picture'}
    </FileButton>
  )
}

/** A wait: its end as a time of the clock, counted down. */
function Waiting({ minutes, since }: { minutes: number; since: number | undefined }) {
  const [opened] = useState(() => Date.now())
  const begun = since ?? opened
  const [now, setNow] = useState(opened)
  const zone = useHello().data?.shop?.time_zone
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(tick)
  }, [])
  const left = Math.max(0, begun + minutes * 60_000 - now)
  const [m, s] = [Math.floor(left / 60_000), Math.floor((left % 60_000) / 1000)]
  return (
    <p className="flex items-baseline gap-3">
      <b className="num text-[1.75rem]" role="timer">
        {`${m}:${String(s).padStart(2, '0')}`}
      </b>
      <span className="text-small text-lead">
        {left > 0 ? `until ${clock(new Date(begun + minutes * 60_000).toISOString(), zone)}` : 'over: go on'}
      </span>
    </p>
  )
}

/** Back: what must be undone is said before it counts. */
function BackButton({ undo, back }: { undo: string; back: () => void }) {
  const [open, setOpen] = useState(false)
  if (undo === '') {
    return (
      <Button className="min-h-16" onClick={back}>
        Back
      </Button>
    )
  }
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button className="min-h-16">Back</Button>
      </Dialog.Trigger>
      {open && (
        <Sheet title="Undo it first" about="What was done is done: take it back with your hands, then here.">
          <p className="pb-4 text-[1.1875rem] font-bold">{undo}</p>
          <Button
            weight="main"
            onClick={() => {
              setOpen(false)
              back()
            }}
          >
            It is undone
          </Button>
        </Sheet>
      )}
    </Dialog.Root>
  )
}

/** Breaking off: the way back from here, all of it. */
function Leave({ page, at, leave }: { page: AttemptPage; at: number; leave: (note: string) => void }) {
  const [open, setOpen] = useState(false)
  const [note, setNote] = useState('')
  const way = at > 0 ? (page.steps[at - 1]?.back ?? []) : []
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button className="min-h-16">Stop</Button>
      </Dialog.Trigger>
      {open && (
        <Sheet
          title="Break it off here"
          about={way.length > 0 ? 'The way back, in this order:' : 'Nothing is open: it may be left as it stands.'}
        >
          <ol className="list-decimal pb-3 pl-6" aria-label="The way back">
            {way.map((text, i) => (
              <li key={i} className="py-1 text-[1.0625rem]">
                {text}
              </li>
            ))}
          </ol>
          <label className="grid gap-1 pb-4 text-small">
            Why, or what is left
            <input className="field" value={note} onChange={(e) => setNote(e.target.value)} />
          </label>
          <Button
            weight="main"
            onClick={() => {
              setOpen(false)
              leave(note)
            }}
          >
            {way.length > 0 ? 'All of it is undone' : 'Leave it'}
          </Button>
        </Sheet>
      )}
    </Dialog.Root>
  )
}

type Doing = ReturnType<typeof useDoing>

function Over({ job, page, doing, at }: { job: string; page: AttemptPage; doing: Doing; at: number }) {
  const last = page.steps[page.steps.length - 1]
  return (
    <div className="grid gap-3 border-t border-line bg-paper px-4 py-4">
      <h2 className="text-[1.375rem] font-bold">All steps are done.</h2>
      <p>Look over it once: nothing lies open, nothing is clamped that should not be.</p>
      <div className="flex flex-wrap gap-2">
        <Button weight="main" className="min-h-16 flex-1" onClick={() => void doing.say(at, 'finished')}>
          Finish it
        </Button>
        {last && <BackButton undo={last.undo} back={() => void doing.say(at - 1, 'back')} />}
        <Button asChild className="min-h-16">
          <Link to={`/jobs/${job}`}>To the job</Link>
        </Button>
      </div>
    </div>
  )
}

function Ended({ page, ended, job }: { page: AttemptPage; ended: string; job: string }) {
  const zone = useHello().data?.shop?.time_zone
  const last = page.events[page.events.length - 1]
  return (
    <div className="grid gap-2 border-t border-line bg-paper px-4 py-4">
      <h2 className="text-[1.375rem] font-bold">{ended === 'finished' ? 'Finished.' : 'Broken off.'}</h2>
      {last && (
        <p className="text-small text-lead">
          {last.by}, {clock(last.at, zone)}
          {last.note && `: ${last.note}`}
        </p>
      )}
      {page.attempt.name === 'jump' && ended === 'finished' && (
        <p>
          It runs; it is not charged. The full charge and the tests:{' '}
          <Link className="underline" to="/shelf">
            to the shelf
          </Link>
          .
        </p>
      )}
      <Button asChild weight="main">
        <Link to={`/jobs/${job}/procedures?battery=${page.attempt.battery_id}`}>Another order, or a second try</Link>
      </Button>
    </div>
  )
}

/** Keys: Enter or Right is Done, Left is Back. */
function useStepKeys(done: () => void, back: () => void) {
  useEffect(() => {
    const hear = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null
      if (typing(event) || target?.closest('button, a, [role="radio"]')) return
      if (event.key === 'ArrowRight' || event.key === 'Enter') done()
      else if (event.key === 'ArrowLeft') back()
      else return
      event.preventDefault()
    }
    addEventListener('keydown', hear)
    return () => removeEventListener('keydown', hear)
  })
}
