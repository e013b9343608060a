import { useChoices } from '../../../api/jobs'
import { useRelabel } from '../../../delivery/use'
import type { BatteryOnJob, FieldInfo } from '../../../api/types'
import { useForgotten } from '../../../parts/draft'
import { FormDialog } from '../../../parts/form-dialog'
import { draftFrom, labelFieldOf, LabelFields, labelFrom } from '../../../parts/label-fields'
import { Submit, useForm } from '../../../parts/ui/form'

type Props = { job: string; battery: BatteryOnJob }

type FormProps = Props & { fields: FieldInfo[]; done: () => void }

/** Completes or corrects what is known of the battery's label. */
export function LabelDialog(props: Props) {
  const fields = useChoices().data?.label_fields
  // A form without its fields would keep a label without them.
  if (!fields) return null
  return (
    <FormDialog
      trigger="Complete the label"
      title="The label"
      about="Exactly as printed: the rating and the standard it was measured by."
      form={(done) => <LabelForm {...props} fields={fields} done={done} />}
    />
  )
}

function LabelForm({ job, battery, fields, done }: FormProps) {
  const relabel = useRelabel(job)
  const form = useForm({
    draft: `label ${battery.id}`,
    start: () => draftFrom(battery, fields),
    schema: 'BatteryInput',
    body: (draft) => ({
      id: battery.id,
      tag: draft.tag,
      maker: draft.maker,
      label: { ...labelFrom(draft), position: battery.label.position },
    }),
    named: labelFieldOf,
    send: ({ label }, { tag, maker }) => relabel.mutateAsync({ battery: battery.id, tag, maker, label }),
    sent: done,
  })
  useForgotten(form.forget)
  return (
    <form className="grid gap-3" onSubmit={form.submit} noValidate>
      <LabelFields draft={form.values} set={form.change} wrong={form.wrong} all />
      <Submit form={form}>Keep the label</Submit>
    </form>
  )
}
