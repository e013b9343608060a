// The shop's instruments: found by their address, named, with what they are worth
// and when their calibration is due.
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import {
  useDropInstrument,
  useInstruments,
  useInstrumentsNow,
  useKeepInstrument,
  useProbe,
} from '../../api/instruments'
import { useChoices } from '../../api/jobs'
import type { Instrument } from '../../api/types'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { Loaded } from '../../parts/ui/loaded'

const protocols = [
  { code: 'scpi', word: 'answers questions (SCPI)' },
  { code: 'lines', word: 'sends lines by itself' },
  { code: 'log', word: 'sends a charge’s volts and amps together' },
]

type Draft = { id: string; name: string; kind: string; protocol: string; address: string; due_on: string }

const empty = (): Draft => ({ id: uuid(), name: '', kind: 'good_meter', protocol: 'scpi', address: '', due_on: '' })

export function InstrumentsScreen() {
  const instruments = useInstruments()
  const [draft, setDraft] = useState<Draft>(empty)
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-4xl gap-5 px-4 py-5 md:px-6">
        <div>
          <h1 className="text-head font-bold">Instruments</h1>
          <p className="text-lead">
            Meters, clamps and testers that can be read over the workshop&apos;s own network. Their figures offer
            themselves beside the reading line; each reading remembers what took it.
          </p>
        </div>
        <Loaded query={instruments} empty="None yet. Give the address of one below and ask it.">
          {(list) => <Known list={list} change={(one) => setDraft({ ...one, due_on: one.due_on ?? '' })} />}
        </Loaded>
        <KeepOne key={draft.id} begun={draft} done={() => setDraft(empty())} />
      </main>
    </Shell>
  )
}

function Known({ list, change }: { list: Instrument[]; change: (one: Instrument) => void }) {
  const { data: now } = useInstrumentsNow()
  const { data: choices } = useChoices()
  const drop = useDropInstrument()
  const word = (kind: string) => choices?.instruments.find((c) => c.code === kind)?.word ?? kind
  return (
    <ul className="divide-y divide-line border-y border-line" aria-label="Instruments of the shop">
      {list.map((one) => {
        const shows = now?.find((n) => n.id === one.id)
        return (
          <li key={one.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <div className="min-w-0 flex-1">
              <p className="font-bold">{one.name}</p>
              <p className="text-small text-lead">
                {word(one.kind)}, <span className="num">{one.address}</span>
              </p>
              {one.due_on && (
                <p className={`text-small ${one.overdue ? 'font-bold text-oxide-text' : 'text-lead'}`}>
                  {one.overdue ? 'Calibration was due' : 'Calibration due'} {one.due_on}
                </p>
              )}
            </div>
            <p className="text-right">
              <span className="num text-sign font-bold">{shows?.shown || '–'}</span>
              <span className={`block text-small ${shows?.line ? 'text-verdigris-text' : 'text-marigold-text'}`}>
                {shows
                  ? shows.line
                    ? 'steady'
                    : shows.why
                  : one.kind === 'logger'
                    ? 'follows a charge, from its page'
                    : ''}
              </span>
            </p>
            <div className="flex gap-1.5">
              <Button onClick={() => change(one)}>Change</Button>
              <Button disabled={drop.isPending} onClick={() => drop.mutate(one.id)}>
                Take off the list
              </Button>
            </div>
          </li>
        )
      })}
    </ul>
  )
}

function KeepOne({ begun, done }: { begun: Draft; done: () => void }) {
  const { data: choices } = useChoices()
  const keep = useKeepInstrument()
  const probe = useProbe()
  const form = useForm({
    draft: `instrument ${begun.name}`,
    start: () => begun,
    schema: 'KeepInstrumentInputBody',
    body: ({ name, kind, protocol, address, due_on }) => ({
      name,
      kind,
      protocol,
      address,
      due_on: due_on || undefined,
    }),
    send: (body, draft) => keep.mutateAsync({ ...body, id: draft.id }),
    sent: done,
  })
  const draft = form.values
  const { change, wrong } = form
  return (
    <form onSubmit={form.submit} className="grid gap-3 rounded-card border border-line bg-sheet p-4" noValidate>
      <h2 className="font-bold">One more, or one changed</h2>
      <div className="flex flex-wrap items-end gap-2">
        <div className="min-w-[16rem] flex-1">
          <TextField
            label="Address, host:port"
            value={draft.address}
            set={(address) => change({ address })}
            wrong={wrong('address')}
          />
        </div>
        <Button
          weight="outline"
          disabled={probe.isPending || draft.address.trim() === ''}
          onClick={() =>
            probe.mutate(draft.address, {
              onSuccess: (found) =>
                change(found.protocol === 'log' ? { protocol: 'log', kind: 'logger' } : { protocol: found.protocol }),
            })
          }
        >
          {probe.isPending ? 'Asking' : 'Ask what is there'}
        </Button>
      </div>
      {probe.data && (
        <p role="status" className="rounded-part bg-verdigris-wash px-3 py-2">
          It answers: {probe.data.says || 'it sends its figure by itself'}.
        </p>
      )}
      <Trouble error={probe.error} />
      <OneOf
        name="How it speaks"
        options={protocols}
        value={draft.protocol}
        pick={(protocol) => change({ protocol })}
      />
      <OneOf
        name="What it is"
        options={choices?.instruments ?? []}
        value={draft.kind}
        pick={(kind) => change({ kind })}
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField label="Name, one word" value={draft.name} set={(name) => change({ name })} wrong={wrong('name')} />
        <TextField
          label="Calibration due"
          type="date"
          value={draft.due_on}
          set={(due_on) => change({ due_on })}
          wrong={wrong('due_on')}
          className="num"
        />
      </div>
      <Submit form={form}>Keep the instrument</Submit>
    </form>
  )
}
