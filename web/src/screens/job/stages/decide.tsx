// Decide: the verdict with its reasons, what the customer hears, what may be chosen
// with what each would prove or cost, and the choice written down.
import { useState } from 'react'
import { Link } from 'react-router'
import type { BatteryOnJob, JobPage } from '../../../api/types'
import { useAnswer } from '../../../delivery/use'
import { useWord } from '../../../api/words'
import { Trouble } from '../../../parts/trouble'
import { ForCustomer, TurnsAndSchools } from '../holds/account'
import { Because, WouldChange } from '../holds/because'
import type { StageProps } from './props'
import { stepsOf } from './steps'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { TextField } from '../../../parts/ui/field'

export default function Decide({ page, battery, assessment }: StageProps) {
  const word = useWord()
  return (
    <div className="grid max-w-3xl gap-4">
      <p className="text-figure font-bold">{word(assessment.verdict.action)}</p>
      {assessment.verdict.action === 'replace' && (
        <p>
          <Link className="underline" to={`/jobs/${page.job.id}/fit?battery=${battery.id}`}>
            What fits, from the stock
          </Link>
        </p>
      )}
      {assessment.verdict.action === 'clean_and_retest' && (
        <p>
          <Link className="underline" to={`/jobs/${page.job.id}/terminals?battery=${battery.id}`}>
            Terminals: what the joint costs, and how it is cleaned
          </Link>
        </p>
      )}
      {/* The paragraph comes a moment later: it must not push away what is about to be tapped. */}
      <Options page={page} battery={battery} />
      <ForCustomer page={page} battery={battery.id} />
      <Because statements={assessment.verdict.because} />
      <WouldChange statements={assessment.verdict.would_change} confidence={assessment.verdict.confidence} />
      <TurnsAndSchools page={page} battery={battery.id} />
      <Cause page={page} battery={battery} />
      {assessment.causes.length > 0 && (
        <div>
          <h2 className="text-small font-bold text-lead">For and against each cause</h2>
          {assessment.causes.map((c) => (
            <details key={c.cause} className="border-b border-line py-2">
              <summary>
                {word(c.cause)} <span className="num text-lead">{Math.round(c.probability * 100)}</span>
              </summary>
              <Sides title="For" list={c.for.map((s) => s.text)} />
              <Sides title="Against" list={c.against.map((s) => s.text)} />
            </details>
          ))}
        </div>
      )}
    </div>
  )
}

type Props = { page: JobPage; battery: BatteryOnJob }

/** What the customer may choose; the one tapped is written down. */
function Options({ page, battery }: Props) {
  const answer = useAnswer(page.job.id)
  const choice = stepsOf(battery, 'finish').find((s) => s.code === 'choice')
  if (!choice) return null
  const chosen = choice.state === 'done' ? choice.note : undefined
  const odd = chosen && !battery.work.options.some((o) => o.code === chosen)
  return (
    <section aria-label="What the customer chooses">
      <h2 className="text-small font-bold text-lead">What may be done; the customer&apos;s choice is written down</h2>
      <Trouble error={answer.error} />
      <div className="mt-1 grid gap-1.5" role="group" aria-label="Choices">
        {battery.work.options.map((o) => (
          <button
            key={o.code}
            type="button"
            aria-pressed={o.code === chosen}
            className="rounded-part border-[1.5px] border-line bg-sheet px-3 py-2 text-left aria-pressed:border-verdigris aria-pressed:bg-verdigris-wash"
            onClick={() =>
              answer.mutate(
                o.code === chosen
                  ? { battery: battery.id, code: 'choice', value: '' }
                  : { battery: battery.id, code: 'choice', value: 'done', note: o.code },
              )
            }
          >
            <span className="block font-bold">{o.text.text}</span>
            <span className="block text-small text-lead">{o.proves.text}</span>
            {o.code === chosen && <span className="block text-small text-verdigris-text">chosen, {choice.by}</span>}
          </button>
        ))}
      </div>
      {odd && (
        <p className="mt-1 text-small text-marigold-text">
          Another choice was written down before the verdict changed: ask again.
        </p>
      )}
    </section>
  )
}

/** The cause, found or written down as unknown. */
function Cause({ page, battery }: Props) {
  const answer = useAnswer(page.job.id)
  const word = useWord()
  const [other, setOther] = useState('')
  const step = stepsOf(battery, 'finish').find((s) => s.code === 'cause')
  if (!step) return null
  const say = (value: string, note?: string) => answer.mutate({ battery: battery.id, code: 'cause', value, note })
  const likely = battery.assessment.causes.slice(0, 4).map((c) => word(c.cause))
  return (
    <section aria-label="The cause">
      <h2 className="text-small font-bold text-lead">What brought it here is found, or written down as unknown</h2>
      <Trouble error={answer.error} />
      {step.state !== 'open' && (
        <p>
          {step.state === 'done' ? 'Found' : 'Not found'}
          {step.note && `: ${step.note}`}
          <span className="text-lead">, {step.by}</span>
        </p>
      )}
      <div className="mt-1 flex flex-wrap gap-1.5" role="group" aria-label="Cause">
        {likely.map((name) => (
          <Chip
            key={name}

            aria-pressed={step.note === name}
            onClick={() => say('done', name)}
          >
            {name}
          </Chip>
        ))}
        <Chip aria-pressed={step.state === 'not_done'} onClick={() => say('not_done', 'unknown')}>
          Unknown
        </Chip>
        <form
          className="flex max-w-full gap-1.5"
          onSubmit={(e) => {
            e.preventDefault()
            say('done', other)
            setOther('')
          }}
        >
          <TextField
            className="w-[13rem] max-w-full"
            label="Another cause"
            quiet
            placeholder="something else"
            value={other}
            maxLength={300}
            set={setOther}
          />
          <Button type="submit" disabled={other.trim() === ''}>
            Keep
          </Button>
        </form>
      </div>
    </section>
  )
}

function Sides({ title, list }: { title: string; list: string[] }) {
  return (
    <div className="py-1 pl-4">
      <span className="text-small font-bold text-lead">{title}</span>
      {list.length === 0 ? <p className="text-lead">nothing measured</p> : list.map((t) => <p key={t}>{t}</p>)}
    </div>
  )
}
