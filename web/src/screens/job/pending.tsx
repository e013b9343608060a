// Readings that are on this device only: waiting for the line, or sent back with
// what is wrong with them.
import { takeBack, usePending } from '../../api/outbox'
import { clock } from '../../parts/format'

type Props = { job: string; battery: string; zone?: string; setLine: (line: string) => void }

export function PendingReadings({ job, battery, zone, setLine }: Props) {
  const list = usePending().filter((p) => p.job === job && p.battery === battery)
  if (list.length === 0) return null
  const toSend = list.filter((p) => !p.refused).length
  return (
    <section aria-label="On this device only" className="mb-3 rounded-part bg-marigold-wash px-3 py-2">
      <h2 className="text-small font-bold" role="status">
        {toSend > 0 ? `${toSend} to be sent when the line is back` : 'Sent back'}
      </h2>
      <ol>
        {list.map((p) => (
          <li key={p.id} className="flex flex-wrap items-center gap-x-3 py-1">
            <span className="num text-small text-lead">{clock(p.takenAt, zone)}</span>
            <span className="num">{p.line}</span>
            {p.refused && (
              <>
                <span className="basis-full text-oxide-text">{p.refused}</span>
                <button
                  type="button"
                  className="btn"
                  onClick={() => {
                    takeBack(p.id)
                    setLine(p.line)
                  }}
                >
                  Put it in the line again
                </button>
              </>
            )}
          </li>
        ))}
      </ol>
    </section>
  )
}
