// What is on this device only: how much waits for the line, and what the server sent
// back, with what is wrong with it. What waits is counted in above already.
import { takeBack, usePending, type Pending } from '../../api/outbox'
import { useWord } from '../../api/words'
import { clock } from '../../parts/format'

type Props = { job: string; battery: string; zone?: string; setLine: (line: string) => void; shown: string[] }

export function PendingReadings({ job, battery, zone, setLine, shown }: Props) {
  const list = usePending().filter((p) => p.job === job && p.battery === battery)
  if (list.length === 0) return null
  const toSend = list.filter((p) => !p.refused).length
  return (
    <section aria-label="On this device only" className="mb-3 rounded-part bg-marigold-wash px-3 py-2">
      <h2 className="text-small font-bold" role="status">
        {toSend > 0 ? `${toSend} to be sent when the line is back` : 'Sent back'}
      </h2>
      <ol>
        {list
          .filter((p) => p.refused || ('line' in p && !shown.includes(p.id)))
          .map((p) => (
            <Waiting key={p.id} deed={p} zone={zone} setLine={setLine} />
          ))}
      </ol>
    </section>
  )
}

function Waiting({ deed, zone, setLine }: { deed: Pending; zone?: string; setLine: (line: string) => void }) {
  const word = useWord()
  return (
    <li className="flex flex-wrap items-center gap-x-3 py-1">
      <span className="num text-small text-lead">{clock(deed.takenAt, zone)}</span>
      <span className="num">{'line' in deed ? deed.line : `${word(deed.code)}: ${word(deed.value)}`}</span>
      {deed.refused && (
        <>
          <span className="basis-full text-oxide-text">{deed.refused}</span>
          <button
            type="button"
            className="btn"
            onClick={() => {
              takeBack(deed.id)
              if ('line' in deed) setLine(deed.line)
            }}
          >
            {'line' in deed ? 'Put it in the line again' : 'Answer it anew'}
          </button>
        </>
      )}
    </li>
  )
}
