// Finish: the list that is answered before the keys go back, what the customer sets
// again and watches, and the hand-over.
import { Link } from 'react-router'
import { useTextFile } from '../../../api/bench'
import type { BatteryOnJob, JobPage } from '../../../api/types'
import { useAnswer, useCloseJob } from '../../../delivery/use'
import { useWord } from '../../../api/words'
import { FormDialog } from '../../../parts/form-dialog'
import { Trouble } from '../../../parts/trouble'
import type { StageProps } from './props'
import { ClosingRow, stepsOf } from './steps'
import { Button } from '../../../parts/ui/button'
import { PutAwayDetails } from '../../yard/put-away'

export default function Finish({ page, assessment }: StageProps) {
  const close = useCloseJob(page.job.id)
  const text = useTextFile()
  const word = useWord()
  const closed = page.job.state === 'closed'
  const open = page.batteries.reduce((sum, b) => sum + b.work.open, 0)
  return (
    <div className="grid max-w-3xl gap-4">
      <p>
        {closed
          ? 'This job is handed back. A reading kept now would take it up again.'
          : `The verdict stands at: ${word(assessment.verdict.action)}.`}
      </p>
      {page.batteries.map((b, i) => (
        <Closing
          key={b.id}
          page={page}
          battery={b}
          asked={page.batteries.slice(0, i).flatMap((before) => stepsOf(before, 'finish').map((s) => s.code))}
          named={page.batteries.length > 1}
        />
      ))}
      {page.job.purpose === 'before_storage' && <IntoTheYard page={page} />}
      <ForTheCustomer page={page} />
      <div className="flex flex-wrap items-center gap-2">
        <Button weight={closed ? 'outline' : 'main'} disabled={close.isPending} onClick={() => close.mutate(!closed)}>
          {closed ? 'Take it up again' : 'Hand it back'}
        </Button>
        <Button asChild>
          <Link to={`/jobs/${page.job.id}/customer`}>Page for the customer</Link>
        </Button>
        <Button asChild>
          <Link to={`/jobs/${page.job.id}/report`}>Report to print</Link>
        </Button>
        <Button
          disabled={text.isPending}
          onClick={() => text.mutate({ job: page.job.id, name: page.vehicle?.plate || 'job' })}
        >
          As plain text
        </Button>
        {!closed && open > 0 && (
          <span className="text-small text-marigold-text">
            {open === 1 ? 'One point is' : `${open} points are`} not answered yet.
          </span>
        )}
      </div>
      <Trouble error={text.error} />
      <Trouble error={close.error} />
    </div>
  )
}

/** What was made ready for storage goes into the yard from here. */
function IntoTheYard({ page: { vehicle, batteries } }: { page: JobPage }) {
  const found = {
    key: vehicle?.id ?? batteries[0]?.id ?? '',
    title: vehicle?.plate ?? '',
    about: '',
    loose: !vehicle,
    batteries: batteries.map((b) => ({
      id: b.id,
      word: [b.tag, b.position].filter(Boolean).join(', ') || 'its battery',
    })),
  }
  return (
    <div>
      <FormDialog
        trigger="Put it away in the yard"
        title="Put it away"
        about="Where it stands and how; the yard says how long it lasts and when somebody comes."
        form={(done) => <PutAwayDetails found={found} done={done} />}
      />
    </div>
  )
}

type ClosingProps = { page: JobPage; battery: BatteryOnJob; asked: string[]; named: boolean }

/** What each battery has of its own is asked for each; the rest once, with the first
 * battery that brings it up. */
function Closing({ page, battery, asked, named }: ClosingProps) {
  const answer = useAnswer(page.job.id)
  const steps = stepsOf(battery, 'finish').filter((s) => s.must && (!asked.includes(s.code) || s.each))
  if (steps.length === 0) return null
  return (
    <section aria-label="Before the keys go back">
      <h2 className="text-small font-bold text-lead">
        Before the keys go back{named && `: battery ${battery.position || ''}`}
      </h2>
      <Trouble error={answer.error} />
      <ol className="divide-y divide-line border-y border-line">
        {steps.map((step) =>
          step.code === 'choice' || step.code === 'cause' ? (
            <li key={step.code} className="py-2.5">
              <p className={step.state === 'open' ? 'font-bold' : ''}>{step.text.text}</p>
              <p className="text-small text-lead">
                {step.state === 'open'
                  ? 'Under Decide.'
                  : [chosen(battery, step.note) ?? step.note, step.by].filter(Boolean).join(', ')}
              </p>
            </li>
          ) : (
            <ClosingRow
              key={step.code}
              step={step}
              say={(value, note) => answer.mutate({ battery: battery.id, code: step.code, value, note })}
            />
          ),
        )}
      </ol>
    </section>
  )
}

function chosen(battery: BatteryOnJob, note?: string): string | undefined {
  return battery.work.options.find((o) => o.code === note)?.text.text
}

/** What the customer sets again and watches; on paper it can be ticked off. */
export function ForTheCustomer({ page, paper }: { page: JobPage; paper?: boolean }) {
  const once = (texts: string[]) => [...new Set(texts)]
  const resets = once(page.batteries.flatMap((b) => b.work.resets.map((s) => s.text)))
  const watch = once(page.batteries.flatMap((b) => b.work.watch.map((s) => s.text)))
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Told title="To watch" texts={watch} paper={paper} />
      <Told title="To set again" texts={resets} paper={paper} tick={paper} />
    </div>
  )
}

type ToldProps = { title: string; texts: string[]; paper?: boolean; tick?: boolean }

function Told({ title, texts, paper, tick }: ToldProps) {
  if (texts.length === 0) return null
  return (
    <section aria-label={title}>
      <h2 className={paper ? 'font-bold' : 'text-small font-bold text-lead'}>{title}</h2>
      <ul className={`space-y-1 ${tick ? '' : 'list-disc pl-5'}`}>
        {texts.map((t) => (
          <li key={t} className={tick ? 'flex items-start gap-2' : ''}>
            {/* A box to tick on paper. */}
            {tick && <span aria-hidden="true" className="mt-1 size-4 shrink-0 border-[1.5px] border-ink" />}
            {t}
          </li>
        ))}
      </ul>
    </section>
  )
}
