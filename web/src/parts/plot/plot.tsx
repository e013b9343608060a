// A picture of data: axes with few ticks, what lies in them, names that touch nothing, and
// its values read by keyboard. Everything follows the size of the text.
import { scaleLinear } from 'd3-scale'
import { area as areaOf, line as lineOf } from 'd3-shape'
import { createContext, useContext, useId, useLayoutEffect, useState, type KeyboardEvent, type ReactNode } from 'react'
import { useWidth } from '../width'
import { Hatch } from './hatch'
import { placeNames, type Box, type Name, type Placed, type Point, type Sized, type Spot } from './place'
import { useRem } from '../rem'

type Axis = {
  from: number
  to: number
  /** What is counted, and in what. */
  name: string
  ticks?: number
  /** Where the ticks are, instead of where they come out even. */
  at?: number[]
  /** Rounds the ends to its ticks. */
  nice?: boolean
  say?: (value: number) => string
}

export type Area = {
  x: (value: number) => number
  y: (value: number) => number
  left: number
  right: number
  top: number
  bottom: number
  width: number
  /** The size of text, in pixels. */
  rem: number
  narrow: boolean
  /** An id of this picture alone. */
  id: (name: string) => string
  /** Writes below the picture what has no room in it. */
  below: (text: string) => void
}

const Here = createContext<Area | null>(null)

/** The area that is drawn in. */
export function useArea(): Area {
  const area = useContext(Here)
  if (!area) throw new Error('outside of a plot')
  return area
}

/** A line or a band whose values are read by keyboard. */
export type Readable = { name: string; points: readonly Point[]; upper?: readonly Point[] }

type Props = {
  /** What it shows, for whoever does not see it. */
  says: string
  x: Axis
  /** None for a scale that lies by itself. */
  y?: Axis
  /** Its height, in sizes of text. */
  height: number
  reads?: Readable[]
  children: (area: Area) => ReactNode
}

/** The room above, below and left of what is drawn, in sizes of text. */
const [top, foot, side] = [1.7, 2.9, 3.3]

export function Plot({ says, x, y, height, reads, children }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(690)
  const own = useId()
  const rem = useRem()
  const tall = height * rem
  const [left, right, bottom] = [y ? side * rem : 1, width - 0.8 * rem, tall - foot * rem]
  const across = scaleLinear([x.from, x.to], [left, right])
  const up = scaleLinear([y?.from ?? 0, y?.to ?? 1], [bottom, top * rem])
  if (y?.nice) up.nice(y.ticks)
  const id = (name: string) => `${own}-${name}`
  const [under, below] = useState('')
  const area: Area = {
    x: across,
    y: up,
    left,
    right,
    top: top * rem,
    bottom,
    width,
    rem,
    narrow: width < 32 * rem,
    id,
    below,
  }
  const cursor = useCursor(reads, x)
  return (
    <div ref={ref} className="min-w-0 overflow-hidden">
      <svg
        width={width}
        height={tall}
        role="img"
        aria-label={says}
        tabIndex={reads ? 0 : undefined}
        onKeyDown={cursor.press}
        onBlur={cursor.leave}
        className="block"
      >
        <defs>
          <Hatch id={id('hatch')} />
          <clipPath id={id('inside')}>
            <rect x={left} y={area.top} width={Math.max(0, right - left)} height={Math.max(0, bottom - area.top)} />
          </clipPath>
        </defs>
        <Here.Provider value={area}>
          {y && <Rows axis={y} at={up.ticks(y.ticks ?? 5)} />}
          {y && (
            <Columns
              axis={x}
              at={apart(x.at ?? across.ticks(area.narrow ? 4 : (x.ticks ?? 6)), across, x.say ?? figure, rem)}
            />
          )}
          {children(area)}
          {cursor.at !== null && (
            <path
              d={`M${across(cursor.at)} ${area.top}V${bottom}`}
              className="stroke-focus"
              strokeWidth="2"
              strokeDasharray="4 3"
            />
          )}
        </Here.Provider>
      </svg>
      {under !== '' && <p className="text-small text-lead">{under}</p>}
      {reads && (
        <p aria-live="polite" className={cursor.at === null ? 'sr-only' : 'num text-small'}>
          {cursor.at === null ? '' : valuesAt(reads, cursor.at, x, y)}
        </p>
      )}
    </div>
  )
}

function Rows({ axis, at }: { axis: Axis; at: number[] }) {
  const { y, left, right, rem } = useArea()
  return (
    <>
      {/* A name with words begins at the edge: it has no room before the axis. */}
      <text
        x={axis.name.length > 4 ? 2 : left - 0.4 * rem}
        y={0.9 * rem}
        textAnchor={axis.name.length > 4 ? 'start' : 'end'}
        className="fill-lead text-small"
      >
        {axis.name}
      </text>
      {at.map((v) => (
        <g key={v}>
          <path d={`M${left} ${y(v)}H${right}`} className="stroke-line" />
          <text x={left - 0.55 * rem} y={y(v) + 0.32 * rem} textAnchor="end" className="num fill-ink text-tick">
            {(axis.say ?? figure)(v)}
          </text>
        </g>
      ))}
    </>
  )
}

function Columns({ axis, at }: { axis: Axis; at: number[] }) {
  const { x, right, bottom, rem } = useArea()
  return (
    <>
      {at.map((v) => (
        <text key={v} x={x(v)} y={bottom + 1.25 * rem} textAnchor="middle" className="num fill-ink text-tick">
          {(axis.say ?? figure)(v)}
        </text>
      ))}
      <text x={right} y={bottom + 2.5 * rem} textAnchor="end" className="fill-lead text-small">
        {axis.name}
      </text>
    </>
  )
}

/** Points of the data where they are drawn. */
export function onArea(points: readonly Point[], { x, y }: Pick<Area, 'x' | 'y'>): Point[] {
  return points.map(([a, b]) => [x(a), y(b)])
}

/** A tick with as many decimals as it has. */
export function figure(v: number): string {
  return String(Math.round(v * 1000) / 1000).replace('-', '−')
}

type Tone = 'ink' | 'lead' | 'verdigris' | 'marigold' | 'oxide'

const strokes: Record<Tone, string> = {
  ink: 'stroke-ink',
  lead: 'stroke-lead',
  verdigris: 'stroke-verdigris',
  marigold: 'stroke-marigold',
  oxide: 'stroke-oxide',
}

/** Between two lines: a wash, or hatched where nothing is proved. */
export function Band({
  lower,
  upper,
  hatched,
  danger,
}: {
  lower: readonly Point[]
  upper: readonly Point[]
  hatched?: boolean
  danger?: boolean
}) {
  const { x, y, id } = useArea()
  const rows = lower.map((p, i) => [p[0], p[1], upper[i]?.[1] ?? p[1]] as const)
  const shape = areaOf<readonly [number, number, number]>()
    .x((r) => x(r[0]))
    .y0((r) => y(r[1]))
    .y1((r) => y(r[2]))
  return (
    <path
      d={shape(rows) ?? ''}
      // A band that leaves the picture would cover the values below it.
      clipPath={`url(#${id('inside')})`}
      className={hatched ? '' : danger ? 'fill-oxide-wash' : 'fill-verdigris-wash'}
      fill={hatched ? `url(#${id('hatch')})` : undefined}
    />
  )
}

type CurvedProps = { points: readonly Point[]; tone?: Tone; broken?: boolean; fine?: boolean }

/** A line through points; broken where it is worked out rather than measured, fine for very many. */
export function Curved({ points, tone = 'ink', broken, fine }: CurvedProps) {
  const { x, y } = useArea()
  const shape = lineOf<Point>(
    (p) => x(p[0]),
    (p) => y(p[1]),
  )
  return (
    <path
      d={shape([...points]) ?? ''}
      fill="none"
      className={strokes[tone]}
      strokeWidth={fine ? 1.1 : broken ? 1.8 : 2.4}
      strokeDasharray={broken ? '7 5' : undefined}
    />
  )
}

/** Where a value stands, from the foot up to it. */
export function Drop({ at, to, now }: { at: number; to?: number; now?: boolean }) {
  const { x, y, top, bottom } = useArea()
  return (
    <path
      d={`M${x(at)} ${to === undefined ? top : y(to)}V${bottom}`}
      className={now ? 'stroke-oxide' : 'stroke-ink'}
      strokeDasharray={now ? undefined : '1.5 5'}
      strokeWidth="1.8"
    />
  )
}

/** A limit: a level that is not to be passed. */
export function Limit({ at }: { at: number }) {
  const { y, left, right } = useArea()
  return <path d={`M${left} ${y(at)}H${right}`} className="stroke-oxide" strokeWidth="2" />
}

/** A measured point, with its error. */
export function Mark({ at: [a, b], error = 0, tone = 'ink' }: { at: Point; error?: number; tone?: Tone }) {
  const { x, y } = useArea()
  const [cx, high, low] = [x(a), y(b + error), y(b - error)]
  return (
    <g>
      {error > 0 && (
        <path
          d={`M${cx} ${high}V${low}M${cx - 5} ${high}h10M${cx - 5} ${low}h10`}
          className="stroke-ink"
          strokeWidth="1.6"
        />
      )}
      <circle cx={cx} cy={y(b)} r="6" className={`fill-sheet ${strokes[tone]}`} strokeWidth="3" />
    </g>
  )
}

type NamesProps = {
  list: Name[]
  taken: Box[]
  frame?: Box
  /** Names without room are left out: the picture is plain without them. */
  spare?: boolean
}

/** Names on what is drawn: none touches another or anything in the way; those that have no
 * room stand below the picture. */
export function Names({ list, taken, frame, spare }: NamesProps) {
  const { left, width, top, bottom, rem } = useArea()
  const measure = useMeasure(rem)
  const all = frame ?? { left: left + 1, top: Math.min(top, 0.2 * rem), right: width - 2, bottom }
  const placed = placeNames(list, taken, all, measure)
  return (
    <>
      {placed.map((name, i) => name.at && <Written key={i} name={name} at={name.at} />)}
      {!spare && <Left names={placed.filter((n) => !n.at)} />}
    </>
  )
}

function Written({ name, at }: { name: Placed; at: Spot }) {
  return (
    <text
      transform={`translate(${at.x} ${at.y})${at.turn ? ` rotate(${at.turn})` : ''}`}
      textAnchor={at.anchor}
      className={`text-small ${name.tone ?? 'fill-ink'}`}
    >
      {name.figure && (
        <tspan className={name.light ? 'num fill-ink text-tick' : 'num fill-ink text-body font-bold'}>
          {name.figure}
        </tspan>
      )}
      {name.figure && name.text && ' '}
      {name.text}
    </text>
  )
}

/** Names without room: in a row below the picture. */
function Left({ names }: { names: Placed[] }) {
  const { below } = useArea()
  const text = names.map((n) => [n.figure, n.text].filter(Boolean).join(' ')).join(' · ')
  useLayoutEffect(() => {
    below(text)
    return () => below('')
  }, [below, text])
  return null
}

/** Those ticks whose figures do not touch: every second, every fourth, as many as have
 * room. */
function apart(ticks: number[], at: (v: number) => number, say: (v: number) => string, rem: number): number[] {
  const widest = Math.max(...ticks.map((v) => say(v).length)) * 0.62 * 0.90625 * rem + 0.5 * rem
  let list = ticks
  while (list.length > 2 && Math.abs(at(list[1] ?? 0) - at(list[0] ?? 0)) < widest) {
    list = list.filter((_, i) => i % 2 === 0)
  }
  return list
}

const canvas = document.createElement('canvas').getContext('2d')

/** How large a name is as it is written: measured in its own font. */
function useMeasure(rem: number): (name: Name) => Sized {
  const [, ready] = useState(false)
  useLayoutEffect(() => {
    // Before its font is there a text has another width.
    void document.fonts.ready.then(() => ready(true))
  }, [])
  return ({ figure: bold = '', text, light }) => {
    const size = 0.84375 * rem
    const height = (bold === '' ? size : rem) * 1.2
    if (!canvas) return { width: (text.length + bold.length * 1.3) * size * 0.55, height }
    canvas.font = `${size}px "Atkinson Hyperlegible", system-ui, sans-serif`
    const words = canvas.measureText(bold === '' ? text : ` ${text}`).width
    canvas.font = `${light ? `${0.90625 * rem}px` : `bold ${rem}px`} "Atkinson Hyperlegible Mono", ui-monospace, monospace`
    return { width: words + (bold === '' ? 0 : canvas.measureText(bold).width), height }
  }
}

/** How many steps the arrow keys go through a picture in. */
const steps = 24

function useCursor(reads: Readable[] | undefined, axis: Axis) {
  const [step, setStep] = useState<number | null>(null)
  const at = step === null ? null : axis.from + ((axis.to - axis.from) * step) / steps
  const press = (event: KeyboardEvent) => {
    if (!reads) return
    const to = {
      ArrowRight: Math.min(steps, (step ?? -1) + 1),
      ArrowLeft: Math.max(0, (step ?? steps + 1) - 1),
      Home: 0,
      End: steps,
      Escape: null,
    }[event.key]
    if (to === undefined) return
    event.preventDefault()
    setStep(to)
  }
  return { at, press, leave: () => setStep(null) }
}

function valuesAt(reads: Readable[], at: number, x: Axis, y?: Axis): string {
  const say = y?.say ?? figure
  const parts = reads.flatMap((r) => {
    const [low, high] = [valueAt(r.points, at), r.upper && valueAt(r.upper, at)]
    if (low === undefined) return []
    return [`${r.name} ${high === undefined ? say(round(low)) : `${say(round(low))} to ${say(round(high))}`}`]
  })
  return `${(x.say ?? figure)(round(at))} ${x.name}: ${parts.join('; ') || 'nothing here'}${y ? `, in ${y.name}` : ''}`
}

function round(v: number): number {
  return Number(v.toPrecision(4))
}

/** The value of a line at a place, between its points. */
function valueAt(points: readonly Point[], at: number): number | undefined {
  const i = points.findIndex((p) => p[0] >= at)
  const [b, a] = [points[i], points[i - 1]]
  if (!b) return undefined
  if (!a) return b[0] === at ? b[1] : undefined
  return a[1] + ((b[1] - a[1]) * (at - a[0])) / (b[0] - a[0] || 1)
}
