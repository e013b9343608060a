// The waits of the shop in the bar on top, on every screen: the next to be over
// first, and those that are over until somebody has seen to them.
import { BellRing, Hourglass } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { left, useClocks, useSeconds } from '../api/clocks'
import { useStopClock } from '../delivery/use'
import type { RunningClock } from '../api/types'
import { letSound, ring } from './ring'
import { sayRinging } from './title'
import { BarPopover } from './ui/bar-popover'
import { Button } from './ui/button'
import { CountDown, countdown } from './ui/count-down'

export function ClockBar() {
  const { data } = useClocks()
  const clocks = data?.clocks ?? []
  const now = useSeconds(clocks.length > 0)
  const offset = data?.offset ?? 0
  const sorted = [...clocks].sort((a, b) => left(a, offset, now) - left(b, offset, now))
  useRinging(sorted, offset, now)
  const first = sorted[0]
  if (!first) return null
  const over = sorted.filter((c) => left(c, offset, now) <= 0).length
  return (
    <BarPopover
      name="Every clock"
      look={over > 0 ? 'bg-oxide-wash text-ink' : ''}
      button={
        <>
          {over > 0 ? <BellRing size={18} aria-hidden="true" /> : <Hourglass size={18} aria-hidden="true" />}
          <span className="max-w-[15rem] truncate text-small max-md:hidden">
            {first.text.text}
            {first.plate && `, ${first.plate}`}
          </span>
          <span className="num font-bold">{countdown(left(first, offset, now))}</span>
          {sorted.length > 1 && <span className="text-small whitespace-nowrap">{`+ ${sorted.length - 1}`}</span>}
          <span className="sr-only">{over > 0 ? `, ${over} over; all clocks` : '; all clocks'}</span>
        </>
      }
    >
      <ul aria-label="Clocks of the shop">
        {sorted.map((c) => (
          <Row key={c.id} clock={c} seconds={left(c, offset, now)} />
        ))}
      </ul>
    </BarPopover>
  )
}

function Row({ clock, seconds }: { clock: RunningClock; seconds: number }) {
  const stop = useStopClock()
  const over = seconds <= 0
  return (
    <li className={`flex items-center gap-3 rounded-part p-2 ${over ? 'bg-oxide-wash' : ''}`}>
      <Link to={clock.job_id ? `/jobs/${clock.job_id}` : '/shelf'} className="min-w-0 flex-1">
        <span className="block font-bold">
          {clock.text.text}
          {clock.plate && <span className="font-normal text-lead">, {clock.plate}</span>}
        </span>
        <span className="block text-small">
          {over ? clock.rings.text : [clock.place, clock.by].filter(Boolean).join(', ')}
        </span>
      </Link>
      <CountDown seconds={seconds} className="text-sign font-bold" />
      <Button disabled={stop.isPending} onClick={() => stop.mutate(clock)}>
        {over ? 'Seen' : 'Stop'}
      </Button>
    </li>
  )
}

/** Rings once for each clock that comes to its end while this screen is open. */
function useRinging(clocks: RunningClock[], offset: number, now: number) {
  const counting = useRef(new Set<string>())
  useEffect(letSound, [])
  useEffect(() => {
    for (const c of clocks) {
      if (left(c, offset, now) > 0) counting.current.add(c.id)
      else if (counting.current.delete(c.id)) ring()
    }
  }, [clocks, offset, now])
  const over = clocks.find((c) => left(c, offset, now) <= 0)
  useEffect(() => {
    sayRinging(over ? over.rings.text : '')
  }, [over])
}
