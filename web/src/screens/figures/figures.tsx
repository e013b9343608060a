// Every figure Grapnel works with, where it is from, and the shop's own in its
// place.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useFigures, useOwnFigure } from '../../api/bench'
import { useMay } from '../../api/session'
import type { KnownFigure } from '../../api/types'
import { day, thin } from '../../parts/format'
import { Sheet } from '../../parts/ui/sheet'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Loaded } from '../../parts/ui/loaded'
import { Button } from '../../parts/ui/button'
import { OneOrNone } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'

const tags = [
  ['P', 'published', 'printed in a standard or service manual, recalled from memory'],
  ['CP', 'trade', 'common practice of the trade, no source'],
  ['M', 'memory', 'from memory, origin not certain'],
  ['C', 'computed', 'computed from the others, or exact by definition'],
] as const

const shownTags = [
  { code: 'limit', word: 'limits' },
  { code: 'own', word: 'the shop’s own' },
  ...tags.map(([code, word]) => ({ code, word })),
]

export function FiguresScreen() {
  const query = useFigures()
  return (
    <Shell>
      <Loaded query={query} whole>
        {(figures) => <Figures figures={figures} />}
      </Loaded>
    </Shell>
  )
}

function Figures({ figures }: { figures: KnownFigure[] }) {
  const [search, setSearch] = useState('')
  const [tag, setTag] = useState('')
  const owner = useMay('setLimit')
  const wanted = search.trim().toLowerCase()
  const shown = figures.filter(
    (f) =>
      (tag === '' || (tag === 'own' ? f.own : tag === 'limit' ? f.limit : f.source.kind === tag)) &&
      (wanted === '' ||
        `${f.name} ${f.package}.${f.id} ${f.source.title} ${f.source.note ?? ''}`.toLowerCase().includes(wanted)),
  )
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-4 py-5 md:px-6">
      <h1 className="text-head font-bold">Figures and their sources</h1>
      <p className="mb-3 max-w-3xl text-lead">
        Every constant, limit and table that a verdict or a sum rests on. A limit can be set to your maker’s figure,
        with a note of where it is from; it then shows wherever the limit is used.
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <TextField
          className="w-full sm:w-72"
          label="Search the figures"
          quiet
          type="search"
          placeholder="search: volts under load, fuse, IEC …"
          value={search}
          set={setSearch}
        />
        <OneOrNone name="Show" options={shownTags} value={tag} pick={setTag} />
        <span className="num ml-auto text-small text-lead" aria-live="polite">
          {shown.length} of {figures.length}
        </span>
      </div>
      {shown.length === 0 && <p className="text-lead">No figure is like that.</p>}
      <ul className="divide-y divide-line border-y border-line">
        {shown.map((f) => (
          <Row key={`${f.package}.${f.id}`} figure={f} owner={owner} />
        ))}
      </ul>
      <dl className="mt-4 grid gap-x-6 text-small text-lead sm:grid-cols-2">
        {tags.map(([code, word, about]) => (
          <div key={code}>
            <dt className="inline font-bold">{word}: </dt>
            <dd className="inline">{about}</dd>
          </div>
        ))}
      </dl>
    </main>
  )
}

function Row({ figure, owner }: { figure: KnownFigure; owner: boolean }) {
  const { own, source } = figure
  const rows = figure.value.split('; ')
  const word = tags.find(([code]) => code === source.kind)?.[1]
  return (
    <li className="grid gap-x-5 gap-y-1 py-2.5 md:grid-cols-[1fr_16rem_17rem_auto]">
      <div className="min-w-0">
        <p>{figure.name}</p>
        <p className="num text-small break-all text-lead">
          {figure.package}.{figure.id}
        </p>
      </div>
      <div className="num min-w-0">
        {rows.length > 1 ? (
          <details>
            <summary>
              table of {rows.length} <span className="text-lead">{figure.unit}</span>
            </summary>
            <ul className="text-small">
              {rows.map((r, i) => (
                <li key={i} className="break-words">
                  {r}
                </li>
              ))}
            </ul>
          </details>
        ) : (
          <p className="break-words">
            {own ? (
              <>
                <span className="font-bold">
                  {own.value}
                  {figure.unit && thin + figure.unit}
                </span>{' '}
                <span className="text-lead line-through">{figure.value}</span>
              </>
            ) : (
              `${figure.value}${figure.unit ? thin + figure.unit : ''}`
            )}
          </p>
        )}
      </div>
      <div className="min-w-0 text-small text-lead">
        <span className="font-bold">{word}</span>
        {': '}
        {source.kind === 'P' ? source.title : source.note || source.title}
        {source.kind === 'P' && source.note ? ` (${source.note})` : ''}
        {own && (
          <p className="text-marigold-text">
            The shop’s own, from {own.note}. Set by {own.set_by}, {day(own.set_at)}.
          </p>
        )}
      </div>
      <div>{figure.limit && owner && <OwnDialog figure={figure} />}</div>
    </li>
  )
}

/** Puts the shop's own figure in the place of a limit. */
function OwnDialog({ figure }: { figure: KnownFigure }) {
  const limit = figure.limit
  const change = useOwnFigure(limit?.id ?? '')
  const [open, setOpen] = useState(false)
  const [value, setValue] = useState(String(figure.own?.value ?? figure.value))
  const [note, setNote] = useState(figure.own?.note ?? '')
  if (!limit) return null
  const done = { onSuccess: () => setOpen(false) }
  const unit = limit.unit ? thin + limit.unit : ''
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next)
        change.reset()
      }}
    >
      <Dialog.Trigger asChild>
        <Button className="px-2.5 text-small">{figure.own ? 'Change' : 'Use our own'}</Button>
      </Dialog.Trigger>
      <Sheet title={figure.name} about={`The trade’s figure is ${figure.value}${unit}.`}>
        <form
          className="grid gap-3"
          onSubmit={(e) => {
            e.preventDefault()
            change.mutate({ value: Number(value.trim().replace(',', '.')), note }, done)
          }}
        >
          <TextField
            label={unit ? `Our own figure, in ${limit.unit}` : 'Our own figure'}
            numeric
            value={value}
            set={setValue}
            hint={`${limit.low} to ${limit.high}${unit}`}
          />
          <TextField
            label="Where it is from"
            value={note}
            maxLength={200}
            placeholder="the maker’s service manual, page …"
            set={setNote}
          />
          <Trouble error={change.error} />
          <div className="flex flex-wrap gap-2">
            <Button type="submit" weight="main" disabled={note.trim() === '' || change.isPending}>
              Use it from now on
            </Button>
            {figure.own && (
              <Button disabled={change.isPending} onClick={() => change.mutate(null, done)}>
                Back to the trade’s figure
              </Button>
            )}
          </div>
        </form>
      </Sheet>
    </Dialog.Root>
  )
}
