// Amperes across, volts up: where a sound battery of this label would lie, the limit at
// this temperature, and what was measured.
import type { Picture } from '../../../api/types'
import { useWord } from '../../../api/words'
import { thin, volts } from '../../../parts/format'
import {
  around,
  lineBoxes,
  spotsAlong,
  spotsBeside,
  spotsWithin,
  type Box,
  type Name,
  type Point,
} from '../../../parts/plot/place'
import {
  Band,
  Curved,
  Drop,
  Mark,
  Names,
  onArea,
  Plot,
  useArea,
  type Area,
  type Readable,
} from '../../../parts/plot/plot'

type Load = Picture['loads'][number]

type Bands = Picture['expected']['bands'][number]

type Drawn = Pick<Bands, 'code' | 'points'> & { hatched: boolean; low: Point[]; high: Point[] }

export function LoadPicture({ picture }: { picture: Picture }) {
  const word = useWord()
  const scale = axes(picture)
  if (!scale) return null
  const bands = drawn(picture)
  const { fit } = picture.expected
  const { amps } = picture.plan
  const across = { from: 0, to: scale.most, name: `amperes drawn for ${picture.plan.seconds}${thin}s`, ticks: 5 }
  return (
    <>
      <Plot
        says={describe(picture)}
        height={19}
        x={across}
        y={{ from: scale.lowest, to: scale.highest, name: 'volts', ticks: 6 }}
        reads={readable(bands, picture, word)}
      >
        {(area) => (
          <>
            {bands.map((b) => (
              <Band key={b.code} lower={b.low} upper={b.high} hatched={b.hatched} />
            ))}
            {amps != null && <Drop at={amps} to={picture.plan.limit.value} />}
            <Least picture={picture} />
            {fit && <Curved points={straight(picture)} broken />}
            <Rested picture={picture} />
            {picture.loads.map((load) => (
              <Measured key={load.reading} load={load} />
            ))}
            <Names list={names(picture, bands, area, word)} taken={taken(picture, area)} />
          </>
        )}
      </Plot>
      {fit && <p className="mt-1 text-small">{fit.text.text}</p>}
    </>
  )
}

/** The bands, full first; hatched is one at a charge where a fail proves nothing. */
function drawn(picture: Picture): Drawn[] {
  return picture.expected.bands.map((b) => ({
    code: b.code,
    points: b.points,
    hatched: b.code === 'sound_now' && !picture.plan.fail_proves,
    low: b.points.map((p) => [p.amps, p.low]),
    high: b.points.map((p) => [p.amps, p.high]),
  }))
}

function axes(picture: Picture) {
  const rows = picture.scale
  const full = rows[rows.length - 1]
  if (!full) return null
  const { amps, limit } = picture.plan
  const cell = full.volts / 12.65
  return {
    most: Math.max(amps ?? 0, ...picture.loads.map((l) => l.amps), 40) * 1.24,
    lowest: Math.min(limit.value - 1.2 * cell, ...picture.loads.map((l) => l.volts - 0.4 * cell)),
    highest: Math.max(full.volts + 0.35 * cell, picture.rested?.volts ?? 0, (picture.unrested?.volts ?? 0) + 0.1),
  }
}

/** The straight line through what was measured. */
function straight(picture: Picture): Point[] {
  const { fit } = picture.expected
  if (!fit) return []
  return [
    [0, fit.from],
    [fit.to, fit.from - fit.ohms * fit.to],
  ]
}

function readable(bands: Drawn[], picture: Picture, word: (code: string) => string): Readable[] {
  const lines = bands.map((b) => ({ name: word(b.code), points: b.low, upper: b.high }))
  const fit = straight(picture)
  return fit.length > 0 ? [...lines, { name: 'through what was measured', points: fit }] : lines
}

/** From where on the limit is drawn: about the current it is asked at. */
function leastFrom(picture: Picture): number {
  return (picture.plan.amps ?? 0) * 0.86
}

function Least({ picture }: { picture: Picture }) {
  const { x, y, right } = useArea()
  return (
    <path
      d={`M${x(leastFrom(picture))} ${y(picture.plan.limit.value)}H${right}`}
      className="stroke-oxide"
      strokeWidth="2.6"
    />
  )
}

function Rested({ picture }: { picture: Picture }) {
  const point = picture.rested ?? picture.unrested
  return point && <Mark at={[0, point.volts]} tone={picture.rested ? 'ink' : 'marigold'} />
}

/** How far the current of a load may be off, twice its error. */
function spreadOf(load: Load): Point[] {
  return [
    [load.amps - 2 * load.amps_sigma, load.volts],
    [load.amps + 2 * load.amps_sigma, load.volts],
  ]
}

function Measured({ load }: { load: Load }) {
  const { x, y, right } = useArea()
  const spread = `M${x(load.amps - 2 * load.amps_sigma)} ${y(load.volts)}H${Math.min(right, x(load.amps + 2 * load.amps_sigma))}`
  return (
    <g opacity={load.current ? 1 : 0.5}>
      {load.from > 0 && !load.current && (
        <Curved
          points={[
            [0, load.from],
            [load.amps, load.volts],
          ]}
          broken
        />
      )}
      <path d={spread} className="stroke-ink" strokeWidth="1.6" />
      <Mark at={[load.amps, load.volts]} error={2 * load.volts_sigma} tone={load.valid ? 'ink' : 'marigold'} />
    </g>
  )
}

/** Every name in the picture, the weightiest first: the limit, what was measured, what was
 * asked, then the bands. */
function names(picture: Picture, bands: Drawn[], area: Area, word: (code: string) => string): Name[] {
  const { x, y, rem, bottom, right } = area
  const { limit, amps } = picture.plan
  // The limit first: what is measured is held against it.
  const list: Name[] = []
  const warm = limit.at_c == null ? 'least, if warm' : `least at ${Math.round(limit.at_c)}${thin}°C`
  const level = y(limit.value)
  list.push({
    figure: volts(limit.value),
    text: limit.note ? `${warm}, the shop’s own` : warm,
    tone: 'fill-oxide-text',
    spots: [
      { x: right, y: level - 0.5 * rem, anchor: 'end' },
      { x: right, y: level + 1.2 * rem, anchor: 'end' },
      { x: right, y: level + 2.5 * rem, anchor: 'end' },
      { x: right, y: level - 1.8 * rem, anchor: 'end' },
      // Before the line where behind it there is no room.
      { x: x(leastFrom(picture)) - 6, y: level + 0.3 * rem, anchor: 'end' },
      { x: x(leastFrom(picture)) - 6, y: level + 1.2 * rem, anchor: 'end' },
    ],
  })
  const latest = [...picture.loads].sort((a, b) => Number(b.current) - Number(a.current))
  list.push(
    ...latest.map((load) => ({
      figure: volts(load.volts),
      text: outcome(load),
      tone: toneOf(load),
      spots: [14, 26, 40].flatMap((away) => spotsBeside([x(load.amps), y(load.volts)], rem, away)),
    })),
  )
  const rested = picture.rested ?? picture.unrested
  if (rested) {
    const text = picture.rested ? '' : 'not rested'
    list.push({
      figure: volts(rested.volts),
      text,
      tone: 'fill-marigold-text',
      spots: spotsBeside([x(0), y(rested.volts)], rem, 14),
    })
  }
  if (amps != null) {
    const at = x(amps)
    const spots = [6, -6, 6, -6].map((away, i) => ({
      x: at + away,
      y: bottom - (i < 2 ? 0.5 : 1.8) * rem,
      anchor: away > 0 ? ('start' as const) : ('end' as const),
    }))
    list.push({ figure: `${amps}${thin}A`, text: 'asked', spots })
  }
  const fit = picture.expected.fit
  if (fit) {
    const along = onArea(straight(picture), area)
    list.push({ text: `${(fit.ohms * 1000).toFixed(1)}${thin}mΩ`, spots: spotsAlong(along, rem) })
  }
  for (const b of bands) {
    const edge = onArea(b.hatched ? b.low : b.high, area)
    const inside = b.points.map((p): Point => [x(p.amps), y((p.low + p.high) / 2)])
    list.push({
      text: word(area.narrow ? `${b.code}_short` : b.code),
      tone: b.hatched ? 'fill-marigold-text' : 'fill-verdigris-text',
      spots: [...spotsAlong(edge, rem), ...spotsWithin(inside, rem)],
    })
  }
  return list
}

/** What no name may touch: points, the lines through them, the limit. */
function taken(picture: Picture, area: Area): Box[] {
  const { x, y, right, bottom } = area
  const { amps } = picture.plan
  const rested = picture.rested ?? picture.unrested
  const points: Point[] = picture.loads.map((l) => [x(l.amps), y(l.volts)])
  if (rested) points.push([x(0), y(rested.volts)])
  const level = y(picture.plan.limit.value)
  return [
    ...points.map((p) => around([p], 9)),
    ...picture.loads.flatMap((l) => lineBoxes(spreadOf(l).map(([a, v]): Point => [Math.min(right, x(a)), y(v)]))),
    ...(amps == null
      ? []
      : lineBoxes([
          [x(amps), y(picture.plan.limit.value)],
          [x(amps), bottom],
        ])),
    ...lineBoxes(onArea(straight(picture), area)),
    ...lineBoxes([
      [x(leastFrom(picture)), level],
      [right, level],
    ]),
  ]
}

function outcome(load: Load): string {
  if (!load.current) return 'before the charge'
  if (!load.valid) return 'proves nothing yet'
  return load.outcome === 'pass' ? 'passed' : 'failed'
}

function toneOf(load: Load): string {
  if (!load.valid) return 'fill-marigold-text'
  return load.outcome === 'pass' ? 'fill-verdigris-text' : 'fill-oxide-text'
}

function describe(picture: Picture): string {
  const { plan } = picture
  const loads = picture.loads.map(
    (l) => `${l.amps} A left ${volts(l.volts)}, ${l.outcome}${l.valid ? '' : ', proves nothing yet'}`,
  )
  const ask =
    plan.amps == null
      ? 'The rating is not known'
      : `${plan.amps} A for ${plan.seconds} s must leave ${volts(plan.limit.value)}`
  return [ask, ...loads].join('. ')
}
