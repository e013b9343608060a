// What is in the shop and what each waits on: a board whose lanes are places,
// and a list of what to do, worst first.
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { useClocks, useLeft } from '../../api/clocks'
import { useDayAtHand, useToday } from '../../api/jobs'
import { useShelf } from '../../api/shelf'
import { useRounds } from '../../api/standing'
import { useHello, usePeople } from '../../api/session'
import type { Today, TodayRow } from '../../api/types'
import { useWord } from '../../api/words'
import { fits, span, when } from '../../parts/format'
import { Glyph } from '../../parts/glyph'
import { typing } from '../../parts/keys'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { Chip, OneOf } from '../../parts/ui/chips'
import { CountDown } from '../../parts/ui/count-down'
import { Loaded } from '../../parts/ui/loaded'
import type { Zoom } from './board'

// The board is drawn where there is room for it, and fetched beside the day.
const board = () => import('./board')
const TimeBoard = lazy(board)
if (matchMedia('(min-width: 64rem)').matches) void board().catch(() => undefined)

export function TodayScreen() {
  const query = useToday()
  return (
    <Shell fill>
      <Loaded query={query} whole>
        {(today) => <Screen today={today} />}
      </Loaded>
    </Shell>
  )
}

function Screen({ today }: { today: Today }) {
  useDayAtHand(today)
  const [query, setQuery] = useState('')
  const [mine, setMine] = useState(false)
  const [zoom, setZoom] = useZoom()
  const { data: hello } = useHello()
  const open = today.open
    .toSorted((a, b) => a.rank - b.rank)
    .filter((row) => fits(query, row.plate, row.customer_name, row.description))
    .filter((row) => !mine || row.job.assigned_to === hello?.person?.id)
  const date = new Date(today.now).toLocaleDateString('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: today.shop.time_zone,
  })
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-2.5 md:px-5">
        <h1 className="text-head font-bold">{date}</h1>
        <p className="text-small text-lead max-sm:hidden">{today.shop.name}</p>
        <div className="max-lg:hidden sm:ml-auto">
          <OneOf name="Board" quiet value={zoom} pick={(code) => setZoom(code as Zoom)} options={zooms} />
        </div>
        <Chip className="max-lg:sm:ml-auto" aria-pressed={mine} onClick={() => setMine(!mine)}>
          My jobs
        </Chip>
        <Button asChild>
          <Link to="/bring-in?purpose=quick_look">Quick look</Link>
        </Button>
        <Button asChild weight="main">
          <Link to="/bring-in" aria-keyshortcuts="b">
            Bring it in
          </Link>
        </Button>
      </div>
      <div className="flex min-h-0 flex-1 flex-col-reverse lg:flex-row">
        <main className="min-w-0 flex-1 overflow-y-auto bg-paper max-lg:hidden">
          <Suspense>
            <TimeBoard today={today} rows={open} zoom={zoom} />
          </Suspense>
        </main>
        <div className="flex shrink-0 flex-col border-line bg-sheet lg:min-h-0 lg:w-[338px] lg:border-l">
          <section aria-label="What to do next" className="px-4 py-3 lg:min-h-0 lg:flex-1 lg:overflow-y-auto">
            <Due rows={open} now={today.now} zone={today.shop.time_zone} searching={query !== ''} />
            {today.more && <p className="py-2 text-small text-lead">Older open jobs are not shown.</p>}
            <Handed rows={today.closed} now={today.now} zone={today.shop.time_zone} />
          </section>
          {query === '' && <DueNext now={today.now} zone={today.shop.time_zone} />}
        </div>
      </div>
      <SearchLine query={query} setQuery={setQuery} first={open[0]} />
    </>
  )
}

const zooms: { code: Zoom; word: string }[] = [
  { code: 'day', word: 'Day' },
  { code: 'week', word: 'Week' },
  { code: 'season', word: 'Season' },
]

/** How much of time the board shows: it stands in the address; minus shows more, plus less. */
function useZoom(): [Zoom, (zoom: Zoom) => void] {
  const [search, setSearch] = useSearchParams()
  const found = zooms.findIndex((z) => z.code === search.get('board'))
  const at = Math.max(0, found)
  const set = useCallback(
    (zoom: Zoom) => setSearch(zoom === 'day' ? {} : { board: zoom }, { replace: true }),
    [setSearch],
  )
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const by = { '-': 1, '+': -1 }[event.key]
      if (!by || typing(event)) return
      event.preventDefault()
      const next = zooms[at + by]
      if (next) set(next.code)
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [at, set])
  return [zooms[at]?.code ?? 'day', set]
}

/** What is due besides the jobs: the next look at the shelf, and the walk of today. It stands
 * below them, so that it moves none when it comes. */
function DueNext({ now, zone }: { now: string; zone: string }) {
  const { data: shelf } = useShelf()
  const { data: rounds } = useRounds()
  const looks = (shelf?.items ?? []).flatMap((i) => (i.state === 'on' && i.check ? [{ item: i, at: i.check }] : []))
  const look = looks.toSorted((a, b) => (a.at < b.at ? -1 : 1))[0]
  const walk = rounds?.walks.find((w) => w.on === rounds.today)
  if (!look && !walk) return null
  return (
    <section aria-label="Due next" className="shrink-0 border-t border-line px-4 py-2">
      <h2 className="text-small font-bold text-lead">Due next</h2>
      <ul className="divide-y divide-line">
        {look && (
          <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-2">
            <span className="num">{when(look.at, now, zone)}</span>
            <span className="min-w-32 flex-1">
              Look at <b>{look.item.plate || look.item.tag}</b> on {look.item.lane}
            </span>
            <Button asChild>
              <Link to={`/shelf/${look.item.charge.id}`}>Check</Link>
            </Button>
          </li>
        )}
        {walk && (
          <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-2">
            <span>today</span>
            <span className="min-w-32 flex-1">
              Yard round: {walk.stops.length} {walk.stops.length === 1 ? 'stop' : 'stops'}
              {walk.stops.some((s) => s.overdue) && <span className="text-oxide-text">, some overdue</span>}
            </span>
            <Button asChild>
              <Link to="/yard/rounds">List</Link>
            </Button>
          </li>
        )}
      </ul>
    </section>
  )
}

/** When a job was promised; what was not comes after all that was. */
const dueAt = (row: TodayRow) => row.job.promised_at ?? '9999'

type DueProps = { rows: TodayRow[]; now: string; zone: string; searching: boolean }

function Due({ rows, now, zone, searching }: DueProps) {
  const word = useWord()
  const { data: people } = usePeople()
  // On a phone there is no board beside it: the list itself is in the order of time, by what each
  // row says itself, so that nothing moves under a finger when clocks come in later.
  const [byTime, setByTime] = useState(() => matchMedia('(max-width: 63.99rem)').matches)
  const has = (row: TodayRow) => people?.find((p) => p.id === row.job.assigned_to)?.initials
  if (rows.length === 0) {
    return (
      <p className="py-6 text-center text-lead">
        {searching
          ? 'Nothing in the shop fits that. Enter brings it in.'
          : 'Nothing is in the shop. Bring something in.'}
      </p>
    )
  }
  const listed = byTime ? rows.toSorted((a, b) => (dueAt(a) === dueAt(b) ? 0 : dueAt(a) < dueAt(b) ? -1 : 1)) : rows
  return (
    <>
      <div className="flex items-center gap-3 pb-1">
        <h2 className="text-small font-bold text-lead">What to do{byTime ? ', by its time' : ', worst first'}</h2>
        <Chip className="ml-auto lg:hidden" onClick={() => setByTime(!byTime)}>
          {byTime ? 'worst first' : 'by time'}
        </Chip>
      </div>
      <ul className="divide-y divide-line">
        {listed.map((row) => (
          <li key={row.job.id}>
            <Link
              to={`/jobs/${row.job.id}`}
              className={`-mx-2 flex items-center gap-3 rounded-card px-2 py-2.5 hover:bg-paper ${row.waits === 'stop' || row.late ? 'bg-oxide-wash' : ''}`}
            >
              <Glyph action={row.action} size={40} />
              <span className="min-w-0 flex-1">
                <span className="block font-bold">
                  {row.plate || row.description}
                  {row.job.place && <span className="font-normal text-lead">, {row.job.place}</span>}
                  {has(row) && <span className="font-normal text-lead">, {has(row)}</span>}
                </span>
                <span className="block">{word(row.action)}</span>
                <span className="block text-small text-lead">{row.next || 'The customer decides.'}</span>
                {row.job.waits_for && (
                  <span className="block text-small text-marigold-text">
                    Waits for {[word(`waits_${row.job.waits_for}`), row.job.waits_note].filter(Boolean).join(': ')}
                  </span>
                )}
                <Ringing job={row.job.id} />
                {row.job.promised_at && (
                  <span className={`block text-small ${row.late ? 'font-bold text-oxide-text' : 'text-lead'}`}>
                    Promised {when(row.job.promised_at, now, zone)}
                    {row.late && `, ${span(Date.parse(now) - Date.parse(row.job.promised_at))} late`}
                  </span>
                )}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </>
  )
}

/** The job's clock that is over, or the next to be. */
function Ringing({ job }: { job: string }) {
  const { data } = useClocks()
  const first = data?.clocks.filter((c) => c.job_id === job).sort((a, b) => (a.ends_at < b.ends_at ? -1 : 1))[0]
  const seconds = useLeft(first)
  if (!first) return null
  return (
    <span className={`block text-small ${seconds <= 0 ? 'font-bold text-oxide-text' : 'text-lead'}`}>
      {seconds <= 0 ? first.rings.text : first.text.text} <CountDown seconds={seconds} />
    </span>
  )
}

type HandedProps = { rows: TodayRow[]; now: string; zone: string }

function Handed({ rows, now, zone }: HandedProps) {
  const word = useWord()
  if (rows.length === 0) return null
  return (
    <div className="mt-4">
      <h2 className="text-small font-bold text-lead">Handed back</h2>
      <ul>
        {rows.map((row) => (
          <li key={row.job.id} className="py-1">
            <Link to={`/jobs/${row.job.id}`} className="underline">
              {row.plate || row.description}
            </Link>
            <span className="text-small text-lead">
              {' '}
              {word(row.action)}, {row.job.closed_at && when(row.job.closed_at, now, zone)}
            </span>
          </li>
        ))}
      </ul>
    </div>
  )
}

type SearchProps = { query: string; setQuery: (text: string) => void; first?: TodayRow }

function SearchLine({ query, setQuery, first }: SearchProps) {
  const input = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== '/' || typing(event)) return
      event.preventDefault()
      input.current?.focus()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [])
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Escape') setQuery('')
    if (event.key !== 'Enter' || query.trim() === '') return
    void navigate(first ? `/jobs/${first.job.id}` : `/bring-in?plate=${encodeURIComponent(query.trim())}`)
  }
  return (
    <div className="flex shrink-0 items-center gap-3 border-t-[1.5px] border-ink bg-paper px-4 py-2 max-lg:sticky max-lg:bottom-0 md:px-5">
      <kbd className="key" aria-hidden="true">
        /
      </kbd>
      <input
        ref={input}
        value={query}
        onChange={(e) => setQuery(e.target.value.replace(/^\//, ''))}
        onKeyDown={onKey}
        aria-label="Find a job by plate or name"
        aria-keyshortcuts="/"
        placeholder="Plate or name"
        autoComplete="off"
        className="h-target min-w-0 flex-1 bg-transparent outline-none placeholder:text-lead"
      />
      <span className="hidden items-center gap-2 text-small text-lead md:flex">
        <kbd className="key">B</kbd> bring in <kbd className="key">?</kbd> all keys
      </span>
    </div>
  )
}
