// What the symbols have in common: how a state is shown, a sign, a name, and a drawing that
// is scaled into its place with its strokes as wide as everywhere.
import type { ReactNode } from 'react'
import type { ScenePart } from '../../../api/types'

/** The uid is the drawing's own, for what it refers to within itself. */
export type Drawn = { part: ScenePart; uid: string; has: (mark: string) => boolean }

export type Symbol = (drawn: Drawn) => ReactNode

/** How a state is shown: fill and stroke. */
export const looks: Record<ScenePart['state'], string> = {
  '': 'fill-sheet stroke-ink',
  here: 'fill-verdigris-wash stroke-ink',
  off: 'fill-transparent stroke-marigold',
  good: 'fill-verdigris-wash stroke-verdigris',
  bad: 'fill-oxide-wash stroke-oxide',
  found: 'fill-marigold-wash stroke-marigold',
  faint: 'fill-sheet stroke-lead',
}

export const look = (part: ScenePart) => looks[part.state]

export function Sign({ x, y, text, faint }: { x: number; y: number; text: string; faint?: boolean }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      dominantBaseline="central"
      className={`stroke-transparent text-figure font-bold ${faint ? 'fill-lead' : 'fill-ink'}`}
    >
      {text}
    </text>
  )
}

/** The width of every stroke, in a scene's own units. */
const stroke = 2.4

type ScaledProps = { part: ScenePart; size: [number, number]; children: ReactNode }

/** A drawing of a size of its own in the middle of the part's place. */
export function Scaled({ part: { x, y, w, h }, size: [width, height], children }: ScaledProps) {
  const scale = Math.min(w / width, h / height)
  const at = `translate(${x + (w - width * scale) / 2} ${y + (h - height * scale) / 2}) scale(${scale})`
  return (
    <g transform={at} strokeWidth={stroke / scale}>
      {children}
    </g>
  )
}

export function Named({ part, at, away = 0 }: { part: ScenePart; at?: number; away?: number }) {
  if (part.name === '') return null
  return (
    <text
      x={part.x + part.w / 2 + away}
      y={at ?? part.y + part.h * 0.58}
      textAnchor="middle"
      dominantBaseline="central"
      className="fill-lead stroke-transparent"
    >
      {part.name}
    </text>
  )
}
