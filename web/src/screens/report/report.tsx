// The report of a job on one printed page: what was measured, against what, by
// which method, what it means, and what was not tested.
import { useAccount } from '../../api/jobs'
import { useCharged } from '../../api/shelf'
import { useHello } from '../../api/session'
import { useTerminals } from '../../api/stock'
import type { BatteryOnJob, JobPage } from '../../api/types'
import { useWord } from '../../api/words'
import { limitText } from '../../parts/against'
import { FindingText } from '../../parts/finding-text'
import { capital, clock, day, thin, volts, weekdayAndClock } from '../../parts/format'
import { paragraph } from '../job/holds/account'
import { ForTheCustomer } from '../job/stages/finish'
import { KeptSums } from '../job/stages/kept-sums'
import { Done } from './done'
import { BatteryHead, JobPaper } from './paper'

export function ReportScreen() {
  return <JobPaper>{(page) => <Report page={page} />}</JobPaper>
}

function Report({ page }: { page: JobPage }) {
  const word = useWord()
  const { data: hello } = useHello()
  const zone = hello?.shop?.time_zone
  const { job, customer, vehicle } = page
  return (
    <>
      <header className="flex flex-wrap items-start justify-between gap-3 border-b-2 border-ink pb-3">
        <div>
          <h1 className="text-head font-bold">Battery report</h1>
          <p>{hello?.shop?.name}</p>
          <p className="text-small text-lead">
            {day(job.opened_at, zone)}
            {job.closed_at && `, handed back ${day(job.closed_at, zone)}`}
          </p>
        </div>
        <div className="text-right">
          {vehicle?.plate && <p className="plate">{vehicle.plate}</p>}
          <p>{vehicle?.description}</p>
          <p>{customer?.name}</p>
        </div>
      </header>
      <p>
        <span className="text-small text-lead">They said: </span>
        {[job.symptoms.map(word).join(', '), job.complaint].filter(Boolean).join('. ') || 'no complaint named'}
      </p>
      {page.batteries.map((b) => (
        <BatteryPart key={b.id} page={page} battery={b} school={word(job.school)} zone={zone} />
      ))}
      {page.batteries.map((b) => (
        <JointsPart key={b.id} page={page} battery={b.id} />
      ))}
      <ChargedPart job={job.id} zone={zone} />
      <Done page={page} />
      <ForTheCustomer page={page} />
      <KeptSums page={page} />
      <footer className="border-t border-line pt-2 text-small text-lead">
        <p>The vehicle's and the charger's instructions, local codes and licensed practice come first.</p>
        <p>
          Drawn by Grapnel {hello?.release} with the rule tables <span className="num">{page.rules_hash}</span>.
        </p>
      </footer>
    </>
  )
}

/** The joints that were measured before and after the work, and the top of the case. */
function JointsPart({ page, battery }: { page: JobPage; battery: string }) {
  const { data } = useTerminals(page, battery)
  const twice = data?.joints.filter((j) => j.before && j.now) ?? []
  const leak = data?.case
  if (!data || (twice.length === 0 && leak?.before == null)) return null
  const word = (state: string) => (state === 'closed' || state === 'in_order' ? 'good' : 'still beyond its limit')
  return (
    <section aria-label="Joints before and after">
      <h2 className="font-bold">Joints, before and after</h2>
      <ul className="list-disc pl-5">
        {twice.map((j) => (
          <li key={j.where}>
            {capital(j.name)}: {volts(j.before?.volts ?? 0)} before, {volts(j.now?.volts ?? 0)} after; at most{' '}
            {volts(j.limit)} while cranking: {word(j.state)}
          </li>
        ))}
        {leak?.before != null && leak.now != null && (
          <li>
            Over the case top: {volts(leak.before)} before, {volts(leak.now)} after; under {volts(leak.limit)}:{' '}
            {word(leak.state)}
          </li>
        )}
      </ul>
    </section>
  )
}

/** What went in on the shelf. */
function ChargedPart({ job, zone }: { job: string; zone?: string }) {
  const { data } = useCharged(job)
  if (!data || data.length === 0) return null
  return (
    <section aria-label="Charged">
      <h2 className="font-bold">Charged on the shelf</h2>
      <ul className="list-disc pl-5">
        {data.map((c) => (
          <li key={c.on_at}>
            {[
              `${c.charger || 'A charger that is gone'}, from ${weekdayAndClock(c.on_at, zone)}`,
              c.off_at && `to ${weekdayAndClock(c.off_at, zone)}`,
            ]
              .filter(Boolean)
              .join(' ')}
            {c.ah_in &&
              `: ${c.ah_in.value.toFixed(0)}${thin}Ah went in (${c.ah_in.low.toFixed(0)} to ${c.ah_in.high.toFixed(0)})`}
            {c.to_put_in && `, of ${c.to_put_in.value.toFixed(0)}${thin}Ah to put in`}.
          </li>
        ))}
      </ul>
    </section>
  )
}

type PartProps = { page: JobPage; battery: BatteryOnJob; school: string; zone?: string }

function BatteryPart({ page, battery, school, zone }: PartProps) {
  const { data: account } = useAccount(page, battery.id, true)
  const { verdict, findings } = battery.assessment
  const times = battery.readings.map((r) => Date.parse(r.taken_at))
  const long = Math.max(...times) - Math.min(...times) > 12 * 3_600_000
  return (
    <section className="grid gap-3 print:gap-2">
      <BatteryHead
        battery={battery}
        about={[battery.label_text, battery.maker, battery.tag && `our tag ${battery.tag}`].filter(Boolean).join(', ')}
      />
      {account && (
        <div className="border-l-4 border-line pl-4">
          <h3 className="font-bold">{account.question.text}</h3>
          <p>{paragraph(account)}</p>
        </div>
      )}
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-left text-tick print:text-small">
          <thead>
            <tr className="border-b border-ink text-small">
              <th className="py-1 pr-3">Taken</th>
              <th className="w-[30%] py-1 pr-3">Measured</th>
              <th className="py-1 pr-3">Limit</th>
              <th className="py-1">What it proves</th>
            </tr>
          </thead>
          <tbody>
            {battery.readings
              .filter((r) => r.counts)
              .map((r) => {
                const f = findings.find((found) => found.reading === r.id)
                return (
                  <tr key={r.root} className="border-b border-line align-top">
                    <td className="num py-1.5 pr-3 text-small">
                      {long ? weekdayAndClock(r.taken_at, zone) : clock(r.taken_at, zone)}
                    </td>
                    <td className="num py-1.5 pr-3">{r.typed}</td>
                    <td className="num py-1.5 pr-3 whitespace-nowrap">
                      {f && limitText(f)}
                      {f?.limit?.note && <span className="block font-sans text-small">shop’s own: {f.limit.note}</span>}
                    </td>
                    <td className="py-1.5">
                      {f && <FindingText finding={f} more={(f.more ?? []).map((m) => m.text)} />}
                    </td>
                  </tr>
                )
              })}
          </tbody>
        </table>
      </div>
      <p className="text-small">
        Method of the load test: {school}. The limit is the least voltage at the end of the load, for the battery's
        temperature.
      </p>
      <div className="grid gap-3 print:grid-cols-2">
        <div>
          <h3 className="font-bold">Because</h3>
          <ul className="list-disc pl-5">
            {verdict.because.map((s, i) => (
              <li key={i}>{s.text}</li>
            ))}
          </ul>
        </div>
        <div>
          <h3 className="font-bold">What would change it</h3>
          <ul className="list-disc pl-5">
            {verdict.would_change.map((s, i) => (
              <li key={i}>{s.text}</li>
            ))}
          </ul>
        </div>
      </div>
    </section>
  )
}
