// What is brought to a battery: cables and their ends, charger, pack, meter; and what a
// cable is bolted to.
import { look, Scaled, type Symbol } from './drawn'

/** How many cells a battery has, by its marks; six where they do not say. */
function cells(marks: string[]): number {
  const said = marks.find((m) => m.startsWith('cells_'))
  return said ? Number(said.slice('cells_'.length)) : 6
}

/** A battery from above: its caps, the posts of two widths, each with its sign; pads in its
 * side instead, or a sensor on a post, where that is so. */
export const battery_above: Symbol = ({ part, has }) => {
  const n = cells(part.marks)
  const at = Array.from({ length: n }, (_, i) => 20 + (i + 0.5) * (100 / n))
  return (
    <>
      <Scaled part={part} size={[140, 84]}>
        <rect x="2" y="2" width="136" height="80" rx="7" className={look(part)} />
        <path d="M2 42H138" className="stroke-line" />
        {at.map((cx) => (
          <circle key={cx} cx={cx} cy="66" r="5.5" className="fill-paper stroke-line" />
        ))}
        {has('pads') ? (
          <>
            <path d="M12 82h24v8h-24zM104 82h24v8h-24z" className="fill-sheet stroke-ink" />
            <path d="M18 74h12M110 74h12M116 68v12" className="stroke-ink" />
          </>
        ) : (
          <>
            <circle cx="24" cy="23" r="11" className="fill-sheet stroke-ink" />
            <circle cx="116" cy="23" r="12.5" className="fill-sheet stroke-ink" />
            <path d="M18 23h12M110 23h12M116 17v12" className="stroke-ink" />
          </>
        )}
        {has('monitor') && <path d="M6 34h36v9H6z" className="fill-verdigris-wash stroke-ink" />}
        {part.value === '' && <path d="M52 14h36v8H52z" className="fill-paper stroke-line" />}
      </Scaled>
      {part.value !== '' && (
        <text
          x={part.x + part.w / 2}
          y={part.y + part.h * 0.3}
          textAnchor="middle"
          dominantBaseline="central"
          className="num fill-lead stroke-transparent"
        >
          {part.value}
        </text>
      )}
    </>
  )
}

/** A clamp from above: the ring that goes round the post, its slit with the bolt across,
 * the barrel that holds the cable. */
export const clamp: Symbol = ({ part }) => (
  <Scaled part={part} size={[72, 96]}>
    <path d="M26 55l-4 37h22l-4-37" className="fill-paper stroke-ink" />
    <path d="M25 66h17M24 75h19" className="stroke-line" />
    <path
      d="M33 58a24 24 0 1 1 14-43l0-11h8v26a24 24 0 0 1-22 28z M33 22a12 12 0 1 0 .1 0z"
      fillRule="evenodd"
      className={look(part)}
    />
    <path d="M47 15v9" className="stroke-ink" />
    <path d="M38 9h26" className="stroke-ink" />
    <path d="M64 4h6v10h-6z" className="fill-sheet stroke-ink" />
  </Scaled>
)

/** A ring terminal, crimped. */
export const ring: Symbol = ({ part }) => (
  <Scaled part={part} size={[48, 96]}>
    <path
      d="M24 2a20 20 0 0 1 8 38l-1 12H17l-1-12A20 20 0 0 1 24 2zM24 13a9 9 0 1 0 .1 0z"
      fillRule="evenodd"
      className={look(part)}
    />
    <path d="M14 52h20v30a4 4 0 0 1-4 4H18a4 4 0 0 1-4-4z" className="fill-paper stroke-ink" />
    <path d="M14 62h20M14 70h20" className="stroke-lead" />
    <path d="M19 86v9M29 86v9" className="stroke-ink" />
  </Scaled>
)

/** The end of a cable: its cover, cut back, and the strands. Minus is striped. */
export const cable_end: Symbol = ({ part }) => (
  <Scaled part={part} size={[120, 36]}>
    <path
      d="M84 10l30-5M84 15l34-2M84 20l34 3M84 25l30 7"
      className={part.marks.includes('cable_green') ? 'stroke-verdigris' : 'stroke-ink'}
    />
    <rect
      x="2"
      y="5"
      width="84"
      height="26"
      rx="5"
      className={part.sign === '−' ? 'fill-sheet stroke-ink' : 'fill-lead stroke-ink'}
    />
    {part.sign === '−' && (
      <path d="M16 5v26M34 5v26M52 5v26M70 5v26" className="stroke-ink" strokeWidth="7" strokeLinecap="butt" />
    )}
  </Scaled>
)

/** A stud with its nut and washer, from above. */
export const stud: Symbol = ({ part }) => (
  <Scaled part={part} size={[64, 64]}>
    <circle cx="32" cy="32" r="29" className="fill-paper stroke-ink" />
    <path d="M32 9l20 11.500v23L32 55 12 43.500v-23z" className={look(part)} />
    <circle cx="32" cy="32" r="11" className="fill-sheet stroke-ink" />
    <path d="M26 27a8 8 0 0 1 11 0" className="stroke-line" />
  </Scaled>
)

/** A braided ground strap between its two eyes. */
export const strap: Symbol = ({ part }) => (
  <Scaled part={part} size={[180, 40]}>
    <path d="M34 10H146V30H34z" className="fill-sheet stroke-ink" />
    {[0, 1, 2, 3, 4, 5, 6].map((i) => (
      <path key={i} d={`M${34 + i * 16} 10l16 20M${50 + i * 16} 10l-16 20`} className="stroke-lead" />
    ))}
    {[20, 160].map((cx) => (
      <g key={cx}>
        <circle cx={cx} cy="20" r="17" className={look(part)} />
        <circle cx={cx} cy="20" r="7" className="fill-sheet stroke-ink" />
      </g>
    ))}
  </Scaled>
)

/** A charger: a case with its handle, window and switch, and two leads, minus striped. */
export const charger: Symbol = ({ part }) => (
  <Scaled part={part} size={[150, 120]}>
    <path d="M46 22V8a4 4 0 0 1 4-4h50a4 4 0 0 1 4 4v14" className="stroke-ink" strokeWidth="5" />
    <rect x="10" y="20" width="130" height="72" rx="9" className={look(part)} />
    <rect x="24" y="32" width="54" height="26" rx="3" className="fill-paper stroke-ink" />
    <path d="M31 51c8-14 14-14 18-6s10 6 22-6" className="stroke-lead" />
    <circle cx="110" cy="45" r="15" className="fill-paper stroke-ink" />
    <path d="M110 45l8-9" className="stroke-ink" />
    <path d="M24 72h8M40 72h8M56 72h8M72 72h8" className="stroke-line" />
    <path d="M98 74h26" className="stroke-line" />
    <path d="M48 92v10a8 8 0 0 1-8 8H14" className="stroke-ink" strokeWidth="6" />
    <path
      d="M102 92v10a8 8 0 0 0 8 8h26"
      className="stroke-ink"
      strokeWidth="6"
      strokeDasharray="9 7"
      strokeLinecap="butt"
    />
  </Scaled>
)

/** A starter pack: carried by its grip, four marks of its own charge, leads in their cradle. */
export const pack: Symbol = ({ part }) => (
  <Scaled part={part} size={[120, 120]}>
    <path
      d="M22 34a26 26 0 0 1 26-28h24a26 26 0 0 1 26 28l8 6v62a10 10 0 0 1-10 10H24a10 10 0 0 1-10-10V40z"
      className={look(part)}
    />
    <path d="M38 34a12 12 0 0 1 12-12h20a12 12 0 0 1 12 12z" className="fill-paper stroke-ink" />
    <rect x="30" y="50" width="60" height="24" rx="4" className="fill-paper stroke-ink" />
    <path d="M40 56v12M53 56v12M66 56v12M79 56v12" className="stroke-verdigris" strokeWidth="5" />
    <path d="M26 92h22M72 92h22" className="stroke-ink" strokeWidth="7" />
    <path d="M33 85v14M26 92" className="stroke-sheet" />
    <circle cx="60" cy="94" r="6" className="fill-sheet stroke-ink" />
  </Scaled>
)

/** A meter: window, turning switch, its sockets. */
export const meter: Symbol = ({ part }) => (
  <Scaled part={part} size={[84, 140]}>
    <rect x="4" y="4" width="76" height="132" rx="12" className={look(part)} />
    <rect x="14" y="15" width="56" height="32" rx="3" className="fill-paper stroke-ink" />
    <path d="M22 24v14M28 24h8v7h-8v7h8M41 38h.1M57 24h-9v14h9v-7h-9" className="stroke-lead" />
    <circle cx="42" cy="80" r="21" className="fill-paper stroke-ink" />
    <path d="M42 80l-10-13" className="stroke-ink" strokeWidth="5" />
    {[-60, -20, 20, 60].map((a) => (
      <path key={a} d="M42 53v-4" transform={`rotate(${a} 42 80)`} className="stroke-line" />
    ))}
    {[20, 42, 64].map((cx) => (
      <circle key={cx} cx={cx} cy="120" r="6" className="fill-sheet stroke-ink" />
    ))}
  </Scaled>
)

/** A DC-DC converter: fins on its back, direct current in and out. */
export const converter: Symbol = ({ part }) => (
  <Scaled part={part} size={[140, 100]}>
    <path d="M22 18V6M36 18V6M50 18V6M64 18V6M78 18V6M92 18V6M106 18V6M120 18V6" className="stroke-ink" />
    <rect x="14" y="18" width="112" height="66" rx="5" className={look(part)} />
    <path d="M20 84L120 18" className="stroke-line" />
    <path d="M32 36h26M32 45h6M42 45h6M52 45h6M84 62h26M84 71h6M94 71h6M104 71h6" className="stroke-ink" />
    <path d="M2 40h12v22H2zM126 40h12v22h-12z" className="fill-paper stroke-ink" />
    <path d="M30 84v10M110 84v10" className="stroke-ink" strokeWidth="5" />
  </Scaled>
)

/** A fuse box, open: two rows of blade fuses and the large ones beside them. */
export const fuse_box: Symbol = ({ part }) => (
  <Scaled part={part} size={[160, 100]}>
    <rect x="4" y="8" width="152" height="84" rx="6" className={look(part)} />
    <path d="M18 8V2h24v6M118 8V2h24v6" className="stroke-ink" />
    {[0, 1].flatMap((row) =>
      [0, 1, 2, 3, 4].map((i) => (
        <g key={`${row}${i}`}>
          <rect x={14 + i * 20} y={18 + row * 34} width="13" height="24" rx="2" className="fill-paper stroke-ink" />
          <path
            d={`M${17.5 + i * 20} ${26 + row * 34}v8M${23.5 + i * 20} ${26 + row * 34}v8`}
            className="stroke-lead"
          />
        </g>
      )),
    )}
    {[0, 1].map((i) => (
      <g key={i}>
        <rect x="120" y={18 + i * 34} width="26" height="24" rx="3" className="fill-paper stroke-ink" />
        <path d={`M125 ${30 + i * 34}h5m6 0h5m-11 0q3-7 6 0`} className="stroke-lead" />
      </g>
    ))}
  </Scaled>
)
