// Which battery goes in: out of the stock, best first, old and new over each other, what it
// will do, what to order where nothing fits; then it is fitted and written down.
import { useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useBegin, useProcedures } from '../../api/attempts'
import { wordsFor } from '../../api/client'
import { useChoices, useJob } from '../../api/jobs'
import { useHello } from '../../api/session'
import { useFit, useKeepBody, useKeepWants, useReplace, useTakeBack } from '../../api/stock'
import type { BatteryOnJob, CaseBody, FitSum, JobPage, Replacement, Wants } from '../../api/types'
import { clock, thin } from '../../parts/format'
import { Shell } from '../../parts/shell'
import { useTitle } from '../../parts/title'
import { useWide } from '../../parts/width'
import { Button } from '../../parts/ui/button'
import { PlainForm } from '../../parts/ui/plain-form'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { FormDialog } from '../../parts/form-dialog'
import { useBatteryAt } from '../procedure/list'
import {
  bodyFrom,
  bodyOf,
  CaseFields,
  millimetres,
  OutsideFields,
  sizeOf,
  Sides,
  type CaseDraft,
  caseWrong,
} from './case-fields'
import { Above, Beside } from './drawing'

export function FitScreen() {
  const { job = '' } = useParams()
  const query = useJob(job)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Fit page={page} />}
      </Loaded>
    </Shell>
  )
}

const verdicts = { fits: 'fits', fits_with: 'fits, with', no: 'no' }

function Fit({ page }: { page: JobPage }) {
  const battery = useBatteryAt(page)
  const plate = page.vehicle?.plate ?? ''
  const [coldest, setColdest] = useState('')
  const [reach, setReach] = useState(false)
  const asked = coldest.trim().replace(',', '.').replace('−', '-')
  const query = useFit(page, battery?.id ?? '', asked, reach)
  useTitle([plate, 'what fits'].filter(Boolean).join(', '))
  if (!battery) return null
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-3 md:px-6">
        {plate && <span className="plate text-sign">{plate}</span>}
        <div className="min-w-0 flex-1">
          <h1 className="text-sign font-bold">What fits {page.vehicle?.description}</h1>
          <p className="text-small text-lead">
            comes out: {[battery.label_text, query.data && sizeOf(query.data.body)].filter(Boolean).join(', ')}
          </p>
        </div>
        <Link className="underline max-sm:w-full" to={`/jobs/${page.job.id}`}>
          To the job
        </Link>
      </header>
      {query.error && query.data && (
        <p role="alert" className="bg-oxide-wash px-4 py-2 text-oxide-text">
          {wordsFor(query.error)}
        </p>
      )}
      <Loaded query={query}>
        {(sum) => (
          <Chosen
            page={page}
            battery={battery}
            sum={sum}
            asked={{ coldest, setColdest, reach, setReach }}
            done={page.replacements.find((r) => r.old_id === battery.id)}
          />
        )}
      </Loaded>
    </>
  )
}

type Asked = { coldest: string; setColdest: (t: string) => void; reach: boolean; setReach: (r: boolean) => void }
type ChosenProps = { page: JobPage; battery: BatteryOnJob; sum: FitSum; asked: Asked; done?: Replacement }

function Chosen({ page, battery, sum, asked, done }: ChosenProps) {
  const [picked, setPicked] = useState('')
  const first = sum.choice.fits[0]
  // Nothing is known of the room there is: what is said to fit does if it goes in.
  const unsized = sum.choice.assumed.some((a) => a.code === 'assumed.fit_tray')
  const wide = useWide()
  const shown = useRef<HTMLElement>(null)
  const pick = (id: string) => {
    setPicked(id)
    if (!wide) shown.current?.scrollIntoView({ block: 'start' })
  }
  const at = Math.max(
    0,
    sum.choice.fits.findIndex((f) => f.id === picked),
  )
  const row = sum.rows[at]
  const fit = sum.choice.fits[at]
  return (
    <div className="grid flex-1 bg-sheet lg:grid-cols-[360px_1fr]">
      <aside aria-label="In stock" className="grid content-start gap-3 border-line bg-paper px-4 py-4 lg:border-r">
        {done && <Fitted page={page} done={done} />}
        <h2 className="text-small font-bold text-lead">
          {first ? 'In stock, best first' : 'Nothing is in stock.'}{' '}
          <Link className="font-normal underline" to="/stock">
            Stock
          </Link>
        </h2>
        <ul className="grid gap-2">
          {sum.choice.fits.map((f, i) => (
            <li key={f.id}>
              <button
                type="button"
                aria-pressed={i === at}
                onClick={() => pick(f.id)}
                className={`grid w-full gap-1 rounded-card border bg-sheet p-3 text-left ${i === at ? 'border-2 border-ink' : 'border-line'} ${f.verdict === 'no' ? 'border-dashed text-lead' : ''}`}
              >
                <span className="flex items-baseline justify-between gap-3">
                  <b>
                    {[sum.rows[i]?.battery.maker, sum.rows[i]?.battery.tag].filter(Boolean).join(' ')}
                    <span className="font-normal">, {sum.rows[i]?.label_text}</span>
                  </b>
                  <span className={`num shrink-0 ${f.verdict === 'no' ? '' : 'text-verdigris-text'}`}>
                    {verdicts[f.verdict]}
                    {unsized && f.verdict !== 'no' && ', if it goes in'}
                  </span>
                </span>
                <span className="text-small">
                  {f.reasons[0]?.text ?? 'Size, posts, hold-down and kind as before.'}
                  {f.reasons.length > 1 && ` And ${f.reasons.length - 1} more.`}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {(!first || first.verdict === 'no') && <Order sum={sum} />}
        <Known page={page} battery={battery} sum={sum} asked={asked} />
      </aside>
      <main
        ref={shown}
        className="grid min-w-0 content-start gap-x-8 gap-y-5 bg-sheet px-4 py-4 max-lg:row-start-1 md:px-7 lg:sticky lg:top-0 lg:self-start xl:grid-cols-[1.45fr_1fr]"
      >
        <div className="grid min-w-0 content-start gap-5">
          <section aria-label="Old and new">
            <h2 className="font-bold">Old and new, to scale, from above</h2>
            <p className="pb-1 text-small text-lead">solid: new, dashed: old, with their posts on the side near you</p>
            <Above
              old={sum.old_box}
              oldBody={{ ...sum.body, layout: sum.wants.layout || sum.body.layout }}
              now={sum.boxes[at]}
              nowBody={row?.body}
              wants={sum.wants}
            />
          </section>
          <section aria-label="From the side">
            <h2 className="font-bold">From the side</h2>
            <Beside old={sum.old_box} oldBody={sum.body} now={sum.boxes[at]} nowBody={row?.body} wants={sum.wants} />
          </section>
        </div>
        {fit && row && (
          <section aria-label="Will the new one do" className="grid content-start gap-4">
            <div className="grid gap-2">
              <h2 className="font-bold">Will the new one do?</h2>
              <Does fit={fit} row={row} />
            </div>
            <ul className="grid gap-1.5">
              {fit.reasons.map((r) => (
                <li key={r.code}>{r.text}</li>
              ))}
              {fit.verdict !== 'no' && <li className="font-bold">Test it before it goes in.</li>}
              {sum.choice.assumed.map((a) => (
                <li key={a.code + a.text} className="text-small text-marigold-text">
                  {a.text}
                </li>
              ))}
            </ul>
            {!done && <FitIt page={page} battery={battery} sum={sum} at={at} reach={asked.reach} />}
          </section>
        )}
      </main>
    </div>
  )
}

/** What was fitted here, and that it may be taken back. */
function Fitted({ page, done }: { page: JobPage; done: Replacement }) {
  const back = useTakeBack(page.job.id)
  const zone = useHello().data?.shop?.time_zone
  const { data: choices } = useChoices()
  const word = (list: { code: string; word: string }[] | undefined, code: string) =>
    list?.find((c) => c.code === code)?.word ?? code
  return (
    <section aria-label="Fitted" className="grid gap-2 rounded-card bg-verdigris-wash p-3">
      <h2 className="font-bold">
        Fitted: {[done.maker, done.tag].filter(Boolean).join(' ')}, {clock(done.at, zone)}
      </h2>
      <p className="text-small">
        By {done.by}. The old one {word(choices?.goings, done.goes)}, {word(choices?.deposits, done.deposit)}
        {done.warranty_until && `; warranty until ${done.warranty_until}`}.
      </p>
      <Button asChild weight="outline">
        <Link to={`/jobs/${page.job.id}/${done.old_id}/finish`}>Before the keys go back</Link>
      </Button>
      {back.error && <p className="text-oxide-text">{wordsFor(back.error)}</p>}
      <Button weight="plain" disabled={back.isPending} onClick={() => back.mutate(done.id)}>
        Take it back
      </Button>
    </section>
  )
}

type Candidate = FitSum['choice']['fits'][number]

const degrees = (x: number) => String(Math.round(x)).replace('-', '−')

/** Cranking, reserve and freshness of the new one against the old. */
function Does({ fit, row }: { fit: Candidate; row: FitSum['rows'][number] }) {
  const { rating_margin: margin, cold_start_c: cold } = fit
  const bar = (name: string, share: number, good: boolean, says: string) => (
    <div className="grid grid-cols-[6rem_1fr_auto] items-center gap-3">
      <span>{name}</span>
      <svg viewBox="0 0 180 14" preserveAspectRatio="none" className="h-3.5 w-full" aria-hidden="true">
        <rect width="180" height="14" rx="7" className="fill-line" />
        <rect
          width={Math.max(6, Math.min(1, share) * 180)}
          height="14"
          rx="7"
          className={good ? 'fill-verdigris' : 'fill-marigold'}
        />
      </svg>
      <span className="num">{says}</span>
    </div>
  )
  const signed = (x: number) => `${x >= 0 ? '+' : '−'}${Math.abs(Math.round(x))}${thin}%`
  return (
    <>
      {margin && bar('cranking', margin.value / 1.3, margin.value >= 1, signed((margin.value - 1) * 100))}
      {margin && margin.low !== margin.high && (
        <p className="text-small text-lead">
          cranking by a converted rating: {signed((margin.low - 1) * 100)} to {signed((margin.high - 1) * 100)}
        </p>
      )}
      {row.months != null && bar('freshness', 1 - row.months / 12, row.stands.length === 0, `${row.months}${thin}mo`)}
      {cold && (
        <p>
          Starts this engine down to{' '}
          <b className="num">
            {cold.value <= -40 ? 'below −40' : degrees(cold.value)}
            {thin}°C
          </b>{' '}
          new and charged; an easy one to {degrees(cold.low)}, a hard one to {degrees(cold.high)}
          {thin}°C.
        </p>
      )}
      {!margin && <p className="text-lead">One of the ratings is not known: cranking power is not compared.</p>}
    </>
  )
}

/** What to ask for where the stock has nothing. */
function Order({ sum }: { sum: FitSum }) {
  return (
    <section aria-label="To order" className="rounded-card border border-line bg-sheet p-3">
      <h2 className="pb-1 font-bold">To order</h2>
      <ul className="grid gap-0.5">
        {sum.choice.order.map((o) => (
          <li key={o.code}>{o.text}</li>
        ))}
      </ul>
    </section>
  )
}

/** What is known of the tray, of the old one and of the morning it has to start on. */
function Known({ page, battery, sum, asked }: Omit<ChosenProps, 'done'>) {
  const { wants } = sum
  const tray = [wants.tray_length_mm, wants.tray_width_mm, wants.tray_height_mm]
  return (
    <section aria-label="What is wanted" className="grid gap-2.5">
      <h2 className="font-bold">What is wanted</h2>
      <p className="text-small text-lead">
        {tray.some(Boolean) ? `Tray ${tray.map((x) => x ?? '?').join(' × ')}${thin}mm.` : 'The tray was not measured.'}{' '}
        What is left open is not judged.
      </p>
      <div className="flex flex-wrap gap-2">
        {page.vehicle && (
          <FormDialog
            trigger="The tray and the cables"
            title="What the vehicle wants"
            about="Measured at the tray, with the old battery out or its case beside it."
            form={(done) => <WantsForm job={page.job.id} wants={wants} done={done} />}
          />
        )}
        <FormDialog
          trigger="The old case"
          title="The battery that comes out"
          about="By its size, or measured in millimetres."
          form={(done) => <BodyForm job={page.job.id} battery={battery.id} body={sum.body} done={done} />}
        />
      </div>
      <TextField label="Coldest morning it has to start on, °C" numeric value={asked.coldest} set={asked.setColdest} />
      <OneOf
        name="If the posts lie the other way, the cables"
        options={[
          { code: 'no', word: 'do not reach' },
          { code: 'yes', word: 'reach without a pull' },
        ]}
        value={asked.reach ? 'yes' : 'no'}
        pick={(code) => asked.setReach(code === 'yes')}
      />
    </section>
  )
}

function WantsForm({ job, wants, done }: { job: string; wants: Wants; done: () => void }) {
  const keep = useKeepWants(job)
  const [draft, setDraft] = useState({
    length: String(wants.tray_length_mm ?? ''),
    width: String(wants.tray_width_mm ?? ''),
    height: String(wants.tray_height_mm ?? ''),
    layout: wants.layout,
    terminal: wants.terminal,
    hold_down: wants.hold_down,
    vent_side: wants.vent_side,
  })
  const set = (part: Partial<typeof draft>) => setDraft({ ...draft, ...part })
  const submit = () =>
    keep.mutate(
      {
        ...wants,
        tray_length_mm: millimetres(draft.length),
        tray_width_mm: millimetres(draft.width),
        tray_height_mm: millimetres(draft.height),
        layout: draft.layout,
        terminal: draft.terminal,
        hold_down: draft.hold_down,
        vent_side: draft.vent_side,
      },
      { onSuccess: done },
    )
  return (
    <PlainForm submit={submit} error={keep.error} pending={keep.isPending} wrong={caseWrong(draft)} button="Write down">
      <Sides draft={draft} change={set} names={['Length, mm', 'Width, mm', 'To bonnet or box, mm']} />
      <OutsideFields draft={draft} change={set} />
    </PlainForm>
  )
}

type BodyFormProps = { job: string; battery: string; body: CaseBody; done: () => void }

function BodyForm({ job, battery, body, done }: BodyFormProps) {
  const keep = useKeepBody(job, battery)
  const [draft, setDraft] = useState<CaseDraft>(bodyOf(body))
  return (
    <PlainForm
      submit={() => keep.mutate(bodyFrom(draft), { onSuccess: done })}
      error={keep.error}
      pending={keep.isPending}
      wrong={caseWrong(draft)}
      button="Write down"
    >
      <CaseFields draft={draft} set={setDraft} />
    </PlainForm>
  )
}

type FitItProps = { page: JobPage; battery: BatteryOnJob; sum: FitSum; at: number; reach: boolean }

/** The order of work, and writing down that it is in. */
function FitIt({ page, battery, sum, at, reach }: FitItProps) {
  const navigate = useNavigate()
  const job = page.job.id
  const offered = useProcedures(job, battery.id)
  const begin = useBegin(job)
  const replace = offered.data?.find((o) => o.name === 'replace')
  const fit = sum.choice.fits[at]
  const row = sum.rows[at]
  if (!fit || !row) return null
  const start = (setting: NonNullable<typeof replace>['settings'][number]['setting']) =>
    begin.mutate(
      { battery_id: battery.id, name: 'replace', setting, school: '', people: 1 },
      { onSuccess: (made) => void navigate(`/jobs/${job}/procedures/${made.attempt.id}`) },
    )
  if (fit.verdict === 'no') {
    return <p className="rounded-part bg-oxide-wash px-3 py-2 font-bold text-oxide-text">It does not go in.</p>
  }
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap gap-2">
        {replace?.settings.map((s) => (
          <Button key={s.word} weight="outline" disabled={begin.isPending} onClick={() => start(s.setting)}>
            Step by step{replace.settings.length > 1 ? `: ${s.word}` : ''}
          </Button>
        ))}
        <FormDialog
          trigger="It is in: write it down"
          title={`${[row.battery.maker, row.battery.tag].filter(Boolean).join(' ')} is fitted`}
          about="The stock goes down by one, and the old battery is written off or goes to a second use."
          form={(done) => <ReplaceForm job={job} battery={battery.id} now={fit.id} reach={reach} done={done} />}
        />
      </div>
      {begin.error && <p className="text-oxide-text">{wordsFor(begin.error)}</p>}
    </div>
  )
}

type ReplaceProps = { job: string; battery: string; now: string; reach: boolean; done: () => void }

function ReplaceForm({ job, battery, now, reach, done }: ReplaceProps) {
  const replace = useReplace(job)
  const { data: choices } = useChoices()
  const [goes, setGoes] = useState('scrap')
  const [deposit, setDeposit] = useState('paid_back')
  const [warranty, setWarranty] = useState('')
  // One writing down is one, however often the line drops.
  const [key] = useState(() => uuid())
  const submit = () =>
    replace.mutate(
      {
        replacement: key,
        body: {
          battery_id: battery,
          new_battery_id: now,
          goes,
          deposit,
          warranty_until: warranty,
          cables_reach: reach,
          at: new Date().toISOString(),
        },
      },
      { onSuccess: done },
    )
  return (
    <PlainForm submit={submit} error={replace.error} pending={replace.isPending} button="It is fitted">
      <OneOf name="The old one goes" options={choices?.goings ?? []} value={goes} pick={setGoes} />
      <OneOf name="Its deposit" options={choices?.deposits ?? []} value={deposit} pick={setDeposit} />
      <TextField label="Warranty until" type="date" value={warranty} set={setWarranty} />
    </PlainForm>
  )
}
