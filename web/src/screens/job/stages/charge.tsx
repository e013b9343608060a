// Charge: the steps of a charge with their cautions, the check every half hour, and
// the readings that follow it.
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useShelfDeed } from '../../../api/shelf'
import { Trouble } from '../../../parts/trouble'
import { Barred } from './barred'
import { ChargePlanned } from './charge-plan'
import type { StageProps } from './props'
import { Steps } from './steps'
import { Found } from './takes'
import { Button } from '../../../parts/ui/button'

/** Puts the battery on the list of what waits for a charger. */
function ToShelf({ page, battery }: { page: StageProps['page']; battery: string }) {
  const deed = useShelfDeed()
  const navigate = useNavigate()
  const [charge] = useState(() => uuid())
  const body = {
    battery_id: battery,
    job_id: page.job.id,
    until: 'full' as const,
    ready_by: page.job.promised_at,
    weight: 1,
  }
  const put = () => deed.mutate({ kind: 'ask', charge, body }, { onSuccess: () => void navigate(`/shelf/${charge}`) })
  return (
    <div className="grid justify-items-start gap-2">
      <Button weight="outline" disabled={deed.isPending} onClick={put}>
        Put it on the shelf list
      </Button>
      <Trouble error={deed.error} />
    </div>
  )
}

export default function Charge({ page, battery, assessment, picture, setLine, zone }: StageProps) {
  if (assessment.verdict.action === 'stop_unsafe') {
    return <Barred page={page} battery={battery} stage="charge" setLine={setLine} assessment={assessment} />
  }
  const plan = picture.plan
  return (
    <div className="grid gap-3 [&>*]:min-w-0">
      <p>
        {assessment.verdict.action === 'charge_and_retest'
          ? 'Charge it in full, let it rest an hour, then read the volts and load it again.'
          : 'Nothing is waiting for a charge. When it has been charged in full, say so on the first reading after it.'}
      </p>
      <ChargePlanned page={page} battery={battery.id} zone={zone} />
      {assessment.verdict.action === 'charge_and_retest' && <ToShelf page={page} battery={battery.id} />}
      <Steps page={page} battery={battery} stage="charge" setLine={setLine} />
      <p>
        The words <span className="num">after charge</span> on a reading tell that a full charge lies behind it. What
        was measured before then no longer condemns.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button weight="outline" onClick={() => setLine(' v rested 1h after charge')}>
          Volts after the charge
        </Button>
        {plan.amps != null && (
          <Button onClick={() => setLine(`load ${plan.amps}a ${plan.seconds}s  v after charge`)}>
            Load after the charge
          </Button>
        )}
        <Button onClick={() => setLine('charge ')}>A check of the charge</Button>
      </div>
      <Found kinds={['charge_log']} assessment={assessment} />
    </div>
  )
}
