// The customer's page, in plain words: what was measured and how, what it means, what
// was done and what was not tested, what to watch, when to come back, what to set again.
import { Link } from 'react-router'
import { useAccount } from '../../api/jobs'
import { useHello } from '../../api/session'
import type { BatteryOnJob, JobPage } from '../../api/types'
import { day } from '../../parts/format'
import { paragraph } from '../job/holds/account'
import { ForTheCustomer } from '../job/stages/finish'
import { Done } from './done'
import { BatteryHead, JobPaper } from './paper'

export function HandOverScreen() {
  return <JobPaper>{(page) => <HandOver page={page} />}</JobPaper>
}

function HandOver({ page }: { page: JobPage }) {
  const { data: hello } = useHello()
  const { job, customer, vehicle } = page
  return (
    <>
      <header className="flex flex-wrap items-start justify-between gap-3 border-b-2 border-ink pb-3">
        <div>
          <h1 className="text-head font-bold">{customer ? `For ${customer.name}` : 'For the customer'}</h1>
          <p>
            {hello?.shop?.name}, {day(job.closed_at ?? job.opened_at, hello?.shop?.time_zone)}
          </p>
        </div>
        <div className="text-right">
          {vehicle?.plate && <p className="plate">{vehicle.plate}</p>}
          <p>{vehicle?.description}</p>
        </div>
      </header>
      {page.batteries.map((b) => (
        <OneBattery key={b.id} page={page} battery={b} named={page.batteries.length > 1} />
      ))}
      <Done page={page} title="What was done" />
      <Once title="Not tested" page={page} of={(b) => b.work.for_customer.untested} />
      <Once title="When to come back" page={page} of={(b) => b.work.for_customer.return} />
      <ForTheCustomer page={page} paper />
      <footer className="border-t border-line pt-2 text-small text-lead">
        <p>
          The vehicle's and the charger's instructions, local codes and licensed practice come first. Every figure, with
          its limit, is on the <Link to={`/jobs/${job.id}/report`}>report</Link>.
        </p>
      </footer>
    </>
  )
}

function OneBattery({ page, battery, named }: { page: JobPage; battery: BatteryOnJob; named: boolean }) {
  const { data: account } = useAccount(page, battery.id, true)
  const { measured } = battery.work.for_customer
  return (
    <section className="grid gap-3">
      <BatteryHead
        battery={battery}
        about={`${named && battery.position ? `${battery.position}: ` : ''}${[battery.label_text, battery.maker].filter(Boolean).join(', ')}`}
      />
      {account && (
        <div>
          <h3 className="font-bold">{account.question.text}</h3>
          <p>{paragraph(account)}</p>
        </div>
      )}
      {measured.length > 0 && (
        <div>
          <h3 className="font-bold">What was measured</h3>
          <ul className="divide-y divide-line border-y border-line">
            {measured.map((m, i) => (
              <li key={i} className="py-1.5">
                {m.text.text}
                <span className="block text-small text-lead">{m.method.text}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  )
}

type OnceProps = { title: string; page: JobPage; of: (battery: BatteryOnJob) => { text: string }[] }

/** What holds for one battery or several, said once. */
function Once({ title, page, of }: OnceProps) {
  const texts = [...new Set(page.batteries.flatMap((b) => of(b).map((s) => s.text)))]
  if (texts.length === 0) return null
  return (
    <section>
      <h2 className="font-bold">{title}</h2>
      <ul className="list-disc pl-5">
        {texts.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
    </section>
  )
}
