// Vehicle: what flattened it. One list of its tests, those that settle most first, each with
// what it found; the circuit with its joints, and the drain fuse by fuse.
import { Link } from 'react-router'
import { useChoices } from '../../../api/jobs'
import { Circuit } from '../drawings/circuit'
import { DrainHunt } from '../drawings/helpers'
import type { StageProps } from './props'
import { Steps } from './steps'
import { Found, TakeButtons } from './takes'

export default function Vehicle({ page, assessment, picture, battery, setLine }: StageProps) {
  const circuit = battery.scenes.find((s) => s.code === 'circuit')
  const listed = battery.work.stages.find((s) => s.stage === 'vehicle')?.steps.map((s) => s.kind) ?? []
  const stageOf = useChoices().data?.stage_of_test ?? {}
  const kinds = assessment.findings.map((f) => f.kind)
  const others = kinds.filter((kind) => stageOf[kind] === 'vehicle' && !listed.includes(kind))
  return (
    <div className="grid gap-3 [&>*]:min-w-0">
      {circuit && (
        <div>
          <Circuit scene={circuit} setLine={setLine} />
          <Link className="underline" to={`/jobs/${page.job.id}/terminals?battery=${battery.id}`}>
            Terminals: what each joint costs, before and after
          </Link>
        </div>
      )}
      <div>
        <Steps page={page} battery={battery} stage="vehicle" setLine={setLine} assessment={assessment} />
        <Found kinds={others} assessment={assessment} />
        {page.vehicle && (
          <div className="py-2">
            <TakeButtons stage="vehicle" setLine={setLine} />
          </div>
        )}
      </div>
      {page.vehicle && (
        <DrainHunt
          hunt={picture.hunt}
          kept={battery.picture.hunt.fuses.length}
          open={assessment.next[0]?.test === 'fuses'}
          setLine={setLine}
        />
      )}
    </div>
  )
}
