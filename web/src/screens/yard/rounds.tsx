// The walks: what is due, grouped so that one walk does for many. A round is worked by thumb, one
// card at a time, with or without the line.
import { useState } from 'react'
import { Link } from 'react-router'
import { useRounds } from '../../api/standing'
import type { Rounds, RoundWalk, YardRow } from '../../api/types'
import { useWord } from '../../api/words'
import { wordsFor } from '../../api/client'
import { deliver } from '../../delivery/queue'
import { useAllDeeds } from '../../delivery/use'
import { dateOf, shortDate, thin } from '../../parts/format'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { Key } from '../job/line/keypad'

export function RoundsScreen() {
  const query = useRounds()
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-3xl content-start gap-4 px-4 py-4 md:px-6 print:p-0">
        <Loaded query={query}>{(rounds) => <Walks rounds={rounds} />}</Loaded>
      </main>
    </Shell>
  )
}

function Walks({ rounds }: { rounds: Rounds }) {
  // A round that was begun goes on as it was, whatever is read anew meanwhile.
  const [begun, setBegun] = useState<RoundWalk | null>(null)
  if (begun) return <Round walk={begun} leave={() => setBegun(null)} />
  const [first] = rounds.walks
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-head font-bold">Rounds</h1>
        <Button className="no-print ml-auto" onClick={() => print()}>
          Print
        </Button>
        <Button asChild className="no-print">
          <Link to="/yard">All that stands</Link>
        </Button>
      </div>
      {!first && <p>Nothing stands, so nobody has to come.</p>}
      {first && first.on > rounds.today && (
        <p>Nothing is due today. The next walk is on {dateOf(first.on)}; it may be made sooner.</p>
      )}
      {rounds.walks.map((walk, i) => (
        <WalkCard key={walk.on} walk={walk} today={rounds.today} first={i === 0} begin={() => setBegun(walk)} />
      ))}
    </>
  )
}

type WalkProps = { walk: RoundWalk; today: string; first: boolean; begin: () => void }

function WalkCard({ walk, today, first, begin }: WalkProps) {
  const word = useWord()
  return (
    <section
      aria-label={`Walk on ${dateOf(walk.on)}`}
      className="grid gap-2 rounded-card border border-line bg-sheet p-4"
    >
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-bold">{walk.on === today ? 'Today' : dateOf(walk.on)}</h2>
        <span className="text-small text-lead">
          {walk.stops.length} {walk.stops.length === 1 ? 'stop' : 'stops'}; take along{' '}
          {walk.carry.map((c) => word(`carry_${c}`)).join(', ')}
        </span>
        <Button weight={first ? 'main' : 'outline'} className="no-print ml-auto" onClick={begin}>
          Begin the round{walk.on === today ? '' : ` of ${shortDate(walk.on)}`}
        </Button>
      </div>
      <ol className="divide-y divide-line">
        {walk.stops.map((s) => (
          <li key={s.id} className="flex flex-wrap gap-x-3 py-1.5">
            <Link className="num font-bold underline" to={`/yard/${s.id}`}>
              {s.name}
            </Link>
            <span>{[s.place, s.spot].filter(Boolean).join(', ')}</span>
            <span className={`text-small ${s.overdue ? 'font-bold text-oxide-text' : 'text-lead'}`}>
              {s.overdue ? `was due ${shortDate(s.due.to)}` : `by ${shortDate(s.due.to)}`}, {word(`due_${s.due.why}`)}
            </span>
            <span className="only-print">volts: ____________</span>
          </li>
        ))}
      </ol>
    </section>
  )
}

function Round({ walk, leave }: { walk: RoundWalk; leave: () => void }) {
  const [at, setAt] = useState(0)
  const [done, setDone] = useState<Record<string, string>>({})
  const stop = walk.stops[at]
  const next = (said?: string) => {
    if (stop && said) setDone((now) => ({ ...now, [stop.id]: said }))
    const later = walk.stops.findIndex((s, i) => i > at && !(s.id in done))
    setAt(later < 0 ? walk.stops.length : later)
  }
  return (
    <>
      <div className="flex items-center gap-3">
        <h1 className="text-head font-bold">Round</h1>
        <span className="num ml-auto" aria-label={`${Object.keys(done).length} of ${walk.stops.length} done`}>
          {Object.keys(done).length}/{walk.stops.length}
        </span>
        <Button onClick={leave}>Leave it</Button>
      </div>
      {stop ? <StopCard key={stop.id} stop={stop} next={next} /> : <Over walk={walk} done={done} leave={leave} />}
      <ol aria-label="Stops" className="flex flex-wrap gap-2">
        {walk.stops.map((s, i) => (
          <li key={s.id}>
            <button
              type="button"
              aria-current={i === at ? 'step' : undefined}
              className={`num min-h-target rounded-part border-[1.5px] px-3 ${i === at ? 'border-ink font-bold' : s.id in done ? 'border-verdigris bg-verdigris-wash' : 'border-line'}`}
              onClick={() => setAt(i)}
            >
              {s.name}
              {s.id in done && <span className="sr-only">, done</span>}
            </button>
          </li>
        ))}
      </ol>
    </>
  )
}

function Over({ walk, done, leave }: { walk: RoundWalk; done: Record<string, string>; leave: () => void }) {
  const left = walk.stops.filter((s) => !(s.id in done))
  const waiting = useAllDeeds().filter((d) => d.kind === 'visit').length
  return (
    <section className="grid gap-3 rounded-card border border-line bg-sheet p-4">
      <p className="font-bold">
        {left.length === 0 ? 'The round is done.' : `${left.length} left: ${left.map((s) => s.name).join(', ')}.`}
      </p>
      <ul>
        {walk.stops
          .filter((s) => s.id in done)
          .map((s) => (
            <li key={s.id}>
              <b className="num">{s.name}</b> {done[s.id]}
            </li>
          ))}
      </ul>
      {waiting > 0 && <p className="text-marigold-text">{waiting} wait for the line.</p>}
      <Button weight="main" className="justify-self-start" onClick={leave}>
        To the rounds
      </Button>
    </section>
  )
}

/** How a battery that is come to has stood: it was not touched, or something charges it. */
const [rested, onCharge] = ['rested 12h', 'since charge']

const charging: YardRow['care'][] = ['maintain', 'maintain_by_socket', 'solar']

type StopProps = { stop: YardRow; next: (said?: string) => void }

function StopCard({ stop, next }: StopProps) {
  const word = useWord()
  const [volts, setVolts] = useState('')
  const [temperature, setTemperature] = useState('')
  const [line, setLine] = useState<string | null>(null)
  const [did, setDid] = useState('looked')
  const [note, setNote] = useState('')
  const [error, setError] = useState<unknown>(null)
  const [keeping, setKeeping] = useState(false)
  const charges = charging.includes(stop.care)
  const composed =
    volts === ''
      ? ''
      : [`${volts} v`, temperature && `${temperature}c`, charges ? onCharge : rested].filter(Boolean).join(' ')
  const said = line ?? composed
  const press = (key: string) => {
    setLine(null)
    setVolts((now) =>
      key === 'back' ? now.slice(0, -1) : now.includes('.') && key === '.' ? now : (now + key).slice(0, 5),
    )
  }
  const keep = () => {
    setKeeping(true)
    setError(null)
    deliver(stop.id, { kind: 'visit', line: said, did: did as 'looked', note, name: stop.name })
      .then(() => next([said, word(`did_${did}`)].filter(Boolean).join(', ')))
      .catch((problem: unknown) => setError(problem))
      .finally(() => setKeeping(false))
  }
  return (
    <section aria-label={stop.name} className="grid gap-3 rounded-card border-[1.5px] border-ink bg-sheet p-4">
      <div>
        <h2 className="num text-head font-bold">{stop.name}</h2>
        <p>{[stop.place, stop.spot].filter(Boolean).join(', ')}</p>
        <p className="text-small text-lead">{[stop.about, stop.customer, stop.label].filter(Boolean).join(', ')}</p>
      </div>
      <dl className="grid grid-cols-2 gap-2">
        <Fact name="Should be at">
          {stop.charge ? `${Math.round(stop.charge.low)} to ${Math.round(stop.charge.high)}${thin}%` : 'not judged'}
        </Fact>
        <Fact name="Why now" danger={stop.overdue}>
          {word(`due_${stop.due.why}`)}, {shortDate(stop.due.to)}
        </Fact>
      </dl>
      {stop.said.note && <p className="rounded-part bg-paper px-3 py-2">{stop.said.note}</p>}
      {stop.bad?.code === 'freezes' && stop.bad.days <= 0 && (
        <p role="alert" className="rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
          It may be frozen: look for cracks and a bulge. No charge and no load before it is thawed indoors.
        </p>
      )}
      <output aria-label="Volts" className="num text-center text-[2.6rem] leading-none font-bold">
        {volts || '–'}
        <span className="text-body font-normal"> V</span>
      </output>
      <p className="min-h-6 text-center text-small text-lead">
        {said !== '' && `Kept as: ${said}`}
        {said === '' &&
          charges &&
          'Read with the charger off for an hour, and say “rested 60min” below; else it proves no charge.'}
      </p>
      <div data-keypad className="grid grid-cols-3 gap-1.5">
        {['7', '8', '9', '4', '5', '6', '1', '2', '3', '.', '0', 'back'].map((k) => (
          <Key key={k} label={k} press={press} />
        ))}
      </div>
      <OneOf
        name="What was done"
        value={did}
        pick={setDid}
        options={['looked', 'charged', 'moved'].map((code) => ({ code, word: word(`did_${code}`) }))}
      />
      <details>
        <summary className="min-h-fold py-1.5 text-small font-bold text-lead">
          Temperature, a whole line, a note
        </summary>
        <div className="grid gap-3">
          <TextField
            label="Battery"
            numeric
            unit="°C"
            value={temperature}
            set={(t) => {
              setTemperature(t)
              setLine(null)
            }}
          />
          <TextField
            label="Reading line"
            hint="Any reading: volts, gravity, drain asleep, what was seen."
            value={said}
            set={setLine}
          />
          <TextField label="Note" value={note} set={setNote} maxLength={500} />
        </div>
      </details>
      {error !== null && (
        <p role="alert" className="text-oxide-text">
          {wordsFor(error)}
        </p>
      )}
      <div className="sticky bottom-0 grid grid-cols-[1fr_auto] gap-2 bg-sheet pt-1 pb-1">
        <Button weight="main" className="min-h-14" disabled={keeping} onClick={keep}>
          Keep, and on
        </Button>
        <Button className="min-h-14" onClick={() => next()}>
          Skip
        </Button>
      </div>
    </section>
  )
}

function Fact({ name, danger, children }: { name: string; danger?: boolean; children: React.ReactNode }) {
  return (
    <div className="rounded-part border border-line px-3 py-2">
      <dt className="text-small text-lead">{name}</dt>
      <dd className={`font-bold ${danger ? 'text-oxide-text' : ''}`}>{children}</dd>
    </div>
  )
}
