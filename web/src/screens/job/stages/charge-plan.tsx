// One charge: what to set and why, when it can be tested and is full, what each look at it
// should show beside what it showed, and what is not as it should be.
import { useChargePlan, useChargers } from '../../../api/charging'
import { Offline } from '../../../api/client'
import type { ChargePlan, Curve, JobPage, Likely } from '../../../api/types'
import { useDraft } from '../../../parts/draft'
import { clock, percent, thin } from '../../../parts/format'
import { CurvePicture } from '../../../parts/plot/curve'
import { Trouble } from '../../../parts/trouble'
import { OneOrNone } from '../../../parts/ui/chips'
import { type Column, Table } from '../../../parts/ui/table'

type Props = { page: JobPage; battery: string; zone?: string }

export function ChargePlanned({ page, battery, zone }: Props) {
  const [charger, setCharger] = useDraft(`charger ${battery}`, '')
  const { data: plan, error, dataUpdatedAt } = useChargePlan(page, battery, charger)
  const { data: chargers } = useChargers()
  // Without the line the steps below stand by themselves.
  if (error instanceof Offline && !plan)
    return <p className="text-small text-lead">The plan comes when the line is back.</p>
  if (error && !plan) return <Trouble error={error} />
  if (!plan) return <div aria-busy="true" className="min-h-[40vh]" />
  return (
    <section aria-label="The charge" className="grid gap-3 [&>*]:min-w-0">
      {chargers && chargers.length > 0 && (
        <OneOrNone
          name="With which charger"
          options={chargers.map((c) => ({ code: c.id, word: c.name }))}
          value={charger}
          pick={setCharger}
        />
      )}
      <Refused plan={plan} />
      <Anomalies plan={plan} />
      {plan.setting && <Settings plan={plan} from={dataUpdatedAt} zone={zone} />}
      {plan.curve.length > 1 && <Curves plan={plan} />}
      {plan.by_charger.length > 0 && (
        <SideBySide plan={plan} name={(id) => chargers?.find((c) => c.id === id)?.name ?? ''} />
      )}
      <Looks plan={plan} />
    </section>
  )
}

function Refused({ plan }: { plan: ChargePlan }) {
  if (plan.allowed) return null
  return (
    <div role="alert" className="grid gap-2 rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
      {plan.refusals.map((r) => (
        <p key={r.code} className="font-bold">
          {r.text}
        </p>
      ))}
      {plan.steps.length > 0 && (
        <ol className="list-decimal pl-6">
          {plan.steps.map((s) => (
            <li key={s.code}>{s.text}</li>
          ))}
        </ol>
      )}
    </div>
  )
}

/** What is not as it should be, the likeliest first, each with what to do. */
function Anomalies({ plan }: { plan: ChargePlan }) {
  if (plan.anomalies.length === 0) return null
  return (
    <ul
      aria-label="What is not as it should be"
      className={`grid gap-2 rounded-part px-3 py-2 ${plan.stop ? 'border-[1.5px] border-oxide bg-oxide-wash' : 'bg-marigold-wash'}`}
    >
      {plan.anomalies.map((a) => (
        <li key={a.code}>
          <b>{a.text}</b> <span className="num text-small">{percent(a.probability)} in 100</span>
          <span className="block">{a.do}</span>
        </li>
      ))}
    </ul>
  )
}

type SettingsProps = { plan: ChargePlan; from: number; zone?: string }

const hour = 3_600_000

/** What to set, and when it is testable and full, as times of the clock. */
function Settings({ plan, from, zone }: SettingsProps) {
  const at = (hours: number) => clock(new Date(from + hours * hour).toISOString(), zone)
  const when = (band: Likely | null) =>
    band ? `${at(band.value)} (${at(band.low)} to ${at(band.high)})` : 'not with this charger in three days'
  const tiles = [
    ['Set', `${plan.setting?.amps}${thin}A, ${plan.setting?.volts.toFixed(2)}${thin}V`],
    plan.now
      ? ['Full, as it goes on', when(plan.now.hours_left)]
      : ['Testable', plan.testable_hours?.value === 0 ? 'now' : when(plan.testable_hours)],
    plan.now?.percent
      ? [
          'Now',
          `${Math.round(plan.now.percent.value)}${thin}% (${Math.round(plan.now.percent.low)} to ${Math.round(plan.now.percent.high)})`,
        ]
      : ['Full', when(plan.full_hours)],
    plan.now?.ah_in
      ? ['Put in so far', `${plan.now.ah_in.value.toFixed(0)}${thin}Ah`]
      : ['To put in', plan.ah.to_put_in ? `${plan.ah.to_put_in.value.toFixed(0)}${thin}Ah` : '–'],
  ]
  return (
    <>
      <dl className="grid grid-cols-2 gap-2 md:grid-cols-4">
        {tiles.map(([name, value]) => (
          <div key={name} className="rounded-part border border-line px-3 py-2">
            <dt className="text-small text-lead">{name}</dt>
            <dd className="num font-bold">{value}</dd>
          </div>
        ))}
      </dl>
      <details>
        <summary className="min-h-fold py-1.5 text-small font-bold text-lead">
          Why these; the workshop’s rule beside them
        </summary>
        <ul className="list-disc pl-5">
          {plan.why.map((s) => (
            <li key={s.code}>{s.text}</li>
          ))}
          {plan.rule_hours !== null && (
            <li>{`Reserve over amps, in proportion: ${plan.rule_hours?.toFixed(1)}${thin}h.`}</li>
          )}
          {plan.delay_hours && <li>{`It may take no current for up to ${plan.delay_hours.high}${thin}h at first.`}</li>}
          {plan.assumed.map((s) => (
            <li key={s.code} className="text-marigold-text">
              {s.text}
            </li>
          ))}
        </ul>
      </details>
    </>
  )
}

/** Volts above amperes on one time axis: the band, the likely, and what was read. */
function Curves({ plan }: { plan: ChargePlan }) {
  const of = (unit: 'volts' | 'amps', name: string): Curve => ({
    x_unit: 'h',
    y_unit: unit === 'volts' ? 'V' : 'A',
    lines: [
      {
        label: 'as it should go',
        points: plan.curve.map((m) => [m.hours, m[`${unit}_low`]]),
        upper: plan.curve.map((m) => [m.hours, m[`${unit}_high`]]),
      },
      { label: name, points: plan.curve.map((m) => [m.hours, m[unit]]) },
    ],
    marks: plan.log.map((l) => [l.hours, l[unit]]),
  })
  return (
    <div className="grid gap-2 md:grid-cols-2 [&>*]:min-w-0">
      <CurvePicture curve={of('volts', 'likely')} title="Volts of the charge" places={[0.25, 0.7]} />
      <CurvePicture curve={of('amps', 'likely')} title="Amperes of the charge" places={[0.8, 0.3]} />
    </div>
  )
}

type Row = ChargePlan['by_charger'][number]

/** Each charger of the shop, with how long it would take. */
function SideBySide({ plan, name }: { plan: ChargePlan; name: (id: string) => string }) {
  const hours = (band: Likely | null) => (band ? `${band.low.toFixed(1)} to ${band.high.toFixed(1)}` : '–')
  const columns: Column<Row>[] = [
    { name: 'Charger', of: (c) => name(c.id) },
    { name: 'Testable in, h', of: (c) => hours(c.testable_hours), figure: true },
    { name: 'Full in, h', of: (c) => hours(c.full_hours), figure: true },
    { name: 'Not with it', of: (c) => c.refusals.map((r) => r.text).join(' ') },
  ]
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small font-bold text-lead">The shop’s chargers side by side</summary>
      <Table caption="The shop’s chargers" columns={columns} rows={plan.by_charger} id={(c) => c.id} />
    </details>
  )
}

/** What each half hour should show. */
function Looks({ plan }: { plan: ChargePlan }) {
  if (plan.checks.length === 0) return null
  const columns: Column<ChargePlan['checks'][number]>[] = [
    { name: 'After, min', of: (c) => c.minutes, figure: true },
    { name: 'Volts', of: (c) => `${c.volts.low.toFixed(1)} to ${c.volts.high.toFixed(1)}`, figure: true },
    { name: 'Amperes', of: (c) => `${c.amps.low.toFixed(1)} to ${c.amps.high.toFixed(1)}`, figure: true },
  ]
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small font-bold text-lead">What each half hour should show</summary>
      <Table caption="What each look should show" columns={columns} rows={plan.checks} id={(c) => String(c.minutes)} />
    </details>
  )
}
