// Where a battery sits, and what a pad in the side needs.
import { Named, type Symbol } from './drawn'

/** A car from the side, its front to the left. */
export const car_side: Symbol = ({ part: { x, y, w, h } }) => {
  const at = (a: number, b: number) => `${x + a * w} ${y + b * h}`
  return (
    <>
      <path
        d={`M${at(0.01, 0.78)}C${at(0.01, 0.56)} ${at(0.04, 0.5)} ${at(0.16, 0.46)}C${at(0.22, 0.18)} ${at(0.26, 0.04)} ${at(0.38, 0.04)}H${at(0.62, 0.04)}C${at(0.74, 0.04)} ${at(0.78, 0.18)} ${at(0.82, 0.44)}C${at(0.95, 0.47)} ${at(0.99, 0.55)} ${at(0.99, 0.78)}Z`}
        className="fill-sheet stroke-lead"
      />
      <path
        d={`M${at(0.24, 0.44)}L${at(0.29, 0.16)}H${at(0.48, 0.16)}V${at(0.48, 0.44)}ZM${at(0.53, 0.44)}V${at(0.16 + 0.37, 0.16)}`}
        className="stroke-line"
      />
      {[0.2, 0.8].map((a) => (
        <circle key={a} cx={x + a * w} cy={y + 0.8 * h} r={h * 0.19} className="fill-paper stroke-lead" />
      ))}
    </>
  )
}

export const vent_tube: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x + w / 2} ${y}v${h - 6}m-4-5l4 6 4-6`} className="stroke-ink" strokeDasharray="3 4" />
)

export const case_edge: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <path d={`M${x} ${y}h${w - 16}v${h}H${x}`} className="fill-sheet stroke-ink" />
    <rect x={x + w - 16} y={y + h / 2 - 13} width="16" height="26" className="fill-paper stroke-ink" />
  </>
)

/** A threaded adapter: the thread, the post it makes. */
export const adapter: Symbol = ({ part: { x, y, w, h } }) => {
  const cy = y + h / 2
  return (
    <>
      <path
        d={`M${x} ${cy - 7}h${w * 0.4}M${x} ${cy + 7}h${w * 0.4}M${x} ${cy - 11}v22m8-18v14m8-14v14m8-14v14`}
        className="stroke-ink"
      />
      <path d={`M${x + w * 0.4} ${cy - 15}h${w * 0.28}v30h${-w * 0.28}z`} className="fill-verdigris-wash stroke-ink" />
      <path d={`M${x + w * 0.68} ${cy}h${w * 0.32}`} className="stroke-ink" />
    </>
  )
}

/** A spring clip, its jaws to the left. */
export const clip: Symbol = ({ part: { x, y, w, h } }) => (
  <path
    d={`M${x} ${y}c${w * 0.4} 0 ${w * 0.66} ${h * 0.22} ${w} ${h * 0.22}M${x} ${y + h}c${w * 0.4} 0 ${w * 0.66} ${-h * 0.22} ${w} ${-h * 0.22}M${x} ${y}v${h}`}
    className="stroke-ink"
  />
)

export const name: Symbol = ({ part }) => <Named part={part} at={part.y + part.h / 2} />
