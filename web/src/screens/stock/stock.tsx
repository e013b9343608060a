// The shop's own batteries: what there is, what has stood too long, and taking one in.
import { useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { wordsFor } from '../../api/client'
import { useChoices } from '../../api/jobs'
import { useHello } from '../../api/session'
import { usePlaces } from '../../api/shelf'
import { useKeepStock, useLeaveStock, useStock } from '../../api/stock'
import type { StockRow } from '../../api/types'
import { thin } from '../../parts/format'
import { FormDialog } from '../../parts/form-dialog'
import { draftFrom, emptyLabel, labelFrom, LabelFields, type LabelDraft } from '../../parts/label-fields'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { PlainForm } from '../../parts/ui/plain-form'
import { SelectField, TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { Table } from '../../parts/ui/table'
import { useToast } from '../../parts/ui/toast'
import {
  bodyFrom,
  bodyOf,
  CaseFields,
  caseWrong,
  emptyCase,
  sizeOf,
  wrongFigure,
  type CaseDraft,
} from '../fit/case-fields'

export function StockScreen() {
  const query = useStock()
  const [find, setFind] = useState('')
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-6xl content-start gap-4 px-4 py-4 md:px-6">
        <div className="flex flex-wrap items-end gap-3">
          <h1 className="text-head font-bold">Stock</h1>
          <TextField
            label="Find"
            quiet
            placeholder="Find: size, maker, tag"
            value={find}
            set={setFind}
            className="min-w-48 flex-1"
          />
          <FormDialog
            trigger="Take one in"
            title="Take a battery in"
            about="As its label has it; test it before it goes into a vehicle."
            form={(done) => <StockForm done={done} />}
          />
          <Button asChild>
            <Link to="/stock/labels">Labels to stick on</Link>
          </Button>
        </div>
        <Loaded query={query}>
          {(page) => <Rows rows={page.rows.filter((r) => matches(r, find))} none={page.rows.length === 0} />}
        </Loaded>
      </main>
    </Shell>
  )
}

function matches(r: StockRow, find: string) {
  const all = [r.battery.tag, r.battery.maker, r.label_text, r.body.case, r.body.group, r.place].join(' ').toLowerCase()
  return find
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word))
}

const money = (minor: number | null) => (minor == null ? '' : (minor / 100).toFixed(2))

function Rows({ rows, none }: { rows: StockRow[]; none: boolean }) {
  if (none) return <p>Nothing is in stock. Take a battery in, and it is offered where one has to be fitted.</p>
  if (rows.length === 0) return <p>Nothing in stock is called that.</p>
  return (
    <Table
      caption="Batteries in stock"
      rows={rows}
      id={(r) => r.battery.id}
      columns={[
        {
          name: 'Battery',
          of: (r) => (
            <>
              <Link className="num font-bold underline" to={`/batteries/${r.battery.id}`}>
                {r.battery.tag}
              </Link>{' '}
              {r.battery.maker}
              <span className="block text-small text-lead">
                {r.label_text}
                {r.used && ', used'}
              </span>
            </>
          ),
        },
        { name: 'Size', of: (r) => sizeOf(r.body) || millimetres(r) },
        { name: 'Stands', of: (r) => r.place },
        {
          name: 'Fresh',
          of: (r) => (
            <>
              {r.months == null ? 'age not known' : `${r.months}${thin}mo`}
              {r.charged_on && `, charged ${r.charged_on}`}
              {r.stands.map((s) => (
                <span key={s.code} className="block text-small text-marigold-text">
                  {s.text}
                </span>
              ))}
            </>
          ),
        },
        { name: 'Price', figure: true, of: (r) => money(r.price_minor) },
        { name: 'What to do', of: (r) => <Doing row={r} /> },
      ]}
    />
  )
}

function millimetres({ body }: StockRow) {
  const sides = [body.length_mm, body.width_mm, body.height_mm]
  return sides.every((s) => s == null) ? '' : `${sides.map((s) => s ?? '?').join(' × ')}${thin}mm`
}

function Doing({ row }: { row: StockRow }) {
  const leave = useLeaveStock()
  const keep = useKeepStock()
  const toast = useToast()
  const { data: choices } = useChoices()
  const zone = useHello().data?.shop?.time_zone
  const today = new Date().toLocaleDateString('sv', { timeZone: zone })
  const gone = (how: string, word: string) =>
    leave.mutate(
      { battery: row.battery.id, how },
      {
        onSuccess: () =>
          toast(`${row.battery.tag} is ${word}.`, () => leave.mutate({ battery: row.battery.id, how: '' })),
      },
    )
  const charged = () => {
    if (!choices) return
    const { tag, maker, posts } = row.battery
    const body = {
      tag,
      maker,
      posts,
      label: labelFrom(draftFrom(row.battery, choices.label_fields)),
      body: row.body,
      place_id: row.place_id ?? undefined,
      price_minor: row.price_minor ?? undefined,
      charged_on: today,
    }
    keep.mutate({ battery: row.battery.id, body }, { onSuccess: () => toast(`${tag}: charged today.`) })
  }
  return (
    <div className="flex flex-wrap gap-2">
      {row.charged_on !== today && (
        <Button
          disabled={keep.isPending || !choices}
          onClick={charged}
          aria-label={`${row.battery.tag} was charged today`}
        >
          Charged today
        </Button>
      )}
      <FormDialog
        trigger={`Change ${row.battery.tag}`}
        weight="plain"
        title={`Change ${row.battery.tag}`}
        about="What is written down of it."
        form={(done) => <StockForm row={row} done={done} />}
      />
      <Button
        disabled={leave.isPending}
        onClick={() => gone('sold', 'sold')}
        aria-label={`${row.battery.tag} was sold`}
      >
        Sold
      </Button>
      {(leave.error ?? keep.error) && <p className="text-oxide-text">{wordsFor(leave.error ?? keep.error)}</p>}
    </div>
  )
}

/** One battery of the stock as a form; a new one where none is given. */
function StockForm({ row, done }: { row?: StockRow; done: () => void }) {
  const { data: choices } = useChoices()
  if (!choices) return null
  const label = row ? draftFrom(row.battery, choices.label_fields) : emptyLabel
  return <StockDraft row={row} label={label} done={done} />
}

function StockDraft({ row, label: first, done }: { row?: StockRow; label: LabelDraft; done: () => void }) {
  const keep = useKeepStock()
  const [id] = useState(() => row?.battery.id ?? uuid())
  const [label, setLabel] = useState(first)
  const [outside, setOutside] = useState<CaseDraft>(row ? bodyOf(row.body) : emptyCase)
  const places = usePlaces()
  const [place, setPlace] = useState(row?.place_id ?? '')
  const [charged, setCharged] = useState(row?.charged_on ?? '')
  const [price, setPrice] = useState(money(row?.price_minor ?? null))
  const priceWrong = wrongFigure(price)
  const cents = Math.round(Number(price.replace(',', '.')) * 100)
  const submit = () =>
    keep.mutate(
      {
        battery: id,
        body: {
          tag: label.tag,
          maker: label.maker,
          posts: row?.battery.posts,
          label: labelFrom(label),
          body: bodyFrom(outside),
          place_id: place || undefined,
          price_minor: price.trim() === '' || Number.isNaN(cents) ? undefined : cents,
          charged_on: charged,
        },
      },
      { onSuccess: done },
    )
  return (
    <PlainForm
      submit={submit}
      error={keep.error}
      pending={keep.isPending}
      wrong={caseWrong(outside) || !!priceWrong}
      button={row ? 'Write down' : 'Take it in'}
    >
      <LabelFields draft={label} set={setLabel} all />
      <CaseFields draft={outside} set={setOutside} />
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
        <SelectField
          label="Stands at"
          value={place}
          set={setPlace}
          options={[
            { code: '', word: 'not said' },
            ...(places.data ?? []).map((one) => ({ code: one.id, word: one.name })),
          ]}
        />
        <TextField label="Charged on" type="date" value={charged} set={setCharged} />
        <TextField label="Price" numeric value={price} set={setPrice} wrong={priceWrong} />
      </div>
    </PlainForm>
  )
}
