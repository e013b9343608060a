// A job on a sheet of paper: what it is printed by, and the way back.
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { useJob } from '../../api/jobs'
import type { BatteryOnJob, JobPage } from '../../api/types'
import { useWord } from '../../api/words'
import { Glyph } from '../../parts/glyph'
import { Shell } from '../../parts/shell'
import { Loaded } from '../../parts/ui/loaded'
import { Button } from '../../parts/ui/button'

/** What holds of one battery, over what stands of it on the sheet. */
export function BatteryHead({ battery, about }: { battery: BatteryOnJob; about: string }) {
  const word = useWord()
  const { action } = battery.assessment.verdict
  return (
    <div className="flex items-center gap-3">
      <Glyph action={action} />
      <div>
        <h2 className="text-figure font-bold">{word(action)}</h2>
        <p>{about}</p>
      </div>
    </div>
  )
}

export function JobPaper({ children }: { children: (page: JobPage) => ReactNode }) {
  const { job = '' } = useParams()
  const { data: page, error, refetch } = useJob(job)
  return (
    <Shell>
      <Loaded query={{ data: page, error, refetch }} whole>
        {(page) => (
          <main className="mx-auto w-full max-w-[820px] px-5 py-5 print:max-w-none print:p-0">
            <div className="no-print mb-4 flex gap-2">
              <Button weight="main" onClick={() => print()}>
                Print it
              </Button>
              <Button asChild>
                <Link to={`/jobs/${job}`}>Back to the job</Link>
              </Button>
            </div>
            <article className="grid gap-4 print:gap-2 print:text-small print:leading-snug rounded-card border border-line bg-sheet p-6 max-sm:p-4 print:border-0 print:p-0">
              {children(page)}
            </article>
          </main>
        )}
      </Loaded>
    </Shell>
  )
}
