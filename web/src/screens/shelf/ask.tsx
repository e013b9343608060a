// A battery that is put on the list by itself: the shop's stock, a starter pack, one that was
// only brought in to be charged.
import { v7 as uuid } from 'uuid'
import { useCheck, useShelfDeed } from '../../api/shelf'
import { fromZone } from '../../parts/format'
import { FormDialog } from '../../parts/form-dialog'
import { emptyLabel, labelFieldOf, labelFrom, LabelFields } from '../../parts/label-fields'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { useHello } from '../../api/session'

export const goals = [
  { code: 'full', word: 'full' },
  { code: 'testable', word: 'it can be tested' },
  { code: 'equalise', word: 'equalised' },
]

export function AskForm() {
  return (
    <FormDialog
      trigger="One more battery"
      title="A battery for the shelf"
      about="One that belongs to no job. Those of jobs are put on the list from their stage Charge."
      form={(done) => <Ask done={done} />}
    />
  )
}

const start = () => ({
  id: uuid(),
  battery: uuid(),
  reading: uuid(),
  label: emptyLabel,
  until: 'full',
  ready: '',
  line: '',
})

function Ask({ done }: { done: () => void }) {
  const { data: hello } = useHello()
  const deed = useShelfDeed()
  const check = useCheck()
  const form = useForm({
    draft: 'shelf',
    start,
    schema: 'AskChargeInputBody',
    body: (v) => ({
      battery_id: v.battery,
      until: v.until,
      ready_by: v.ready ? fromZone(v.ready, hello?.shop?.time_zone) : undefined,
      weight: 1,
      battery: { id: v.battery, tag: v.label.tag, maker: v.label.maker, label: labelFrom(v.label) },
    }),
    named: (field) => {
      const name = field.replace(/^battery\./, '')
      return name === 'ready_by' ? 'ready' : `label.${labelFieldOf(name)}`
    },
    send: async (body, v) => {
      await deed.mutateAsync({ kind: 'ask', charge: v.id, body })
      if (v.line.trim() !== '')
        await check.mutateAsync({ charge: v.id, reading: v.reading, line: v.line, taken: new Date().toISOString() })
    },
    sent: done,
  })
  const v = form.values
  return (
    <form className="grid gap-3" onSubmit={form.submit} noValidate>
      <LabelFields
        draft={v.label}
        set={(label) => form.change({ label })}
        wrong={(name) => form.wrong(`label.${name}`)}
      />
      <TextField
        label="Our tag"
        value={v.label.tag}
        set={(tag) => form.change({ label: { ...v.label, tag } })}
        wrong={form.wrong('label.tag')}
      />
      <TextField
        label="What it reads, as a line"
        hint="12.1 v 15c rested 9h; without it anything from flat to full is planned for"
        value={v.line}
        set={(line) => form.change({ line })}
        wrong={form.wrong('line')}
      />
      <OneOf name="Until" options={goals} value={v.until} pick={(until) => form.change({ until })} />
      <TextField
        label="Promised for"
        type="datetime-local"
        value={v.ready}
        set={(ready) => form.change({ ready })}
        wrong={form.wrong('ready')}
      />
      <Submit form={form}>Put it on the list</Submit>
    </form>
  )
}
