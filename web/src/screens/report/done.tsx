import type { JobPage } from '../../api/types'
import { useWord } from '../../api/words'

/** What was done and what was left, as it was answered before the keys went back. */
export function Done({ page, title }: { page: JobPage; title?: string }) {
  const word = useWord()
  const steps = page.batteries.flatMap((b) =>
    b.work.stages.flatMap((s) => s.steps.filter((step) => step.must && step.state !== 'open')),
  )
  const once = steps.filter((s, i) => steps.findIndex((other) => other.code === s.code) === i)
  const options = page.batteries.flatMap((b) => b.work.options)
  const cleared = page.batteries.flatMap((b) => b.work.cleared)
  const choice = once.find((s) => s.code === 'choice')
  const cause = once.find((s) => s.code === 'cause')
  const left = once.filter((s) => s.state === 'not_done' && s !== cause)
  const done = once.filter((s) => s.state === 'done' && s !== cause && s !== choice)
  if (once.length + cleared.length + page.replacements.length === 0) return null
  return (
    <div className="grid gap-1.5">
      {title && <h2 className="font-bold">{title}</h2>}
      {cause && (
        <p>
          <strong>The cause: </strong>
          {cause.state === 'done' ? cause.note || 'found' : 'not found'}
        </p>
      )}
      {choice && (
        <p>
          <strong>Chosen: </strong>
          {options.find((o) => o.code === choice.note)?.text.text ?? word(choice.note ?? '')}
        </p>
      )}
      {page.replacements.map((r) => (
        <p key={r.id}>
          <strong>Fitted: </strong>
          {[r.maker, r.tag].filter(Boolean).join(' ')}. The old one {word(`goes_${r.goes}`)},{' '}
          {word(`deposit_${r.deposit}`)}.{r.warranty_until && ` Warranty until ${r.warranty_until}.`}
        </p>
      ))}
      {done.length > 0 && (
        <p>
          <strong>Done: </strong>
          {done.map((s) => s.text.text).join(' ')}
        </p>
      )}
      {left.map((s) => (
        <p key={s.code}>
          <strong>Not done: </strong>
          {s.text.text} {s.note}
        </p>
      ))}
      {cleared.map((c) => (
        <p key={c.id}>
          <strong>Stop rule lifted: </strong>
          {c.reason} ({c.by})
        </p>
      ))}
    </div>
  )
}
