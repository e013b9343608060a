// A scene of the core, drawn: its leads, its parts by their symbols, and where it may be
// tapped. Whatever can be tapped stands in a list beside it as well.
import { useId } from 'react'
import type { Scene, SceneLead, ScenePart } from '../../api/types'
import { useRem } from '../rem'
import { useWidth } from '../width'
import { symbols } from './symbols'

type Props = {
  scene: Scene
  className?: string
  /** What is chosen, by what tapping it means. */
  chosen?: string
  onTap?: (hit: string) => void
  /** Only the part that a narrow screen shows. */
  narrow?: boolean
}

/** The size of what is written in a drawing: that of small text however large the drawing
 * is, within what its parts leave room for, in a scene's own units. */
const written = 0.85
const [leastLetters, mostLetters] = [11, 20]

/** What lies over every lead: the ends that are clamped, and what says where the hand is. */
const onTop = new Set<string>(['marker', 'ring_here', 'clamp_off', 'cover_on'])

export function SceneView({ scene, className = 'w-full', chosen, onTap, narrow }: Props) {
  const [ref, width] = useWidth<SVGSVGElement>(scene.width)
  const whole = [0, 0, scene.width, scene.height]
  const view = narrow && scene.focus[2] ? scene.focus : whole
  const wanted = useRem() * written * ((view[2] ?? scene.width) / Math.max(1, width))
  const letters = Math.min(mostLetters, Math.max(leastLetters, wanted))
  const under = scene.leads.filter((l) => !l.over)
  const over = scene.leads.filter((l) => l.over)
  const uid = useId()
  const part = (p: ScenePart) => (
    <g key={p.id} data-part={p.id} data-state={p.state}>
      {p.symbol && symbols[p.symbol]({ part: p, uid, has: (mark) => p.marks.includes(mark) })}
    </g>
  )
  return (
    <svg ref={ref} viewBox={view.join(' ')} className={className} role="img" aria-label={scene.says.text}>
      <g fill="none" strokeWidth="2.4" strokeLinecap="round" strokeLinejoin="round" fontSize={letters}>
        {under.map((l) => (
          <Lead key={l.id} lead={l} />
        ))}
        {scene.parts.filter((p) => !onTop.has(p.symbol)).map(part)}
        {over.map((l) => (
          <Lead key={l.id} lead={l} />
        ))}
        {scene.parts.filter((p) => onTop.has(p.symbol)).map(part)}
        {scene.parts.map((p) => (
          <Tests key={p.id} part={p} letters={letters} />
        ))}
        {onTap &&
          scene.parts
            .filter((p) => p.hit !== '' && p.w > 0)
            .map((p) => <Hit key={p.id} part={p} chosen={p.hit === chosen} onTap={() => onTap(p.hit)} />)}
      </g>
    </svg>
  )
}

/** The numbers of the steps that are measured at a part: under the corner of a large one,
 * where no cable leaves it, beside a small one. */
function Tests({ part: { x, y, w, h, tests }, letters }: { part: ScenePart; letters: number }) {
  if (tests.length === 0) return null
  const text = tests.join(' ')
  const [wide, tall] = [text.length * letters * 0.62 + 12, letters * 1.5]
  const [left, top] = w > 40 ? [x + w - wide, y + h + 5] : [x - wide + 2, y + h / 2]
  return (
    <>
      <rect x={left} y={top} width={wide} height={tall} rx={tall / 2} className="fill-ink stroke-transparent" />
      <text
        x={left + wide / 2}
        y={top + tall / 2 + 0.5}
        textAnchor="middle"
        dominantBaseline="central"
        className="num fill-sheet stroke-transparent font-bold"
      >
        {text}
      </text>
    </>
  )
}

/** The least side of what is tapped, in a scene's own units. */
const thumb = 40

function Hit({ part, chosen, onTap }: { part: ScenePart; chosen: boolean; onTap: () => void }) {
  const [w, h] = [Math.max(thumb, part.w), Math.max(thumb, part.h)]
  return (
    <rect
      x={part.x + part.w / 2 - w / 2}
      y={part.y + part.h / 2 - h / 2}
      width={w}
      height={h}
      rx="8"
      data-place={part.hit}
      data-joint={part.symbol === 'joint' ? part.hit : undefined}
      onClick={onTap}
      className={`cursor-pointer fill-transparent ${chosen ? 'stroke-focus' : 'stroke-transparent hover:stroke-lead'}`}
      strokeDasharray="5 4"
    />
  )
}

/** A cable, drawn with its cover: plain for plus, striped for minus and the body. */
function Lead({ lead }: { lead: SceneLead }) {
  const points = lead.path as [number, number][]
  const path = lead.loose ? hanging(points) : bent(points)
  const tone = lead.state === 'bad' ? 'stroke-oxide' : 'stroke-ink'
  if (lead.role === 'thin') return <path d={path} className={lead.state === 'bad' ? tone : 'stroke-lead'} />
  if (lead.state === 'faint') {
    const dashes = lead.role === 'plus' ? undefined : '9 6'
    return <path d={path} className="stroke-lead" strokeWidth="5" strokeDasharray={dashes} strokeLinecap="butt" />
  }
  const striped = lead.role !== 'plus'
  return (
    <>
      <path d={path} className={tone} strokeWidth="7" />
      <path d={path} className={striped ? 'stroke-sheet' : 'stroke-lead'} strokeWidth="3.4" />
      {striped && <path d={path} className={tone} strokeWidth="3.4" strokeDasharray="6 6" strokeLinecap="butt" />}
    </>
  )
}

/** A lead that hangs between its ends, pulled by its middle. */
function hanging([from, pull, to]: [number, number][]): string {
  return `M${from?.join(' ')}Q${pull?.join(' ')} ${to?.join(' ')}`
}

/** How far from a bend a lead begins to turn, in a scene's own units. */
const bend = 18

/** A path through points, bent round at each between the first and the last. */
function bent(path: [number, number][]): string {
  const [first, ...rest] = path
  if (!first) return ''
  let d = `M${first.join(' ')}`
  rest.forEach((to, i) => {
    const from = path[i] ?? first
    const after = rest[i + 1]
    if (!after) {
      d += `L${to.join(' ')}`
      return
    }
    d += `L${towards(to, from).join(' ')}Q${to.join(' ')} ${towards(to, after).join(' ')}`
  })
  return d
}

/** A point on the way from a bend to a neighbour of it. */
function towards([x, y]: [number, number], [a, b]: [number, number]): [number, number] {
  const far = Math.hypot(a - x, b - y) || 1
  const part = Math.min(bend, far / 2) / far
  return [x + (a - x) * part, y + (b - y) * part]
}
