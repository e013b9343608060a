// The charge on the scale of this battery's chemistry, with its band.
import { scaleLinear } from 'd3-scale'
import type { Assessment, Picture } from '../../../api/types'
import { thin, volts } from '../../../parts/format'
import { around, type Box, type Name } from '../../../parts/plot/place'
import { Names, Plot, useArea, type Area } from '../../../parts/plot/plot'

type Props = { picture: Picture; state: Assessment['charge_state'] }

const ends = ['flat', 'full']

export function ChargeScale({ picture, state }: Props) {
  const { scale } = picture
  const [flat, full] = [scale[0], scale[scale.length - 1]]
  if (!flat || !full) return null
  const range = full.volts - flat.volts
  const to = Math.max(picture.ceiling_volts + range * 0.16, full.volts + range * 0.34)
  return (
    <Plot says={describe(picture, state)} height={7.9} x={{ from: flat.volts - range * 0.24, to, name: 'volts' }}>
      {(area) => <Inside picture={picture} state={state} area={area} />}
    </Plot>
  )
}

function Inside({ picture, state, area }: Props & { area: Area }) {
  const { x, right, rem, id } = area
  const { scale } = picture
  const atPercent = scaleLinear()
    .domain(scale.map((p) => p.percent))
    .range(scale.map((p) => p.volts))
  const [judge, ceiling] = [x(picture.judge_volts), x(picture.ceiling_volts)]
  const [top, tall] = [3.1 * rem, rem]
  const place = (percent: number) => x(atPercent(percent))
  return (
    <>
      <rect x={1} y={top} width={Math.max(0, judge - 1)} height={tall} fill={`url(#${id('hatch')})`} />
      <rect x={judge} y={top} width={Math.max(0, ceiling - judge)} height={tall} className="fill-verdigris-wash" />
      <rect x={ceiling} y={top} width={Math.max(0, right - ceiling)} height={tall} className="fill-sheet stroke-line" />
      {scale.map((p) => (
        <path
          key={p.percent}
          d={`M${x(p.volts)} ${top - 0.35 * rem}v${tall + 0.7 * rem}`}
          className="stroke-ink"
          strokeWidth="1.6"
        />
      ))}
      {state ? (
        <Marker at={place(state.percent)} from={place(state.low)} to={place(state.high)} top={top} />
      ) : (
        picture.unrested && <NotRested at={Math.min(x(picture.unrested.volts), right - 12)} top={top} />
      )}
      <Names
        spare
        list={names(picture, state, area, place, top)}
        taken={taken(state, place, rem, top)}
        frame={{ left: 0, top: 0, right: area.width, bottom: 7.9 * rem }}
      />
    </>
  )
}

function Marker({ at, from, to, top }: { at: number; from: number; to: number; top: number }) {
  const { rem } = useArea()
  return (
    <g className="fill-ink">
      <rect x={from} y={top + 0.25 * rem} width={Math.max(6, to - from)} height={rem / 2} />
      <path d={`M${at - 9} ${top - 1.25 * rem}h18l-9 13z`} />
    </g>
  )
}

function NotRested({ at, top }: { at: number; top: number }) {
  const { rem } = useArea()
  return (
    <g className="fill-transparent stroke-marigold">
      <path d={`M${at} ${top - 0.35 * rem}v${1.7 * rem}`} strokeWidth="4" />
      <path d={`M${at} ${top - 0.85 * rem}h-34m8-6l-8 6l8 6`} strokeWidth="2.4" />
    </g>
  )
}

/** What was measured first, then the ends of the scale, what may be judged, the rest. */
function names(picture: Picture, state: Props['state'], area: Area, place: (p: number) => number, top: number): Name[] {
  const { x, rem, right } = area
  const above = 1.1 * rem
  const list: Name[] = []
  const ways = (at: number, y: number): Name['spots'] => [
    { x: at, y, anchor: 'middle' },
    { x: at, y, anchor: 'start' },
    { x: at, y, anchor: 'end' },
    { x: 2, y, anchor: 'start' },
    { x: right - 2, y, anchor: 'end' },
  ]
  if (state) {
    list.push({
      figure: `${state.percent}${thin}%`,
      text: `(${state.low} to ${state.high})`,
      spots: ways(place(state.percent), above),
    })
  } else if (picture.unrested) {
    const most = picture.unrested.at_most
    const unsettled = picture.contradicted ? 'contradicted' : 'not rested'
    const text = most == null ? unsettled : `at most ${most}${thin}%`
    list.push({
      figure: volts(picture.unrested.volts),
      text,
      tone: 'fill-marigold-text',
      spots: ways(x(picture.unrested.volts), above),
    })
  }
  const last = picture.scale.length - 1
  const marks = picture.scale.map((p, i) => ({ p, i }))
  for (const { p, i } of [
    ...marks.filter((m) => m.i === 0 || m.i === last),
    ...marks.filter((m) => m.i > 0 && m.i < last),
  ]) {
    list.push({
      figure: p.volts.toFixed(2),
      light: true,
      text: '',
      spots: [{ x: x(p.volts), y: top + 2.45 * rem, anchor: 'middle' }],
    })
    list.push({
      text: i === 0 ? (ends[0] ?? '') : i === last ? (ends[1] ?? '') : `${p.percent}${thin}%`,
      tone: 'fill-lead',
      spots: [{ x: x(p.volts), y: top + 3.85 * rem, anchor: 'middle' }],
    })
  }
  const over = top - 0.6 * rem
  const judge = x(picture.judge_volts)
  if (area.narrow) return list
  list.push({
    text: 'can be judged here',
    tone: 'fill-verdigris-text',
    spots: [
      { x: judge + 8, y: over, anchor: 'start' },
      { x: x(picture.ceiling_volts) - 8, y: over, anchor: 'end' },
    ],
  })
  list.push({
    text: 'a fail proves nothing here',
    tone: 'fill-marigold-text',
    spots: [
      { x: judge - 8, y: over, anchor: 'end' },
      ...(state ? [{ x: place(state.percent) - 14, y: over, anchor: 'end' as const }] : []),
      { x: 4, y: over, anchor: 'start' },
    ],
  })
  list.push({ text: 'surface charge', tone: 'fill-lead', spots: [{ x: right, y: over, anchor: 'end' }] })
  return list
}

function taken(state: Props['state'], place: (p: number) => number, rem: number, top: number): Box[] {
  return state ? [around([[place(state.percent), top - 0.75 * rem]], 9)] : []
}

function describe(picture: Picture, state: Assessment['charge_state']): string {
  if (state) return `Charge ${state.percent} percent, between ${state.low} and ${state.high}`
  if (picture.contradicted) return 'The readings of the charge contradict each other: no charge state yet'
  if (picture.unrested) return `${volts(picture.unrested.volts)} not rested: no charge state yet`
  return 'Charge scale of this battery; nothing measured yet'
}
