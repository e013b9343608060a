// Old and new over each other, to scale: from above and from the side. What moves over is
// drawn where it goes; what is not known is not drawn.
import type { CaseBody, FitSum } from '../../api/types'
import { useRem } from '../../parts/rem'
import { useWidth } from '../../parts/width'

type Box = FitSum['old_box']
type Drawn = { old: Box; oldBody: CaseBody; now?: Box; nowBody?: CaseBody; wants: FitSum['wants'] }

const thin = '\u00a0'
const usual = { length: 242, width: 175, height: 190 }

/** A side of either that is known, for the frame of the drawing. */
const known = (...sides: (number | null | undefined)[]) => Math.max(...sides.map((s) => s ?? 0))

/** Where the posts lie on a case seen from above with its posts along the near long side. */
function posts(layout: string, length: number, width: number) {
  const inset = Math.min(length, width) * 0.14
  const near = width - inset
  const right = layout.endsWith('right')
  const far = layout.startsWith('diagonal') ? inset : near
  const plus = { x: right ? length - inset : inset, y: near }
  const minus = { x: right ? inset : length - inset, y: far }
  return { plus, minus }
}

/** How many letters wide the words on either side of the case are, where a tube is drawn; a
 * case as narrow as so many letters has no room for more than its signs. */
const [wordsAside, narrowCase] = [5.5, 24]

export function Above({ old, oldBody, now, nowBody, wants }: Drawn) {
  const rem = useRem()
  const [ref, shownWidth] = useWidth<SVGSVGElement>(600)
  const tray = { l: wants.tray_length_mm, w: wants.tray_width_mm }
  const long = known(tray.l, old.length_mm, now?.length_mm) || usual.length
  const wide = known(tray.w, old.width_mm, now?.width_mm) || usual.width
  const k = 560 / Math.max(long, 300)
  // What is written on either side has its room, however large the letters are.
  const per = (rem * 0.9) / Math.max(shownWidth, 1)
  const vent = oldBody.vent_side || wants.vent_side
  const aside = vent === 'left' || vent === 'right' ? wordsAside : 1
  const letters = (per * long * k) / Math.max(0.2, 1 - 2 * aside * per)
  const [left, top] = [aside * letters, letters * 2.4]
  const [w, h] = [left * 2 + long * k, top + wide * k + 12]
  const rect = (l?: number | null, b?: number | null) =>
    l && b ? { x: left, y: top + (wide - b) * k, width: l * k, height: b * k } : undefined
  const box = { old: rect(old.length_mm, old.width_mm), now: now && rect(now.length_mm, now.width_mm) }
  const trayBox = rect(tray.l, tray.w)
  const layout = nowBody?.layout || ''
  const shown = box.now ?? box.old
  const at = shown && layout ? posts(layout, shown.width, shown.height) : undefined
  const over = (now?.length_mm ?? 0) > (tray.l ?? Infinity) || (now?.width_mm ?? 0) > (tray.w ?? Infinity)
  const swapped = oldBody.layout && layout && oldBody.layout !== layout
  const says = [
    trayBox && `tray ${tray.l} by ${tray.w} millimetres`,
    box.old && `old ${old.length_mm} by ${old.width_mm}`,
    box.now && `new ${now?.length_mm} by ${now?.width_mm}`,
    swapped && 'the posts lie the other way',
  ].filter(Boolean)
  if (!shown) return <p className="text-lead">The size of neither is known: nothing can be drawn to scale.</p>
  return (
    <svg
      ref={ref}
      viewBox={`0 0 ${w} ${h}`}
      className="w-full max-w-[640px]"
      role="img"
      aria-label={`From above: ${says.join(', ')}.`}
    >
      <g fill="none" strokeWidth="2.4" strokeLinejoin="round" fontSize={letters}>
        {box.now && <rect {...box.now} rx="8" className="fill-paper stroke-ink" />}
        {box.old && <rect {...box.old} rx="8" strokeDasharray="7 6" className="stroke-lead" />}
        {trayBox && (
          <rect
            {...trayBox}
            rx="4"
            strokeDasharray="2 5"
            className={over ? 'stroke-oxide' : 'stroke-ink'}
            strokeWidth={over ? 3 : 1.8}
          />
        )}
        {trayBox && (
          <text x={trayBox.x} y={trayBox.y - 10} className="fill-lead stroke-transparent">
            tray {tray.l} × {tray.w}
            {thin}mm, dotted
          </text>
        )}
        {at &&
          (['plus', 'minus'] as const).map((sign) => (
            <Post
              key={sign}
              sign={sign}
              x={shown.x + at[sign].x}
              y={shown.y + at[sign].y}
              left={at[sign].x < shown.width / 2}
              measured={shown.width > narrowCase * letters}
              wrong={!!swapped}
              letters={letters}
            />
          ))}
        {swapped && box.old && <Ghosts layout={oldBody.layout} box={box.old} />}
        <Vent old={vent} now={nowBody?.vent_side ?? ''} box={shown} letters={letters} />
        <text
          x={shown.x + Math.min(shown.width, box.old?.width ?? Infinity) / 2}
          y={shown.y + shown.height / 2}
          textAnchor="middle"
          className="fill-ink stroke-transparent"
        >
          {differs(old, now)}
        </text>
      </g>
    </svg>
  )
}

/** What differs, in words, in the middle of the case. */
function differs(old: Box, now?: Box) {
  if (!now?.length_mm || !old.length_mm) return now?.length_mm ? `${now.length_mm}${thin}mm long` : ''
  const by = Math.round(now.length_mm - old.length_mm)
  if (by === 0) return 'the same length'
  return `${Math.abs(by)}${thin}mm ${by > 0 ? 'longer' : 'shorter'}`
}

type PostProps = {
  sign: 'plus' | 'minus'
  x: number
  y: number
  left: boolean
  measured: boolean
  wrong: boolean
  letters: number
}

function Post({ sign, x, y, left, measured, wrong, letters }: PostProps) {
  const r = letters * 1.05
  return (
    <g className={wrong ? 'stroke-oxide' : 'stroke-ink'}>
      <circle cx={x} cy={y} r={r} className="fill-sheet" />
      <path d={`M${x - r * 0.5} ${y}h${r}${sign === 'plus' ? `M${x} ${y - r * 0.5}v${r}` : ''}`} />
      {measured && (
        <text
          x={left ? x - r : x + r}
          y={y - r - 7}
          textAnchor={left ? 'start' : 'end'}
          className="num fill-lead stroke-transparent"
        >
          {sign === 'plus' ? '19.5' : '17.9'}
          {thin}mm
        </text>
      )}
    </g>
  )
}

/** Where the old posts were, where the new ones lie elsewhere. */
function Ghosts({ layout, box }: { layout: string; box: { x: number; y: number; width: number; height: number } }) {
  const at = posts(layout, box.width, box.height)
  return (
    <g className="stroke-lead" strokeDasharray="3 4">
      <circle cx={box.x + at.plus.x} cy={box.y + at.plus.y} r="21" />
      <circle cx={box.x + at.minus.x} cy={box.y + at.minus.y} r="21" />
    </g>
  )
}

type VentProps = {
  old: string
  now: string
  box: { x: number; y: number; width: number; height: number }
  letters: number
}

/** The gas outlet with its elbow, and its plug on the other side, where they go. */
function Vent({ old, now, box, letters }: VentProps) {
  if (old !== 'left' && old !== 'right') return null
  const y = box.y + box.height * 0.36
  const side = old === 'left' ? box.x : box.x + box.width
  const out = old === 'left' ? -1 : 1
  const other = old === 'left' ? box.x + box.width : box.x
  const moves = now !== '' && now !== old
  const words = (x: number, way: number, text: string, wrong = false) => (
    <text
      x={x}
      y={y - 12}
      textAnchor={way < 0 ? 'end' : 'start'}
      className={wrong ? 'fill-oxide stroke-transparent' : 'fill-lead stroke-transparent'}
      fontSize={letters * 0.92}
    >
      {text}
    </text>
  )
  if (now === 'none') return words(side + out * 8, out, 'no outlet', true)
  return (
    <g>
      <path d={`M${side} ${y}h${out * 26}q${out * 16} 0 ${out * 16} 18v40`} className="stroke-ink" strokeWidth="4" />
      <rect x={other - 8} y={y - 8} width="16" height="16" rx="4" className="fill-marigold stroke-ink" />
      {words(side + out * 8, out, moves ? 'elbow moves' : 'elbow')}
      {words(other - out * 14, -out, moves ? 'plug moves' : 'plug')}
    </g>
  )
}

/** How many letters wide the words beside the case are. */
const wordsBeside = 12

export function Beside({ old, now, nowBody, wants }: Drawn) {
  const rem = useRem()
  const [ref, shownWidth] = useWidth<SVGSVGElement>(440)
  const room = wants.tray_height_mm
  const high = known(room, old.height_mm, now?.height_mm) || usual.height
  const long = known(old.length_mm, now?.length_mm) || usual.length
  const k = 300 / Math.max(high, long)
  const [left, top] = [20, 52]
  const base = top + high * k
  // What is written beside it has its room, however large the letters are.
  const [per, drawn] = [(rem * 0.9) / Math.max(shownWidth, 1), left + 60 + long * k]
  const letters = (per * drawn) / Math.max(0.2, 1 - wordsBeside * per)
  const w = drawn + wordsBeside * letters
  const rect = (b?: Box) =>
    b?.length_mm && b.height_mm
      ? { x: left + 30, y: base - b.height_mm * k, width: b.length_mm * k, height: b.height_mm * k }
      : undefined
  const [was, is] = [rect(old), rect(now)]
  const shown = is ?? was
  if (!shown) return null
  const hold = wants.hold_down || nowBody?.hold_down || ''
  const over = room && now?.height_mm ? Math.round(room - now.height_mm) : undefined
  const says = [
    is && `new ${now?.height_mm} millimetres high`,
    was && `old ${old.height_mm}`,
    over != null && `${over} under the bonnet`,
  ]
  return (
    <svg
      ref={ref}
      viewBox={`0 0 ${w} ${base + 14}`}
      className="w-full max-w-[500px]"
      role="img"
      aria-label={`From the side: ${says.filter(Boolean).join(', ')}.`}
    >
      <g fill="none" strokeWidth="2.4" strokeLinejoin="round" strokeLinecap="round" fontSize={letters}>
        {is && <rect {...is} rx="6" className="fill-paper stroke-ink" />}
        {was && <rect {...was} rx="6" strokeDasharray="7 6" className="stroke-lead" />}
        {room && (
          <>
            <path
              d={`M${left} ${base - room * k}h${long * k + 60}`}
              className={over != null && over < 0 ? 'stroke-oxide' : 'stroke-ink'}
              strokeWidth="3.4"
            />
            <text
              x={left}
              y={base - room * k - letters * 0.6}
              className={over != null && over < 8 ? 'fill-oxide stroke-transparent' : 'fill-lead stroke-transparent'}
            >
              {over != null
                ? `bonnet or box, ${Math.abs(over)}${thin}mm ${over < 0 ? 'too low' : 'above'}`
                : `room for ${room}${thin}mm`}
            </text>
          </>
        )}
        {was && (
          <text
            x={left + 40 + Math.max(was.width, is?.width ?? 0)}
            y={was.y + letters}
            className="fill-lead stroke-transparent"
          >
            old, {old.height_mm}
            {thin}mm
          </text>
        )}
        {is && (
          <text
            x={left + 40 + Math.max(is.width, was?.width ?? 0)}
            y={is.y + letters * 2.4}
            className="fill-ink stroke-transparent"
          >
            new, {now?.height_mm}
            {thin}mm
          </text>
        )}
        {hold.startsWith('foot') && (
          <>
            <path
              d={`M${shown.x - 16} ${base - 10}h18M${shown.x + shown.width - 2} ${base - 10}h18`}
              className="stroke-ink"
              strokeWidth="5"
            />
            <text x={shown.x + shown.width + 24} y={base - 6} className="fill-ink stroke-transparent">
              hold-down on the foot
            </text>
          </>
        )}
        {(hold === 'top_bar' || hold === 'hooks') && (
          <path
            d={`M${shown.x - 8} ${base}V${shown.y - 5}h${shown.width + 16}V${base}`}
            className="stroke-ink"
            strokeWidth="3.4"
          />
        )}
      </g>
    </svg>
  )
}
