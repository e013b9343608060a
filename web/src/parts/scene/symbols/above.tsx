// A place of work seen from above: the vehicle, what turns and burns in it, where a clamp
// may go, and what is brought to it.
import { Named, Sign, type Symbol } from './drawn'

/** A car's front from above: the nose, the wings, the wipers' well behind. */
export const car_above: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <path
      d={`M${x} ${y + h}V${y + 60}Q${x} ${y} ${x + w * 0.3} ${y}H${x + w * 0.7}Q${x + w} ${y} ${x + w} ${y + 60}V${y + h}Z`}
      className="fill-paper stroke-ink"
    />
    <path
      d={`M${x + 14} ${y + 66}q4-34 44-44M${x + w - 14} ${y + 66}q-4-34-44-44`}
      className="stroke-lead"
      strokeWidth="7"
    />
    <path d={`M${x} ${y + h - 26}H${x + w}M${x + w * 0.25} ${y + 14}H${x + w * 0.75}`} className="stroke-line" />
  </>
)

/** A whole car: bonnet, screen, roof, boot. */
export const car_whole: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <path
      d={`M${x} ${y + h - 40}V${y + 56}Q${x} ${y} ${x + 60} ${y}H${x + w - 60}Q${x + w} ${y} ${x + w} ${y + 56}V${y + h - 40}Q${x + w} ${y + h} ${x + w - 44} ${y + h}H${x + 44}Q${x} ${y + h} ${x} ${y + h - 40}Z`}
      className="fill-paper stroke-ink"
    />
    <path
      d={`M${x + 10} ${y + 58}q2-34 38-44M${x + w - 10} ${y + 58}q-2-34-38-44`}
      className="stroke-lead"
      strokeWidth="6"
    />
    <path d={`M${x + 18} ${y + 168}q${w / 2 - 18}-22 ${w - 36} 0`} className="stroke-ink" />
    <path
      d={`M${x + 26} ${y + 186}q${w / 2 - 26}-16 ${w - 52} 0v${h * 0.34}q${26 - w / 2} 14 ${52 - w} 0z`}
      className="fill-sheet stroke-line"
    />
    <path d={`M${x + 18} ${y + h - 104}q${w / 2 - 18} 16 ${w - 36} 0`} className="stroke-ink" />
  </>
)

/** A motorcycle from above: bars, tank, seat, both wheels. */
export const cycle_above: Symbol = ({ part: { x, y, w, h } }) => {
  const cx = x + w / 2
  return (
    <>
      <rect x={cx - 15} y={y} width="30" height="86" rx="13" className="fill-sheet stroke-ink" />
      <rect x={cx - 17} y={y + h - 92} width="34" height="92" rx="14" className="fill-sheet stroke-ink" />
      <path d={`M${x} ${y + 84}q${w * 0.2} 24 ${w / 2} 24t${w / 2}-24`} className="stroke-ink" strokeWidth="7" />
      <path
        d={`M${cx - 44} ${y + 96}q44-40 88 0l12 92-18 152q-10 40-38 40t-38-40l-18-152z`}
        className="fill-paper stroke-ink"
      />
    </>
  )
}

/** An off-road vehicle: four wheels, racks, a narrow seat. */
export const quad_above: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    {[
      [0, 24],
      [w - 56, 24],
      [0, h - 140],
      [w - 56, h - 140],
    ].map(([dx, dy]) => (
      <rect
        key={`${dx} ${dy}`}
        x={x + (dx ?? 0)}
        y={y + (dy ?? 0)}
        width="56"
        height="116"
        rx="16"
        className="fill-sheet stroke-ink"
      />
    ))}
    <path
      d={`M${x + 60} ${y + 20}H${x + w - 60}L${x + w - 92} ${y + h * 0.34}V${y + h * 0.64}L${x + w - 60} ${y + h - 20}H${x + 60}L${x + 92} ${y + h * 0.64}V${y + h * 0.34}Z`}
      className="fill-paper stroke-ink"
    />
    <path d={`M${x + 44} ${y + 96}h${w - 88}`} className="stroke-ink" strokeWidth="7" />
  </>
)

/** A ride-on mower: bonnet, wheel, seat, deck. */
export const mower_above: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <rect x={x} y={y + 196} width={w} height="64" rx="26" className="fill-sheet stroke-ink" />
    <rect x={x + 14} y={y + h - 104} width="40" height="96" rx="14" className="fill-sheet stroke-ink" />
    <rect x={x + w - 54} y={y + h - 104} width="40" height="96" rx="14" className="fill-sheet stroke-ink" />
    <path
      d={`M${x + 48} ${y + 176}V${y + 40}q0-40 46-40h${w - 188}q46 0 46 40v136l10 ${h - 186}H${x + 38}z`}
      className="fill-paper stroke-ink"
    />
    <circle cx={x + w / 2} cy={y + 268} r="30" className="stroke-lead" strokeWidth="6" />
  </>
)

/** A locker of batteries: its walls, its lid off. */
export const locker: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <rect x={x} y={y} width={w} height={h} rx="8" className="fill-paper stroke-ink" />
    <path d={`M${x + 10} ${y + 14}H${x + w - 10}M${x + 10} ${y + h - 60}H${x + w - 10}`} className="stroke-line" />
  </>
)

/** A bench with its edge. */
export const bench_above: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <rect x={x} y={y} width={w} height={h} rx="6" className="fill-paper stroke-ink" />
    <path
      d={`M${x} ${y + h - 18}H${x + w}M${x + 20} ${y + 40}H${x + w - 20}M${x + 20} ${y + h - 60}H${x + w - 20}`}
      className="stroke-line"
    />
  </>
)

/** An engine from above: its cover, the caps, the belt side. */
export const engine_above: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x} y={y} width={w} height={h} rx="14" className="fill-sheet stroke-ink" />
      <rect x={x + w * 0.3} y={y + h * 0.12} width={w * 0.5} height={h * 0.3} rx="8" className="stroke-line" />
      {[0.36, 0.48, 0.6, 0.72].map((at) => (
        <circle key={at} cx={x + w * at} cy={y + h * 0.27} r={Math.min(7, h * 0.08)} className="stroke-line" />
      ))}
      {h > 90 && <Named part={part} at={y + h * 0.56} />}
    </>
  )
}

/** A place that takes no clamp and no hand: hatched, with its word. */
export const keep_clear: Symbol = ({ part: { x, y, w, h, id, name }, uid }) => {
  const hatch = `${uid}-${id}`
  const upright = h > w * 1.6
  const [cx, cy] = [x + w / 2, y + h / 2]
  return (
    <>
      <defs>
        <pattern id={hatch} width="9" height="9" patternUnits="userSpaceOnUse">
          <rect width="9" height="9" className="fill-oxide-wash stroke-transparent" />
          <path d="M-2 2l4-4M0 9L9 0M7 11l4-4" className="stroke-oxide" strokeWidth="1.2" opacity="0.6" />
        </pattern>
      </defs>
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        rx="10"
        fill={`url(#${hatch})`}
        className="stroke-oxide"
        strokeDasharray="6 4"
        strokeWidth="1.8"
      />
      <text
        transform={upright ? `translate(${cx} ${cy}) rotate(-90)` : `translate(${cx} ${cy})`}
        textAnchor="middle"
        dominantBaseline="central"
        className="fill-oxide-text stroke-oxide-wash font-bold"
        strokeWidth="5"
        paintOrder="stroke"
      >
        {name}
      </text>
    </>
  )
}

/** Bare metal for the last clamp: an eye, a bolt. */
export const bare_metal: Symbol = ({ part: { x, y, w } }) => (
  <>
    <circle cx={x + w / 2} cy={y + w / 2} r={w / 2} className="fill-sheet stroke-ink" />
    <circle cx={x + w / 2} cy={y + w / 2} r={w / 5} className="fill-paper stroke-ink" />
  </>
)

/** A starter low at the engine. */
export const starter_above: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <rect x={x} y={y + h * 0.3} width={w * 0.8} height={h * 0.5} rx="6" className="fill-paper stroke-lead" />
    <path d={`M${x + w * 0.8} ${y + h * 0.4}h${w * 0.2}v${h * 0.3}h${-w * 0.2}`} className="stroke-lead" />
  </>
)

/** A marked post in front, under its lid. */
export const front_post: Symbol = ({ part: { x, y, w } }) => (
  <>
    <rect x={x - 4} y={y - 4} width={w + 8} height={w + 8} rx="6" className="fill-sheet stroke-ink" />
    <circle cx={x + w / 2} cy={y + w / 2} r={w * 0.34} className="fill-paper stroke-ink" />
    <Sign x={x + w / 2} y={y + w / 2} text="+" />
  </>
)

/** The marked bolt for the earth: three lines under it. */
export const front_bolt: Symbol = ({ part: { x, y, w } }) => {
  const [cx, cy] = [x + w / 2, y + w / 2]
  return (
    <>
      <circle cx={cx} cy={cy} r={w / 2} className="fill-sheet stroke-ink" />
      <path
        d={`M${cx} ${cy - 8}v8M${cx - 7} ${cy}h14M${cx - 4.5} ${cy + 4}h9M${cx - 2} ${cy + 8}h4`}
        className="stroke-ink"
        strokeWidth="1.8"
      />
    </>
  )
}

/** An accessory socket. */
export const socket: Symbol = ({ part: { x, y, w } }) => (
  <>
    <circle cx={x + w / 2} cy={y + w / 2} r={w / 2} className="fill-sheet stroke-ink" />
    <circle cx={x + w / 2} cy={y + w / 2} r={w / 4} className="fill-lead stroke-ink" />
  </>
)

/** A lead's end that was led outside. */
export const outside_live: Symbol = ({ part: { x, y, w } }) => (
  <>
    <rect x={x} y={y + 4} width={w} height={w - 8} rx="5" className="fill-sheet stroke-ink" />
    <Sign x={x + w / 2} y={y + w / 2} text="+" />
  </>
)

/** A rubber mat: where a loose end may lie. */
export const mat: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x} y={y} width={w} height={h} rx="6" className="fill-sheet stroke-lead" strokeDasharray="7 4" />
      <Named part={part} at={y + h + 14} />
    </>
  )
}

/** Somebody who holds an end in the air. */
export const person: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <circle cx={x + w / 2} cy={y + 13} r="12" className="fill-sheet stroke-ink" />
      <path d={`M${x} ${y + h}q${w / 2}-52 ${w} 0`} className="fill-sheet stroke-ink" />
      <Named part={part} at={y + h + 14} />
    </>
  )
}

/** A cable's clamp on its post. */
export const clamp_above: Symbol = ({ part: { x, y, w } }) => (
  <>
    <circle cx={x + w / 2} cy={y + w / 2} r={w / 2} className="stroke-ink" strokeWidth="4.5" />
    <path d={`M${x + w - 3} ${y + 6}l8-7`} className="stroke-ink" strokeWidth="4.5" />
  </>
)

/** A cable's clamp off its post: tied away, or in its bag. */
export const clamp_off: Symbol = ({ part, has }) => {
  const { x, y, w } = part
  return (
    <>
      {has('bag') && (
        <path
          d={`M${x - 10} ${y - 8}q${w / 2 + 10}-16 ${w + 20} 0l4 ${w + 8}q${-w / 2 - 14} 16 ${-w - 28} 0z`}
          className="fill-verdigris-wash stroke-verdigris"
        />
      )}
      <circle cx={x + w / 2} cy={y + w / 2} r={w / 2} className="stroke-marigold" strokeWidth="5" />
      <text
        x={x + w / 2}
        y={y - 26}
        textAnchor="middle"
        className="fill-ink stroke-paper"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {part.name}
      </text>
    </>
  )
}

/** The end of a lead that was brought: where it is clamped with the number of its step. */
export const marker: Symbol = ({ part }) => {
  const { x, y, w, h, state, value } = part
  const on = state === 'good' ? 'fill-verdigris stroke-ink' : 'fill-marigold stroke-ink'
  if (state === 'faint')
    return <rect x={x + 5} y={y + 5} width={w - 10} height={h - 10} rx="4" className="fill-sheet stroke-lead" />
  return (
    <>
      <rect x={x} y={y} width={w} height={h} rx="6" className={on} />
      <text
        x={x + w / 2}
        y={y + h / 2 + 0.5}
        textAnchor="middle"
        dominantBaseline="central"
        className="num fill-sheet stroke-transparent font-bold"
        fontSize="15"
      >
        {value}
      </text>
    </>
  )
}

/** The ring round what is moved now, with its name. */
export const ring_here: Symbol = ({ part }) => {
  const { x, y, w, h, name } = part
  const high = y < 40
  return (
    <>
      <circle
        cx={x + w / 2}
        cy={y + h / 2}
        r={w / 2}
        className="stroke-marigold"
        strokeWidth="3.6"
        strokeDasharray="7 5"
      />
      <text
        x={Math.max(60, x + w / 2)}
        y={high ? y + h + 16 : y - 9}
        textAnchor="middle"
        className="fill-ink stroke-paper font-bold"
        strokeWidth="5"
        paintOrder="stroke"
      >
        {name}
      </text>
    </>
  )
}

export const cover_on: Symbol = ({ part: { x, y, w, h } }) => (
  <rect x={x} y={y} width={w} height={h} rx="9" className="fill-verdigris-wash stroke-verdigris" />
)

/** A cover that hangs open beside its post. */
export const cover_off: Symbol = ({ part: { x, y, w } }) => (
  <path d={`M${x + w - 4} ${y + 2}q18-14 26 4l-8 20q-14 2-16-10z`} className="fill-sheet stroke-lead" />
)

/** A small supply with its fuse. */
export const supply: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x} y={y} width={w} height={h} rx="10" className="fill-sheet stroke-ink" />
      <path d={`M${x + 18} ${y + 26}h20m4-6h18v12h-18zm18 6h22`} className="stroke-lead" />
      <Named part={part} at={y + h - 22} />
    </>
  )
}

/** An adjustable load: vents, a knob. */
export const load_box: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x} y={y} width={w} height={h} rx="8" className="fill-sheet stroke-ink" />
      <circle cx={x + w - 30} cy={y + 34} r="15" className="fill-paper stroke-ink" />
      <path
        d={`M${x + w - 30} ${y + 34}l-9-9M${x + 16} ${y + 18}h40M${x + 16} ${y + 28}h40M${x + 16} ${y + 38}h40`}
        className="stroke-lead"
      />
      <Named part={part} at={y + h - 18} />
    </>
  )
}
