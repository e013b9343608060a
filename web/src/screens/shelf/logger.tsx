// A logger that follows a charge by itself: what it reads, what went in, and its end.
import { useFollow } from '../../api/shelf'
import { useInstruments } from '../../api/instruments'
import type { Logged, ShelfItem } from '../../api/types'
import { thin } from '../../parts/format'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'

export function Logger({ item, logged }: { item: ShelfItem; logged: Logged | null }) {
  const { data: instruments } = useInstruments()
  const follow = useFollow(item.charge.id)
  const loggers = item.state === 'on' ? (instruments ?? []).filter((one) => one.kind === 'logger') : []
  if (!logged && loggers.length === 0) return null
  return (
    <section aria-label="A logger" className="grid gap-2 border-t border-line pt-3">
      {logged && <Seen logged={logged} />}
      {logged?.followed ? (
        <Button disabled={follow.isPending} onClick={() => follow.mutate(null)}>
          Let {logged.instrument} go
        </Button>
      ) : (
        loggers.map((one) => (
          <Button key={one.id} disabled={follow.isPending} onClick={() => follow.mutate(one.id)}>
            Follow it by {one.name}
          </Button>
        ))
      )}
      <Trouble error={follow.error} />
    </section>
  )
}

/** What was read last, and how closely the line keeps to all of it. */
function Seen({ logged: { instrument, followed, why, trace } }: { logged: Logged }) {
  const last = trace.runs.at(-1)?.at(-1)
  return (
    <div>
      <p className="text-small text-lead">
        {followed ? `${instrument} follows it; each half hour is kept as a check.` : `${instrument} followed it.`}
      </p>
      {why && (
        <p role="alert" className="font-bold text-oxide-text">
          {instrument} {why}.
        </p>
      )}
      {last && (
        <>
          <p className="num text-sign font-bold">
            {`${last.volts.toFixed(2)}${thin}V, ${last.amps.toFixed(2)}${thin}A`}
          </p>
          <p className="num text-small text-lead">
            {`${trace.ampere_hours.toFixed(1)}${thin}Ah in, ${trace.samples} figures; the line keeps within ${trace.within.volts.toFixed(3)}${thin}V and ${(100 * trace.within.share).toFixed(1)}${thin}%`}
          </p>
        </>
      )}
    </div>
  )
}
