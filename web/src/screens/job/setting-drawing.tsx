// How the battery sits and what it is joined to: what is taken apart for a test, and
// where it is fed when it is out of reach.
type Props = { where?: string; joined?: string; posts?: string }

export function SettingDrawing({ where, joined, posts }: Props) {
  const remote = where === 'boot' || where === 'seat' || where === 'wheel_arch'
  const several = joined === 'parallel' || joined === 'series' || joined === 'bank'
  if (!remote && !several && posts !== 'side') return null
  return (
    <div className="grid content-start gap-3">
      {several && <Joined how={joined} />}
      {remote && <Remote where={where} />}
      {posts === 'side' && <SidePad />}
    </div>
  )
}

const line = { fill: 'none', strokeWidth: 2.4, strokeLinejoin: 'round', strokeLinecap: 'round' } as const

function Box({ x, y, width = 66, here }: { x: number; y: number; width?: number; here?: boolean }) {
  return (
    <g>
      <rect
        x={x}
        y={y}
        width={width}
        height="40"
        rx="3"
        className={here ? 'fill-verdigris-wash stroke-ink' : 'fill-sheet stroke-lead'}
        strokeDasharray={here ? undefined : '5 4'}
      />
      <text x={x + 13} y={y + 26} textAnchor="middle" className="fill-ink stroke-transparent text-sign font-bold">
        −
      </text>
      <text
        x={x + width - 13}
        y={y + 26}
        textAnchor="middle"
        className="fill-ink stroke-transparent text-sign font-bold"
      >
        +
      </text>
    </g>
  )
}

/** A link that is taken off before a battery is tested. */
function Off({ x, y }: { x: number; y: number }) {
  return <path d={`M${x - 7} ${y - 7}l14 14M${x + 7} ${y - 7}l-14 14`} className="stroke-marigold" strokeWidth="3" />
}

const joins = {
  parallel: {
    name: 'Two side by side, plus to plus: both links off, each tested alone',
    links: 'M43 46V22H215V46M87 46V34H259V46',
    off: [
      [150, 22],
      [150, 34],
    ],
    boxes: [32, 204],
  },
  series: {
    name: 'Two in a row, plus to minus: the link off, each tested alone',
    links: 'M89 46V26H215V46M43 46V14M259 46V14',
    off: [[150, 26]],
    boxes: [32, 204],
  },
  bank: {
    name: 'A bank: every link off, each tested alone',
    links: 'M27 46V22H227V46M127 46V22M71 46V34H271V46M171 46V34',
    off: [
      [90, 22],
      [90, 34],
      [195, 22],
      [195, 34],
    ],
    boxes: [16, 116, 216],
  },
} as const

function Joined({ how }: { how: keyof typeof joins }) {
  const { name, links, off, boxes } = joins[how]
  return (
    <figure>
      <svg viewBox="0 0 302 92" className="w-full max-w-[320px]" role="img" aria-label={name}>
        <g {...line} className="stroke-ink">
          <path d={links} className="stroke-lead" />
          {off.map(([x, y], i) => (
            <Off key={i} x={x} y={y} />
          ))}
          {boxes.map((x, i) => (
            <Box key={x} x={x} y={46} here={i === 0} />
          ))}
        </g>
      </svg>
      <figcaption className="text-small text-lead">{name}</figcaption>
    </figure>
  )
}

const places: Record<string, string> = { boot: 'in the boot', seat: 'under a seat', wheel_arch: 'in the wheel arch' }

/** The battery at the back, its posts in front, and the tube its gas leaves by. */
function Remote({ where }: { where: string }) {
  const name = `It sits ${places[where] ?? 'out of reach'}: fed at the marked posts in front; its gas leaves by a tube`
  return (
    <figure>
      <svg viewBox="0 0 302 104" className="w-full max-w-[320px]" role="img" aria-label={name}>
        <g {...line} className="stroke-ink">
          <path
            d="M10 74c0-20 8-26 40-28 18-22 30-30 62-30h70c30 0 40 8 54 30 40 2 56 8 56 28z"
            className="fill-sheet stroke-lead"
          />
          <circle cx="66" cy="78" r="15" className="fill-paper stroke-lead" />
          <circle cx="236" cy="78" r="15" className="fill-paper stroke-lead" />
          <path d="M44 58H190" className="stroke-ink" />
          <circle cx="40" cy="58" r="5" className="fill-verdigris-wash" />
          <path d="M22 58h8M22 52v12" />
          <rect x="190" y="44" width="34" height="24" rx="2" className="fill-verdigris-wash" />
          <path d="M207 68v28" strokeDasharray="3 5" />
        </g>
      </svg>
      <figcaption className="text-small text-lead">{name}</figcaption>
    </figure>
  )
}

/** A pad in the side: tested and charged through an adapter, no ring lead in between. */
function SidePad() {
  const name = 'Pads in the side: an adapter screwed in to test and to charge, nothing between cable and pad'
  return (
    <figure>
      <svg viewBox="0 0 302 92" className="w-full max-w-[320px]" role="img" aria-label={name}>
        <g {...line} className="stroke-ink">
          <path d="M14 10h70v72H14" className="fill-sheet" />
          <rect x="84" y="34" width="16" height="26" className="fill-paper" />
          <path d="M124 40h34M124 54h34M124 36v22M132 40v14M140 40v14M148 40v14" />
          <path d="M158 32h24v30h-24z" className="fill-verdigris-wash" />
          <path d="M182 47h26" />
          <path d="M208 30c26 0 44 8 60 8M208 64c26 0 44-8 60-8M208 30v34" />
        </g>
      </svg>
      <figcaption className="text-small text-lead">{name}</figcaption>
    </figure>
  )
}
