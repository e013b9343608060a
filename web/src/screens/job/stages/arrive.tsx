// Arrive: who, what and what they say; the questions that change the odds, one tap
// each; how the battery sits; and what is done before anything is opened.
import { useState } from 'react'
import { Link } from 'react-router'
import { useChoices } from '../../../api/jobs'
import type { Assessment, BatteryOnJob, Choice, JobPage, Mounting, Question } from '../../../api/types'
import { useMounting } from '../../../delivery/use'
import { useWord } from '../../../api/words'
import { dayAndClock, thin } from '../../../parts/format'
import { Trouble } from '../../../parts/trouble'
import { KeptSums } from './kept-sums'
import { LabelDialog } from './label-dialog'
import type { StageProps } from './props'
import { Steps } from './steps'
import { Found } from './takes'
import { VehicleDialog } from './vehicle-dialog'
import { Button } from '../../../parts/ui/button'
import { Chip, OneOrNone } from '../../../parts/ui/chips'

export default function Arrive(props: StageProps) {
  const { page, battery, assessment, setLine, keepLine } = props
  return (
    <div>
      <Steps page={page} battery={battery} stage="arrive" setLine={setLine} />
      <Questions questions={battery.work.questions} keepLine={keepLine} setLine={setLine} />
      <Found kinds={['history']} assessment={assessment} />
      <Sits page={page} battery={battery} />
      <Facts {...props} />
      <KeptSums page={page} />
    </div>
  )
}

type AskProps = { questions: Question[]; keepLine: (line: string) => void; setLine: (line: string) => void }

function Questions({ questions, keepLine, setLine }: AskProps) {
  const [again, setAgain] = useState<string[]>([])
  return (
    <section aria-label="What they tell" className="mb-3">
      <h2 className="text-small font-bold text-lead">Ask; one tap keeps the answer</h2>
      <ul className="divide-y divide-line">
        {questions.map((q) => (
          <li key={q.code} className="grid gap-x-4 gap-y-1.5 py-2 md:grid-cols-[15rem_1fr] md:items-center">
            <span className={q.told ? 'text-lead' : 'font-bold'}>{q.text.text}</span>
            {q.told && !again.includes(q.code) ? (
              <span className="flex items-center gap-3">
                <span className="text-small text-lead">answered, see below</span>
                <Button onClick={() => setAgain([...again, q.code])}>Ask again</Button>
              </span>
            ) : (
              <span className="flex flex-wrap gap-1.5" role="group" aria-label={q.text.text}>
                {q.choices.map((c) => (
                  <Chip
                    key={c.line}

                    onClick={() => {
                      keepLine(c.line)
                      setAgain(again.filter((code) => code !== q.code))
                    }}
                  >
                    {c.text}
                  </Chip>
                ))}
                <Chip onClick={() => setLine(q.line)}>another value</Chip>
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** How the battery sits: it changes the steps and the drawings. */
function Sits({ page, battery }: { page: JobPage; battery: BatteryOnJob }) {
  const { data: choices } = useChoices()
  const mounting = useMounting(page.job.id, battery.id)
  // What was tapped holds at once: the next tap may come before the server has answered.
  const [said, setSaid] = useState<Partial<Mounting>>({})
  const now: Mounting = {
    where: page.vehicle?.tray ?? '',
    posts: battery.posts ?? '',
    joined: page.vehicle?.joined ?? '',
    ...said,
  }
  const say = (field: keyof Mounting, code: string) => {
    const next = { ...said, [field]: code }
    setSaid(next)
    mounting.mutate({ ...now, ...next }, { onError: () => setSaid(said) })
  }
  const rows: [keyof Mounting, Choice[]][] = page.vehicle
    ? [
        ['where', choices?.trays ?? []],
        ['posts', choices?.posts ?? []],
        ['joined', choices?.joins ?? []],
      ]
    : [['posts', choices?.posts ?? []]]
  return (
    <section aria-label="How it sits" className="my-4">
      <h2 className="mb-1 text-small font-bold text-lead">How it sits</h2>
      <Trouble error={mounting.error} />
      <div className="grid gap-2">
        {rows.map(([field, list]) => (
          <OneOrNone
            key={field}
            name={groupNames[field]}
            options={list}
            value={now[field] ?? ''}
            pick={(code) => say(field, code)}
          />
        ))}
      </div>
    </section>
  )
}

const groupNames: Record<keyof Mounting, string> = {
  where: 'Where it sits',
  posts: 'Its posts',
  joined: 'How many, and how joined',
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="border-b border-line py-1.5">
      <dt className="text-small text-lead">{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}

function Facts({ page, battery, assessment, zone }: StageProps) {
  const word = useWord()
  const { job, customer, vehicle } = page
  const l = battery.label
  const unknown = <span className="text-lead">not known</span>
  return (
    <div className="grid gap-x-8 md:grid-cols-2">
      <dl>
        <Fact name="They say">
          {job.symptoms.map(word).join(', ') || 'no complaint named'}
          {job.complaint && <span className="block">{job.complaint}</span>}
        </Fact>
        <Fact name="Whose">
          {customer ? [customer.name, customer.phone].filter(Boolean).join(', ') || unknown : unknown}
        </Fact>
        <Fact name="Vehicle">
          {vehicle ? vehicle.description || word(vehicle.kind ?? 'none') : 'a battery by itself'}
        </Fact>
        <Fact name="Came in">{dayAndClock(job.opened_at, zone)}</Fact>
        <Fact name="Promised">{job.promised_at ? dayAndClock(job.promised_at, zone) : unknown}</Fact>
      </dl>
      <dl>
        <Fact name="Battery">{battery.label_text}</Fact>
        <Fact name="Rating, as on the label">
          {l.rating
            ? `${l.rating.value}${thin}A ${l.rating.standard}`
            : 'not known: without it no load proves anything'}
        </Fact>
        <Fact name="Maker, tag">{[battery.maker, battery.tag].filter(Boolean).join(', ') || unknown}</Fact>
        <Fact name="Made">{l.made || unknown}</Fact>
        <Fact name="Cells">{l.sealed == null ? unknown : l.sealed ? 'sealed' : 'caps that open'}</Fact>
      </dl>
      <div className="flex flex-wrap gap-2 pt-3 md:col-start-2">
        <LabelDialog job={job.id} battery={battery} />
        {vehicle && <VehicleDialog job={job.id} vehicle={vehicle} />}
        <Button asChild>
          <Link to={`/batteries/${battery.id}`}>
            Its{' '}
            {battery.visits > 0
              ? `${battery.visits} earlier ${battery.visits === 1 ? 'visit' : 'visits'}`
              : 'life so far'}
          </Link>
        </Button>
        <Button asChild>
          <Link to={sumsFor(page, battery, assessment)}>Sums for this battery</Link>
        </Button>
      </div>
    </div>
  )
}

/** The bench with what the label and the readings say filled in. */
function sumsFor(page: JobPage, battery: BatteryOnJob, assessment: Assessment): string {
  const l = battery.label
  const known: Record<string, string | number | null | undefined> = {
    job: page.job.id,
    chemistry: l.chemistry,
    nominal_v: l.nominal_v,
    rating: l.rating?.value,
    standard: l.rating?.standard,
    capacity_ah: l.capacity_ah,
    reserve_min: l.reserve_min,
    battery_c: battery.picture.temperature == null ? null : Math.round(battery.picture.temperature * 10) / 10,
    percent: assessment.charge_state?.percent,
    caps: l.sealed == null ? null : l.sealed ? 'closed' : 'open',
    full_sg: l.full_sg,
  }
  const params = new URLSearchParams()
  for (const [name, value] of Object.entries(known)) if (value != null) params.set(name, String(value))
  return `/sums?${params.toString()}`
}
