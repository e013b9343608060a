// What may be taken at a stage: each kind of reading with what it found, against
// its limit, and a button that begins its line.
import { useSearchParams } from 'react-router'
import type { Assessment, Finding, JobPage } from '../../api/types'
import { useKindWord } from '../../api/words'
import { Against } from '../../parts/against'
import { capital } from '../../parts/format'
import { Chip } from '../../parts/ui/chips'

export type Take = { kind: string; line: string; name?: string }

export const takesOf: Record<string, Take[]> = {
  arrive: [
    { kind: 'history', line: 'age ', name: 'Age' },
    { kind: 'history', line: 'stood ', name: 'Where it stood' },
    { kind: 'history', line: 'trips ', name: 'Trips a week' },
    { kind: 'history', line: 'jumps ', name: 'Jump starts' },
    { kind: 'history', line: 'lights left on ', name: 'Left on' },
    { kind: 'history', line: 'standing ', name: 'Days not driven' },
  ],
  charge_state: [{ kind: 'gravity', line: 'sg ' }],
  charge: [{ kind: 'charge_log', line: 'charge ' }],
  crank_power: [
    { kind: 'load', line: 'load ' },
    { kind: 'conductance', line: '' },
    { kind: 'reserve', line: 'reserve ' },
  ],
}

/** The buttons that begin a line of each kind. */
export function TakeButtons({ takes, setLine }: { takes: Take[]; setLine: (line: string) => void }) {
  const word = useKindWord()
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label="Take a reading">
      {takes
        .filter((t) => t.line !== '')
        .map((t) => (
          <Chip key={t.line} onClick={() => setLine(t.line)}>
            {t.name ?? capital(word(t.kind))}
          </Chip>
        ))}
    </div>
  )
}

type FoundProps = { kinds: string[]; assessment: Assessment; bare?: boolean }

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
          {!finding.valid && <span className="font-bold text-marigold-text">Proves nothing yet. </span>}
          {finding.text.text}
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

export function Cautions({ page }: { page: JobPage }) {
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

/** The line that a link brought along: a result of the bench, to be kept. */
export function useBroughtLine(): string {
  const [params] = useSearchParams()
  return params.get('line') ?? ''
}
