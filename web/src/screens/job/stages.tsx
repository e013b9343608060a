import { Link } from 'react-router'
import { useTextFile } from '../../api/bench'
import { useCloseJob } from '../../api/jobs'
import type { Assessment, BatteryOnJob, JobPage, Picture } from '../../api/types'
import { useWord } from '../../api/words'
import { dayAndClock, thin } from '../../parts/format'
import { Trouble } from '../../parts/trouble'
import { ForCustomer, TurnsAndSchools } from './account'
import { BatteryDrawing } from './battery-drawing'
import { ChargeScale } from './charge-scale'
import { DrainHunt, ReserveHelper, reserveWanted, TwoMethods } from './helpers'
import { Because, stageFor, WouldChange } from './holds'
import { KeptSums } from './kept-sums'
import { LabelDialog } from './label-dialog'
import { LoadPicture } from './load-picture'
import { Found, TakeButtons, takesOf } from './takes'

export type StageProps = {
  page: JobPage
  battery: BatteryOnJob
  assessment: Assessment
  picture: Picture
  setLine: (line: string) => void
  zone?: string
}

const heads: Record<string, string> = {
  arrive: 'Who, what, and what they say',
  look: 'Before anything is clamped on',
  charge_state: 'Volts at rest, on the scale of this chemistry',
  charge: 'A full charge, then a rest',
  crank_power: 'Volts at the end of the load',
  vehicle: 'What flattened it',
  decide: 'What the readings say together',
  finish: 'Hand it back',
}

/** The stage at hand, with its drawing. */
export function StageView({ stage, ...props }: StageProps & { stage: string }) {
  const word = useWord()
  return (
    <section aria-label={word(stage)}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-3.5">
        <h1 className="text-head font-bold">{word(stage)}</h1>
        <p className="text-small text-lead">{heads[stage]}</p>
      </div>
      <Stops page={props.page} />
      <Body stage={stage} {...props} />
      {withCautions.includes(stage) && (
        <details className="mt-3">
          <summary className="text-small font-bold text-lead">Cautions for this work</summary>
          <div className="pt-2">
            <Cautions page={props.page} />
          </div>
        </details>
      )}
    </section>
  )
}

const withCautions = ['charge_state', 'charge', 'crank_power', 'vehicle']

/** The stop rules that hold, in front of every step. */
function Stops({ page }: { page: JobPage }) {
  const stops = page.cautions.filter((c) => c.stops)
  if (stops.length === 0) return null
  return (
    <div role="alert" className="mb-3 grid gap-1 rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
      {stops.map((c) => (
        <p key={c.id} className="font-bold">
          {c.text}
        </p>
      ))}
    </div>
  )
}

/** A step that a stop rule closes: what was seen, and how it opens again. */
function Barred({ assessment }: { assessment: Assessment }) {
  return (
    <div className="grid max-w-2xl gap-3">
      <Because statements={assessment.verdict.because} />
      {assessment.verdict.would_change.map((s) => (
        <p key={s.code} className="text-lead">
          {s.text} Mark the finding mistaken, with a reason, if it does not hold.
        </p>
      ))}
    </div>
  )
}

function Body({ stage, ...props }: StageProps & { stage: string }) {
  const barred = props.assessment.verdict.action === 'stop_unsafe'
  if (barred && (stage === 'charge' || stage === 'crank_power')) return <Barred assessment={props.assessment} />
  switch (stage) {
    case 'arrive':
      return <Arrive {...props} />
    case 'look':
      return <LookStage {...props} />
    case 'charge_state':
      return <ChargeState {...props} />
    case 'charge':
      return <Charge {...props} />
    case 'crank_power':
      return <CrankPower {...props} />
    case 'vehicle':
      return <Vehicle {...props} />
    case 'decide':
      return <Decide {...props} />
    default:
      return <Finish {...props} />
  }
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="border-b border-line py-1.5">
      <dt className="text-small text-lead">{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}

function Arrive({ page, battery, assessment, setLine, zone }: StageProps) {
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
        <Link className="btn" to={`/batteries/${battery.id}`}>
          Its{' '}
          {battery.visits > 0
            ? `${battery.visits} earlier ${battery.visits === 1 ? 'visit' : 'visits'}`
            : 'life so far'}
        </Link>
        <Link className="btn" to={sumsFor(page, battery, assessment)}>
          Sums for this battery
        </Link>
      </div>
      <div className="grid gap-2 pt-4 md:col-span-2">
        <h2 className="text-small font-bold text-lead">What they tell</h2>
        <TakeButtons takes={takesOf.arrive ?? []} setLine={setLine} />
        <Found kinds={['history']} assessment={assessment} />
        <KeptSums page={page} />
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

const looks = [
  ['none', 'look none'],
  ['corrosion', 'look corrosion'],
  ['clamp_loose', 'look clamp loose'],
  ['clamp_not_seated', 'look clamp not seated'],
  ['oxide', 'look oxide'],
  ['dirty_top', 'look dirty top'],
  ['crack', 'look crack'],
  ['bulge', 'look bulge'],
  ['case_leak', 'look case leak'],
  ['post_loose', 'look post loose'],
  ['frozen', 'look frozen'],
  ['hot', 'look hot'],
  ['smell', 'look smell'],
  ['strap_bad', 'look strap bad'],
  ['cable_green', 'look cable green'],
  ['cable_damaged', 'look cable damaged'],
  ['wet_vents', 'look wet vents'],
  ['hiss', 'look hiss'],
  ['hold_down', 'look hold down'],
  ['belt', 'look belt'],
] as const

const eyes = ['green', 'dark', 'clear', 'unsure'] as const

function LookStage({ setLine, page, battery, assessment }: StageProps) {
  const word = useWord()
  const seen = battery.readings.filter((r) => r.index >= 0 && r.kind === 'look').map((r) => r.canonical)
  return (
    <div className="grid gap-4 md:grid-cols-[minmax(220px,300px)_1fr]">
      <BatteryDrawing label={battery.label} seen={seen} positiveEarth={page.vehicle?.earth === 'positive'} />
      <div className="grid content-start gap-3">
        <div className="flex flex-wrap gap-2" role="group" aria-label="What is seen">
          {looks.map(([code, line]) => (
            <button key={code} type="button" className="chip" onClick={() => setLine(line)}>
              {code === 'none' ? 'Nothing found' : word(code)}
            </button>
          ))}
        </div>
        <div>
          <h2 className="text-small font-bold text-lead">The built-in eye</h2>
          <div className="mt-1 flex flex-wrap gap-2" role="group" aria-label="Colour of the eye">
            {eyes.map((e) => (
              <button key={e} type="button" className="chip" onClick={() => setLine(`eye ${e}`)}>
                {e}
              </button>
            ))}
          </div>
        </div>
        {!battery.label.sealed && (
          <div>
            <h2 className="text-small font-bold text-lead">The level in each cell</h2>
            <div className="mt-1 flex flex-wrap gap-2">
              <button type="button" className="chip" onClick={() => setLine('level ')}>
                Level
              </button>
            </div>
          </div>
        )}
        <Found kinds={['level', 'case_leak']} assessment={assessment} />
        <Cautions page={page} />
      </div>
    </div>
  )
}

export function Cautions({ page }: { page: JobPage }) {
  return (
    <ul className="grid gap-1.5" aria-label="Cautions">
      {page.cautions
        .filter((c) => !c.stops)
        .map((c) => (
          <li key={c.id} className="rounded-part bg-paper px-3 py-1.5 text-small">
            {c.text}
          </li>
        ))}
    </ul>
  )
}

function NotJudged({ battery }: { battery: BatteryOnJob }) {
  return (
    <div className="grid gap-3">
      <Because statements={battery.assessment.verdict.because} />
      <p className="text-lead">Readings are kept all the same.</p>
    </div>
  )
}

function ChargeState({ picture, assessment, battery, setLine }: StageProps) {
  if (picture.scale.length === 0) return <NotJudged battery={battery} />
  return (
    <div className="grid gap-2 [&>*]:min-w-0">
      <ChargeScale picture={picture} state={assessment.charge_state} />
      {!assessment.charge_state && picture.unrested && assessment.next[0] && (
        <p className="rounded-part bg-marigold-wash px-3 py-2">{assessment.next[0].text.text}</p>
      )}
      {!battery.label.sealed && <TakeButtons takes={takesOf.charge_state ?? []} setLine={setLine} />}
      <Found kinds={['gravity']} assessment={assessment} />
    </div>
  )
}

function Charge({ assessment, picture, setLine }: StageProps) {
  const plan = picture.plan
  return (
    <div className="grid max-w-2xl gap-3">
      <p>
        {assessment.verdict.action === 'charge_and_retest'
          ? 'Charge it in full, let it rest an hour, then read the volts and load it again.'
          : 'Nothing is waiting for a charge. When it has been charged in full, say so on the first reading after it.'}
      </p>
      <p>
        The words <span className="num">after charge</span> on a reading tell that a full charge lies behind it. What
        was measured before then no longer condemns.
      </p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-outline" onClick={() => setLine('12.6 v rested 1h after charge')}>
          Volts after the charge
        </button>
        {plan.amps != null && (
          <button
            type="button"
            className="btn"
            onClick={() => setLine(`load ${plan.amps}a ${plan.seconds}s ${plan.limit.value}v after charge`)}
          >
            Load after the charge
          </button>
        )}
        <button type="button" className="btn" onClick={() => setLine('charge ')}>
          A check of the charge
        </button>
      </div>
      <Found kinds={['charge_log']} assessment={assessment} />
    </div>
  )
}

function CrankPower({ picture, assessment, battery, setLine }: StageProps) {
  if (picture.scale.length === 0) return <NotJudged battery={battery} />
  const { plan } = picture
  return (
    <div>
      <Tiles picture={picture} />
      {plan.amps == null && (
        <p className="mb-2 rounded-part bg-marigold-wash px-3 py-2">
          The rating on the label is not known, so no load can prove anything. Complete the label under Arrive.
        </p>
      )}
      <LoadPicture picture={picture} />
      <h2 className="mt-1 text-small font-bold">Charge</h2>
      <ChargeScale picture={picture} state={assessment.charge_state} />
      <div className="mt-3 grid gap-2 [&>*]:min-w-0">
        <TakeButtons takes={takesOf.crank_power ?? []} setLine={setLine} />
        <Found kinds={['conductance', 'reserve']} assessment={assessment} />
        <TwoMethods methods={picture.methods} />
        {picture.reserve && (
          <ReserveHelper
            plan={picture.reserve}
            open={reserveWanted(picture, assessment.next[0]?.test)}
            setLine={setLine}
          />
        )}
      </div>
    </div>
  )
}

/** The three numbers that matter before the load goes on. */
export function Tiles({ picture }: { picture: Picture }) {
  const { plan, temperature } = picture
  const tiles = [
    ['Draw', plan.amps == null ? '—' : `${plan.amps}${thin}A`, plan.converted ? 'converted rating' : ''],
    ['Hold at least', `${plan.limit.value.toFixed(2)}${thin}V`, ''],
    ['Battery, about', temperature == null ? '—' : `${Math.round(temperature)}${thin}°C`, ''],
  ]
  return (
    <dl className="mb-3 grid grid-cols-3 gap-2 lg:hidden">
      {tiles.map(([name, value, note]) => (
        <div key={name} className="rounded-part border border-line bg-sheet px-3 py-2">
          <dt className="text-small text-lead">{name}</dt>
          <dd className="num text-[1.15rem] font-bold">{value}</dd>
          {note && <dd className="text-small text-marigold-text">{note}</dd>}
        </div>
      ))}
    </dl>
  )
}

const ofVehicle = ['charging', 'ripple', 'crank', 'starter_draw', 'drop', 'drain', 'case_leak', 'dcdc', 'jump']

function Vehicle({ assessment, picture, battery, setLine }: StageProps) {
  const steps = assessment.next.filter((n) => stageFor[n.test] === 'vehicle')
  return (
    <div className="grid gap-3 [&>*]:min-w-0">
      {steps.length > 0 && (
        <div>
          <h2 className="text-small font-bold text-lead">Next on the vehicle</h2>
          <ul className="list-disc space-y-1 pl-5">
            {steps.map((s) => (
              <li key={s.test}>{s.text.text}</li>
            ))}
          </ul>
        </div>
      )}
      <TakeButtons takes={takesOf.vehicle ?? []} setLine={setLine} />
      <Found kinds={ofVehicle} assessment={assessment} />
      <DrainHunt
        hunt={picture.hunt}
        kept={battery.picture.hunt.fuses.length}
        open={assessment.next[0]?.test === 'fuses'}
        setLine={setLine}
      />
    </div>
  )
}

function Decide({ page, battery, assessment }: StageProps) {
  const word = useWord()
  return (
    <div className="grid max-w-3xl gap-4">
      <p className="text-[1.2rem] font-bold">{word(assessment.verdict.action)}</p>
      <ForCustomer page={page} battery={battery.id} />
      <Because statements={assessment.verdict.because} />
      <WouldChange statements={assessment.verdict.would_change} confidence={assessment.verdict.confidence} />
      <TurnsAndSchools page={page} battery={battery.id} />
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

function Sides({ title, list }: { title: string; list: string[] }) {
  return (
    <div className="py-1 pl-4">
      <span className="text-small font-bold text-lead">{title}</span>
      {list.length === 0 ? <p className="text-lead">nothing measured</p> : list.map((t) => <p key={t}>{t}</p>)}
    </div>
  )
}

function Finish({ page, assessment }: StageProps) {
  const close = useCloseJob(page.job.id)
  const text = useTextFile()
  const word = useWord()
  const closed = page.job.state === 'closed'
  return (
    <div className="grid max-w-2xl gap-3">
      <p>
        {closed
          ? 'This job is handed back. A reading kept now would take it up again.'
          : `The verdict stands at: ${word(assessment.verdict.action)}.`}
      </p>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className={`btn ${closed ? 'btn-outline' : 'btn-main'}`}
          disabled={close.isPending}
          onClick={() => close.mutate(!closed)}
        >
          {closed ? 'Take it up again' : 'Hand it back'}
        </button>
        <Link className="btn" to={`/jobs/${page.job.id}/report`}>
          Report to print
        </Link>
        <button
          type="button"
          className="btn"
          disabled={text.isPending}
          onClick={() => text.mutate({ job: page.job.id, name: page.vehicle?.plate || 'job' })}
        >
          As plain text
        </button>
      </div>
      <Trouble error={text.error} />
      <Trouble error={close.error} />
    </div>
  )
}
