import { useChoices } from '../../../api/jobs'
import { useDescribe } from '../../../delivery/use'
import type { FieldInfo, JobPage } from '../../../api/types'
import { draftOf, type FieldDraft, Fields, saidFrom } from '../../../parts/fields'
import { useForgotten } from '../../../parts/draft'
import { FormDialog } from '../../../parts/form-dialog'
import { TextField } from '../../../parts/ui/field'
import { Submit, useForm } from '../../../parts/ui/form'

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

type Draft = { plate: string; description: string; facts: FieldDraft }

function VehicleForm({ job, vehicle, fields, done }: FormProps) {
  const describe = useDescribe(job)
  const form = useForm({
    draft: `vehicle ${vehicle.id}`,
    start: () => ({
      plate: vehicle.plate,
      description: vehicle.description,
      facts: draftOf(vehicle, fields),
    }),
    schema: 'VehicleInput',
    body: (draft: Draft) => ({ id: vehicle.id, ...draft, facts: saidFrom(draft.facts) }),
    named: (field) => field.replace(/^vehicle\./, ''),
    send: (body) => describe.mutateAsync(body),
    sent: done,
  })
  useForgotten(form.forget)
  const draft = form.values
  return (
    <form className="grid gap-3" onSubmit={form.submit} noValidate>
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Plate or name"
          value={draft.plate}
          set={(plate) => form.change({ plate })}
          wrong={form.wrong('plate')}
        />
        <TextField
          label="In words"
          value={draft.description}
          set={(description) => form.change({ description })}
          wrong={form.wrong('description')}
        />
      </div>
      <Fields
        fields={fields}
        draft={draft.facts}
        set={(facts) => form.change({ facts })}
        wrong={(name) => form.wrong(`facts.${name}`)}
      />
      <Submit form={form}>Keep the vehicle</Submit>
    </form>
  )
}
