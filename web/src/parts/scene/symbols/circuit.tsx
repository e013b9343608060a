// What stands around a battery in its circuit.
import { look, looks, Named, Sign, type Symbol } from './drawn'

export const box: Symbol = ({ part }) => (
  <>
    <rect x={part.x} y={part.y} width={part.w} height={part.h} rx="5" className={look(part)} />
    <Named part={part} />
  </>
)

/** A battery from above among others, its posts signed. */
export const box_signed: Symbol = ({ part }) => {
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
export const starter: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  return (
    <>
      <rect x={x + 6} y={y + h * 0.36} width={w * 0.66} height={h * 0.52} rx="8" className="fill-paper stroke-ink" />
      <rect x={x + 14} y={y + h * 0.08} width={w * 0.44} height={h * 0.26} rx="5" className="fill-sheet stroke-ink" />
      <path
        d={`M${x + 6 + w * 0.66} ${y + h * 0.5}h${w * 0.12}v${h * 0.24}h${-w * 0.12}M${x + w * 0.9} ${y + h * 0.46}v${h * 0.32}`}
        className="stroke-ink"
      />
      <Named part={part} at={y + h + 16} away={w * 0.6} />
    </>
  )
}

/** An alternator from the front: pulley, vanes. */
export const alternator: Symbol = ({ part }) => {
  const { x, y, w, h } = part
  const [cx, cy, r] = [x + w / 2, y + h / 2, w / 2]
  return (
    <>
      <circle cx={cx} cy={cy} r={r} className="fill-paper stroke-ink" />
      <circle cx={cx} cy={cy} r={r * 0.78} className="stroke-line" strokeDasharray="6 6" />
      <circle cx={cx} cy={cy - r * 0.3} r={r * 0.2} className="fill-sheet stroke-ink" />
      <Named part={part} at={y + h + 16} />
    </>
  )
}

/** Where a joint's figure stands clear of every lead and of the figure beside it: from its
 * middle, and the end of the text that is there. By its place: which side it is on hangs on
 * the earth. */
function clearOf(cx: number, cy: number): [number, number, 'start' | 'end'] {
  if (cy < 80 && cx < 110) return [4, -13, 'end']
  if (cy < 80 && cx < 200) return [6, -13, 'end']
  if (cy > 150 && cx < 110) return [-14, 5, 'end']
  if (cy > 190) return [10, 26, 'start']
  return [14, -10, 'start']
}

export const joint: Symbol = ({ part }) => {
  const { x, y, w, value, state } = part
  const [cx, cy] = [x + w / 2, y + w / 2]
  const [dx, dy, anchor] = clearOf(cx, cy)
  return (
    <>
      <circle cx={cx} cy={cy} r={w / 2} className={looks[state === '' ? 'faint' : state]} />
      {value !== '' && (
        <text
          x={cx + dx}
          y={cy + dy}
          textAnchor={anchor}
          className={`num stroke-transparent font-bold ${state === 'bad' ? 'fill-oxide-text' : 'fill-verdigris-text'}`}
        >
          {value}
        </text>
      )}
    </>
  )
}

export const off: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x} ${y}l${w} ${h}M${x + w} ${y}l${-w} ${h}`} className="stroke-marigold" strokeWidth="3" />
)

export const sign: Symbol = ({ part }) => (
  <>
    {part.state !== '' && (
      <circle cx={part.x + part.w / 2} cy={part.y + part.h / 2} r={part.w / 2} className={look(part)} />
    )}
    <Sign x={part.x + part.w / 2} y={part.y + part.h / 2} text={part.sign} />
  </>
)
