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
import { Chips, Text } from '../../parts/controls'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'

const protocols = [
  ['scpi', 'answers questions (SCPI)'],
  ['lines', 'sends lines by itself'],
] as const

type Draft = { id: string; name: string; kind: string; protocol: string; address: string; due_on: string }

const empty = (): Draft => ({ id: uuid(), name: '', kind: 'good_meter', protocol: 'scpi', address: '', due_on: '' })

export function InstrumentsScreen() {
  const { data: list } = useInstruments()
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
        {list && <Known list={list} change={(one) => setDraft({ ...one, due_on: one.due_on ?? '' })} />}
        <Form key={draft.id} draft={draft} set={setDraft} done={() => setDraft(empty())} />
      </main>
    </Shell>
  )
}

function Known({ list, change }: { list: Instrument[]; change: (one: Instrument) => void }) {
  const { data: now } = useInstrumentsNow()
  const { data: choices } = useChoices()
  const drop = useDropInstrument()
  if (list.length === 0) {
    return <p className="rounded-part bg-paper px-3 py-2">None yet. Give the address of one below and ask it.</p>
  }
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
                {shows ? (shows.line ? 'steady' : shows.why) : ''}
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

function Form({ draft, set, done }: { draft: Draft; set: (draft: Draft) => void; done: () => void }) {
  const { data: choices } = useChoices()
  const keep = useKeepInstrument()
  const probe = useProbe()
  const change = (part: Partial<Draft>) => set({ ...draft, ...part })
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    keep.mutate({ ...draft, due_on: draft.due_on || undefined }, { onSuccess: done })
  }
  return (
    <form onSubmit={submit} className="grid gap-3 rounded-card border border-line bg-sheet p-4">
      <h2 className="font-bold">One more, or one changed</h2>
      <div className="flex flex-wrap items-end gap-2">
        <div className="min-w-[16rem] flex-1">
          <Text label="Address, host:port" value={draft.address} set={(address) => change({ address })} />
        </div>
        <Button
          weight="outline"
          disabled={probe.isPending || draft.address.trim() === ''}
          onClick={() => probe.mutate(draft.address, { onSuccess: (found) => change({ protocol: found.protocol }) })}
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
      <Chips
        name="How it speaks"
        options={protocols.map(([code, word]) => [code, word])}
        value={draft.protocol}
        pick={(protocol) => change({ protocol })}
      />
      <Chips
        name="What it is"
        options={(choices?.instruments ?? []).map((c) => [c.code, c.word])}
        value={draft.kind}
        pick={(kind) => change({ kind })}
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <Text label="Name, one word" value={draft.name} set={(name) => change({ name })} />
        <label className="grid gap-1 text-small">
          Calibration due
          <input
            type="date"
            className="field num"
            value={draft.due_on}
            onChange={(e) => change({ due_on: e.target.value })}
          />
        </label>
      </div>
      <Trouble error={keep.error} />
      <Button type="submit" weight="main" className="justify-self-start" disabled={keep.isPending}>
        Keep the instrument
      </Button>
    </form>
  )
}
