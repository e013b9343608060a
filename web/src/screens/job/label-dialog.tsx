import { useChoices } from '../../api/jobs'
import { useRelabel } from '../../delivery/use'
import type { BatteryOnJob, FieldInfo } from '../../api/types'
import { useDraft, useForgotten } from '../../parts/draft'
import { FormDialog, KeepForm } from '../../parts/form-dialog'
import { draftFrom, LabelFields, labelFrom } from '../../parts/label-fields'

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
  const [draft, setDraft, forget] = useDraft(`label ${battery.id}`, () => draftFrom(battery, fields))
  useForgotten(forget)
  const relabel = useRelabel(job)
  const keep = () => {
    const label = { ...labelFrom(draft), position: battery.label.position }
    relabel.mutate({ battery: battery.id, tag: draft.tag, maker: draft.maker, label }, { onSuccess: done })
  }
  return (
    <KeepForm keep={keep} keeping={relabel.isPending} error={relabel.error} button="Keep the label">
      <LabelFields draft={draft} set={setDraft} all />
    </KeepForm>
  )
}
