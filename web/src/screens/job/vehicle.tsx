// Vehicle: what flattened it. One list of its tests, those that settle most first, each with
// what it found; the circuit with its joints, and the drain fuse by fuse.
import { Circuit } from './circuit'
import { DrainHunt } from './helpers'
import type { StageProps } from './stages'
import { Steps } from './steps'
import { Found, TakeButtons } from './takes'

/** What is taken here and asked for by no step. */
const besides = [
  { kind: 'drain', line: 'fuse ', name: 'Over a fuse' },
  { kind: 'jump', line: 'jump ' },
]

export default function Vehicle({ page, assessment, picture, battery, setLine }: StageProps) {
  const circuit = battery.scenes.find((s) => s.code === 'circuit')
  const listed = battery.work.stages.find((s) => s.stage === 'vehicle')?.steps.map((s) => s.kind) ?? []
  const others = ofVehicle.filter((kind) => !listed.includes(kind))
  return (
    <div className="grid gap-3 [&>*]:min-w-0">
      {circuit && <Circuit scene={circuit} setLine={setLine} />}
      <div>
        <Steps page={page} battery={battery} stage="vehicle" setLine={setLine} assessment={assessment} />
        <Found kinds={others} assessment={assessment} />
        {page.vehicle && (
          <div className="py-2">
            <TakeButtons takes={besides} setLine={setLine} />
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

const ofVehicle = ['charging', 'ripple', 'crank', 'starter_draw', 'drop', 'drain', 'case_leak', 'dcdc', 'jump']
