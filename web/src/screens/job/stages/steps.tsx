// The steps of a stage in working order, each with the cautions that stand in front
// of it: ticked by hand or done by a reading, with the line or the clock that
// belongs to it.
import { Check, Hourglass, Minus, Pencil, X } from 'lucide-react'
import { useState } from 'react'
import { useClocks, useLeft } from '../../../api/clocks'
import type { Assessment, BatteryOnJob, JobPage, Step } from '../../../api/types'
import { useKindWord } from '../../../api/words'
import { capital } from '../../../parts/format'
import { Found } from './takes'
import { useMay } from '../../../api/session'
import { useAnswer, useStartClock, useStopClock } from '../../../delivery/use'
import { CountDown, countdown } from '../../../parts/ui/count-down'
import { Trouble } from '../../../parts/trouble'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { TextField } from '../../../parts/ui/field'

type Props = {
  page: JobPage
  battery: BatteryOnJob
  stage: string
  setLine: (line: string) => void
  /** What the tests found stands with them where it is given. */
  assessment?: Assessment
}

export function stepsOf(battery: BatteryOnJob, stage: string): Step[] {
  return battery.work.stages.find((s) => s.stage === stage)?.steps ?? []
}

/** Every step of a stage. */
export function Steps(props: Props) {
  const steps = stepsOf(props.battery, props.stage)
  if (steps.length === 0) return null
  return (
    <section aria-label="Steps" className="mb-4">
      <StepList {...props} steps={steps} />
    </section>
  )
}

/** The step at hand, with the others a tap away: the drawing stays in sight. */
export function StepAtHand(props: Props) {
  const steps = stepsOf(props.battery, props.stage)
  const at = steps.findIndex((s) => s.state === 'open')
  if (steps.length === 0) return null
  const rest = steps.filter((_, i) => i !== at)
  return (
    <section aria-label="Steps" className="mb-3">
      {at >= 0 && <StepList {...props} steps={steps.slice(at, at + 1)} />}
      <details>
        <summary className="min-h-fold py-1.5 text-small font-bold text-lead">
          {at < 0
            ? steps.some((s) => s.state === 'barred')
              ? 'What is left is closed by the stop rule'
              : 'Every step here is seen to'
            : `Step ${at + 1} of ${steps.length}${rest.length > 0 ? '; all steps' : ''}`}
        </summary>
        <StepList {...props} steps={rest} />
      </details>
    </section>
  )
}

function StepList({ page, battery, setLine, assessment, steps }: Props & { steps: Step[] }) {
  const answer = useAnswer(page.job.id)
  if (steps.length === 0) return null
  const cautions = saidOnce(steps)
  return (
    <>
      <Trouble error={answer.error} />
      <ol className="divide-y divide-line border-y border-line">
        {steps.map((step) => (
          <StepRow
            key={step.code}
            step={step}
            cautions={cautions.get(step.code) ?? []}
            page={page}
            battery={battery}
            assessment={assessment}
            setLine={setLine}
            say={(value, note) => answer.mutate({ battery: battery.id, code: step.code, value, note })}
          />
        ))}
      </ol>
    </>
  )
}

type RowProps = Omit<Props, 'stage'> & {
  step: Step
  /** The cautions that no step before it says. */
  cautions: Step['cautions']
  say: (value: string, note?: string) => void
}

/** Each caution once, in front of the first step that is still to be done under it. */
function saidOnce(steps: Step[]): Map<string, Step['cautions']> {
  const said = new Set<string>()
  return new Map(
    steps.map((step) => {
      const still = step.state === 'open' ? step.cautions.filter((c) => !said.has(c.id)) : []
      still.forEach((c) => said.add(c.id))
      return [step.code, still]
    }),
  )
}

function StepRow({ step, cautions, page, battery, assessment, setLine, say }: RowProps) {
  const measures = useMay('keepReading')
  const word = useKindWord()
  const closed = step.state === 'barred'
  const name = step.kind ? capital(word(step.kind)) : ''
  return (
    <li className="py-1.5" data-kind={step.kind}>
      {cautions.map((c) => (
        <p key={c.id} className="mb-1 ml-[60px] rounded-part bg-marigold-wash px-2.5 py-1 text-small">
          {c.text}
        </p>
      ))}
      <div className="flex items-start gap-3">
        <Tick step={step} say={say} />
        <div className="min-w-0 flex-1 pt-[11px]">
          <p className={closed ? 'text-lead line-through' : ''}>
            {step.number && (
              <span className="num mr-2 inline-grid min-w-6 place-items-center rounded-pill bg-ink px-1.5 text-small font-bold text-sheet">
                {step.number}
              </span>
            )}
            {name && <b>{name}. </b>}
            {step.text.text}
          </p>
          {closed && <p className="text-small text-oxide-text">Closed by the stop rule.</p>}
          {(step.by || step.note) && (
            <p className="text-small text-lead">{[step.note, step.by].filter(Boolean).join(', ')}</p>
          )}
        </div>
        {measures && !closed && step.clock && (
          <ClockButton kind={step.clock} page={page} battery={battery} setLine={setLine} />
        )}
        {measures && !closed && step.line && (!step.measured || step.kind) && (
          <Button
            className="px-3"
            aria-label={name ? `${name}: ${step.measured ? 'again' : 'take it'}` : `Take it: ${step.text.text}`}
            onClick={() => setLine(step.line ?? '')}
          >
            <Pencil size={18} aria-hidden="true" />
            <span className="max-sm:hidden">{step.measured ? 'Again' : 'Take it'}</span>
          </Button>
        )}
      </div>
      {step.kind && assessment && (
        <div className="ml-[60px]">
          <Found kinds={[step.kind]} assessment={assessment} bare />
        </div>
      )}
    </li>
  )
}

const tickWords: Record<string, string> = {
  done: 'done',
  not_done: 'not done',
  not_needed: 'not needed',
  open: 'not done yet',
  barred: 'closed by a stop rule',
}

function Tick({ step, say }: { step: Step; say: (value: string) => void }) {
  const done = step.state === 'done'
  const fixed = step.measured || step.state === 'barred'
  const tone = done
    ? 'border-verdigris bg-verdigris text-sheet'
    : step.state === 'open'
      ? 'border-lead bg-sheet text-sheet'
      : 'border-lead bg-paper text-ink'
  return (
    <button
      type="button"
      className="grid size-target shrink-0 place-items-center"
      aria-pressed={done}
      aria-label={`${step.text.text} ${tickWords[step.state] ?? ''}`}
      disabled={fixed}
      onClick={() => say(step.state === 'open' ? 'done' : '')}
    >
      <span className={`grid size-7 place-items-center rounded-part border-2 ${tone}`}>
        {step.state === 'not_needed' ? (
          <Minus size={20} aria-hidden="true" />
        ) : step.state === 'not_done' || step.state === 'barred' ? (
          <X size={20} aria-hidden="true" />
        ) : (
          <Check size={20} strokeWidth={3} aria-hidden="true" />
        )}
      </span>
    </button>
  )
}

type ClockProps = { kind: string; page: JobPage; battery: BatteryOnJob; setLine: (line: string) => void }

/** Starts the clock of a step, shows it count, and when it says something for the
 * reading that follows, begins that reading with it. */
function ClockButton({ kind, page, battery, setLine }: ClockProps) {
  const { data } = useClocks()
  const start = useStartClock(page, battery)
  const stop = useStopClock()
  const set = battery.work.clocks.find((c) => c.kind === kind)
  const mine = data?.clocks.filter((c) => c.battery_id === battery.id)
  const running = mine?.find((c) => c.kind === kind || c.kind === set?.then)
  const seconds = useLeft(running)
  if (!set) return null
  if (!running) {
    return (
      <Button
        className="px-3"
        aria-label={`${countdown(set.seconds)}, start the clock: ${set.text.text}`}
        onClick={() => start.mutate(set)}
      >
        <Hourglass size={18} aria-hidden="true" />
        <span className="num">{countdown(set.seconds)}</span>
      </Button>
    )
  }
  return (
    <span className="flex shrink-0 items-center gap-1.5">
      <Button
        className={`px-3 ${seconds <= 0 ? 'border-oxide' : 'border-marigold'}`}
        aria-label={`${countdown(seconds)} ${running.text.text}: ${seconds <= 0 ? 'seen' : 'stop the clock'}`}
        onClick={() => stop.mutate(running)}
      >
        <CountDown seconds={seconds} className="font-bold" />
      </Button>
      {running.begins && (
        <Button className="px-3" onClick={() => setLine(running.begins)}>
          {running.early ? 'Read early' : 'Read now'}
        </Button>
      )}
    </span>
  )
}

/** What must be answered before the keys go back, each done, not needed, or not
 * done with a reason. */
export function ClosingRow({ step, say }: { step: Step; say: (value: string, note?: string) => void }) {
  const [reason, setReason] = useState<string | null>(null)
  return (
    <li className="grid gap-2 py-2.5 sm:grid-cols-[1fr_auto] sm:items-center">
      <div>
        <p className={step.state === 'open' ? 'font-bold' : ''}>{step.text.text}</p>
        {step.state !== 'open' && (
          <p className="text-small text-lead">
            {[tickWords[step.state], step.note, step.by].filter(Boolean).join(', ')}
          </p>
        )}
      </div>
      {!step.measured && (
        <div className="flex flex-wrap gap-1.5" role="group" aria-label={step.text.text}>
          {(['done', 'not_needed'] as const).map((value) => (
            <Chip
              key={value}

              aria-pressed={step.state === value}
              onClick={() => say(step.state === value ? '' : value)}
            >
              {value === 'done' ? 'Done' : 'Not needed'}
            </Chip>
          ))}
          <Chip
            aria-pressed={step.state === 'not_done'}
            onClick={() => (step.state === 'not_done' ? say('') : setReason(reason === null ? '' : null))}
          >
            Not done
          </Chip>
        </div>
      )}
      {reason !== null && step.state !== 'not_done' && (
        <form
          className="flex gap-2 sm:col-span-2"
          onSubmit={(e) => {
            e.preventDefault()
            say('not_done', reason)
            setReason(null)
          }}
        >
          <TextField
            className="flex-1"
            label={`Why not: ${step.text.text}`}
            quiet
            placeholder="Why not"
            value={reason}
            set={setReason}
            autoFocus
          />
          <Button type="submit" weight="outline" disabled={reason.trim() === ''}>
            Keep
          </Button>
        </form>
      )}
    </li>
  )
}
