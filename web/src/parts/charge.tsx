// What is shown of a charge wherever it is shown: what forbids it, what is not as it should
// be, its curves, the shop's chargers beside each other, what each look should show.
import type { ChargePlan, Curve, Likely, Logged } from '../api/types'
import { percent } from './format'
import { CurvePicture, type Upright } from './plot/curve'
import { type Column, Table } from './ui/table'

export function Refused({ plan }: { plan: ChargePlan }) {
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
export function Anomalies({ plan }: { plan: ChargePlan }) {
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

/** Volts above amperes on one time axis: the band, the likely, and what was read. */
type CurvesProps = {
  plan: ChargePlan
  /** One above the other, on one axis of clock times. */
  clocked?: { say: (hours: number) => string; uprights: Upright[] }
  /** What a logger has read. */
  logged?: Logged | null
}

export function Curves({ plan, clocked, logged }: CurvesProps) {
  const runs = (unit: 'volts' | 'amps') =>
    logged?.trace.runs.map((run) => run.map((s): [number, number] => [s.seconds / 3600, s[unit]])) ?? []
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
    <div className={`grid gap-2 [&>*]:min-w-0 ${clocked ? '' : 'md:grid-cols-2'}`}>
      <CurvePicture
        curve={of('volts', 'likely')}
        title="Volts of the charge"
        places={[0.25, 0.7]}
        runs={runs('volts')}
        {...clocked}
      />
      <CurvePicture
        curve={of('amps', 'likely')}
        title="Amperes of the charge"
        places={[0.8, 0.3]}
        runs={runs('amps')}
        {...clocked}
      />
    </div>
  )
}

type Row = ChargePlan['by_charger'][number]

/** Each charger of the shop, with how long it would take. */
export function SideBySide({ plan, name }: { plan: ChargePlan; name: (id: string) => string }) {
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
export function Looks({ plan }: { plan: ChargePlan }) {
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

/** A figure with its name above it. */
export type Tile = [name: string, value: string | number]

/** A few figures side by side; the class says how many in a row. */
export function Tiles({ tiles, className }: { tiles: Tile[]; className: string }) {
  return (
    <dl className={`grid gap-2 ${className}`}>
      {tiles.map(([name, value]) => (
        <div key={name} className="rounded-part border border-line px-3 py-2">
          <dt className="text-small text-lead">{name}</dt>
          <dd className="num font-bold">{value}</dd>
        </div>
      ))}
    </dl>
  )
}
