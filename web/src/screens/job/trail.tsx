import { Knot, knotWords } from '../../parts/knot'
import type { Stage } from '../../api/types'
import { useWord } from '../../api/words'

type Props = { trail: Stage[]; here: string; onGo: (stage: string) => void }

/** The trail of stages in working order: a rope with knots. */
export function Trail({ trail, here, onGo }: Props) {
  const word = useWord()
  return (
    <nav
      aria-label="Stages of the job"
      className="hidden w-[186px] shrink-0 overflow-y-auto bg-paper px-5 pt-5 lg:block"
    >
      <div className="relative">
        <Rope vertical />
        <ol className="relative">
          {trail.map((s, i) => (
            <li key={s.code}>
              <button
                type="button"
                onClick={() => onGo(s.code)}
                aria-current={s.code === here ? 'step' : undefined}
                aria-keyshortcuts={String(i + 1)}
                className="flex min-h-target w-full items-start gap-3 pb-1.5 text-left leading-snug"
              >
                <Knot state={s.state} here={s.code === here} />
                <span>
                  <span className={`font-bold ${s.code === here ? 'border-b-[3px] border-marigold' : ''}`}>
                    {word(s.code)}
                  </span>
                  <span className="block text-small text-lead">{s.text.text}</span>
                  <span className="sr-only">{knotWords[s.state]}</span>
                </span>
              </button>
            </li>
          ))}
        </ol>
      </div>
    </nav>
  )
}

/** The same trail lying down, for a narrow screen. */
export function TrailAcross({ trail, here, onGo }: Props) {
  const word = useWord()
  return (
    <nav aria-label="Stages of the job" className="no-print border-b border-line bg-paper px-2 lg:hidden">
      <div className="relative mx-auto max-w-xl">
        <Rope />
        <ol className="relative flex justify-between">
          {trail.map((s) => (
            <li key={s.code}>
              <button
                type="button"
                onClick={() => onGo(s.code)}
                aria-current={s.code === here ? 'step' : undefined}
                aria-label={`${word(s.code)}: ${knotWords[s.state]}, ${s.text.text}`}
                className="grid h-target w-[44px] place-items-center"
              >
                <Knot state={s.state} here={s.code === here} />
              </button>
            </li>
          ))}
        </ol>
      </div>
    </nav>
  )
}

/** The rope between the knots: two strands laid into each other. */
function Rope({ vertical = false }: { vertical?: boolean }) {
  const box = vertical
    ? 'absolute top-3 bottom-9 left-[9px] w-1.5'
    : 'absolute top-[calc(var(--target)/2-3px)] right-5 left-5 h-1.5'
  return (
    <div className={box}>
      <svg aria-hidden="true" className="block size-full">
        <defs>
          <pattern id={vertical ? 'rope-v' : 'rope-h'} width="6" height="6" patternUnits="userSpaceOnUse">
            <path d="M0 6L6 0M-1 1l2-2M5 7l2-2" className="stroke-rope" strokeWidth="2.4" />
          </pattern>
        </defs>
        <rect width="100%" height="100%" fill={`url(#${vertical ? 'rope-v' : 'rope-h'})`} />
      </svg>
    </div>
  )
}
