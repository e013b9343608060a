import { Link } from 'react-router'
import type { JobPage } from '../../../api/types'

/** The sums of the bench that were kept with the job. */
export function KeptSums({ page }: { page: JobPage }) {
  if (page.sums.length === 0) return null
  return (
    <section aria-label="Sums kept with this job" className="grid gap-1">
      <h2 className="text-small font-bold text-lead">Sums kept with this job</h2>
      <ul className="divide-y divide-line border-y border-line">
        {page.sums.map((s) => (
          <li key={s.id} className="flex flex-wrap items-baseline gap-x-4 py-2">
            <Link
              className="font-bold underline"
              to={`/sums/${s.sum}?${new URLSearchParams({ ...s.inputs, job: page.job.id }).toString()}`}
            >
              {s.title}
            </Link>
            {s.result.figures
              .filter((f) => f.main)
              .map((f) => (
                <span key={f.code}>
                  <span className="text-small text-lead">{f.label}</span> <span className="num">{f.text}</span>
                </span>
              ))}
            <span className="ml-auto text-small text-lead">{s.by}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
