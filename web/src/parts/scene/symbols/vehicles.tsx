// Vehicles and the places in them, as a service manual shows them: what matters in ink, the
// rest in quiet lines.
import { look, Scaled, type Symbol } from './drawn'

/** The engine bay of a car from above, its front at the top: lamps, panel, the engine with
 * its belt side, the towers of the suspension, the wipers' well. */
export const bay: Symbol = ({ part }) => (
  <Scaled part={part} size={[240, 260]}>
    <path
      d="M6 254V74C6 34 46 8 120 8s114 26 114 66v180z"
      className={part.state === '' ? 'fill-paper stroke-ink' : look(part)}
    />
    <path d="M22 66C34 40 70 26 120 26s86 14 98 40" className="stroke-line" />
    <path d="M18 60q6-20 26-32M222 60q-6-20-26-32" className="stroke-lead" strokeWidth="6" />
    <rect x="84" y="92" width="92" height="110" rx="10" className="fill-sheet stroke-ink" />
    <path d="M98 108h64M98 122h64M98 136h64" className="stroke-line" />
    <path d="M84 108h-8v78h8" className="stroke-ink" />
    <path d="M34 152a22 22 0 1 0 .1 0zM34 164a10 10 0 1 0 .1 0z" className="fill-sheet stroke-lead" />
    <path d="M206 152a22 22 0 1 0 .1 0zM206 164a10 10 0 1 0 .1 0z" className="fill-sheet stroke-lead" />
    <path d="M6 226H234" className="stroke-line" />
    <path d="M60 240q60-14 120 0" className="stroke-line" />
  </Scaled>
)

/** A boot from behind, its lid up: the floor with its cover, the wheel well, the place of the
 * battery beside it. */
export const boot: Symbol = ({ part }) => (
  <Scaled part={part} size={[240, 180]}>
    <path d="M40 62L58 8h124l18 54" className="fill-sheet stroke-lead" />
    <path d="M66 16h108l10 32H56z" className="stroke-line" />
    <path
      d="M14 172V92a30 30 0 0 1 30-30h152a30 30 0 0 1 30 30v80z"
      className={part.state === '' ? 'fill-paper stroke-ink' : look(part)}
    />
    <path d="M46 146V96a12 12 0 0 1 12-12h124a12 12 0 0 1 12 12v50z" className="fill-sheet stroke-ink" />
    <path
      d="M70 114a36 15 0 1 0 72 0a36 15 0 1 0-72 0zM98 114a8 4 0 1 0 16 0a8 4 0 1 0-16 0z"
      className="stroke-lead"
    />
    <rect x="152" y="98" width="34" height="32" rx="3" className="fill-sheet stroke-ink" strokeDasharray="6 5" />
    <path d="M20 104h16v24H20zM204 104h16v24h-16z" className="fill-sheet stroke-ink" />
    <path d="M14 156H226" className="stroke-ink" />
  </Scaled>
)

/** A seat from the side on its rails, and the room under it. */
export const seat: Symbol = ({ part }) => (
  <Scaled part={part} size={[180, 200]}>
    <path
      d="M34 108c-6-30-10-54-6-78 2-12 20-14 26-2 6 14 10 44 14 72z"
      className={part.state === '' ? 'fill-paper stroke-ink' : look(part)}
    />
    <path d="M28 26c-2-10 2-20 12-20s14 8 14 18" className="fill-paper stroke-ink" />
    <path
      d="M32 108h98c14 0 20 8 20 16s-6 14-18 14H48c-10 0-14-8-16-30z"
      className={part.state === '' ? 'fill-paper stroke-ink' : look(part)}
    />
    <path d="M60 124h70M46 50q6 26 8 46" className="stroke-line" />
    <path d="M52 138l-6 44M132 138l10 44" className="stroke-ink" />
    <rect x="62" y="150" width="62" height="32" rx="3" className="fill-sheet stroke-ink" strokeDasharray="6 5" />
    <path d="M20 184H168M20 192H168" className="stroke-ink" />
  </Scaled>
)

/** A motorcycle from the side, its front to the left. */
export const motorcycle: Symbol = ({ part }) => (
  <Scaled part={part} size={[300, 180]}>
    {[58, 238].map((cx) => (
      <g key={cx}>
        <circle cx={cx} cy="124" r="48" className="fill-paper stroke-ink" strokeWidth="6" />
        <circle cx={cx} cy="124" r="36" className="stroke-line" />
        <circle cx={cx} cy="124" r="8" className="fill-sheet stroke-ink" />
      </g>
    ))}
    <path d="M58 124L96 40" className="stroke-ink" strokeWidth="6" />
    <path d="M86 30h22l12-10" className="stroke-ink" strokeWidth="4" />
    <circle cx="82" cy="52" r="12" className="fill-sheet stroke-ink" />
    <path d="M96 52L146 128h44l48-4M146 128L196 74" className="stroke-ink" strokeWidth="4" />
    <path d="M104 58c4-14 22-20 46-18 16 1 26 10 30 24l-58 8c-10 0-16-6-18-14z" className={look(part)} />
    <path d="M180 64c22 6 48 2 80-6-4 18-30 26-62 24l-22-6z" className="fill-lead stroke-ink" />
    <path d="M132 82h46l-6 44h-36z" className="fill-sheet stroke-ink" />
    <path d="M136 92h38M137 102h36M138 112h33" className="stroke-line" />
    <rect x="182" y="86" width="26" height="22" rx="3" className="fill-sheet stroke-ink" strokeDasharray="5 4" />
    <path d="M150 132c20 14 60 12 110 2l2 12c-50 12-100 12-116-2z" className="fill-paper stroke-ink" />
    <path d="M30 86q28-22 58 4" className="stroke-ink" />
  </Scaled>
)

/** A ride-on mower from the side, its front to the left. */
export const mower: Symbol = ({ part }) => (
  <Scaled part={part} size={[300, 190]}>
    <path d="M22 112V84c0-14 10-24 26-26l74-8 8 62z" className={look(part)} />
    <path d="M34 82h74M34 92h74" className="stroke-line" />
    <path d="M22 112H216" className="stroke-ink" strokeWidth="4" />
    <path d="M130 112l-8-62 18-24" className="stroke-ink" strokeWidth="4" />
    <path d="M124 30l36-10" className="stroke-ink" strokeWidth="6" />
    <path d="M182 112c-8-16-4-30 14-30h74c10 0 14 10 8 20" className="fill-paper stroke-ink" />
    <path d="M188 82h58c8 0 8-10 0-12h-46c-10 0-14 6-12 12z" className="fill-lead stroke-ink" />
    <path d="M246 72c4-24 4-36 14-44 6-4 12 0 12 8 0 14-6 30-14 46" className="fill-lead stroke-ink" />
    <path d="M86 130h92l10 28H76z" className="fill-paper stroke-ink" />
    <path d="M84 146h98" className="stroke-line" />
    <path d="M110 112v18M156 112v18" className="stroke-ink" />
    <circle cx="44" cy="142" r="28" className="fill-sheet stroke-ink" strokeWidth="6" />
    <circle cx="44" cy="142" r="8" className="fill-paper stroke-ink" />
    <circle cx="232" cy="130" r="44" className="fill-sheet stroke-ink" strokeWidth="7" />
    <circle cx="232" cy="130" r="14" className="fill-paper stroke-ink" />
    <path
      d="M232 96v-6M232 170v-6M198 130h-6M272 130h-6M208 106l-4-4M260 158l-4-4M208 154l-4 4M260 102l-4 4"
      className="stroke-ink"
    />
  </Scaled>
)
