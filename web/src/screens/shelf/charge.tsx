// One charge of the shelf: its curve with the checks on it, what it shows, what is set, its
// times, the next look, and what hands do.
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useMay } from '../../api/session'
import { useCharge, useCheck, useLogged, useShelfDeed } from '../../api/shelf'
import type { ChargePage, ShelfItem } from '../../api/types'
import { Anomalies, Curves, Looks, Refused, SideBySide, type Tile, Tiles } from '../../parts/charge'
import { clock, fromZone, span, thin, when } from '../../parts/format'
import { May } from '../../parts/may'
import { Shell } from '../../parts/shell'
import { MakerCharge } from '../../parts/maker-charge'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { SelectField, TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { FormDialog } from '../../parts/form-dialog'
import { goals } from './ask'
import { Chalk, freeFor, useHands } from './item'
import { Logger } from './logger'

export function ChargeScreen() {
  const { charge = '' } = useParams()
  const query = useCharge(charge)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Screen page={page} />}
      </Loaded>
    </Shell>
  )
}

function Screen({ page }: { page: ChargePage }) {
  const { item, plan } = page
  const now = plan.now?.percent ?? item.percent
  const { data: seen } = useLogged(item.charge.id)
  return (
    <>
      <div className="flex flex-wrap items-center gap-4 border-b border-line bg-sheet px-4 py-3 md:px-5">
        <Chalk item={item} large />
        <div className="min-w-0">
          <h1 className="font-bold">{item.label}</h1>
          <p className="text-small text-lead">{whereWords(page)}</p>
        </div>
        {now && now.high - now.low <= 80 && (
          <p className="ml-auto text-small text-lead">
            Charged about <b className="num text-head text-ink">{`${Math.round(now.value)}${thin}%`}</b>{' '}
            {`${Math.round(now.low)} to ${Math.round(now.high)}`}
          </p>
        )}
      </div>
      <div className="grid flex-1 lg:grid-cols-[1fr_376px]">
        <main className="min-w-0 bg-paper px-4 py-3 md:px-5">
          <Refused plan={plan} />
          {plan.refusals.some((r) => r.code === 'refusal.lithium') && <MakerCharge battery={item.charge.battery_id} />}
          {plan.curve.length > 1 && <Curves plan={plan} clocked={clocked(page)} logged={seen?.logged} />}
          <p className="text-small text-lead">The band holds about four of five batteries of this label.</p>
          <Looks plan={plan} />
          <SideBySide plan={plan} name={(id) => id} />
          <BeforeIt page={page} />
          <Why page={page} />
        </main>
        <section aria-label="The charge" className="grid content-start gap-3 border-line px-4 py-3 lg:border-l">
          <Anomalies plan={plan} />
          <Set page={page} />
          <Times page={page} />
          {item.state === 'on' ? <During page={page} /> : <Before page={page} />}
          {seen && <Logger item={item} logged={seen.logged ?? null} />}
          <Link className="underline" to="/shelf">
            To the shelf
          </Link>
        </section>
      </div>
    </>
  )
}

const hour = 3_600_000

/** The curve's hours as times of the clock, with now and what is reached. */
function clocked({ begin, now, plan, item, shop }: ChargePage) {
  const start = Date.parse(begin)
  const end = plan.curve.at(-1)?.hours ?? 0
  const at = (iso: string) => (Date.parse(iso) - start) / hour
  const uprights = [
    { at: at(now), text: 'now', now: true },
    ...(item.flat && item.testable ? [{ at: at(item.testable), text: '75 %, can be tested' }] : []),
  ].filter((u) => u.at > 0 && u.at < end)
  return {
    say: (hours: number) => clock(new Date(start + hours * hour).toISOString(), shop.time_zone),
    uprights,
  }
}

function whereWords({ item, now, shop }: ChargePage): string {
  const name = [item.plate || item.tag].filter(Boolean).join(', ')
  const zone = shop.time_zone
  const at =
    item.state === 'on' && item.on_at
      ? `on ${item.lane} since ${when(item.on_at, now, zone)}`
      : item.state === 'planned' && item.on_at
        ? `planned for ${item.lane} at ${when(item.on_at, now, zone)}`
        : (item.why?.text ?? 'on the list')
  return [name, at].filter(Boolean).join(', ')
}

function Set({ page: { plan } }: { page: ChargePage }) {
  const { setting } = plan
  if (!setting) return null
  const tiles: Tile[] = [
    ['Setting', setting.chemistry],
    ['Volts', setting.volts.toFixed(2)],
    ['Amperes', setting.amps],
  ]
  return <Tiles className="grid-cols-3" tiles={tiles} />
}

/** When it is what, as times of the clock, the workshop's rule among them. */
function Times({ page: { item, plan, now, begin, shop } }: { page: ChargePage }) {
  const zone = shop.time_zone
  const at = (iso: string | null | undefined) => (iso ? when(iso, now, zone) : 'not with this charger')
  const after = (hours: number) => when(new Date(Date.parse(begin) + hours * hour).toISOString(), now, zone)
  const sure = item.ready_from && item.ready_to ? ` (${at(item.ready_from)} to ${at(item.ready_to)})` : ''
  const rows = [
    ['Can be tested, 75 %', item.percent && !item.flat ? 'now' : at(item.testable)],
    ['Full', item.full ? at(item.full) + (item.charge.until === 'full' ? sure : '') : at(null)],
    ['Off, with somebody there', item.off ? at(item.off) : 'nobody is there'],
    plan.rule_hours !== null && ['Workshop rule', after(plan.rule_hours ?? 0)],
    item.charge.ready_by && [
      'Promised',
      at(item.charge.ready_by) + (item.late > 0 ? `, ${span(item.late * 60_000)} late` : ''),
    ],
    plan.now?.ah_in &&
      plan.ah.to_put_in && [
        'Ah in, of those to put in',
        `${plan.now.ah_in.value.toFixed(1)} of ${plan.ah.to_put_in.value.toFixed(0)}`,
      ],
    !plan.now && plan.ah.to_put_in && ['Ah to put in', plan.ah.to_put_in.value.toFixed(0)],
    plan.delay_hours && ['May take no current for up to', `${plan.delay_hours.high}${thin}h`],
  ]
  return (
    <dl>
      {rows.map(
        (row) =>
          row && (
            <div key={row[0]} className="flex justify-between gap-3 border-b border-line py-1.5">
              <dt>{row[0]}</dt>
              <dd className="num text-right">{row[1]}</dd>
            </div>
          ),
      )}
    </dl>
  )
}

/** While it charges: the next look, one line for it, and its end. */
function During({ page }: { page: ChargePage }) {
  const { item, shop, now } = page
  const hands = useHands(page)
  const zone = shop.time_zone
  const due = item.check
  return (
    <div className="grid gap-3">
      {due && (
        <p>
          <span className="text-small text-lead">{due < now ? 'A look is due since' : 'Look at it again at'} </span>
          <b className={`num text-head ${due < now ? 'text-oxide-text' : ''}`}>{when(due, now, zone)}</b>
          <span className="block text-small text-lead">volts, amperes, hand on the case, gas</span>
        </p>
      )}
      {item.stop && <p className="font-bold text-oxide-text">A stop rule holds: charger off before anything else.</p>}
      <May do="keepCheck" else={<p className="text-lead">A technician looks at it and takes it off.</p>}>
        <Look item={item} begin={page.begin} />
        <Button weight="outline" disabled={hands.busy} onClick={() => hands.off(item)}>
          It is off
        </Button>
      </May>
      <p className="text-small text-lead">
        Charger off and unplugged, then minus, then plus. Rest an hour, read it, test it.
      </p>
    </div>
  )
}

const warmths = ['cool', 'warm', 'hot'].map((code) => ({ code, word: code }))
const gasses = [
  { code: 'no gas', word: 'no gas' },
  { code: 'gas', word: 'it gasses' },
]

const lamps = [
  { code: '', word: 'lamp: charging' },
  { code: 'full', word: 'lamp: full' },
]

const empty = { volts: '', amps: '', warmth: 'cool', gas: 'no gas', full: '', line: '' }

/** A look at it: four taps and two figures, or the line typed. */
function Look({ item, begin }: { item: ShelfItem; begin: string }) {
  const check = useCheck()
  const [id, setId] = useState(() => uuid())
  const [said, setSaid] = useState(empty)
  const set = (part: Partial<typeof said>) => setSaid({ ...said, ...part })
  const keep = () => {
    const taken = new Date()
    const minutes = Math.round((taken.getTime() - Date.parse(begin)) / 60_000)
    const tapped = `charge ${said.volts}v ${said.amps}a ${minutes}min ${said.warmth} ${said.gas} ${said.full}`.trim()
    const line = said.line.trim() || tapped
    check.mutate(
      { charge: item.charge.id, reading: id, line, taken: taken.toISOString() },
      {
        onSuccess: () => {
          setId(uuid())
          setSaid(empty)
        },
      },
    )
  }
  return (
    <form
      aria-label="A look at it"
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        keep()
      }}
    >
      <div className="grid grid-cols-2 gap-2">
        <TextField label="Volts" numeric value={said.volts} set={(volts) => set({ volts })} unit="V" />
        <TextField label="Amperes" numeric value={said.amps} set={(amps) => set({ amps })} unit="A" />
      </div>
      <OneOf quiet name="Case" options={warmths} value={said.warmth} pick={(warmth) => set({ warmth })} />
      <OneOf quiet name="Gas" options={gasses} value={said.gas} pick={(gas) => set({ gas })} />
      <OneOf quiet name="The charger’s lamp" options={lamps} value={said.full} pick={(full) => set({ full })} />
      <TextField
        label="Or as a line"
        className="num"
        placeholder="charge 14.2v 6.1a 90min cool no gas"
        value={said.line}
        set={(line) => set({ line })}
      />
      <Trouble error={check.error} />
      <Button
        type="submit"
        weight="main"
        disabled={check.isPending || (said.line.trim() === '' && (said.volts === '' || said.amps === ''))}
      >
        Keep the check
      </Button>
    </form>
  )
}

/** Before: on which output it goes, and what a person decides for it. */
function Before({ page }: { page: ChargePage }) {
  const { item, lanes } = page
  const hands = useHands(page)
  const connects = useMay('connectCharge')
  const free = connects ? freeFor(item, lanes) : []
  const navigate = useNavigate()
  const deed = useShelfDeed()
  return (
    <div className="grid gap-3">
      {free.length > 0 && item.state !== 'unplaced' && (
        <div className="flex flex-wrap gap-2">
          {free.map((lane, i) => (
            <Button
              key={lane.name}
              weight={i === 0 ? 'main' : 'plain'}
              disabled={hands.busy}
              onClick={() => hands.on(item, lane)}
            >
              On {lane.name}
            </Button>
          ))}
        </div>
      )}
      <div className="flex flex-wrap gap-2">
        <May do="decideCharge">
          <FormDialog
            trigger={item.charge.pin ? 'Decide anew' : 'Decide where and when'}
            title="Where and when"
            about="It stays so until it is taken back; the rest is planned around it."
            form={(done) => <Decide page={page} done={done} />}
          />
          {item.charge.pin && <Button onClick={() => hands.takeBack(item)}>Take the decision back</Button>}
        </May>
        <FormDialog
          trigger="What is asked"
          title="What is asked of it"
          about=""
          form={(done) => <Asked page={page} done={done} />}
        />
        <May do="takeOffCharge">
          <Button
            disabled={deed.isPending}
            onClick={() =>
              deed.mutate(
                { kind: 'off', charge: item.charge.id, body: { at: new Date().toISOString() } },
                { onSuccess: () => void navigate('/shelf') },
              )
            }
          >
            Off the list
          </Button>
        </May>
      </div>
      <Trouble error={deed.error} />
    </div>
  )
}

type FormProps = { page: ChargePage; done: () => void }

function Decide({ page: { item, lanes, shop }, done }: FormProps) {
  const deed = useShelfDeed()
  const { pin } = item.charge
  const [name, setName] = useState(
    lanes.find((l) => pin && l.charger_id === pin.charger_id && l.channel === pin.channel)?.name ??
      (item.lane || lanes[0]?.name || ''),
  )
  const [from, setFrom] = useState('')
  const keep = () => {
    const lane = lanes.find((l) => l.name === name)
    if (!lane) return
    const body = {
      charger_id: lane.charger_id,
      channel: lane.channel,
      from: from ? fromZone(from, shop.time_zone) : undefined,
    }
    deed.mutate({ kind: 'decide', charge: item.charge.id, body }, { onSuccess: done })
  }
  return (
    <div className="grid gap-3">
      <SelectField
        label="Where"
        value={name}
        set={setName}
        options={lanes.map((l) => ({ code: l.name, word: l.name }))}
      />
      <TextField
        label="Not before"
        type="datetime-local"
        value={from}
        set={setFrom}
        hint="Empty: as soon as it may be"
      />
      <Trouble error={deed.error} />
      <Button weight="main" className="justify-self-start" disabled={deed.isPending} onClick={keep}>
        Decide it
      </Button>
    </div>
  )
}

const weights = [
  { code: '1', word: 'as any other' },
  { code: '2', word: 'twice as much' },
  { code: '5', word: 'five times' },
]

function Asked({ page: { item, shop }, done }: FormProps) {
  const deed = useShelfDeed()
  const { charge } = item
  const [until, setUntil] = useState<string>(charge.until)
  const [weight, setWeight] = useState(String(charge.weight))
  const local = (iso: string) =>
    new Date(iso).toLocaleString('sv', { timeZone: shop.time_zone }).slice(0, 16).replace(' ', 'T')
  const [ready, setReady] = useState(charge.ready_by ? local(charge.ready_by) : '')
  const keep = () => {
    const ready_by = ready ? fromZone(ready, shop.time_zone) : undefined
    const body = { battery_id: charge.battery_id, job_id: charge.job_id, until, ready_by, weight: Number(weight) }
    deed.mutate({ kind: 'ask', charge: charge.id, body: body }, { onSuccess: done })
  }
  return (
    <div className="grid gap-3">
      <OneOf name="Until" options={goals} value={until} pick={setUntil} />
      <TextField label="Promised for" type="datetime-local" value={ready} set={setReady} />
      <OneOf name="A minute late counts" options={weights} value={weight} pick={setWeight} />
      <Trouble error={deed.error} />
      <Button weight="main" className="justify-self-start" disabled={deed.isPending} onClick={keep}>
        Keep it
      </Button>
    </div>
  )
}

/** What is seen to before it begins; open as long as it has not begun. */
function BeforeIt({ page: { plan, item } }: { page: ChargePage }) {
  if (plan.before.length === 0) return null
  return (
    <details open={item.state !== 'on'}>
      <summary className="min-h-fold py-1.5 text-small font-bold text-lead">Before it begins</summary>
      <ol className="list-decimal pl-5">
        {plan.before.map((s) => (
          <li key={s.code}>{s.text}</li>
        ))}
        {plan.air && (
          <li>
            {`Fresh air: ${plan.air.m3h.toFixed(1)}${thin}m³/h, an opening of ${Math.ceil(plan.air.opening_cm2)}${thin}cm²; no spark or flame within ${plan.air.clear_m.toFixed(1)}${thin}m.`}
          </li>
        )}
      </ol>
    </details>
  )
}

function Why({ page: { plan } }: { page: ChargePage }) {
  if (plan.why.length + plan.assumed.length === 0) return null
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small font-bold text-lead">Why these volts and amps</summary>
      <ul className="list-disc pl-5">
        {plan.why.map((s) => (
          <li key={s.code}>{s.text}</li>
        ))}
        {plan.assumed.map((s) => (
          <li key={s.code} className="text-marigold-text">
            {s.text}
          </li>
        ))}
      </ul>
    </details>
  )
}
