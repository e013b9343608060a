// Instruments that can be read offer their figure beside the reading line: taken when
// it holds still, and why not while it does not.
import { Activity } from 'lucide-react'
import { useInstrumentsNow } from '../../../api/instruments'
import { Button } from '../../../parts/ui/button'

export function Meters({ put }: { put: (figure: string) => void }) {
  const { data } = useInstrumentsNow()
  if (!data || data.length === 0) return null
  // Those that answer come first; a silent one is not worth a place here.
  const shown = data.filter((m) => m.shown || m.line)
  return (
    <div className="mb-1.5 flex gap-2 overflow-x-auto" role="group" aria-label="Instruments">
      {shown.map((m) => (
        <div
          key={m.id}
          className="flex min-h-target shrink-0 items-center gap-2.5 rounded-part border-[1.5px] border-line bg-sheet py-1 pr-1 pl-3"
        >
          <Activity size={17} aria-hidden="true" />
          <span className="text-small text-lead">{m.name}</span>
          <span className="num font-bold">{m.shown}</span>
          {m.line ? (
            <>
              <span className="text-small text-verdigris-text">steady</span>
              <Button
                weight="outline"
                className="px-3"
                aria-label={`Take ${m.shown} from ${m.name}`}
                onClick={() => put(m.line)}
              >
                Take
              </Button>
            </>
          ) : (
            <span className="px-2 text-small text-marigold-text">{m.why}</span>
          )}
        </div>
      ))}
    </div>
  )
}
