import { useChoices } from '../../api/jobs'
import { useDescribe } from '../../delivery/use'
import type { FieldInfo, JobPage } from '../../api/types'
import { Text } from '../../parts/controls'
import { useDraft, useForgotten } from '../../parts/draft'
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
  const [draft, setDraft, forget] = useDraft(`vehicle ${vehicle.id}`, () => ({
    plate: vehicle.plate,
    description: vehicle.description,
    facts: draftOf(vehicle, fields),
  }))
  useForgotten(forget)
  const change = (part: Partial<typeof draft>) => setDraft({ ...draft, ...part })
  const describe = useDescribe(job)
  const keep = () => describe.mutate({ id: vehicle.id, ...draft, facts: saidFrom(draft.facts) }, { onSuccess: done })
  return (
    <KeepForm keep={keep} keeping={describe.isPending} error={describe.error} button="Keep the vehicle">
      <div className="grid grid-cols-2 gap-3">
        <Text label="Plate or name" value={draft.plate} set={(plate) => change({ plate })} />
        <Text label="In words" value={draft.description} set={(description) => change({ description })} />
      </div>
      <Fields fields={fields} draft={draft.facts} set={(facts) => change({ facts })} />
    </KeepForm>
  )
}
