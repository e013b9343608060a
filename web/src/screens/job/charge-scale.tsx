import { scaleLinear } from 'd3-scale'
import type { Assessment, Picture } from '../../api/types'
import { Hatch } from '../../parts/hatch'
import { useWidth } from '../../parts/width'
import { thin, volts } from '../../parts/format'

type Props = { picture: Picture; state: Assessment['charge_state'] }

const names = ['flat', '25', '50', '75', 'full']

/** The charge on the scale of this battery's chemistry, with its band. */
export function ChargeScale({ picture, state }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(690)
  const { scale } = picture
  const flat = scale[0]
  const full = scale[scale.length - 1]
  if (!flat || !full) return null
  const range = full.volts - flat.volts
  const inner = width - 2
  const x = scaleLinear()
    .domain([flat.volts - range * 0.24, Math.max(picture.ceiling_volts + range * 0.16, full.volts + range * 0.34)])
    .range([1, inner])
  const atPercent = scaleLinear()
    .domain(scale.map((p) => p.percent))
    .range(scale.map((p) => p.volts))
  const judge = x(picture.judge_volts)
  const ceiling = x(picture.ceiling_volts)
  const narrow = width < 520
  const marker = state ? x(atPercent(state.percent)) : null
  const clear = clearOf(marker, judge)
  const judged = marker !== null && marker > judge - 12 && marker < judge + 140 ? marker + 14 : judge + 8
  return (
    <div ref={ref} className="min-w-0 overflow-hidden">
      <svg width={width} height={126} role="img" aria-label={describe(picture, state)}>
        <defs>
          <Hatch id="scale-low" />
        </defs>
        <rect x={x.range()[0]} y={50} width={judge - 1} height={16} fill="url(#scale-low)" />
        <rect x={judge} y={50} width={ceiling - judge} height={16} className="fill-verdigris-wash" />
        <rect x={ceiling} y={50} width={Math.max(0, inner - ceiling)} height={16} className="fill-sheet stroke-line" />
        {!narrow && (
          <>
            <text x={clear.x} y={42} textAnchor={clear.anchor} className="fill-marigold-text text-small">
              a fail proves nothing here
            </text>
            <text x={judged} y={42} className="fill-verdigris-text text-small">
              can be judged here
            </text>
            <text x={inner} y={82} textAnchor="end" className="fill-lead text-small">
              surface charge
            </text>
          </>
        )}
        {scale.map((p, i) => (
          <g key={p.percent}>
            <path d={`M${x(p.volts)} 44v28`} className="stroke-ink" strokeWidth="1.6" />
            {room(scale.map((s) => x(s.volts)))[i] && (
              <>
                <text x={x(p.volts)} y={92} textAnchor="middle" className="num fill-ink text-tick">
                  {p.volts.toFixed(2)}
                </text>
                <text x={x(p.volts)} y={111} textAnchor="middle" className="fill-lead text-small">
                  {i === 0 || i === scale.length - 1 ? names[i] : `${p.percent}${thin}%`}
                </text>
              </>
            )}
          </g>
        ))}
        <Marker picture={picture} state={state} x={x} atPercent={atPercent} width={inner} />
      </svg>
    </div>
  )
}

/** Which marks have room for their figure: the ends always, the others where they do not
 * touch one that stands already. */
function room(at: number[]): boolean[] {
  const figure = 50
  const last = at.length - 1
  let before = at[0] ?? 0
  return at.map((x, i) => {
    const fits = i === 0 || i === last || (x - before >= figure && (at[last] ?? 0) - x >= figure)
    if (fits) before = x
    return fits
  })
}

/** Where the words over the low zone stand without touching the marker. */
function clearOf(marker: number | null, judge: number): { x: number; anchor: 'start' | 'end' } {
  const words = 165
  if (marker === null || marker < judge - words - 24 || marker > judge + 12) return { x: judge - 8, anchor: 'end' }
  return { x: marker - 14, anchor: 'end' }
}

type MarkerProps = Props & { x: (v: number) => number; atPercent: (p: number) => number; width: number }

function Marker({ picture, state, x, atPercent, width }: MarkerProps) {
  if (state) {
    const at = x(atPercent(state.percent))
    const [from, to] = [x(atPercent(state.low)), x(atPercent(state.high))]
    const label = clampLabel(at, width, 75)
    return (
      <g>
        <rect x={from} y={54} width={Math.max(6, to - from)} height={8} className="fill-ink" />
        <path d={`M${at - 9} 30h18l-9 13z`} className="fill-ink" />
        <text x={label} y={19} textAnchor="middle" className="fill-ink">
          <tspan className="num font-bold">
            {state.percent}
            {thin}%
          </tspan>
          <tspan className="text-small">
            {' '}
            ({state.low} to {state.high})
          </tspan>
        </text>
      </g>
    )
  }
  if (!picture.unrested) return null
  const at = Math.min(x(picture.unrested.volts), width - 12)
  const most = picture.unrested.at_most
  return (
    <g>
      <path d={`M${at} 44v28`} className="stroke-marigold" strokeWidth="4" />
      <path d={`M${at} 36h-34m8-6l-8 6l8 6`} className="fill-transparent stroke-marigold" strokeWidth="2.4" />
      <text x={clampLabel(at, width, 110)} y={19} textAnchor="middle" className="fill-marigold-text">
        {volts(picture.unrested.volts)}
        {most == null ? ', not rested' : `: at most ${most}${thin}%`}
      </text>
    </g>
  )
}

function clampLabel(at: number, width: number, half: number) {
  return Math.max(half, Math.min(width - half, at))
}

function describe(picture: Picture, state: Assessment['charge_state']): string {
  if (state) return `Charge ${state.percent} percent, between ${state.low} and ${state.high}`
  if (picture.unrested) return `${volts(picture.unrested.volts)} not rested: no charge state yet`
  return 'Charge scale of this battery; nothing measured yet'
}
