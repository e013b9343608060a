// A battery as it stands: its case and top, posts and pads, the tray under it.
import { look, Sign, type Symbol } from './drawn'

/** The box of a battery from the front; bulged, cracked, leaking, frozen as it was seen. */
export const battery_case: Symbol = ({ part: { x, y, w, h }, has }) => {
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
export const battery_top: Symbol = ({ part: { x, y, w, h }, has }) => (
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

export const cap: Symbol = ({ part: { x, y, w, h } }) => (
  <ellipse cx={x + w / 2} cy={y + h / 2} rx={Math.min(13, w * 0.32)} ry="6" className="fill-paper stroke-ink" />
)

export const seam: Symbol = ({ part: { x, y, w, h } }) => (
  <path d={`M${x + w / 2 - 8} ${y + h / 2}h16`} className="stroke-line" />
)

/** A tapered post with its clamp round it, bolted at the side. */
export const post_clamp: Symbol = ({ part, has }) => {
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
export const side_pad: Symbol = ({ part, has }) => {
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
export const tray: Symbol = ({ part: { x, y, w, h }, has }) => (
  <path
    d={`M${x} ${y}v${h}h${w}v${-h}`}
    className={has('hold_down') ? 'stroke-marigold' : 'stroke-lead'}
    strokeDasharray={has('hold_down') ? '5 5' : undefined}
  />
)
