// The verdict glyphs: one shank, four flukes, and what they hold on to.
import type { ReactNode } from 'react'

type Tone = 'verdigris' | 'marigold' | 'oxide' | 'lead'

const toneOf: Record<string, Tone> = {
  keep: 'verdigris',
  look_elsewhere: 'verdigris',
  charge_and_retest: 'marigold',
  clean_and_retest: 'marigold',
  more_tests: 'marigold',
  replace: 'oxide',
  stop_unsafe: 'oxide',
}

const washClass: Record<Tone, string> = {
  verdigris: 'fill-verdigris-wash',
  marigold: 'fill-marigold-wash',
  oxide: 'fill-oxide-wash',
  lead: 'fill-paper',
}

const strokeClass: Record<Tone, string> = {
  verdigris: 'stroke-verdigris',
  marigold: 'stroke-marigold',
  oxide: 'stroke-oxide',
  lead: 'stroke-lead',
}

/** The colour a verdict is written in. */
export function toneFor(action: string): Tone {
  return toneOf[action] ?? 'lead'
}

const shank = (
  <>
    <circle cx="28" cy="12" r="3.2" />
    <path d="M28 15.500V37M22 21.500h12" />
  </>
)

const leftFlukes = <path d="M28 37c-7 0-12-4-12.500-11l-3 3.500M28 37c-4 0-6.500-3.500-6.500-8.500" />
const rightFlukes = <path d="M28 37c7 0 12-4 12.500-11l3 3.500M28 37c4 0 6.500-3.500 6.500-8.500" />

const dotted = (
  <g strokeDasharray="0.1 5.2">
    <path d="M14 42.500h29" />
    <path d="M18 47h21" />
  </g>
)

function anchor(extra: ReactNode) {
  return (
    <>
      {shank}
      {leftFlukes}
      {rightFlukes}
      {extra}
    </>
  )
}

const drawings: Record<string, ReactNode> = {
  keep: anchor(<path d="M10 33.500h8M38 33.500h8M12 42h32" />),
  charge_and_retest: anchor(
    <>
      {dotted}
      <path d="M43 9l-3.500 5h5L41 19" strokeWidth="2.2" />
    </>,
  ),
  clean_and_retest: anchor(
    <>
      {dotted}
      <path
        d="M42 9c2.500 3.500 3.500 5 3.500 6.500a3.500 3.500 0 0 1-7 0C38.500 14 39.500 12.500 42 9z"
        strokeWidth="2.2"
      />
    </>,
  ),
  replace: (
    <>
      {shank}
      {leftFlukes}
      <path d="M28 37c4 0 6.500-3.500 6.500-8.500M28 37c2.500 0 4.500-.500 6.500-1.700" />
      <path d="M40 40.500c2.500-2 4-5 4.200-8.500l3 2.500" />
    </>
  ),
  look_elsewhere: anchor(
    <>
      <path d="M10 43h27" />
      <path d="M37 43c5 0 7-1.500 8.500-4" strokeDasharray="0.1 4.600" />
      <circle cx="47" cy="33.500" r="3.600" />
    </>,
  ),
  more_tests: anchor(null),
  stop_unsafe: (
    <>
      <path d="M20.500 10h15l10.500 10.500v15L35.500 46h-15L10 35.500v-15z" />
      <path d="M19 28h18" strokeWidth="4.500" />
    </>
  ),
}

/** The glyph of a verdict; its words stand beside it, so it is hidden from readers. */
export function Glyph({ action, size = 56 }: { action: string; size?: number }) {
  const tone = toneFor(action)
  return (
    <svg width={size} height={size} viewBox="0 0 56 56" aria-hidden="true" className="shrink-0">
      <circle cx="28" cy="28" r="27" className={washClass[tone]} />
      <g
        className={strokeClass[tone]}
        fill="none"
        strokeWidth="3"
        strokeLinecap="round"
        strokeLinejoin="round"
        transform="translate(28 28) scale(0.86) translate(-28 -28.500)"
      >
        {drawings[action] ?? drawings.more_tests}
      </g>
    </svg>
  )
}

/** The mark of the product. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="8 6 40 36" aria-hidden="true" className="shrink-0">
      <g fill="none" stroke="currentColor" strokeWidth="3" strokeLinecap="round" strokeLinejoin="round">
        {shank}
        {leftFlukes}
        {rightFlukes}
      </g>
    </svg>
  )
}
