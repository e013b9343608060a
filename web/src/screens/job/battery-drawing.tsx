// The battery as it stands on the bench, with what was seen on it.
import type { Label } from '../../api/types'
import { useWord } from '../../api/words'

type Props = {
  label: Label
  seen: string[]
  positiveEarth: boolean
  sidePosts?: boolean
  /** The place that is tapped, and what a tap on one does. */
  place?: string
  onPlace?: (place: string) => void
}

/** The places of the drawing that can be tapped, as boxes in its own units. */
const zones: { place: string; box: [number, number, number, number] }[] = [
  { place: 'negative', box: [30, 30, 64, 34] },
  { place: 'positive', box: [186, 30, 64, 34] },
  { place: 'top', box: [96, 54, 90, 30] },
  { place: 'case', box: [24, 112, 232, 92] },
  { place: 'tray', box: [12, 208, 256, 26] },
]

/** The same where the posts are pads in the side: they lie over the case. */
const sideZones: typeof zones = [
  { place: 'top', box: [38, 50, 204, 36] },
  { place: 'case', box: [84, 112, 112, 92] },
  { place: 'tray', box: [12, 208, 256, 26] },
  { place: 'negative', box: [28, 104, 52, 102] },
  { place: 'positive', box: [200, 104, 52, 102] },
]

export function BatteryDrawing({ label, seen, positiveEarth, sidePosts, place, onPlace }: Props) {
  const word = useWord()
  const cells = Math.round(label.nominal_v / 2)
  const has = (finding: string, side?: string) =>
    seen.some(
      (l) =>
        l.startsWith(`look ${finding}`) &&
        (!side || l.includes(side) || !/positive|negative|both/.test(l) || l.includes('both')),
    )
  const [left, width] = [24, 232]
  const names = seen.map((l) => word(l.split(' ')[1] ?? '')).join(', ')
  return (
    <svg
      viewBox="0 0 280 240"
      className="w-full max-w-[320px]"
      role="img"
      aria-label={names ? `Battery, seen: ${names}` : 'Battery, nothing seen yet'}
    >
      <g fill="none" className="stroke-ink" strokeWidth="2.4" strokeLinejoin="round" strokeLinecap="round">
        <path
          d={has('bulge') ? 'M24 84q-16 62 0 124h232q16-62 0-124z' : 'M24 84h232v124H24z'}
          className={has('bulge') ? 'fill-sheet stroke-oxide' : 'fill-sheet'}
        />
        <path d="M24 84l14-26h204l14 26" className="fill-sheet" />
        <path d="M24 112h232" className="stroke-line" />
        <path
          d="M12 214v16h256v-16"
          className={has('hold_down') ? 'stroke-marigold' : 'stroke-lead'}
          strokeDasharray={has('hold_down') ? '5 5' : undefined}
        />
        {!sidePosts && <Cable side="negative" bad={has('cable', 'negative')} />}
        {!sidePosts && <Cable side="positive" bad={has('cable', 'positive')} />}
        {Array.from({ length: cells }, (_, i) => {
          const cx = left + (width / cells) * (i + 0.5)
          return label.sealed === false ? (
            <ellipse key={i} cx={cx} cy="71" rx={Math.min(13, 70 / cells)} ry="6" className="fill-paper" />
          ) : (
            <path key={i} d={`M${cx - 8} 71h16`} className="stroke-line" />
          )
        })}
        <Post
          side={sidePosts}
          x={62}
          sign="−"
          dirty={has('corrosion', 'negative') || has('oxide', 'negative')}
          loose={has('clamp', 'negative') || has('post_loose')}
        />
        <Post
          side={sidePosts}
          x={218}
          sign="+"
          dirty={has('corrosion', 'positive') || has('oxide', 'positive')}
          loose={has('clamp', 'positive') || has('post_loose')}
        />
        {has('crack') && <path d="M150 112l-12 22 18 14-14 26 8 34" className="stroke-oxide" strokeWidth="3" />}
        {has('case_leak') && (
          <path d="M180 208c0 8-5 10-5 15a5 5 0 0 0 10 0c0-5-5-7-5-15z" className="fill-oxide-wash stroke-oxide" />
        )}
        {has('frozen') && <path d="M140 132v48M119 144l42 24M161 144l-42 24" className="stroke-oxide" />}
        {has('dirty_top') && <path d="M60 66q30-10 60 0t60 0t44 0" className="stroke-marigold" strokeDasharray="3 4" />}
      </g>
      <text x="62" y="20" textAnchor="middle" className="fill-lead text-small">
        {positiveEarth ? 'live side' : 'earthed side'}
      </text>
      <text x="218" y="20" textAnchor="middle" className="fill-lead text-small">
        {positiveEarth ? 'earthed side' : 'live side'}
      </text>
      <text x="140" y="196" textAnchor="middle" className="num fill-lead text-tick">
        {label.nominal_v} V, {cells} cells
      </text>
      {onPlace &&
        (sidePosts ? sideZones : zones).map(({ place: name, box: [x, y, w, h] }) => (
          <rect
            key={name}
            x={x}
            y={y}
            width={w}
            height={h}
            rx="8"
            onClick={() => onPlace(name)}
            data-place={name}
            className={`cursor-pointer fill-transparent ${name === place ? 'stroke-focus' : 'stroke-transparent hover:stroke-lead'}`}
            strokeWidth="2.4"
            strokeDasharray="5 4"
          />
        ))}
    </svg>
  )
}

type PostProps = { x: number; sign: string; dirty: boolean; loose: boolean; side?: boolean }

/** A post on the top, or a threaded pad in the side with its bolted cable. */
function Post({ x, sign, dirty, loose, side }: PostProps) {
  const tone = dirty || loose ? 'fill-marigold-wash stroke-marigold' : 'fill-paper'
  const y = side ? 154 : 58
  return (
    <g>
      {side ? (
        <>
          <path d={`M${x - 14} 130h28v26h-28z`} className={tone} />
          <circle cx={x} cy="143" r="7" className="fill-sheet" />
          <path d={`M${x} 150v60`} strokeWidth="5" className="stroke-lead" />
        </>
      ) : (
        <path d={`M${x - 10} 60v-22h20v22z`} className={tone} />
      )}
      {dirty && <path d={`M${x - 16} ${y}l5-4 4 5 5-6 5 5 5-5 4 5`} className="stroke-marigold" />}
      {loose && <path d={`M${x + 19} ${y - 24}q6 8 0 16M${x - 19} ${y - 24}q-6 8 0 16`} className="stroke-marigold" />}
      <text
        x={x}
        y={side ? 126 : 101}
        textAnchor="middle"
        className="fill-ink stroke-transparent text-figure font-bold"
      >
        {sign}
      </text>
    </g>
  )
}

/** A cable that leaves its clamp; green or damaged it is marked. */
function Cable({ side, bad }: { side: 'negative' | 'positive'; bad: boolean }) {
  const path = side === 'negative' ? 'M52 44C24 40 10 52 6 84' : 'M228 44c28-4 42 8 46 40'
  return <path d={path} strokeWidth="5" className={bad ? 'stroke-oxide' : 'stroke-lead'} />
}
