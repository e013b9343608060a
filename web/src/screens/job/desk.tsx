// Where a job stands, who has it and what it waits for: moved, handed over or put
// aside from the job's own head.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useChoices } from '../../api/jobs'
import { usePeople } from '../../api/session'
import type { Desk, JobPage } from '../../api/types'
import { useDesk } from '../../delivery/use'
import { useDraft, useForgotten } from '../../parts/draft'
import { Sheet } from '../../parts/ui/sheet'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { OneOrNone } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'

export function DeskButton({ page }: { page: JobPage }) {
  const { job } = page
  const { data: people } = usePeople()
  const { data: choices } = useChoices()
  const [open, setOpen] = useState(false)
  const has = people?.find((p) => p.id === job.assigned_to)
  const waits = choices?.waits_for.find((c) => c.code === job.waits_for)
  const says = [job.place || 'no place', has ? has.name : 'nobody has it', waits && `waits for ${waits.word}`]
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button className="max-w-[15rem] text-small">
          <span className="truncate">{says.filter(Boolean).join(', ')}</span>
        </Button>
      </Dialog.Trigger>
      {open && <DeskSheet page={page} done={() => setOpen(false)} />}
    </Dialog.Root>
  )
}

function DeskSheet({ page, done }: { page: JobPage; done: () => void }) {
  const { job } = page
  const { data: people } = usePeople()
  const { data: choices } = useChoices()
  const [desk, setDesk, forget] = useDraft<Desk>(`desk ${job.id}`, {
    place: job.place,
    assigned_to: job.assigned_to,
    waits_for: job.waits_for,
    waits_note: job.waits_note,
    note: '',
  })
  useForgotten(forget)
  const change = useDesk(job.id)
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    change.mutate(desk, { onSuccess: done })
  }
  const pick = (field: 'place' | 'assigned_to' | 'waits_for', code: string) =>
    setDesk({ ...desk, [field]: code === '' && field === 'assigned_to' ? undefined : code })
  const rows: [string, 'place' | 'assigned_to' | 'waits_for', { code: string; word: string }[]][] = [
    ['Who has it', 'assigned_to', (people ?? []).map((p) => ({ code: p.id, word: p.name }))],
    ['Where it stands', 'place', choices?.places ?? []],
    ['What it waits for', 'waits_for', choices?.waits_for ?? []],
  ]
  return (
    <Sheet title="Hand over, move, let wait">
      <form onSubmit={submit} className="grid gap-4">
        {rows.map(([name, field, list]) => (
          <OneOrNone
            key={field}
            name={name}
            quiet={false}
            options={list}
            value={desk[field] ?? ''}
            pick={(code) => pick(field, code)}
          />
        ))}
        {desk.waits_for && (
          <TextField
            label="Details"
            value={desk.waits_note ?? ''}
            maxLength={300}
            set={(waits_note) => setDesk({ ...desk, waits_note })}
          />
        )}
        <TextField
          label="A word for whoever takes it over"
          value={desk.note ?? ''}
          maxLength={300}
          set={(note) => setDesk({ ...desk, note })}
        />
        <Trouble error={change.error} />
        <Button type="submit" weight="main" disabled={change.isPending}>
          Keep it so
        </Button>
      </form>
    </Sheet>
  )
}
