import { useState } from 'react'
import { useChoices, useDescribe } from '../../api/jobs'
import type { FieldInfo, JobPage } from '../../api/types'
import { Text } from '../../parts/controls'
import { draftOf, Fields, saidFrom } from '../../parts/fields'
import { FormDialog, KeepForm } from '../../parts/form-dialog'

type Props = { job: string; vehicle: NonNullable<JobPage['vehicle']> }

type FormProps = Props & { fields: FieldInfo[]; done: () => void }

/** Completes or corrects what is known of the vehicle. */
export function VehicleDialog(props: Props) {
  const fields = useChoices().data?.vehicle_fields
  // A form without its fields would keep a vehicle without them.
  if (!fields) return null
  return (
    <FormDialog
      trigger="Complete the vehicle"
      title="The vehicle"
      about="What the maker asks for, and how it charges; what is not known stays so."
      form={(done) => <VehicleForm {...props} fields={fields} done={done} />}
    />
  )
}

function VehicleForm({ job, vehicle, fields, done }: FormProps) {
  const [plate, setPlate] = useState(vehicle.plate)
  const [description, setDescription] = useState(vehicle.description)
  const [facts, setFacts] = useState(() => draftOf(vehicle, fields))
  const describe = useDescribe(job)
  const keep = () =>
    describe.mutate({ id: vehicle.id, plate, description, facts: saidFrom(facts) }, { onSuccess: done })
  return (
    <KeepForm keep={keep} keeping={describe.isPending} error={describe.error} button="Keep the vehicle">
      <div className="grid grid-cols-2 gap-3">
        <Text label="Plate or name" value={plate} set={setPlate} />
        <Text label="In words" value={description} set={setDescription} />
      </div>
      <Fields fields={fields} draft={facts} set={setFacts} />
    </KeepForm>
  )
}
