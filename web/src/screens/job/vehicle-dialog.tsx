import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useChoices, useDescribe } from '../../api/jobs'
import type { FieldInfo, JobPage } from '../../api/types'
import { Text } from '../../parts/controls'
import { draftOf, type FieldDraft, Fields, saidFrom } from '../../parts/fields'
import { Sheet } from '../../parts/keys'
import { Trouble } from '../../parts/trouble'

type Vehicle = NonNullable<JobPage['vehicle']>
type Draft = { plate: string; description: string; facts: FieldDraft }

const begin = (vehicle: Vehicle, fields: FieldInfo[]): Draft => ({
  plate: vehicle.plate,
  description: vehicle.description,
  facts: draftOf(vehicle, fields),
})

/** Completes or corrects what is known of the vehicle. */
export function VehicleDialog({ job, vehicle }: { job: string; vehicle: Vehicle }) {
  const fields = useChoices().data?.vehicle_fields ?? []
  const [open, setOpen] = useState(false)
  const [draft, setDraft] = useState(() => begin(vehicle, fields))
  const describe = useDescribe(job)
  const change = (part: Partial<Draft>) => setDraft({ ...draft, ...part })
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    const { plate, description, facts } = draft
    describe.mutate({ id: vehicle.id, plate, description, facts: saidFrom(facts) }, { onSuccess: () => setOpen(false) })
  }
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next)
        setDraft(begin(vehicle, fields))
        describe.reset()
      }}
    >
      <Dialog.Trigger className="btn btn-outline">Complete the vehicle</Dialog.Trigger>
      <Sheet title="The vehicle" about="What the maker asks for, and how it charges; what is not known stays so.">
        <form onSubmit={submit} className="grid gap-3">
          <div className="grid grid-cols-2 gap-3">
            <Text label="Plate or name" value={draft.plate} set={(plate) => change({ plate })} />
            <Text label="In words" value={draft.description} set={(description) => change({ description })} />
          </div>
          <Fields fields={fields} draft={draft.facts} set={(facts) => change({ facts })} />
          <Trouble error={describe.error} />
          <button type="submit" className="btn btn-main" disabled={describe.isPending}>
            Keep the vehicle
          </button>
        </form>
      </Sheet>
    </Dialog.Root>
  )
}
