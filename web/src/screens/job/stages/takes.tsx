// What may be taken at a stage: each kind of reading with what it found, against
// its limit, and a button that begins its line.
import { useChoices } from '../../../api/jobs'
import { useMay } from '../../../api/session'
import type { Assessment, Finding, JobPage, ReadingKind, StageCode } from '../../../api/types'
import { useKindWord } from '../../../api/words'
import { Against } from '../../../parts/against'
import { FindingText } from '../../../parts/finding-text'
import { capital } from '../../../parts/format'
import { Chip } from '../../../parts/ui/chips'

type TakeProps = { stage: StageCode; setLine: (line: string) => void }

/** The buttons that begin what a stage offers besides its steps. */
export function TakeButtons({ stage, setLine }: TakeProps) {
  const { data: choices } = useChoices()
  if (!useMay('keepReading')) return null
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label="Take a reading">
      {choices?.takes[stage]?.map((t) => (
        <Chip key={t.line} onClick={() => setLine(t.line)}>
          {t.text}
        </Chip>
      ))}
    </div>
  )
}

type FoundProps = { kinds: ReadingKind[]; assessment: Assessment; bare?: boolean }

/** What the readings of some kinds found, each against its limit; bare where the kind is
 * named already. */
export function Found({ kinds, assessment, bare }: FoundProps) {
  const found = assessment.findings.filter((f) => kinds.includes(f.kind)).sort((a, b) => weight(a) - weight(b))
  if (found.length === 0) return null
  return (
    <ul className={bare ? '' : 'divide-y divide-line border-y border-line'} aria-label="What was found">
      {found.map((f) => (
        <FoundRow key={f.reading} finding={f} bare={bare} />
      ))}
    </ul>
  )
}

/** What lies beyond its limit stands first, what proves nothing yet second. */
function weight(f: Finding): number {
  if (!f.valid) return 1
  return f.margin && f.margin.value < 0 ? 0 : 2
}

function FoundRow({ finding, bare }: { finding: Finding; bare?: boolean }) {
  const word = useKindWord()
  return (
    <li className={bare ? 'py-1' : 'grid gap-x-4 py-2 md:grid-cols-[9.5rem_1fr]'}>
      {!bare && <span className="text-small font-bold text-lead md:pt-0.5">{capital(word(finding.kind))}</span>}
      <div className="min-w-0">
        <p>
          <FindingText finding={finding} />
        </p>
        {(finding.more ?? []).map((m) => (
          <p key={m.code} className="text-lead">
            {m.text}
          </p>
        ))}
        <Against finding={finding} />
        {finding.way_out && <p className="text-small">{finding.way_out.text}</p>}
      </div>
    </li>
  )
}

/** What always holds: there to be read the first time on a job, a tap away from then on. A
 * stop rule stands elsewhere and is never folded away. */
export function Cautions({ page, first }: { page: JobPage; first?: boolean }) {
  return (
    <details open={first}>
      <summary className="min-h-fold py-1.5 text-small font-bold text-lead">Cautions for this work</summary>
      <CautionList page={page} />
    </details>
  )
}

function CautionList({ page }: { page: JobPage }) {
  return (
    <ul className="grid gap-1.5" aria-label="Cautions">
      {page.cautions
        .filter((c) => !c.stops)
        .map((c) => (
          <li key={c.id} className="rounded-part bg-paper px-3 py-1.5 text-small">
            {c.text}
          </li>
        ))}
    </ul>
  )
}
