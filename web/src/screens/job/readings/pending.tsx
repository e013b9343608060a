// What is on this device only: how much of the job waits for the line, and what the
// server sent back, with what is wrong with it. What waits is counted in above already.
import { DeedLine } from '../../../delivery/list'
import { useDeeds } from '../../../delivery/use'

type Props = { job: string; setLine: (line: string) => void; shown: string[] }

export function PendingReadings({ job, setLine, shown }: Props) {
  const list = useDeeds().filter((d) => d.subject === job)
  if (list.length === 0) return null
  const toSend = list.filter((d) => !d.refused).length
  const apart = list.filter((d) => d.refused || (d.kind === 'reading' && !shown.includes(d.id)))
  return (
    <section aria-label="On this device only" className="mb-3 rounded-part bg-marigold-wash px-3 py-2">
      <h2 className="text-small font-bold" role="status">
        {toSend > 0 ? `${toSend} to be sent when the line is back` : 'Sent back'}
      </h2>
      <ol>
        {apart.map((d) => (
          <DeedLine key={d.id} deed={d} setLine={setLine} />
        ))}
      </ol>
    </section>
  )
}
