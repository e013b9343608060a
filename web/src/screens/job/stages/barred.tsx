// A stage that is not to be worked at: closed by a stop rule, or of a chemistry that is
// not judged.
import type { BatteryOnJob } from '../../../api/types'
import { Because } from '../holds/because'
import type { StageProps } from './props'
import { Steps } from './steps'

type BarredProps = Pick<StageProps, 'page' | 'battery' | 'assessment' | 'setLine'> & { stage: string }

/** A stage that a stop rule closes: what was seen, and the steps it forbids. */
export function Barred({ page, battery, stage, assessment, setLine }: BarredProps) {
  return (
    <div className="grid max-w-3xl gap-3">
      <Because statements={assessment.verdict.because} />
      <Steps page={page} battery={battery} stage={stage} setLine={setLine} />
    </div>
  )
}

/** What is kept and not judged: lithium, or a chemistry nobody knows yet. */
export function NotJudged({ battery }: { battery: BatteryOnJob }) {
  return (
    <div className="grid gap-3">
      <Because statements={battery.assessment.verdict.because} />
      <p className="text-lead">Readings are kept all the same.</p>
    </div>
  )
}
