import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { usePreview } from '../../../api/jobs'
import { useMay } from '../../../api/session'
import { takeBack } from '../../../delivery/queue'
import { useChange, useDeeds } from '../../../delivery/use'
import type { Effect, Finding, JobPage, ReadingView } from '../../../api/types'
import { useWord } from '../../../api/words'
import { Against } from '../../../parts/against'
import { FindingText } from '../../../parts/finding-text'
import { percent, whenNow } from '../../../parts/format'
import { Sheet } from '../../../parts/ui/sheet'
import { Trouble } from '../../../parts/trouble'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { TextField } from '../../../parts/ui/field'

type Props = {
  page: JobPage
  readings: ReadingView[]
  findings: Finding[]
  effects: Effect[]
  zone?: string
  /** The readings set aside for a look, by ID. */
  aside: string[]
  setAside: (ids: string[]) => void
  setLine: (line: string) => void
}

/** Every reading of the job as it stands, with what it proves and its history. */
export function Readings({ page, readings, findings, effects, zone, aside, setAside, setLine }: Props) {
  if (readings.length === 0) {
    return (
      <p className="text-lead">
        No reading yet. Type one below, such as <span className="num text-ink">12.41 v 18c rested 2h</span>.
      </p>
    )
  }
  return (
    <ol className="divide-y divide-line border-y border-line" aria-label="Readings">
      {readings.map((r) => (
        <Row
          key={r.root}
          page={page}
          reading={r}
          finding={findings.find((f) => f.reading === r.id)}
          effect={effects.find((e) => e.reading === r.id)}
          zone={zone}
          setLine={setLine}
          aside={aside.includes(r.id)}
          turnAside={() => setAside(aside.includes(r.id) ? aside.filter((id) => id !== r.id) : [...aside, r.id])}
        />
      ))}
    </ol>
  )
}

type RowProps = {
  page: JobPage
  reading: ReadingView
  finding?: Finding
  effect?: Effect
  zone?: string
  setLine: (line: string) => void
  aside: boolean
  turnAside: () => void
}

function Row({ page, reading, finding, effect, zone, setLine, aside, turnAside }: RowProps) {
  const change = useChange(page.job.id)
  const corrects = useMay('correctReading')
  const withdrawn = reading.state === 'mistaken'
  return (
    <li
      className={`grid grid-cols-[3.2rem_1fr] items-start gap-x-3 py-2 md:grid-cols-[3.2rem_1fr_auto] ${aside ? '-mx-2 rounded-part bg-marigold-wash px-2' : ''}`}
    >
      <span className="num pt-0.5 text-small text-lead">{whenNow(reading.taken_at, zone)}</span>
      <div className="min-w-0">
        <p className={`num break-words ${withdrawn ? 'text-lead line-through' : ''}`}>{reading.typed}</p>
        {reading.waits && <p className="text-small text-marigold-text">On this device, to be sent</p>}
        {finding && (
          <p className="text-small text-lead">
            <FindingText finding={finding} />
          </p>
        )}
        {finding?.more?.map((m) => (
          <p key={m.code} className="text-small text-lead">
            {m.text}
          </p>
        ))}
        {finding && <Against finding={finding} />}
        {finding?.way_out && <p className="text-small">{finding.way_out.text}</p>}
        {effect && <Weight effect={effect} />}
        {reading.before.map((b, i) => (
          <p key={i} className="text-small text-lead">
            Before: <span className="num line-through">{b.typed}</span>
          </p>
        ))}
        {reading.reason && (
          <p className="text-small text-lead">
            {withdrawn ? 'Marked mistaken' : 'Changed'} by {reading.by}: {reading.reason}
          </p>
        )}
        <Trouble error={change.error} />
      </div>
      <div className="no-print flex flex-wrap gap-1 max-md:col-start-2 max-md:pt-1 md:justify-end">
        {!withdrawn && (
          <Button className="px-2.5 text-small" aria-pressed={aside} onClick={turnAside}>
            {aside ? 'Count it' : 'Set aside'}
          </Button>
        )}
        {reading.waits && <TakeBack id={reading.id} setLine={setLine} />}
        {corrects && !withdrawn && !reading.waits && <ChangeDialog page={page} reading={reading} what="correct" />}
        {corrects && !withdrawn && !reading.waits && <ChangeDialog page={page} reading={reading} what="mistaken" />}
        {corrects && reading.before.length > 0 && (
          <Button
            className="px-2.5 text-small"
            disabled={change.isPending}
            onClick={() => change.mutate({ kind: 'undo', reading: reading.id })}
          >
            Undo
          </Button>
        )}
      </div>
    </li>
  )
}

/** Takes a line that has not been sent back out, to be typed otherwise. */
function TakeBack({ id, setLine }: { id: string; setLine: (line: string) => void }) {
  const deed = useDeeds().find((d) => d.id === id)
  if (deed?.kind !== 'reading') return null
  return (
    <Button
      className="px-2.5 text-small"
      onClick={() => {
        void takeBack(id)
        setLine(deed.line)
      }}
    >
      Back in the line
    </Button>
  )
}

/** What a reading did: every cause it moved, and the battery if it were set aside. */
function Weight({ effect }: { effect: Effect }) {
  const word = useWord()
  const { sound, worn, dead_cell, damaged } = effect.without
  if (effect.causes.length === 0) return null
  return (
    <details className="no-print mt-1 text-small">
      <summary className="inline-flex min-h-fold cursor-pointer items-center text-lead underline max-lg:min-h-target">
        What it did
      </summary>
      <table className="num mt-1">
        <thead className="sr-only">
          <tr>
            <th>Cause</th>
            <th>without it</th>
            <th>with it</th>
          </tr>
        </thead>
        <tbody>
          {effect.causes.slice(0, 6).map((c) => (
            <tr key={c.cause}>
              <td className="pr-4 font-sans">{word(c.cause)}</td>
              <td className="pr-2 text-right text-lead">{percent(c.without)}</td>
              <td className="text-right">
                {c.with > c.without ? '↗' : '↘'} {percent(c.with)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-lead">
        Set aside, the battery would be sound in <span className="num">{percent(sound)}</span> of{' '}
        <span className="num">100</span> cases like this, worn in <span className="num">{percent(worn)}</span>, with one
        cell bad in <span className="num">{percent(dead_cell)}</span>, damaged in{' '}
        <span className="num">{percent(damaged)}</span>.
      </p>
    </details>
  )
}

const reasons = ['Read the wrong figure', 'Typed wrongly', 'Clamp was not on properly', 'Wrong battery']

/** Corrects a reading or marks it mistaken; a reason is always asked. */
function ChangeDialog({ page, reading, what }: { page: JobPage; reading: ReadingView; what: 'correct' | 'mistaken' }) {
  const change = useChange(page.job.id)
  const [open, setOpen] = useState(false)
  const [line, setLine] = useState(reading.typed)
  const [reason, setReason] = useState('')
  const preview = usePreview(page, reading.battery_id, open && what === 'correct' ? line : '', { replaces: reading.id })
  const title = what === 'correct' ? 'Correct a reading' : 'Mark a reading mistaken'
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    const done = { onSuccess: () => setOpen(false) }
    const of = { reading: reading.id, reason }
    change.mutate(what === 'correct' ? { kind: what, line, ...of } : { kind: what, ...of }, done)
  }
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next)
        setLine(reading.typed)
        setReason('')
        change.reset()
      }}
    >
      <Dialog.Trigger asChild>
        <Button className="px-2.5 text-small">{what === 'correct' ? 'Correct' : 'Mistaken'}</Button>
      </Dialog.Trigger>
      <Sheet title={title} about="The old line stays, marked, with the reason.">
        <form onSubmit={submit} className="grid gap-3">
          {what === 'correct' ? (
            <TextField label="Line" value={line} set={setLine} hint={preview.data?.findings[0]?.text.text} />
          ) : (
            <p className="num">{reading.typed}</p>
          )}
          <Trouble error={change.error ?? (line.trim() ? preview.error : null)} onSuggest={setLine} />
          <fieldset className="grid gap-1">
            <legend>Why</legend>
            <div className="flex flex-wrap gap-2 py-1">
              {reasons.map((r) => (
                <Chip key={r} aria-pressed={r === reason} onClick={() => setReason(r)}>
                  {r}
                </Chip>
              ))}
            </div>
            <TextField
              label="Reason in your own words"
              quiet
              placeholder="or in your own words"
              value={reason}
              maxLength={300}
              set={setReason}
            />
          </fieldset>
          <Button type="submit" weight="main" disabled={reason.trim() === '' || change.isPending}>
            {what === 'correct' ? 'Keep the corrected line' : 'Mark it mistaken'}
          </Button>
        </form>
      </Sheet>
    </Dialog.Root>
  )
}
