import { scaleLinear } from 'd3-scale'
import { area } from 'd3-shape'
import type { Picture } from '../../api/types'
import { useWord } from '../../api/words'
import { Hatch } from '../../parts/hatch'
import { useWidth } from '../../parts/width'
import { thin, volts } from '../../parts/format'

type Load = Picture['loads'][number]

const height = 368
const box = { left: 50, right: 12, top: 26, bottom: 48 }

/** Amperes across, volts down: where a sound battery of this label would lie, the
 * limit at this temperature, and what was measured. */
export function LoadPicture({ picture }: { picture: Picture }) {
  const [ref, width] = useWidth<HTMLDivElement>(690)
  const scale = axes(picture, width)
  if (!scale) return null
  const { x, y, amps } = scale
  const [bottom, right] = [height - box.bottom, width - box.right]
  const bands = drawn(picture)
  const fit = picture.expected.fit
  return (
    <div ref={ref} className="min-w-0 overflow-hidden">
      <svg width={width} height={height} role="img" aria-label={describe(picture)}>
        <defs>
          <Hatch id="band-now" />
        </defs>
        <text x={box.left - 6} y={14} textAnchor="end" className="fill-lead text-small">
          volts
        </text>
        {bands.map((b) => (
          <path
            key={b.code}
            d={edges(b, x, y)}
            className={b.hatched ? '' : 'fill-verdigris-wash'}
            fill={b.hatched ? 'url(#band-now)' : undefined}
          />
        ))}
        {y.ticks(6).map((v) => (
          <g key={v}>
            <path d={`M${box.left} ${y(v)}H${right}`} className="stroke-line" />
            <text x={box.left - 9} y={y(v) + 5} textAnchor="end" className="num fill-ink text-tick">
              {v}
            </text>
          </g>
        ))}
        {x.ticks(5).map((a) => (
          <text key={a} x={x(a)} y={bottom + 20} textAnchor="middle" className="num fill-ink text-tick">
            {Math.abs(x(a) - x(amps ?? -1e4)) < 34 ? '' : a}
          </text>
        ))}
        <text x={right} y={bottom + 40} textAnchor="end" className="fill-lead text-small">
          amperes drawn for {picture.plan.seconds}
          {thin}s
        </text>
        {amps != null && (
          <>
            <path
              d={`M${x(amps)} ${box.top}V${bottom}`}
              className="stroke-ink"
              strokeDasharray="1.5 5"
              strokeWidth="1.8"
            />
            <text x={x(amps)} y={bottom + 20} textAnchor="middle" className="num fill-ink text-tick font-bold">
              {amps}
            </text>
          </>
        )}
        {bands.map((b) => (
          <BandName key={b.code} band={b} x={x} y={y} narrow={width < 520} />
        ))}
        <Limit picture={picture} x={x} y={y} right={right} />
        <FitLine picture={picture} x={x} y={y} />
        <Rested picture={picture} x={x} y={y} />
        {picture.loads.map((load) => (
          <Point key={load.reading} load={load} loads={picture.loads} x={x} y={y} right={right} />
        ))}
      </svg>
      {fit && <p className="mt-1 text-small">{fit.text.text}</p>}
    </div>
  )
}

type Scale = (value: number) => number

type Drawn = Picture['expected']['bands'][number] & { hatched: boolean }

/** The bands, full first; hatched is one at a charge where a fail proves nothing. */
function drawn(picture: Picture): Drawn[] {
  return picture.expected.bands.map((b) => ({ ...b, hatched: b.code === 'sound_now' && !picture.plan.fail_proves }))
}

function edges(band: Drawn, x: Scale, y: Scale): string {
  return (
    area<Drawn['points'][number]>()
      .x((p) => x(p.amps))
      .y0((p) => y(p.low))
      .y1((p) => y(p.high))(band.points) ?? ''
  )
}

/** The name of a band, along it: over its upper edge, under its lower where hatched. */
function BandName({ band, x, y, narrow }: { band: Drawn; x: Scale; y: Scale; narrow: boolean }) {
  const word = useWord()
  const last = band.points.length - 1
  const from = band.points[Math.round(last * (band.hatched ? 0.12 : 0.42))]
  const to = band.points[Math.round(last * (band.hatched ? 0.5 : 0.76))]
  if (!from || !to) return null
  const edge = (p: typeof from) => (band.hatched ? y(p.low) + 19 : y(p.high) - 8)
  const [x0, y0, x1, y1] = [x(from.amps), edge(from), x(to.amps), edge(to)]
  const turn = (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI
  return (
    <text
      transform={`translate(${x0} ${y0}) rotate(${turn})`}
      className={`text-small ${band.hatched ? 'fill-marigold-text' : 'fill-verdigris-text'}`}
    >
      {word(narrow ? `${band.code}_short` : band.code)}
    </text>
  )
}

/** The upper edge of a band at a current. */
function upperAt(points: Drawn['points'], amps: number): number {
  const next = points.findIndex((p) => p.amps >= amps)
  return points[Math.max(0, next - 1)]?.high ?? 0
}

/** The straight line through what was measured, with the resistance it stands for. */
function FitLine({ picture, x, y }: { picture: Picture; x: Scale; y: Scale }) {
  const fit = picture.expected.fit
  if (!fit) return null
  // Its name stands over whatever lies highest there.
  const at = fit.to * 0.2
  const over = [fit.from - fit.ohms * at, ...picture.expected.bands.map((b) => upperAt(b.points, at))]
  return (
    <g>
      <path
        d={`M${x(0)} ${y(fit.from)}L${x(fit.to)} ${y(fit.from - fit.ohms * fit.to)}`}
        className="stroke-ink"
        strokeWidth="1.8"
        strokeDasharray="7 5"
      />
      <text
        x={x(at) + 6}
        y={y(Math.max(...over)) - 9}
        className="num fill-ink stroke-sheet text-tick"
        paintOrder="stroke"
        strokeWidth="4"
        strokeLinejoin="round"
      >
        {(fit.ohms * 1000).toFixed(1)}
        {thin}mΩ
      </text>
    </g>
  )
}

function axes(picture: Picture, width: number) {
  const rows = picture.scale
  const full = rows[rows.length - 1]
  if (!full) return null
  const amps = picture.plan.amps
  const most = Math.max(amps ?? 0, ...picture.loads.map((l) => l.amps), 40)
  const cell = full.volts / 12.65
  const lowest = Math.min(picture.plan.limit.value - 1.4 * cell, ...picture.loads.map((l) => l.volts - 0.4 * cell))
  const top = Math.max(full.volts + 0.35 * cell, picture.rested?.volts ?? 0, (picture.unrested?.volts ?? 0) + 0.1)
  return {
    amps,
    x: scaleLinear([0, most * 1.24], [box.left, width - box.right]),
    y: scaleLinear([lowest, top], [height - box.bottom, box.top]),
  }
}

function Limit({ picture, x, y, right }: { picture: Picture; x: Scale; y: Scale; right: number }) {
  const { limit, amps } = picture.plan
  const at = y(limit.value)
  const from = amps == null ? x(0) : x(amps * 0.86)
  const warm = limit.at_c == null ? 'least, if warm' : `least at ${Math.round(limit.at_c)}${thin}°C`
  // The words go above the line where a measured point would lie under them.
  const above = picture.loads.some((l) => x(l.amps) > right - 105 && y(l.volts) > at - 6 && y(l.volts) < at + 46)
  return (
    <g>
      <path d={`M${from} ${at}H${right}`} className="stroke-oxide" strokeWidth="2.6" />
      <text x={right} y={above ? at - 27 : at + 19} textAnchor="end" className="num fill-oxide-text font-bold">
        {volts(limit.value)}
      </text>
      <text x={right} y={above ? at - 9 : at + 36} textAnchor="end" className="fill-oxide-text text-small">
        {warm}
        {limit.note && ', the shop’s own'}
      </text>
    </g>
  )
}

function Rested({ picture, x, y }: { picture: Picture; x: Scale; y: Scale }) {
  const point = picture.rested ?? picture.unrested
  if (!point) return null
  const counts = picture.rested != null
  return (
    <g>
      <circle
        cx={x(0)}
        cy={y(point.volts)}
        r="7"
        className={`fill-sheet ${counts ? 'stroke-ink' : 'stroke-marigold'}`}
        strokeWidth="3"
      />
      <text x={x(0) + 15} y={y(point.volts) - 10} className="num fill-ink">
        {volts(point.volts)}
        {!counts && (
          <tspan dx="6" className="fill-marigold-text font-sans text-small">
            not rested
          </tspan>
        )}
      </text>
    </g>
  )
}

type PointProps = { load: Load; loads: Load[]; x: Scale; y: Scale; right: number }

function Point({ load, loads, x, y, right }: PointProps) {
  const [cx, cy] = [x(load.amps), y(load.volts)]
  const words = load.valid ? (load.outcome === 'pass' ? 'passed' : 'failed') : 'proves nothing yet'
  const tone = !load.valid ? 'fill-marigold-text' : load.outcome === 'pass' ? 'fill-verdigris-text' : 'fill-oxide-text'
  // A pass stands above the limit and is named there; an older point is named
  // only where it does not run into a newer one.
  const above = load.outcome === 'pass'
  const labelled = load.current || loads.every((other) => other === load || Math.abs(y(other.volts) - cy) > 48)
  const ring = load.valid ? 'stroke-ink' : 'stroke-marigold'
  return (
    <g opacity={load.current ? 1 : 0.45}>
      {load.from > 0 && !load.current && (
        <path
          d={`M${x(0)} ${y(load.from)}L${cx} ${cy}`}
          className="stroke-ink"
          strokeWidth="1.8"
          strokeDasharray="7 5"
        />
      )}
      <path
        d={`M${cx} ${y(load.volts + 2 * load.volts_sigma)}V${y(load.volts - 2 * load.volts_sigma)}M${x(load.amps - 2 * load.amps_sigma)} ${cy}H${Math.min(right, x(load.amps + 2 * load.amps_sigma))}`}
        className="stroke-ink"
        strokeWidth="1.6"
      />
      <circle cx={cx} cy={cy} r="7" className={`fill-sheet ${ring}`} strokeWidth="3" />
      {labelled && (
        <>
          <text x={cx - 16} y={above ? cy - 28 : cy + 24} textAnchor="end" className="num fill-ink font-bold">
            {volts(load.volts)}
          </text>
          <text x={cx - 16} y={above ? cy - 10 : cy + 42} textAnchor="end" className={`text-small ${tone}`}>
            {load.current ? words : 'before the charge'}
          </text>
        </>
      )}
    </g>
  )
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
