// The orders of work that make sense on a battery as it sits, and those that were begun.
import { useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { useAttempts, useBegin, useProcedures } from '../../api/attempts'
import { wordsFor } from '../../api/client'
import { useJob } from '../../api/jobs'
import { useHello } from '../../api/session'
import type { Attempted, JobPage, Offered } from '../../api/types'
import { whenNow } from '../../parts/format'
import { May } from '../../parts/may'
import { Shell } from '../../parts/shell'
import { useTitle } from '../../parts/title'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { Loaded } from '../../parts/ui/loaded'

export function ProceduresScreen() {
  const { job = '' } = useParams()
  const query = useJob(job)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Orders page={page} />}
      </Loaded>
    </Shell>
  )
}

/** The battery at an address: the one that is named, or the first. */
export function useBatteryAt(page: JobPage) {
  const [query] = useSearchParams()
  return page.batteries.find((b) => b.id === query.get('battery')) ?? page.batteries[0]
}

function Orders({ page }: { page: JobPage }) {
  const job = page.job.id
  const battery = useBatteryAt(page)
  const offered = useProcedures(job, battery?.id ?? '')
  const attempts = useAttempts(job)
  const plate = page.vehicle?.plate ?? ''
  useTitle([plate, 'step by step'].filter(Boolean).join(', '))
  return (
    <main className="mx-auto grid w-full max-w-5xl content-start gap-5 px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-head font-bold">Step by step {plate && <span className="num">{plate}</span>}</h1>
        <Link className="underline" to={`/jobs/${job}`}>
          To the job
        </Link>
      </div>
      {attempts.data && attempts.data.length > 0 && <Begun job={job} list={attempts.data} />}
      <Loaded query={offered} empty="Nothing is drawn for this kind of battery: its maker’s instructions hold.">
        {(list) => (
          <>
            <p className="text-lead">Drawn for: {list[0]?.sits}. How it sits is said under Arrive on the job.</p>
            <ul className="grid gap-3 md:grid-cols-2">
              {list.map((o) => (
                <Card key={o.name} job={job} battery={battery?.id ?? ''} offered={o} />
              ))}
            </ul>
          </>
        )}
      </Loaded>
    </main>
  )
}

function Begun({ job, list }: { job: string; list: Attempted[] }) {
  const zone = useHello().data?.shop?.time_zone
  return (
    <section aria-label="Begun">
      <h2 className="pb-1 font-bold">Begun</h2>
      <ul>
        {list.map((a) => (
          <li key={a.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-1.5">
            <span className="num text-small text-lead">{whenNow(a.begun_at, zone)}</span>
            <span className="min-w-0 flex-1">
              {a.title} {a.word} <span className="text-small text-lead">{a.by}</span>
            </span>
            <span className="text-small">
              {a.progress.open
                ? `step ${Math.min(a.progress.at + 1, a.steps)} of ${a.steps}`
                : a.progress.ended === 'finished'
                  ? 'finished'
                  : 'broken off'}
            </span>
            <Button asChild weight={a.progress.open ? 'outline' : 'plain'}>
              <Link to={`/jobs/${job}/procedures/${a.id}`}>{a.progress.open ? 'Go on' : 'Look at it'}</Link>
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Card({ job, battery, offered }: { job: string; battery: string; offered: Offered }) {
  const navigate = useNavigate()
  const begin = useBegin(job)
  // A pack is the first choice today: no risk to a second car's electronics.
  const first = offered.settings.findIndex((s) => s.setting.with === 'pack')
  const [at, setAt] = useState(String(Math.max(0, first)))
  const [school, setSchool] = useState(offered.schools[0]?.code ?? '')
  const [people, setPeople] = useState(String(offered.people[0] ?? 1))
  const why = offered.schools.find((s) => s.code === school)?.why
  const start = () => {
    const setting = offered.settings[Number(at)]?.setting
    if (!setting) return
    begin.mutate(
      { battery_id: battery, name: offered.name, setting, school, people: Number(people) },
      { onSuccess: (page) => void navigate(`/jobs/${job}/procedures/${page.attempt.id}`) },
    )
  }
  return (
    <li className="grid content-start gap-2 rounded-card border border-line bg-sheet p-3">
      <h2 className="font-bold">{offered.word}</h2>
      {offered.settings.length > 1 && (
        <OneOf
          name={`${offered.word}: how`}
          quiet
          options={offered.settings.map((s, i) => ({ code: String(i), word: s.word }))}
          value={at}
          pick={setAt}
        />
      )}
      {offered.choose && <p className="text-small text-lead">{offered.choose}</p>}
      {offered.schools.length > 1 && (
        <>
          <OneOf name={`${offered.word}: school`} quiet options={offered.schools} value={school} pick={setSchool} />
          <p className="text-small text-lead">{why}</p>
        </>
      )}
      {offered.people.length > 1 && (
        <OneOf
          name={`${offered.word}: people`}
          quiet
          options={[
            { code: '1', word: 'Alone' },
            { code: '2', word: 'Two people' },
          ]}
          value={people}
          pick={setPeople}
        />
      )}
      {offered.stopped && (
        <p className="rounded-part bg-oxide-wash px-2 py-1 text-small text-oxide-text">Not now: {offered.why}</p>
      )}
      {begin.error && (
        <p role="alert" className="text-small text-oxide-text">
          {wordsFor(begin.error)}
        </p>
      )}
      <div className="flex gap-2">
        <May do="beginAttempt">
          <Button weight="outline" disabled={offered.stopped || begin.isPending} onClick={start}>
            Begin
          </Button>
        </May>
        {offered.name === 'jump' && (
          <Button asChild>
            <Link to={`/jobs/${job}/jump?battery=${battery}`}>Will it crank?</Link>
          </Button>
        )}
        {offered.name === 'replace' && (
          <Button asChild>
            <Link to={`/jobs/${job}/fit?battery=${battery}`}>What fits?</Link>
          </Button>
        )}
        {offered.name === 'clean_in_place' && (
          <Button asChild>
            <Link to={`/jobs/${job}/terminals?battery=${battery}`}>What the joints cost</Link>
          </Button>
        )}
      </div>
    </li>
  )
}
