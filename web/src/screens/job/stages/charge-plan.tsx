// One charge: what to set and why, when it can be tested and is full, what each look at it
// should show beside what it showed, and what is not as it should be.
import { useChargePlan, useChargers } from '../../../api/charging'
import { Offline } from '../../../api/client'
import type { ChargePlan, JobPage, Likely } from '../../../api/types'
import { Anomalies, Curves, Looks, Refused, SideBySide, type Tile, Tiles } from '../../../parts/charge'
import { useDraft } from '../../../parts/draft'
import { clock, thin } from '../../../parts/format'
import { MakerCharge } from '../../../parts/maker-charge'
import { Trouble } from '../../../parts/trouble'
import { OneOrNone } from '../../../parts/ui/chips'

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
      {plan.refusals.some((r) => r.code === 'refusal.lithium') && <MakerCharge battery={battery} />}
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

type SettingsProps = { plan: ChargePlan; from: number; zone?: string }

const hour = 3_600_000

/** What to set, and when it is testable and full, as times of the clock. */
function Settings({ plan, from, zone }: SettingsProps) {
  const at = (hours: number) => clock(new Date(from + hours * hour).toISOString(), zone)
  const when = (band: Likely | null) =>
    band ? `${at(band.value)} (${at(band.low)} to ${at(band.high)})` : 'not with this charger in three days'
  const tiles: Tile[] = [
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
      <Tiles className="grid-cols-2 md:grid-cols-4" tiles={tiles} />
      <details>
        <summary className="min-h-fold py-1.5 text-small font-bold text-lead">
          Why these, the workshop’s rule beside them, and what comes before
        </summary>
        <ul className="list-disc pl-5">
          {plan.why.map((s) => (
            <li key={s.code}>{s.text}</li>
          ))}
          {plan.rule_hours !== null && (
            <li>{`Reserve over amps, in proportion: ${plan.rule_hours?.toFixed(1)}${thin}h.`}</li>
          )}
          {plan.delay_hours && <li>{`It may take no current for up to ${plan.delay_hours.high}${thin}h at first.`}</li>}
          {plan.before.map((s) => (
            <li key={s.code}>{s.text}</li>
          ))}
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
