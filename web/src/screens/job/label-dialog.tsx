import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useChoices, useRelabel } from '../../api/jobs'
import type { BatteryOnJob } from '../../api/types'
import { Sheet } from '../../parts/keys'
import { LabelFields, labelFrom, type LabelDraft, draftFrom } from '../../parts/label-fields'
import { Trouble } from '../../parts/trouble'

/** Completes or corrects what is known of the battery's label. */
export function LabelDialog({ job, battery }: { job: string; battery: BatteryOnJob }) {
  const [open, setOpen] = useState(false)
  const fields = useChoices().data?.label_fields ?? []
  const [draft, setDraft] = useState<LabelDraft>(() => draftFrom(battery, fields))
  const relabel = useRelabel(job)
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    relabel.mutate(
      {
        id: battery.id,
        tag: draft.tag,
        maker: draft.maker,
        label: { ...labelFrom(draft), position: battery.label.position },
      },
      { onSuccess: () => setOpen(false) },
    )
  }
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next)
        setDraft(draftFrom(battery, fields))
        relabel.reset()
      }}
    >
      <Dialog.Trigger className="btn btn-outline">Complete the label</Dialog.Trigger>
      <Sheet title="The label" about="Exactly as printed: the rating and the standard it was measured by.">
        <form onSubmit={submit} className="grid gap-3">
          <LabelFields draft={draft} set={setDraft} all />
          <Trouble error={relabel.error} />
          <button type="submit" className="btn btn-main" disabled={relabel.isPending}>
            Keep the label
          </button>
        </form>
      </Sheet>
    </Dialog.Root>
  )
}
