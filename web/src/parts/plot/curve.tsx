// The picture of a sum: few ticks, names on the lines themselves, a mark where the inputs
// lie.
import type { Curve } from '../../api/types'
import { around, lineBoxes, spotsAlong, spotsBeside, spotsWithin, type Name, type Point } from './place'
import { Band, Curved, Drop, figure, Mark, Names, onArea, Plot, type Area } from './plot'

/** Where a line's name stands first: at a share of its way, or beside its end. */
type NamePlace = number | 'beside'

/** An upright through the whole picture: now, or when something is reached. */
export type Upright = { at: number; text: string; now?: boolean }

type Props = {
  curve: Curve
  title: string
  places?: NamePlace[]
  uprights?: Upright[]
  /** What was read without a break, as often as it came. */
  runs?: Point[][]
  /** How what lies along the bottom is said, such as a time of the clock. */
  say?: (x: number) => string
}

type Line = { label: string; limit: boolean; points: Point[]; upper: Point[] }

export function CurvePicture({ curve, title, places = [], uprights = [], runs = [], say }: Props) {
  const lines: Line[] = (curve.lines ?? []).map((l) => ({
    label: l.label,
    limit: !!l.limit,
    points: (l.points ?? []) as unknown as Point[],
    upper: (l.upper ?? []) as unknown as Point[],
  }))
  const marks = (curve.marks ?? []) as unknown as Point[]
  const all = [...marks, ...runs.flat(), ...lines.flatMap((l) => [...l.points, ...l.upper])]
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])]
  return (
    <Plot
      says={describe(title, curve, marks)}
      height={15.6}
      x={{ from: Math.min(...xs), to: Math.max(...xs), name: say ? '' : curve.x_unit, say }}
      y={{ from: Math.min(...ys), to: Math.max(...ys), name: curve.y_unit, nice: true }}
      reads={lines.map((l) => ({ name: l.label, points: l.points, upper: l.upper.length > 0 ? l.upper : undefined }))}
    >
      {(area) => (
        <>
          {lines.map((l) =>
            l.upper.length > 0 ? (
              <Band key={l.label} lower={l.points} upper={l.upper} />
            ) : (
              <Curved key={l.label} points={l.points} tone={l.limit ? 'oxide' : 'ink'} />
            ),
          )}
          {runs.map((run) => (
            <Curved key={run[0]?.[0]} points={run} tone="verdigris" fine />
          ))}
          {uprights.map((u) => (u.now ? <Drop key={u.text} at={u.at} now /> : <Drop key={u.text} at={u.at} />))}
          {marks.map((m, i) => (
            <g key={i}>
              <Drop at={m[0]} to={m[1]} />
              <Mark at={m} />
            </g>
          ))}
          <Names
            list={[...lines.map((l, i) => nameOf(l, places[i], area)), ...uprights.map((u) => uprightName(u, area))]}
            taken={[
              ...lines.filter((l) => l.upper.length === 0).flatMap((l) => lineBoxes(onArea(l.points, area))),
              ...marks.map((m) => around([[area.x(m[0]), area.y(m[1])]], 9)),
              ...uprights.flatMap((u) => lineBoxes(upright(u, area))),
            ]}
          />
        </>
      )}
    </Plot>
  )
}

/** An upright as a line of the picture. */
function upright({ at }: Upright, { x, top, bottom }: Area): Point[] {
  return [0, 0.25, 0.5, 0.75, 1].map((share) => [x(at), top + share * (bottom - top)])
}

/** An upright's name beside its top, on the side where there is room. */
function uprightName(u: Upright, area: Area): Name {
  const x = area.x(u.at)
  const down = [0.9, 2.1, 3.3].map((n) => area.top + n * area.rem)
  return {
    text: u.text,
    tone: u.now ? 'fill-oxide-text' : undefined,
    spots: down.flatMap((y) => [
      { x: x + 6, y, anchor: 'start' as const },
      { x: x - 6, y, anchor: 'end' as const },
    ]),
  }
}

function nameOf(line: Line, place: NamePlace | undefined, area: Area): Name {
  const height = area.rem
  const along = onArea(line.upper.length > 0 ? line.upper : line.points, area)
  const end = along.at(-1) ?? [0, 0]
  const share = typeof place === 'number' ? along[Math.round(place * (along.length - 1))] : undefined
  const first =
    place === 'beside'
      ? spotsBeside(end, height)
      : share
        ? [{ x: share[0], y: share[1] - 9, anchor: 'middle' as const }]
        : []
  const inside = line.upper.length > 0 ? spotsWithin(middleOf(line, area), height) : []
  return {
    text: line.label,
    tone: line.limit ? 'fill-oxide-text' : undefined,
    spots: [
      ...first,
      ...spotsAlong(along, height),
      ...inside,
      ...spotsAlong(along, height, false),
      ...spotsBeside(end, height),
    ],
  }
}

/** The middle of a band. */
function middleOf(line: Line, area: Area): Point[] {
  return onArea(
    line.points.map((p, i) => [p[0], (p[1] + (line.upper[i]?.[1] ?? p[1])) / 2] as const),
    area,
  )
}

function describe(title: string, curve: Curve, marks: Point[]): string {
  const names = (curve.lines ?? []).map((l) => l.label).join(', ')
  const at = marks.map((p) => `${figure(p[1])} ${curve.y_unit} at ${figure(p[0])} ${curve.x_unit}`).join(', ')
  return `${title}: ${names} in ${curve.y_unit} over ${curve.x_unit}. ${at}`
}
