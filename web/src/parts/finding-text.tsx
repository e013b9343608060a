import type { Finding } from '../api/types'

const closing = / (?:It proves|Proves) nothing yet\.$/

/** What a reading proves; one that proves nothing yet says so first, and once. */
export function FindingText({ finding, more = [] }: { finding: Finding; more?: string[] }) {
  const text = finding.text.text.replace(closing, '')
  const first = !finding.valid && !/proves nothing yet/i.test(text)
  return (
    <>
      {first && <strong className="text-marigold-text">Proves nothing yet. </strong>}
      {[text, ...more].join(' ')}
    </>
  )
}
