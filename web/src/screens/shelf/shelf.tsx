// The shelf: lanes are channels, blocks are charges; beside it what hands do next, what is
// late with its ways out, what finds no charger, and the air. On a phone the list alone.
import { Printer } from 'lucide-react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useShelf, useShelfDeed } from '../../api/shelf'
import type { PlaceAir, Shelf, ShelfItem } from '../../api/types'
import { Board, type Block, type Look } from '../../parts/board/board'
import { dayAndClock, span, thin, when } from '../../parts/format'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { Loaded } from '../../parts/ui/loaded'
import { AskForm } from './ask'
import { brief, Chalk, chargeWords, nameOf, NextButton, readyWords, useHands } from './item'

export function ShelfScreen() {
  const query = useShelf()
  return (
    <Shell fill>
      <Loaded query={query} whole>
        {(shelf) => <Screen shelf={shelf} />}
      </Loaded>
    </Shell>
  )
}

function Screen({ shelf }: { shelf: Shelf }) {
  const zone = shelf.shop.time_zone
  const { items } = shelf
  const on = items.filter((i) => i.state === 'on').length
  const flat = items.filter((i) => i.flat).length
  const late = items.filter((i) => i.late > 0).length
  const counts = [
    `${on} on`,
    `${items.length - on} waiting`,
    flat > 0 && `${flat} flat, ${shelf.cost.flat_hours.toFixed(0)}${thin}h to go`,
    late > 0 && `${late} late`,
  ]
  return (
    <>
      <div className="no-print flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-2.5 md:px-5">
        <h1 className="text-head font-bold">Shelf</h1>
        <p className="text-small text-lead">{counts.filter(Boolean).join(', ')}</p>
        <Button className="sm:ml-auto" onClick={() => print()}>
          <Printer size={18} aria-hidden="true" /> Print the list
        </Button>
        <AskForm />
      </div>
      <div className="no-print flex min-h-0 flex-1 flex-col-reverse lg:flex-row">
        <main className="min-w-0 flex-1 overflow-y-auto bg-paper max-lg:hidden">
          {shelf.lanes.length > 0 ? <Lanes shelf={shelf} /> : <NoChargers />}
          <AirLines air={shelf.air} now={shelf.now} zone={zone} />
        </main>
        <section
          aria-label="What to do next"
          className="shrink-0 overflow-y-auto border-line bg-sheet px-4 py-3 lg:w-[376px] lg:border-l"
        >
          <Offers shelf={shelf} />
          <List shelf={shelf} />
          <Fixes shelf={shelf} />
          {shelf.lanes.length === 0 && <NoChargers />}
        </section>
      </div>
      <PrintedList shelf={shelf} />
    </>
  )
}

function NoChargers() {
  return (
    <p className="px-5 py-6 text-lead">
      The shop has no chargers yet.{' '}
      <Link className="underline" to="/shelf/set-up">
        Write them down
      </Link>
      , with their channels and where they stand.
    </p>
  )
}

function lookOf(item: ShelfItem): Look {
  if (item.stop || item.late > 0) return 'danger'
  if (item.state === 'planned') return 'planned'
  return item.anomalies.length > 0 ? 'doubt' : 'live'
}

/** The channels, each with what charges and what is planned. */
function Lanes({ shelf }: { shelf: Shelf }) {
  const hands = useHands(shelf)
  const zone = shelf.shop.time_zone
  const now = Date.parse(shelf.now)
  const blocks = shelf.items.flatMap((item): Block[] => {
    if (item.state === 'unplaced' || !item.on_at) return []
    const end = Date.parse(item.off ?? shelf.to)
    const to = item.ready_from ? Math.min(end, Date.parse(item.ready_from)) : end
    return [
      {
        id: item.charge.id,
        lane: item.lane,
        from: Date.parse(item.on_at),
        to: Math.max(to, Date.parse(item.on_at)),
        tail: Math.max(end, Date.parse(item.ready_to ?? item.on_at)),
        title: `${item.charge.chalk}  ${nameOf(item)}${item.charge.pin ? ', decided' : ''}`,
        words: item.late > 0 ? `${span(item.late * 60_000)} late` : brief(item, shelf.now, zone),
        look: lookOf(item),
        href: `/shelf/${item.charge.id}`,
      },
    ]
  })
  const move = (id: string, name: string) => {
    const item = shelf.items.find((i) => i.charge.id === id)
    const lane = shelf.lanes.find((l) => l.name === name)
    if (item && lane) hands.decide(item, lane)
  }
  return (
    <>
      <Board
        name="Channels of the shelf"
        lanes={shelf.lanes.map((l) => l.name)}
        blocks={blocks}
        now={now}
        window={[Date.parse(shelf.from), Date.parse(shelf.to)]}
        zone={zone}
        move={move}
      />
      {shelf.decided && <p className="px-5 py-2 text-marigold-text">{shelf.decided.text}</p>}
    </>
  )
}

/** When a battery has to be seen to next: a check, the end, or its beginning. */
function dueOf(item: ShelfItem): string | null {
  const times = item.state === 'on' ? [item.check, item.off] : [item.on_at]
  return times.filter((t) => t != null).toSorted()[0] ?? null
}

function dueWords(item: ShelfItem, shelf: Shelf): string {
  const zone = shelf.shop.time_zone
  const due = dueOf(item)
  if (item.state === 'unplaced') return item.why?.text ?? ''
  if (!due) return readyWords(item, shelf.now, zone)
  const at = when(due, shelf.now, zone)
  const past = due < shelf.now
  if (item.state === 'planned')
    return `${past ? 'On now' : `On at ${at}`}, ${item.lane}: ${brief(item, shelf.now, zone)}`
  if (due === item.check)
    return past ? `A look is due since ${at}` : `Look at it at ${at}, ${readyWords(item, shelf.now, zone)}`
  return `Off at ${at}: ${readyWords(item, shelf.now, zone)}`
}

/** The batteries by when they have to be seen to; what must not wait first. */
function List({ shelf }: { shelf: Shelf }) {
  const hands = useHands(shelf)
  const rank = (i: ShelfItem) => (i.stop ? 0 : i.state === 'unplaced' ? 2 : 1)
  const rows = shelf.items.toSorted((a, b) => rank(a) - rank(b) || ((dueOf(a) ?? '') < (dueOf(b) ?? '') ? -1 : 1))
  if (rows.length === 0) return <p className="py-6 text-center text-lead">Nothing charges and nothing waits for it.</p>
  return (
    <ul aria-label="Batteries of the shelf" className="divide-y divide-line">
      {rows.map((item) => (
        <li
          key={item.charge.id}
          className={`-mx-2 flex items-center gap-3 rounded-card px-2 py-2 ${item.stop || item.late > 0 ? 'bg-oxide-wash' : ''}`}
        >
          <Chalk item={item} />
          <Link to={`/shelf/${item.charge.id}`} className="min-w-0 flex-1">
            <span className="block font-bold">
              {nameOf(item)}
              {item.state !== 'unplaced' && (
                <span className="num font-normal text-lead">{`, ${chargeWords(item)}`}</span>
              )}
            </span>
            {item.anomalies[0] && <span className="block text-small">{item.anomalies[0].text}</span>}
            <span
              className={`block text-small ${dueOf(item) && (dueOf(item) ?? '') < shelf.now ? 'font-bold text-oxide-text' : 'text-lead'}`}
            >
              {dueWords(item, shelf)}
            </span>
            {item.late > 0 && (
              <span className="block text-small font-bold text-oxide-text">{span(item.late * 60_000)} late</span>
            )}
            {item.flat && item.standing && (
              <span className="block text-small text-marigold-text">
                Flat for {span(Date.parse(shelf.now) - Date.parse(item.standing))}: it sulphates.
              </span>
            )}
          </Link>
          <NextButton item={item} shelf={shelf} hands={hands} />
        </li>
      ))}
    </ul>
  )
}

/** The ways to be less late. */
function Fixes({ shelf }: { shelf: Shelf }) {
  if (shelf.fixes.length === 0) return null
  return (
    <section aria-label="Ways to be less late" className="mt-4">
      <h2 className="text-small font-bold text-lead">Ways to be less late</h2>
      <ul className="list-disc pl-5">
        {shelf.fixes.map((f) => (
          <li key={f.text}>{f.text}</li>
        ))}
      </ul>
    </section>
  )
}

/** Batteries whose jobs wait for a charge and that nobody has put on the list. */
function Offers({ shelf }: { shelf: Shelf }) {
  const deed = useShelfDeed()
  if (shelf.offers.length === 0) return null
  const put = async () => {
    for (const o of shelf.offers)
      await deed.mutateAsync({
        kind: 'ask',
        charge: uuid(),
        body: { battery_id: o.battery_id, job_id: o.job_id, until: 'full', ready_by: o.promised_at, weight: 1 },
      })
  }
  return (
    <div className="mb-2 grid gap-2 rounded-part bg-marigold-wash px-3 py-2">
      <p>
        <b>{shelf.offers.map((o) => o.plate).join(', ')}</b>: charge and test again, and not on the list.
      </p>
      <Button
        weight="outline"
        className="justify-self-start"
        disabled={deed.isPending}
        onClick={() => void put().catch(() => undefined)}
      >
        Put {shelf.offers.length > 1 ? 'them' : 'it'} on the list
      </Button>
      <Trouble error={deed.error} />
    </div>
  )
}

/** What each place needs of air, now and at the most. */
function AirLines({ air, now, zone }: { air: PlaceAir[]; now: string; zone?: string }) {
  if (air.length === 0) return null
  return (
    <section aria-label="Air" className="px-5 py-3">
      <h2 className="text-small font-bold text-lead">Fresh air while they charge</h2>
      <ul>
        {air.map((a) => {
          const here = a.rows.find((r) => r.from <= now && now < r.to) ?? a.rows[0]
          const words = (r: typeof a.most) =>
            `${r.m3h.toFixed(1)}${thin}m³/h, an opening of ${Math.ceil(r.opening_cm2)}${thin}cm²`
          return (
            <li key={a.place}>
              <b>{a.place}</b>: now {here && words(here)}
              {a.most.m3h > (here?.m3h ?? 0) && `; most at ${when(a.most.from, now, zone)}: ${words(a.most)}`}.{' '}
              {a.most.enough ? (
                'The place has it.'
              ) : (
                <b className="text-oxide-text">More than the place has: open the door.</b>
              )}
            </li>
          )
        })}
      </ul>
      <p className="text-small text-lead">
        By IEC 62485-2; no spark or flame within half a metre. Local codes come first.
      </p>
    </section>
  )
}

/** The list as it hangs on the shelf. */
function PrintedList({ shelf }: { shelf: Shelf }) {
  const zone = shelf.shop.time_zone
  const at = (iso: string | null | undefined) => (iso ? when(iso, shelf.now, zone) : '')
  return (
    <section className="hidden print:block" aria-label="Printed list">
      <h1 className="text-head font-bold">Shelf list, {dayAndClock(shelf.now, zone)}</h1>
      <table className="w-full border-collapse text-small">
        <thead>
          <tr>
            {['No.', 'Battery', 'Charger', 'Set', 'On', '75 %', 'Full', 'Off', 'Promised', 'Volts', 'Done'].map((h) => (
              <th key={h} className="border border-line px-2 py-1 text-left">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shelf.items.map((i) => (
            <tr key={i.charge.id}>
              {[
                i.charge.chalk,
                `${nameOf(i)}, ${i.label}`,
                i.state === 'unplaced' ? (i.why?.text ?? '') : i.lane,
                i.setting ? `${i.setting.amps} A, ${i.setting.volts.toFixed(2)} V` : '',
                at(i.on_at),
                at(i.testable),
                at(i.full),
                at(i.off),
                at(i.charge.ready_by),
                '',
                '',
              ].map((cell, n) => (
                <td key={n} className={`border border-line px-2 py-1.5 ${n === 0 ? 'num text-head font-bold' : ''}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
