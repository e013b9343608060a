// Every figure Grapnel works with, where it is from, and the shop's own in its
// place.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useFigures, useOwnFigure } from '../../api/bench'
import { useHello } from '../../api/session'
import type { KnownFigure } from '../../api/types'
import { day, thin } from '../../parts/format'
import { Sheet } from '../../parts/ui/sheet'
import { Shell } from '../../parts/shell'
import { Trouble, Unavailable } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { Chip } from '../../parts/ui/chips'

const tags = [
  ['P', 'published', 'printed in a standard or service manual, recalled from memory'],
  ['CP', 'trade', 'common practice of the trade, no source'],
  ['M', 'memory', 'from memory, origin not certain'],
  ['C', 'computed', 'computed from the others, or exact by definition'],
] as const

export function FiguresScreen() {
  const { data: figures, error, refetch } = useFigures()
  return (
    <Shell>
      {figures ? (
        <Figures figures={figures} />
      ) : error ? (
        <Unavailable error={error} retry={() => void refetch()} />
      ) : (
        <main className="flex-1" />
      )}
    </Shell>
  )
}

function Figures({ figures }: { figures: KnownFigure[] }) {
  const [search, setSearch] = useState('')
  const [tag, setTag] = useState('')
  const owner = useHello().data?.person?.role === 'owner'
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
        <input
          className="field w-full sm:w-72"
          type="search"
          aria-label="Search the figures"
          placeholder="search: volts under load, fuse, IEC …"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <div className="flex flex-wrap gap-2" role="group" aria-label="Show">
          {[['limit', 'limits'], ['own', 'the shop’s own'], ...tags.map(([code, word]) => [code, word])].map(
            ([code, word]) => (
              <Chip
                key={code}

                aria-pressed={tag === code}
                onClick={() => setTag(tag === code ? '' : (code ?? ''))}
              >
                {word}
              </Chip>
            ),
          )}
        </div>
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
          <label className="grid gap-1">
            Our own figure{unit && `, in ${limit.unit}`}
            <input
              className="field num"
              inputMode="decimal"
              value={value}
              onChange={(e) => setValue(e.target.value)}
              autoComplete="off"
            />
            <span className="text-small text-lead">
              {limit.low} to {limit.high}
              {unit}
            </span>
          </label>
          <label className="grid gap-1">
            Where it is from
            <input
              className="field"
              value={note}
              maxLength={200}
              placeholder="the maker’s service manual, page …"
              onChange={(e) => setNote(e.target.value)}
            />
          </label>
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
