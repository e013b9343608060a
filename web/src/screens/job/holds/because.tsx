// What a verdict rests on, and what would change it.
import type { Statement } from '../../../api/types'
import { percent } from '../../../parts/format'

export function Because({ statements }: { statements: Statement[] }) {
  if (statements.length < 2) return <p>{statements[0]?.text}</p>
  return (
    <ul className="list-disc space-y-1 pl-5">
      {statements.map((s, i) => (
        <li key={i}>{s.text}</li>
      ))}
    </ul>
  )
}

export function WouldChange({ statements, confidence }: { statements: Statement[]; confidence: number }) {
  return (
    <div className="border-t border-line pt-3">
      <h3 className="mb-1 text-small font-bold text-lead">What would change it</h3>
      <ul className="list-disc space-y-1 pl-5">
        {statements.map((s, i) => (
          <li key={i}>{s.text}</li>
        ))}
      </ul>
      <p className="mt-2 text-small text-lead">
        Right about <span className="num">{percent(confidence)}</span> times in <span className="num">100</span>, as
        counted on virtual vehicles whose faults are known.
      </p>
    </div>
  )
}
