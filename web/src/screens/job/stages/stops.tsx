// The stop rules that hold, and the way to lift each.
import { useState } from 'react'
import type { BatteryOnJob, JobPage, Stop } from '../../../api/types'
import { useClearStop } from '../../../delivery/use'
import { May } from '../../../parts/may'
import { Trouble } from '../../../parts/trouble'
import { Button } from '../../../parts/ui/button'
import { TextField } from '../../../parts/ui/field'

/** The stop rules that hold, in front of every step, and the way to lift each; those
 * that were lifted, with who said so and why. */
export function Stops({ page, battery }: { page: JobPage; battery: BatteryOnJob }) {
  const { stops } = battery.assessment
  const { cleared } = battery.work
  if (stops.length + cleared.length === 0) return null
  return (
    <div className="mb-3 grid gap-2">
      {stops.length > 0 && (
        <div role="alert" className="grid gap-2 rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
          {stops.map((s) => (
            <div key={s.stop}>
              <p className="font-bold">{page.cautions.find((c) => c.id === s.stop)?.text}</p>
              <May do="clearStop" else={<p className="text-small">A technician lifts it, under their name.</p>}>
                <Lift page={page} battery={battery} stop={s} />
              </May>
            </div>
          ))}
        </div>
      )}
      {cleared.map((c) => (
        <p key={c.id} className="rounded-part bg-marigold-wash px-3 py-2 text-small">
          Stop rule lifted by {c.by}: {c.reason}
        </p>
      ))}
    </div>
  )
}

function Lift({ page, battery, stop }: { page: JobPage; battery: BatteryOnJob; stop: Stop }) {
  const clear = useClearStop(page.job.id)
  const [reason, setReason] = useState('')
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small">It no longer holds</summary>
      <form
        className="flex flex-wrap gap-2 py-1"
        onSubmit={(e) => {
          e.preventDefault()
          // For what was seen here: a finding that came since stops all the same.
          clear.mutate(
            { battery: battery.id, ...stop, revision: page.job.revision, reason },
            { onSuccess: () => setReason('') },
          )
        }}
      >
        <TextField
          className="w-[26rem] max-w-full"
          label="Why the stop rule no longer holds"
          quiet
          placeholder="what was done, what was seen"
          value={reason}
          maxLength={300}
          set={setReason}
        />
        <Button type="submit" weight="outline" disabled={clear.isPending}>
          Lift it under my name
        </Button>
      </form>
      <p className="text-small">
        For what was found so far. A finding that was a mistake is better marked mistaken under the readings.
      </p>
      <Trouble error={clear.error} />
    </details>
  )
}
