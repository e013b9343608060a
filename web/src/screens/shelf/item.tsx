// What is said of a battery on the shelf wherever it stands: its chalk number, its name, and
// what is done with it next.
import type { Shelf, ShelfItem, ShelfLane } from '../../api/types'
import { Link } from 'react-router'
import { useMay } from '../../api/session'
import { useShelfDeed } from '../../api/shelf'
import { wordsFor } from '../../api/client'
import { when } from '../../parts/format'
import { Button } from '../../parts/ui/button'
import { useToast } from '../../parts/ui/toast'

/** The number as it is chalked on the battery. */
export function Chalk({ item, large }: { item: ShelfItem; large?: boolean }) {
  return (
    <span
      className={`grid shrink-0 place-items-center rounded-part border-2 border-ink bg-sheet num font-bold ${large ? 'size-12 text-head' : 'size-10 text-sign'}`}
    >
      {item.charge.chalk}
    </span>
  )
}

export function nameOf(item: ShelfItem): string {
  return item.plate || item.tag || item.label
}

/** How full it is; nothing read means anything from flat to full. */
export function chargeWords({ percent }: ShelfItem): string {
  if (!percent) return ''
  return percent.high - percent.low > 80 ? 'charge not known' : `${Math.round(percent.value)}\u00a0%`
}

/** When it is ready, as sure as that is. */
export function readyWords(item: ShelfItem, now: string, zone?: string): string {
  const ready = item.charge.until === 'testable' ? item.testable : item.full
  const word = item.charge.until === 'testable' ? 'can be tested' : 'full'
  return ready ? `${word} ${when(ready, now, zone)}` : 'never full with this charger'
}

/** One line of what it does or waits for. */
export function brief(item: ShelfItem, now: string, zone?: string): string {
  const trouble = item.anomalies[0]
  if (item.stop && trouble) return trouble.text
  const set = item.setting ? `${item.setting.amps} A, ` : ''
  if (item.state !== 'on') return `${set}${readyWords(item, now, zone)}`
  return trouble ? trouble.text : `${set}${readyWords(item, now, zone)}`
}

/** The outputs that are free, and the one a battery is planned for first. */
export function freeFor(item: ShelfItem, lanes: ShelfLane[]): ShelfLane[] {
  return lanes.filter((l) => l.free).toSorted((a, b) => Number(b.name === item.lane) - Number(a.name === item.lane))
}

/** Puts a battery on an output, or takes it off, at once, and says so. */
export function useHands(shelf: Pick<Shelf, 'shop'>) {
  const deed = useShelfDeed()
  const say = useToast()
  const zone = shelf.shop.time_zone
  const fail = (error: unknown) => say(wordsFor(error))
  const now = () => new Date().toISOString()
  const on = (item: ShelfItem, lane: ShelfLane) => {
    const at = now()
    const { charger_id, channel, name } = lane
    deed.mutate(
      { kind: 'on', charge: item.charge.id, body: { charger_id, channel, at } },
      { onSuccess: () => say(`${item.charge.chalk} is on ${name} since ${when(at, at, zone)}.`), onError: fail },
    )
  }
  const off = (item: ShelfItem) =>
    deed.mutate(
      { kind: 'off', charge: item.charge.id, body: { at: now() } },
      { onSuccess: () => say(`${item.charge.chalk} is off. Let it rest an hour, then read it.`), onError: fail },
    )
  const decide = (item: ShelfItem, lane: ShelfLane, from?: string) =>
    deed.mutate(
      {
        kind: 'decide',
        charge: item.charge.id,
        body: { charger_id: lane.charger_id, channel: lane.channel, from: from ?? item.charge.pin?.from },
      },
      {
        onSuccess: (after) => say(`${item.charge.chalk}: ${lane.name}. ${after.decided?.text ?? ''}`, () => back(item)),
        onError: fail,
      },
    )
  const takeBack = (item: ShelfItem) =>
    deed.mutate(
      { kind: 'take back', charge: item.charge.id },
      { onSuccess: () => say(`${item.charge.chalk} is planned again.`), onError: fail },
    )
  // What was decided before is decided again; what was not is planned.
  const back = (item: ShelfItem) => {
    const { pin } = item.charge
    if (!pin) return takeBack(item)
    deed.mutate({ kind: 'decide', charge: item.charge.id, body: pin }, { onError: fail })
  }
  return { on, off, decide, takeBack, busy: deed.isPending }
}

type Hands = ReturnType<typeof useHands>

/** How near a battery's time has to be for its button, in milliseconds. */
const soon = 5 * 60_000

/** The one button that is next for a battery: off, a look at it, or on. */
export function NextButton({ item, shelf, hands }: { item: ShelfItem; shelf: Shelf; hands: Hands }) {
  const may = useMay('connectCharge')
  const due = (iso?: string | null) => !!iso && Date.parse(iso) <= Date.parse(shelf.now) + soon
  if (may && item.state === 'on' && (item.stop || due(item.off)))
    return (
      <Button weight="outline" disabled={hands.busy} onClick={() => hands.off(item)}>
        Off
      </Button>
    )
  if (item.state === 'on')
    return (
      <Button asChild>
        <Link to={`/shelf/${item.charge.id}`}>Look</Link>
      </Button>
    )
  const lane = freeFor(item, shelf.lanes)[0]
  if (!may || item.state === 'unplaced' || lane?.name !== item.lane || !due(item.on_at)) return null
  return (
    <Button weight="outline" disabled={hands.busy} onClick={() => hands.on(item, lane)}>
      On
    </Button>
  )
}
