// The circuit around the battery: its joints and cables as they are measured while
// it cranks or charges, each with the drop found there. Each joint is a button of
// the list under the drawing as well.
import type { Assessment, BatteryOnJob, JobPage } from '../../api/types'
import { useWord } from '../../api/words'
import { volts } from '../../parts/format'
import { Chip } from '../../parts/ui/chips'

type Joint = { code: string; x: number; y: number; charging?: boolean }

/** Where each joint lies on the drawing. */
const joints: Joint[] = [
  { code: 'positive_clamp', x: 150, y: 62 },
  { code: 'positive_cable', x: 262, y: 34 },
  { code: 'starter_stud', x: 392, y: 62 },
  { code: 'negative_clamp', x: 74, y: 62 },
  { code: 'negative_cable', x: 74, y: 178 },
  { code: 'ground_strap', x: 262, y: 204 },
  { code: 'charge_positive', x: 300, y: 88, charging: true },
  { code: 'charge_negative', x: 300, y: 164, charging: true },
]

const wholes = ['whole_positive', 'whole_negative']

type Props = {
  page: JobPage
  battery: BatteryOnJob
  assessment: Assessment
  setLine: (line: string) => void
}

export function Circuit({ page, battery, assessment, setLine }: Props) {
  const word = useWord()
  const found = drops(battery, assessment)
  const positive = page.vehicle?.earth === 'positive'
  // On a positive-earth vehicle the words change places, not the picture.
  const plus = positive ? '−' : '+'
  const minus = positive ? '+' : '−'
  const take = (code: string) =>
    setLine(`drop ${code.replaceAll('_', ' ')} ${code.startsWith('charge') ? 'charging ' : ''}`)
  return (
    <section aria-label="Drops over the joints">
      <h2 className="text-small font-bold text-lead">Drops over the joints: tap one, then type the volts</h2>
      <div className="grid items-center gap-3 md:grid-cols-[minmax(0,24rem)_1fr]">
        <svg viewBox="0 0 480 240" className="w-full" role="img" aria-label={said(found, word)}>
          <g fill="none" strokeLinecap="round" strokeLinejoin="round" className="stroke-ink" strokeWidth="2.4">
            <path d="M150 62C170 26 360 26 392 62" strokeWidth="5" />
            <path d="M74 62v116c0 16 12 26 40 26h210c40 0 68-20 68-56v-20" strokeWidth="5" strokeDasharray="14 7" />
            <path d="M150 66c40 22 96 22 150 22M74 150c60 14 150 14 226 14" className="stroke-lead" />
            <rect x="44" y="72" width="136" height="66" rx="8" className="fill-paper" />
            <circle cx="392" cy="98" r="34" className="fill-paper" />
            <circle cx="300" cy="126" r="38" className="fill-paper" />
          </g>
          <g className="fill-lead text-small max-md:text-body" textAnchor="middle">
            <text x="112" y="110" className="fill-ink font-bold">
              battery
            </text>
            <text x="74" y="94" className="fill-ink text-sign font-bold">
              {minus}
            </text>
            <text x="150" y="94" className="fill-ink text-sign font-bold">
              {plus}
            </text>
            <text x="392" y="103">
              starter
            </text>
            <text x="300" y="131">
              alternator
            </text>
            <text x="190" y="230">
              body and engine
            </text>
          </g>
          {joints.map((j) => (
            <JointMark key={j.code} joint={j} drop={found[j.code]} take={() => take(j.code)} />
          ))}
        </svg>
        <ul className="flex flex-wrap gap-1.5" aria-label="Joints">
          {[...joints.map((j) => j.code), ...wholes].map((code) => (
            <li key={code}>
              <Chip onClick={() => take(code)}>
                <span>
                  {word(code)}
                  {found[code] && (
                    <span
                      className={`num block text-small ${found[code].bad ? 'text-oxide-text' : 'text-verdigris-text'}`}
                    >
                      {volts(found[code].volts)}
                    </span>
                  )}
                </span>
              </Chip>
            </li>
          ))}
        </ul>
      </div>
    </section>
  )
}

type Drop = { volts: number; bad: boolean }

function JointMark({ joint, drop, take }: { joint: Joint; drop?: Drop; take: () => void }) {
  const tone = !drop
    ? 'fill-sheet stroke-lead'
    : drop.bad
      ? 'fill-oxide-wash stroke-oxide'
      : 'fill-verdigris-wash stroke-verdigris'
  return (
    <g onClick={take} className="cursor-pointer" data-joint={joint.code}>
      <circle cx={joint.x} cy={joint.y} r="22" className="fill-transparent" />
      <circle cx={joint.x} cy={joint.y} r="9" className={tone} strokeWidth="2.6" />
      {drop && (
        <text
          x={joint.x + 14}
          y={joint.y - 10}
          className={`num text-small font-bold max-md:text-figure ${drop.bad ? 'fill-oxide-text' : 'fill-verdigris-text'}`}
        >
          {volts(drop.volts)}
        </text>
      )}
    </g>
  )
}

/** The latest drop at each joint, as the findings judge it. */
function drops(battery: BatteryOnJob, assessment: Assessment): Record<string, Drop> {
  const out: Record<string, Drop> = {}
  for (const r of battery.readings) {
    const parts = r.kind === 'drop' && r.counts ? /^drop ([a-z_ ]+?) ([\d.]+) ?V/i.exec(r.canonical) : null
    if (!parts?.[1] || !parts[2]) continue
    const finding = assessment.findings.find((f) => f.reading === r.id)
    const bad = (finding?.margin?.value ?? 0) < 0
    out[parts[1].trim().replaceAll(' ', '_')] = { volts: Number(parts[2]), bad }
  }
  return out
}

function said(found: Record<string, Drop>, word: (code: string) => string): string {
  const list = Object.entries(found).map(([code, d]) => `${word(code)} ${volts(d.volts)}${d.bad ? ', too much' : ''}`)
  return list.length > 0
    ? `Circuit, measured: ${list.join('; ')}`
    : 'Circuit of battery, cables and starter, no drop measured yet'
}
