// One symbol for each thing a scene has, drawn as a service manual would: ink strokes on
// flat sheet fills. Polarity is said by its sign and by stripes, never by colour alone.
import type { ReactNode } from 'react'
import type { ScenePart } from '../../api/types'

export type Drawn = { part: ScenePart; has: (mark: string) => boolean }

type Symbol = (drawn: Drawn) => ReactNode

/** How a state is shown: fill and stroke. */
const looks: Record<string, string> = {
  '': 'fill-sheet stroke-ink',
  here: 'fill-verdigris-wash stroke-ink',
  off: 'fill-transparent stroke-marigold',
  good: 'fill-verdigris-wash stroke-verdigris',
  bad: 'fill-oxide-wash stroke-oxide',
  found: 'fill-marigold-wash stroke-marigold',
  faint: 'fill-sheet stroke-lead',
}

const look = (part: ScenePart) => looks[part.state] ?? looks['']

function Sign({ x, y, text, faint }: { x: number; y: number; text: string; faint?: boolean }) {
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

/** The box of a battery from the front; bulged, cracked, leaking, frozen as it was seen. */
const battery_case: Symbol = ({ part: { x, y, w, h }, has }) => {
  const [r, b] = [x + w, y + h]
  const [cx, cy] = [x + w * 0.5, y + h * 0.55]
  return (
    <>
      <path
        d={has('bulge') ? `M${x} ${y}q-16 ${h / 2} 0 ${h}h${w}q16 ${-h / 2} 0 ${-h}z` : `M${x} ${y}h${w}v${h}h${-w}z`}
        className={has('bulge') ? 'fill-sheet stroke-oxide' : 'fill-sheet stroke-ink'}
      />
      <path
        d={`M${x} ${y + 28}H${r}M${x + 14} ${y + 44}v${h - 58}M${r - 14} ${y + 44}v${h - 58}`}
        className="stroke-line"
      />
      {has('crack') && (
        <path d={`M${cx + 10} ${y + 28}l-12 22 18 14-14 26 8 34`} className="stroke-oxide" strokeWidth="3" />
      )}
      {has('case_leak') && (
        <path
          d={`M${x + w * 0.67} ${b}c0 8-5 10-5 15a5 5 0 0 0 10 0c0-5-5-7-5-15z`}
          className="fill-oxide-wash stroke-oxide"
        />
      )}
      {has('frozen') && (
        <path
          d={`M${cx} ${cy - 24}v48M${cx - 21} ${cy - 12}l42 24M${cx + 21} ${cy - 12}l-42 24`}
          className="stroke-oxide"
        />
      )}
      {has('hot') && (
        <path
          d={`M${cx - 26} ${cy + 20}q-8-12 0-22t0-22M${cx} ${cy + 20}q-8-12 0-22t0-22M${cx + 26} ${cy + 20}q-8-12 0-22t0-22`}
          className="stroke-oxide"
        />
      )}
    </>
  )
}

/** Its top, seen a little from above. */
const battery_top: Symbol = ({ part: { x, y, w, h }, has }) => (
  <>
    <path d={`M${x} ${y + h}l14 ${-h}h${w - 28}l14 ${h}`} className="fill-sheet stroke-ink" />
    {has('dirty_top') && (
      <path d={`M${x + 36} ${y + 8}q30-10 60 0t60 0t44 0`} className="stroke-marigold" strokeDasharray="3 4" />
    )}
    {has('wet_vents') && <path d={`M${x + w / 2 - 30} ${y + 12}q6 8 12 0m20 0q6 8 12 0`} className="stroke-marigold" />}
    {(has('hiss') || has('smell')) && (
      <path d={`M${x + w / 2 - 12} ${y - 6}q6-8 0-16m12 16q6-8 0-16m12 16q6-8 0-16`} className="stroke-oxide" />
    )}
  </>
)

const cap: Symbol = ({ part: { x, y, w, h } }) => (
  <ellipse cx={x + w / 2} cy={y + h / 2} rx={Math.min(13, w * 0.32)} ry="6" className="fill-paper stroke-ink" />
)

const seam: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x + w / 2 - 8} ${y + h / 2}h16`} className="stroke-line" />
)

/** A tapered post with its clamp round it, bolted at the side. */
const post_clamp: Symbol = ({ part, has }) => {
  const { x, y, w, h, sign } = part
  const [cx, foot] = [x + w / 2, y + h]
  const loose = has('clamp_loose') || has('post_loose') || has('clamp_not_seated')
  const lift = has('clamp_not_seated') ? 7 : 0
  return (
    <>
      <path d={`M${cx - 10} ${foot - 2}l2.500-24h15l2.500 24z`} className="fill-paper stroke-ink" />
      <path d={`M${cx - 17} ${foot - 8 - lift}v-14h34v14z`} className={look(part)} />
      <path d={`M${cx + 17} ${foot - 15 - lift}h8`} className="stroke-ink" />
      <circle cx={cx + 27} cy={foot - 15 - lift} r="3.500" className="fill-sheet stroke-ink" />
      {(has('corrosion') || has('oxide')) && (
        <path
          d={`M${cx - 19} ${foot - 6}l5-4 4 5 5-6 5 5 5-5 4 5 6-4 4 4`}
          className="stroke-marigold"
          strokeDasharray={has('corrosion') ? undefined : '2 3'}
        />
      )}
      {loose && (
        <path d={`M${cx - 25} ${foot - 26}q-7 9 0 18M${cx + 36} ${foot - 26}q7 9 0 18`} className="stroke-marigold" />
      )}
      <Sign x={cx} y={foot + 38} text={sign} />
    </>
  )
}

/** A threaded pad in the side with its bolted cable. */
const side_pad: Symbol = ({ part, has }) => {
  const { x, y, w, h, sign } = part
  const cx = x + w / 2
  return (
    <>
      <path d={`M${x + 4} ${y + 10}h${w - 8}v26h${8 - w}z`} className={look(part)} />
      <circle cx={cx} cy={y + 23} r="7" className="fill-sheet stroke-ink" />
      <path d={`M${cx - 4} ${y + 23}h8`} className="stroke-ink" />
      <path
        d={`M${cx} ${y + 36}V${y + h}`}
        strokeWidth="5"
        className="stroke-lead"
        strokeDasharray={sign === '−' ? '10 5' : undefined}
      />
      {(has('corrosion') || has('oxide')) && (
        <path d={`M${x} ${y + 36}l6-4 5 5 6-6 6 6 6-5 6 4`} className="stroke-marigold" />
      )}
      <Sign x={cx} y={y} text={sign} />
    </>
  )
}

/** Tray and hold-down: broken where it does not hold. */
const tray: Symbol = ({ part: { x, y, w, h }, has }) => (
  <path
    d={`M${x} ${y}v${h}h${w}v${-h}`}
    className={has('hold_down') ? 'stroke-marigold' : 'stroke-lead'}
    strokeDasharray={has('hold_down') ? '5 5' : undefined}
  />
)

const box: Symbol = ({ part }) => (
  <>
    <rect x={part.x} y={part.y} width={part.w} height={part.h} rx="5" className={look(part)} />
    <Named part={part} />
  </>
)

/** A battery from above among others, its posts signed. */
const box_signed: Symbol = ({ part }) => {
  const { x, y, w, h, state } = part
  const faint = state === 'faint'
  return (
    <>
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        rx="3"
        className={look(part)}
        strokeDasharray={faint ? '5 4' : undefined}
      />
      <Sign x={x + 12} y={y + h / 2} text="−" faint={faint} />
      <Sign x={x + w - 12} y={y + h / 2} text="+" faint={faint} />
    </>
  )
}

/** A starter from the side: its body, the solenoid on top, the pinion. */
const starter: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x + 6} y={y + h * 0.36} width={w * 0.66} height={h * 0.52} rx="8" className="fill-paper stroke-ink" />
      <rect x={x + 14} y={y + h * 0.08} width={w * 0.44} height={h * 0.26} rx="5" className="fill-sheet stroke-ink" />
      <path
        d={`M${x + 6 + w * 0.66} ${y + h * 0.5}h${w * 0.12}v${h * 0.24}h${-w * 0.12}M${x + w * 0.9} ${y + h * 0.46}v${h * 0.32}`}
        className="stroke-ink"
      />
      <Named part={part} at={y + h * 0.63} away={-w * 0.1} />
    </>
  )
}

/** An alternator from the front: pulley, vanes. */
const alternator: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  const [cx, cy, r] = [x + w / 2, y + h / 2, w / 2]
  return (
    <>
      <circle cx={cx} cy={cy} r={r} className="fill-paper stroke-ink" />
      <circle cx={cx} cy={cy} r={r * 0.78} className="stroke-line" strokeDasharray="6 6" />
      <circle cx={cx} cy={cy - r * 0.3} r={r * 0.2} className="fill-sheet stroke-ink" />
      <Named part={part} at={cy + r * 0.32} />
    </>
  )
}

const joint: Symbol = ({ part }) => {
  const { x, y, w, value, state } = part
  const [cx, cy] = [x + w / 2, y + w / 2]
  return (
    <>
      <circle cx={cx} cy={cy} r={w / 2} className={looks[state === '' ? 'faint' : state]} />
      {value !== '' && (
        <text
          x={cx + 14}
          y={cy - 10}
          className={`num stroke-transparent text-small font-bold max-md:text-figure ${state === 'bad' ? 'fill-oxide-text' : 'fill-verdigris-text'}`}
        >
          {value}
        </text>
      )}
    </>
  )
}

const off: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x} ${y}l${w} ${h}M${x + w} ${y}l${-w} ${h}`} className="stroke-marigold" strokeWidth="3" />
)

const sign: Symbol = ({ part }) => (
  <>
    {part.state !== '' && (
      <circle cx={part.x + part.w / 2} cy={part.y + part.h / 2} r={part.w / 2} className={look(part)} />
    )}
    <Sign x={part.x + part.w / 2} y={part.y + part.h / 2} text={part.sign} />
  </>
)

/** A car from the side, its front to the left. */
const car_side: Symbol = ({ part: { x, y, w, h } }) => {
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

const vent_tube: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x + w / 2} ${y}v${h - 6}m-4-5l4 6 4-6`} className="stroke-ink" strokeDasharray="3 4" />
)

const case_edge: Symbol = ({ part: { x, y, w, h } }) => (
  <>
    <path d={`M${x} ${y}h${w - 16}v${h}H${x}`} className="fill-sheet stroke-ink" />
    <rect x={x + w - 16} y={y + h / 2 - 13} width="16" height="26" className="fill-paper stroke-ink" />
  </>
)

/** A threaded adapter: the thread, the post it makes. */
const adapter: Symbol = ({ part: { x, y, w, h } }) => {
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
const clip: Symbol = ({ part: { x, y, w, h } }) => (
  <path
    d={`M${x} ${y}c${w * 0.4} 0 ${w * 0.66} ${h * 0.22} ${w} ${h * 0.22}M${x} ${y + h}c${w * 0.4} 0 ${w * 0.66} ${-h * 0.22} ${w} ${-h * 0.22}M${x} ${y}v${h}`}
    className="stroke-ink"
  />
)

const name: Symbol = ({ part }) => <Named part={part} at={part.y + part.h / 2} />

function Named({ part, at, away = 0 }: { part: ScenePart; at?: number; away?: number }) {
  if (part.name === '') return null
  return (
    <text
      x={part.x + part.w / 2 + away}
      y={at ?? part.y + part.h * 0.58}
      textAnchor="middle"
      dominantBaseline="central"
      className="fill-lead stroke-transparent text-small"
    >
      {part.name}
    </text>
  )
}

export const symbols: Record<string, Symbol> = {
  battery_case,
  battery_top,
  cap,
  seam,
  post_clamp,
  side_pad,
  tray,
  box,
  box_signed,
  starter,
  alternator,
  joint,
  off,
  sign,
  car_side,
  vent_tube,
  case_edge,
  adapter,
  clip,
  name,
}
