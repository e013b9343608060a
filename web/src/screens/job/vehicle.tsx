// Vehicle: what flattened it. The circuit with its joints, what charges the battery,
// and the drain with its sleep.
import { Circuit } from './circuit'
import { DrainHunt } from './helpers'
import { stageFor } from './holds'
import type { StageProps } from './stages'
import { StepAtHand } from './steps'
import { Found, TakeButtons, takesOf } from './takes'

const ofVehicle = ['charging', 'ripple', 'crank', 'starter_draw', 'drop', 'drain', 'case_leak', 'dcdc', 'jump']

export default function Vehicle({ page, assessment, picture, battery, setLine }: StageProps) {
  const next = assessment.next.filter((n) => stageFor[n.test] === 'vehicle')
  const electric = ['hybrid', 'electric'].includes(page.vehicle?.kind ?? '')
  // What this vehicle has no use for is not offered.
  const idle = electric
    ? ['charging', 'ripple', 'crank', 'starter_draw', 'drop']
    : page.vehicle
      ? ['dcdc']
      : ofVehicle.filter((kind) => kind !== 'case_leak')
  return (
    <div className="grid gap-3 [&>*]:min-w-0">
      <StepAtHand page={page} battery={battery} stage="vehicle" setLine={setLine} />
      {next.length > 0 && (
        <div>
          <h2 className="text-small font-bold text-lead">Next on the vehicle</h2>
          <ul className="list-disc space-y-1 pl-5">
            {next.map((s) => (
              <li key={s.test}>{s.text.text}</li>
            ))}
          </ul>
        </div>
      )}
      <TakeButtons takes={(takesOf.vehicle ?? []).filter((t) => !idle.includes(t.kind))} setLine={setLine} />
      {page.vehicle && !electric && <Circuit page={page} battery={battery} assessment={assessment} setLine={setLine} />}
      <Found kinds={ofVehicle} assessment={assessment} />
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
