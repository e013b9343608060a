// The joints between battery and starter: what each costs, before and after, what was seen
// and what is done about it, and what keeps the work open.
import { useId, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useBegin, useProcedures } from '../../api/attempts'
import { wordsFor } from '../../api/client'
import { useChoices, useJob } from '../../api/jobs'
import { useKeepWants, useTerminals } from '../../api/stock'
import type { BatteryOnJob, JobPage, TerminalJoint, Terminals } from '../../api/types'
import { deliver } from '../../delivery/queue'
import { capital, figureOf, thin, volts } from '../../parts/format'
import { SceneView } from '../../parts/scene/scene'
import { Shell } from '../../parts/shell'
import { useTitle } from '../../parts/title'
import { useWide } from '../../parts/width'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { SelectField, TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { useBatteryAt } from '../procedure/list'

export function TerminalsScreen() {
  const { job = '' } = useParams()
  const query = useJob(job)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Joints page={page} />}
      </Loaded>
    </Shell>
  )
}

function Joints({ page }: { page: JobPage }) {
  const battery = useBatteryAt(page)
  const plate = page.vehicle?.plate ?? ''
  const query = useTerminals(page, battery?.id ?? '')
  const [where, setWhere] = useState('')
  const wide = useWide()
  useTitle([plate, 'terminals'].filter(Boolean).join(', '))
  if (!battery) return null
  return (
    <>
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-3 md:px-6">
        <h1 className="text-head font-bold">Terminals</h1>
        <p className="text-small text-lead">{[plate, battery.label_text].filter(Boolean).join(', ')}</p>
        <Link className="ml-auto underline" to={`/jobs/${page.job.id}`}>
          To the job
        </Link>
      </header>
      <Loaded query={query}>
        {(sum) => (
          <div className="grid flex-1 lg:grid-cols-[1fr_390px]">
            <main className="grid min-w-0 content-start gap-5 bg-paper px-4 py-4 md:px-6">
              <Costs sum={sum} />
              {!wide && <Measure page={page} battery={battery} sum={sum} where={where} setWhere={setWhere} />}
              <Circuits sum={sum} tap={setWhere} chosen={where} />
              <List sum={sum} chosen={where} choose={setWhere} />
            </main>
            <aside
              aria-label="At the joint"
              className="grid content-start gap-5 border-line bg-sheet px-4 py-4 max-lg:border-t lg:border-l"
            >
              {wide && <Measure page={page} battery={battery} sum={sum} where={where} setWhere={setWhere} />}
              <Seen page={page} battery={battery} sum={sum} />
              <Work page={page} battery={battery} sum={sum} />
              <Torque page={page} sum={sum} />
            </aside>
          </div>
        )}
      </Loaded>
    </>
  )
}

const share = (x: number) => (x > 0 && x < 0.005 ? `under 1${thin}%` : `${Math.round(x * 100)}${thin}%`)
const milliohms = (x: number) => `${(x * 1000).toFixed(2)}${thin}mΩ`

/** The joint that costs most, named first, and what all of them leave the starter. */
function Costs({ sum }: { sum: Terminals }) {
  const worst = sum.joints.find((j) => j.where === sum.worst)
  const { crank, open } = sum
  const bad = worst && (worst.state === 'high' || worst.state === 'still_high')
  return (
    <section aria-label="What it costs" className="grid gap-2">
      <h2 className={`text-[1.375rem] leading-tight font-bold ${bad ? 'text-oxide-text' : ''}`}>
        {!worst?.now
          ? 'No joint was measured yet.'
          : bad
            ? `${capital(worst.name)} costs most: ${volts(worst.now.volts)}${worst.now.watts ? `, ${Math.round(worst.now.watts)}${thin}W` : ''}.`
            : `Every joint that was measured is in order. Most stays at the ${worst.name}: ${volts(worst.now.volts)}.`}
      </h2>
      {bad && worst.now?.faster != null && worst.now.faster > 0.004 && (
        <p>Without it the engine turns about {share(worst.now.faster)} faster.</p>
      )}
      {crank && (
        <p className="text-lead">
          As it is {volts(crank.starter_volts)} of {volts(crank.posts_volts)} reach the starter
          {crank.speed > 0
            ? `, and it turns at ${share(crank.speed)} of a warm engine’s speed; with every joint in order at ${share(crank.sound_speed)}.`
            : crank.sound_speed > 0
              ? `, and it does not turn; with every joint in order it turns at ${share(crank.sound_speed)}.`
              : '.'}{' '}
          Worked out on the battery as it was read, a sound one of this label.
        </p>
      )}
      {open.length > 0 && (
        <ul aria-label="What keeps it open" className="grid gap-1.5">
          {open.map((o) => (
            <li key={o.code + o.text} className="rounded-part bg-oxide-wash px-3 py-1.5 text-oxide-text">
              {o.text}
            </li>
          ))}
        </ul>
      )}
      {sum.assumed.map((a) => (
        <p key={a.code} className="text-small text-marigold-text">
          {a.text}
        </p>
      ))}
    </section>
  )
}

/** The circuit before and after, where anything was measured twice; else as it is. */
function Circuits({ sum, tap, chosen }: { sum: Terminals; tap: (hit: string) => void; chosen: string }) {
  const twice = sum.joints.some((j) => j.before) || sum.case.before != null
  if (!sum.after) return <p>Nothing is cranked on 12{thin}V here: the case and the clamps are what is left to see.</p>
  return (
    <div className={twice ? 'grid gap-4 md:grid-cols-2' : 'max-w-[620px]'}>
      {twice && sum.before && (
        <figure className="max-md:order-2">
          <figcaption className="pb-1 font-bold">Before</figcaption>
          <SceneView scene={sum.before} />
        </figure>
      )}
      <figure>
        <figcaption className="pb-1 font-bold">{twice ? 'Now' : 'Drops while cranking'}</figcaption>
        <SceneView scene={sum.after} onTap={tap} chosen={chosen} />
      </figure>
    </div>
  )
}

const states: Record<TerminalJoint['state'], { word: string; tone: string }> = {
  unmeasured: { word: 'not measured', tone: 'text-lead' },
  in_order: { word: 'in order', tone: 'text-verdigris-text' },
  high: { word: 'too high', tone: 'text-oxide-text font-bold' },
  closed: { word: 'good again', tone: 'text-verdigris-text font-bold' },
  still_high: { word: 'still too high', tone: 'text-oxide-text font-bold' },
  unproven: { word: 'proves nothing: too little current', tone: 'text-marigold-text' },
}

type ListProps = { sum: Terminals; chosen: string; choose: (where: string) => void }

/** Every joint with its figures; what was not measured is there to be tapped. */
function List({ sum, chosen, choose }: ListProps) {
  return (
    <ul aria-label="Joints" className="grid">
      {sum.joints.map((j) => (
        <li key={j.where} className={`border-b border-line ${j.where === chosen ? 'bg-sheet' : ''}`}>
          <button
            type="button"
            className="grid min-h-target w-full grid-cols-[1fr_auto] items-baseline gap-x-4 py-2 text-left"
            aria-pressed={j.where === chosen}
            onClick={() => choose(j.where)}
          >
            <span className="min-w-0">
              <b className="font-bold">{capital(j.name)}</b>{' '}
              <span className={`text-small ${states[j.state].tone}`}>{states[j.state].word}</span>
            </span>
            <span className="num text-right">
              {j.before && <span className="text-lead line-through">{volts(j.before.volts)}</span>}{' '}
              {j.now ? <b>{volts(j.now.volts)}</b> : <span className="text-lead">at most {volts(j.limit)}</span>}
            </span>
            {j.now && (
              <span className="col-span-2 text-small text-lead">
                at most {volts(j.limit)}
                {j.now.amps > 0 &&
                  `; ${milliohms(j.now.ohms.value)} (${milliohms(j.now.ohms.low)} to ${milliohms(j.now.ohms.high)}), ${Math.round(j.now.watts)}${thin}W at ${Math.round(j.now.amps)}${thin}A${j.now.taken ? ' (taken)' : ''}`}
                {j.now.share != null && `; ${share(j.now.share)} of the starter’s volts`}
                {j.now.faster != null && j.now.faster > 0.004 && `; ${share(j.now.faster)} faster without it`}
              </span>
            )}
          </button>
        </li>
      ))}
      <li className="grid min-h-target grid-cols-[1fr_auto] items-baseline gap-x-4 py-2">
        <span>
          <b>Over the case top</b>{' '}
          <span className={`text-small ${states[sum.case.state].tone}`}>{states[sum.case.state].word}</span>
        </span>
        <span className="num">
          {sum.case.before != null && <span className="text-lead line-through">{volts(sum.case.before)}</span>}{' '}
          {sum.case.now != null ? (
            <b>{volts(sum.case.now)}</b>
          ) : (
            <span className="text-lead">under {volts(sum.case.limit)}</span>
          )}
        </span>
      </li>
    </ul>
  )
}

type PartProps = { page: JobPage; battery: BatteryOnJob; sum: Terminals }

const typed = (text: string) => text.trim().replace(',', '.')

/** Keeps a line on the job, and says what was wrong with it. */
function useKeep(page: JobPage, battery: BatteryOnJob) {
  const [trouble, setTrouble] = useState('')
  const keep = async (line: string) => {
    setTrouble('')
    try {
      await deliver(page.job.id, { kind: 'reading', battery: battery.id, line })
      return true
    } catch (error) {
      setTrouble(wordsFor(error))
      return false
    }
  }
  return { trouble, keep }
}

/** One drop, measured: where, volts, and the current if a clamp meter tells it. */
function Measure({
  page,
  battery,
  sum,
  where,
  setWhere,
}: PartProps & { where: string; setWhere: (w: string) => void }) {
  const { trouble, keep } = useKeep(page, battery)
  const [v, setV] = useState('')
  const [amps, setAmps] = useState('')
  const at = where || sum.joints[0]?.where || ''
  const places = [
    ...sum.joints.map((j) => ({ code: j.where, word: capital(j.name) })),
    { code: 'case', word: 'Over the case top' },
  ]
  const take = async () => {
    const line =
      at === 'case' ? `case ${typed(v)} v` : `drop ${at} ${typed(v)}v${amps.trim() ? ` ${typed(amps)}a` : ''}`
    if (await keep(line)) setV('')
  }
  return (
    <form
      data-free
      aria-label="Measure a drop"
      className="grid gap-2.5"
      onSubmit={(e) => {
        e.preventDefault()
        void take()
      }}
    >
      <h2 className="font-bold">Measure</h2>
      <p className="text-small text-lead">
        Volts across the joint while the starter turns: ignition or fuel off, park or neutral, brake on, at most 10
        {thin}s, then rest it a minute. Fans start by themselves.
      </p>
      <SelectField label="Where" value={at} set={setWhere} options={places} />
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Volts across it" numeric value={v} set={setV} />
        {at !== 'case' && <TextField label="Amperes, if clamped" numeric value={amps} set={setAmps} />}
      </div>
      {trouble && (
        <p role="alert" className="text-small text-oxide-text">
          {trouble}
        </p>
      )}
      <Button type="submit" weight="main" disabled={v.trim() === ''}>
        Keep
      </Button>
    </form>
  )
}

const sides = [
  { code: 'negative', word: 'minus' },
  { code: 'positive', word: 'plus' },
]

/** What was seen on a joint: what it means, what it does not, and what is done. */
function Seen({ page, battery, sum }: PartProps) {
  const { data: choices } = useChoices()
  const { trouble, keep } = useKeep(page, battery)
  const [side, setSide] = useState('negative')
  const [what, setWhat] = useState('')
  const at = choices?.look_places.find((p) => p.place === side)
  const rest = choices?.look_places.filter((p) => p.place === 'strap' || p.place === 'top') ?? []
  const options = [...(at?.findings ?? []), ...rest.flatMap((p) => p.findings)]
  return (
    <section aria-label="What was seen" className="grid gap-2.5">
      <h2 className="font-bold">What was seen</h2>
      {sum.found.map((f) => (
        <div key={f.code + f.text} className="border-l-[3px] border-marigold pl-3">
          <p className="font-bold">{capital(f.text)}</p>
          <p>{f.means.text}</p>
          <p className="text-lead">{f.not.text}</p>
          <ol className="list-decimal pt-1 pl-5">
            {f.do.map((d) => (
              <li key={d.code}>{d.text.text}</li>
            ))}
          </ol>
        </div>
      ))}
      <div className="grid gap-2">
        <OneOf name="Side" options={sides} value={side} pick={setSide} />
        <SelectField
          label="Seen there"
          value={what}
          set={setWhat}
          options={[{ code: '', word: 'Choose' }, ...options.map((o) => ({ code: o.line, word: o.text }))]}
        />
        {trouble && (
          <p role="alert" className="text-small text-oxide-text">
            {trouble}
          </p>
        )}
        <Button
          weight="outline"
          disabled={what === ''}
          onClick={() => void keep(what).then((kept) => kept && setWhat(''))}
        >
          Keep what was seen
        </Button>
      </div>
    </section>
  )
}

/** In place or out, with the reasons, and the order of work that begins from here. */
function Work({ page, battery, sum }: PartProps) {
  const navigate = useNavigate()
  const job = page.job.id
  const offered = useProcedures(job, battery.id)
  const begin = useBegin(job)
  const way = offered.data?.find((o) => o.name === sum.way.name)
  const other = offered.data?.find((o) => o.name.startsWith('clean_') && o.name !== sum.way.name)
  const start = (name: string) => {
    const o = offered.data?.find((one) => one.name === name)
    const setting = o?.settings[0]?.setting
    if (!o || !setting) return
    begin.mutate(
      { battery_id: battery.id, name, setting, school: o.schools[0]?.code ?? '', people: 1 },
      { onSuccess: (made) => void navigate(`/jobs/${job}/procedures/${made.attempt.id}`) },
    )
  }
  return (
    <section aria-label="The work" className="grid gap-2">
      <h2 className="font-bold">{sum.way.name === 'clean_out' ? 'Out of the vehicle' : 'In place'}</h2>
      <ul className="grid gap-1">
        {sum.way.why.map((w) => (
          <li key={w.code}>{w.text}</li>
        ))}
      </ul>
      {way?.stopped && <p className="rounded-part bg-oxide-wash px-3 py-1.5 text-oxide-text">Not now: {way.why}</p>}
      {begin.error && (
        <p role="alert" className="text-small text-oxide-text">
          {wordsFor(begin.error)}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        {way && (
          <Button weight="main" disabled={way.stopped || begin.isPending} onClick={() => start(way.name)}>
            {way.word}
          </Button>
        )}
        {other && (
          <Button weight="plain" disabled={other.stopped || begin.isPending} onClick={() => start(other.name)}>
            {other.word}
          </Button>
        )}
      </div>
    </section>
  )
}

const units = [
  { code: 'nm', word: 'N·m', nm: 1 },
  { code: 'inlb', word: 'in·lbf', nm: 0.1129848 },
  { code: 'ftlb', word: 'ft·lbf', nm: 1.355818 },
]

/** The maker's torque first; that it is not known where it is not; then the ranges. */
function Torque({ page, sum }: Pick<PartProps, 'page' | 'sum'>) {
  const [unit, setUnit] = useState(() => localStorage.getItem('torque-unit') ?? 'nm')
  const per = units.find((u) => u.code === unit)?.nm ?? 1
  const shown = (nm: number) => (nm / per).toFixed(unit === 'inlb' ? 0 : 1)
  const keep = useKeepWants(page.job.id)
  const [own, setOwn] = useState('')
  const [wrong, setWrong] = useState('')
  const choose = (code: string) => {
    localStorage.setItem('torque-unit', code)
    setUnit(code)
  }
  const set = () => {
    const x = figureOf(own)
    setWrong(x != null && Number.isNaN(x) ? 'A figure is wanted here.' : '')
    if (x != null && !Number.isNaN(x))
      keep.mutate({ ...sum.wants, torque_nm: x * per }, { onSuccess: () => setOwn('') })
  }
  const id = useId()
  const word = units.find((u) => u.code === unit)?.word ?? ''
  return (
    <section aria-labelledby={id} className="grid gap-2">
      <h2 id={id} className="font-bold">
        Torque
      </h2>
      <ul className="grid gap-1">
        {sum.torque.map((t) => (
          <li key={t.of} className={t.of === 'maker' && t.low_nm === 0 ? 'text-marigold-text' : ''}>
            {t.low_nm > 0 && (
              <b className="num">
                {t.low_nm === t.high_nm ? shown(t.low_nm) : `${shown(t.low_nm)} to ${shown(t.high_nm)}`}
                {thin}
                {word}
              </b>
            )}{' '}
            <span className={t.low_nm > 0 ? 'text-small text-lead' : ''}>{t.text}</span>
          </li>
        ))}
      </ul>
      <OneOf name="Shown in" quiet options={units} value={unit} pick={choose} />
      {page.vehicle && (
        <form
          data-free
          className="grid grid-cols-[1fr_auto] items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            set()
          }}
        >
          <TextField
            label={`The vehicle maker’s value, ${word}`}
            numeric
            value={own}
            set={setOwn}
            wrong={wrong || (keep.error ? wordsFor(keep.error) : undefined)}
          />
          <Button type="submit" weight="outline" disabled={own.trim() === ''}>
            Write down
          </Button>
        </form>
      )}
    </section>
  )
}
