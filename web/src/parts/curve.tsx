// The picture of a sum: few ticks, names on the lines themselves, a mark where
// the inputs lie.
import { scaleLinear } from 'd3-scale'
import { area, line as pathOf } from 'd3-shape'
import type { Curve } from '../api/types'
import { Hatch } from './hatch'
import { useWidth } from './width'

type Point = [number, number]

/** Where a line's name stands instead of its usual place: at a share of its way, or
 * beside its end. */
export type NamePlace = number | 'beside'

const height = 250
const box = { left: 58, right: 16, top: 26, bottom: 40 }

type Props = { curve: Curve; title: string; places?: NamePlace[] }

export function CurvePicture({ curve, title, places = [] }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(560)
  const lines = (curve.lines ?? []).map((l) => ({
    ...l,
    points: (l.points ?? []) as unknown as Point[],
    upper: (l.upper ?? []) as unknown as Point[],
  }))
  const marks = (curve.marks ?? []) as unknown as Point[]
  const all = [...marks, ...lines.flatMap((l) => [...l.points, ...l.upper])]
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])]
  const x = scaleLinear([Math.min(...xs), Math.max(...xs)], [box.left, width - box.right])
  const y = scaleLinear([Math.min(...ys), Math.max(...ys)], [height - box.bottom, box.top]).nice(5)
  const path = pathOf<Point>(
    (p) => x(p[0]),
    (p) => y(p[1]),
  )
  return (
    <div ref={ref} className="min-w-0 overflow-hidden">
      <svg width={width} height={height} role="img" aria-label={describe(title, curve, marks)}>
        <defs>
          <Hatch id="band" />
        </defs>
        <text x={box.left - 8} y={14} textAnchor="end" className="fill-lead text-small">
          {curve.y_unit}
        </text>
        {y.ticks(5).map((v) => (
          <g key={v}>
            <path d={`M${box.left} ${y(v)}H${width - box.right}`} className="stroke-line" />
            <text x={box.left - 9} y={y(v) + 5} textAnchor="end" className="num fill-ink text-tick">
              {said(v)}
            </text>
          </g>
        ))}
        {x.ticks(width < 420 ? 4 : 6).map((v) => (
          <text key={v} x={x(v)} y={height - box.bottom + 20} textAnchor="middle" className="num fill-ink text-tick">
            {said(v)}
          </text>
        ))}
        <text x={width - box.right} y={height - 4} textAnchor="end" className="fill-lead text-small">
          {curve.x_unit}
        </text>
        {lines.map((l) =>
          l.upper.length > 0 ? (
            <path key={`band-${l.label}`} d={band(l.points, l.upper, x, y)} className="fill-verdigris-wash" />
          ) : (
            <path
              key={`line-${l.label}`}
              d={path(l.points) ?? ''}
              fill="none"
              className={l.limit ? 'stroke-oxide' : 'stroke-ink'}
              strokeWidth="2.4"
            />
          ),
        )}
        {lines.map((l, i) => (
          <Name
            key={`name-${l.label}`}
            text={l.label}
            at={
              places[i] === 'beside'
                ? besideEnd(l.points, x, y)
                : namePlace(l.points, l.upper, places[i] ?? (i + 1) / (lines.length + 1), x, y, width)
            }
            limit={!!l.limit}
          />
        ))}
        {marks.map((p, i) => (
          <g key={i}>
            <path
              d={`M${x(p[0])} ${height - box.bottom}V${y(p[1])}`}
              className="stroke-ink"
              strokeDasharray="1.5 5"
              strokeWidth="1.8"
            />
            <circle cx={x(p[0])} cy={y(p[1])} r="6" className="fill-sheet stroke-ink" strokeWidth="3" />
          </g>
        ))}
      </svg>
    </div>
  )
}

type Scale = (value: number) => number

function band(points: Point[], upper: Point[], x: Scale, y: Scale): string {
  const rows = points.map((p, i) => [p[0], p[1], upper[i]?.[1] ?? p[1]] as const)
  return (
    area<readonly [number, number, number]>()
      .x((r) => x(r[0]))
      .y0((r) => y(r[1]))
      .y1((r) => y(r[2]))(rows) ?? ''
  )
}

/** The point at a share of the way along a line. */
function between(points: Point[], share: number): Point {
  const at = share * (points.length - 1)
  const a: Point = points[Math.floor(at)] ?? [0, 0]
  const b: Point = points[Math.ceil(at)] ?? a
  const part = at - Math.floor(at)
  return [a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])]
}

/** Where a line's name stands: above it, each at another place along the way. */
function namePlace(points: Point[], upper: Point[], share: number, x: Scale, y: Scale, width: number) {
  const along = between(points, share)
  const top = upper.length > 0 ? between(upper, share) : along
  const at = x(along[0])
  const anchor = at > width - 110 ? ('end' as const) : at < box.left + 40 ? ('start' as const) : ('middle' as const)
  return { x: at, y: Math.max(14, y(top[1]) - 9), anchor }
}

function besideEnd(points: Point[], x: Scale, y: Scale) {
  const [a, b] = points.at(-1) ?? [0, 0]
  return { x: x(a) + 8, y: y(b), anchor: 'start' as const }
}

function Name({
  text,
  at,
  limit,
}: {
  text: string
  at: { x: number; y: number; anchor: 'start' | 'middle' | 'end' }
  limit: boolean
}) {
  return (
    <text
      x={at.x}
      y={at.y}
      textAnchor={at.anchor}
      paintOrder="stroke"
      strokeWidth="4"
      strokeLinejoin="round"
      className={`stroke-sheet text-small ${limit ? 'fill-oxide-text' : 'fill-ink'}`}
    >
      {text}
    </text>
  )
}

/** A tick with as many decimals as it has. */
function said(v: number): string {
  return String(Math.round(v * 1000) / 1000).replace('-', '−')
}

function describe(title: string, curve: Curve, marks: Point[]): string {
  const names = (curve.lines ?? []).map((l) => l.label).join(', ')
  const at = marks.map((p) => `${said(p[1])} ${curve.y_unit} at ${said(p[0])} ${curve.x_unit}`).join(', ')
  return `${title}: ${names} in ${curve.y_unit} over ${curve.x_unit}. ${at}`
}
