// All that stands, worst first: how long it lasts, how far from ice it is, who saw it last and
// who comes next. Hundreds in one list that filters as one types.
import { memo, useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useHello, useMay } from '../../api/session'
import { useYard } from '../../api/standing'
import type { YardPage, YardRow } from '../../api/types'
import { useWord } from '../../api/words'
import { dateOf, shortDate, shortDay, thin } from '../../parts/format'
import { FormDialog } from '../../parts/form-dialog'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { CalendarForm } from './calendar'
import { ClimateForm } from './climate'
import { PutAwayForm } from './put-away'

export function YardScreen() {
  const [find, setFind] = useState('')
  const [tonight, setTonight] = useState('')
  const figure = useDeferredValue(tonight.trim().replace(',', '.').replace('−', '-'))
  const wrong = figure !== '' && figure !== '-' && !/^-?\d+(\.\d+)?$/.test(figure)
  const query = useYard(wrong || figure === '-' ? '' : figure)
  const owner = useMay('keepClimate')
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-7xl content-start gap-4 px-4 py-4 md:px-6 print:p-0">
        <div className="no-print flex flex-wrap items-end gap-3">
          <h1 className="text-head font-bold">Yard</h1>
          <TextField
            label="Find"
            quiet
            placeholder="Find: plate, row, customer"
            value={find}
            set={setFind}
            className="min-w-44 flex-1"
          />
          <TextField
            label="Low forecast for tonight"
            numeric
            unit="°C"
            placeholder="none"
            value={tonight}
            set={setTonight}
            wrong={wrong ? 'A figure, such as -9.' : undefined}
            className="w-44"
          />
          <Button asChild weight="main">
            <Link to="/yard/rounds">Rounds</Link>
          </Button>
          <FormDialog
            trigger="Put away"
            title="Put something away"
            about="A battery that stands for a while, in its vehicle or loose."
            form={(done) => <PutAwayForm done={done} />}
          />
        </div>
        <div className="no-print -mt-2 flex flex-wrap gap-2">
          <Button onClick={() => print()}>Print the list</Button>
          <FormDialog
            trigger="Calendar"
            weight="plain"
            title="Calendar"
            about="The visits that are due, for the program you keep your days in."
            form={() => <CalendarForm />}
          />
          {query.data && (
            <FormDialog
              trigger="Climate"
              weight="plain"
              title="Climate"
              about="Monthly means and coldest nights: every forecast of the yard hangs on them."
              form={(done) => query.data && <ClimateForm page={query.data} owner={owner} done={done} />}
            />
          )}
        </div>
        {query.error && query.data && <Trouble error={query.error} />}
        <Loaded query={query}>{(page) => <List page={page} find={find} tonight={figure !== '' && !wrong} />}</Loaded>
      </main>
    </Shell>
  )
}

const textOf = (r: YardRow) => [r.name, r.about, r.customer, r.place, r.spot, r.tag, r.label].join(' ').toLowerCase()

/** How many rows are drawn at once: more than a screen holds. */
const atOnce = 40

function List({ page, find, tonight }: { page: YardPage; find: string; tonight: boolean }) {
  const zone = useHello().data?.shop?.time_zone
  const word = useWord()
  // The first are there at once, the rest a moment later.
  const drawn = useDeferredValue(page.rows, page.rows.slice(0, atOnce))
  const texts = useMemo(() => page.rows.map((r) => ({ id: r.id, text: textOf(r) })), [page.rows])
  if (page.rows.length === 0) {
    return (
      <p>
        Nothing stands. Put away what is laid up over the winter, and the yard says how long each lasts and when
        somebody has to come.
      </p>
    )
  }
  const words = find.toLowerCase().split(/\s+/)
  const ids = new Set(texts.filter(({ text }) => words.every((one) => text.includes(one))).map(({ id }) => id))
  return (
    <>
      <p className="text-small text-lead">
        {ids.size === page.rows.length ? `${page.rows.length} stand` : `${ids.size} of ${page.rows.length}`}
        {tonight && ', the one to be looked at first tonight on top'}
        <span className="only-print"> on {dateOf(page.today)}</span>
      </p>
      {ids.size === 0 && <p>Nothing that stands is called that.</p>}
      <table className="w-full border-collapse md:table-fixed print:table-fixed" hidden={ids.size === 0}>
        <caption className="sr-only">What stands, worst first</caption>
        <thead className="max-md:not-print:sr-only">
          <tr className="border-b border-line text-left text-small text-lead">
            <th scope="col" className="w-[24%] py-1.5 pr-4 font-normal">
              What stands
            </th>
            <th scope="col" className="w-[20%] py-1.5 pr-4 font-normal">
              Where, and its care
            </th>
            <th scope="col" className="w-[9%] py-1.5 pr-4 text-right font-normal">
              Charge
            </th>
            <th scope="col" className="w-[16%] py-1.5 pr-4 font-normal">
              First bad day
            </th>
            <th scope="col" className="w-[13%] py-1.5 pr-4 text-right font-normal">
              Least above ice
            </th>
            <th scope="col" className="w-[18%] py-1.5 pr-4 font-normal">
              Next visit
            </th>
            <th scope="col" className="only-print w-[15%] py-1.5 font-normal">
              Volts
            </th>
          </tr>
        </thead>
        <tbody>
          {drawn.map((row) => (
            <Line key={row.id} row={row} zone={zone} hidden={!ids.has(row.id)} word={word} />
          ))}
        </tbody>
      </table>
    </>
  )
}

type LineProps = { row: YardRow; zone?: string; word: (code: string) => string }

/** One row; those that are filtered out stay, unseen, so that typing draws nothing anew. */
function Line({ hidden, ...line }: LineProps & { hidden: boolean }) {
  const cold = line.row.tonight_k != null && line.row.tonight_k <= 0
  return (
    <tr
      hidden={hidden}
      className={`border-b border-line break-inside-avoid print:text-small [&[hidden]]:hidden max-md:not-print:grid max-md:not-print:py-2 ${cold ? 'bg-oxide-wash' : ''}`}
    >
      <Cells {...line} />
    </tr>
  )
}

const Cells = memo(function Cells({ row, zone, word }: LineProps) {
  const cell = 'py-2 pr-4 align-top max-md:not-print:py-0.5 print:py-1 print:pr-2'
  const soon = row.bad && row.bad.days <= 14
  const seen = shortDay(row.seen_at, zone)
  return (
    <>
      <td className={cell}>
        <Link className="num font-bold underline" to={`/yard/${row.id}`}>
          {row.name}
        </Link>
        <span className="block text-small text-lead">
          {[row.about, row.customer].filter(Boolean).join(', ')}
          {row.about === '' && row.label}
        </span>
      </td>
      <td className={cell}>
        {[row.place, row.spot].filter(Boolean).join(', ') || word(row.where)}
        <span className="block text-small text-lead">
          {word(row.where)}, {word(`care_${row.care}`)}
        </span>
      </td>
      <td className={`${cell} num md:text-right`}>
        {row.charge ? (
          <>
            {Math.round(row.charge.percent)}
            {thin}%
            <span className="block text-small whitespace-nowrap text-lead max-md:not-print:inline max-md:not-print:pl-2">
              {Math.round(row.charge.low)} to {Math.round(row.charge.high)}
            </span>
          </>
        ) : (
          <span className="font-sans text-lead">{row.judged ? 'being worked out' : 'not judged'}</span>
        )}
      </td>
      <td className={cell}>
        {row.bad ? (
          <span className={soon ? 'font-bold text-oxide-text' : ''}>
            {row.bad.days <= 0 ? 'now' : `in ${row.bad.days} days`}, {word(`bad_${row.bad.code}`)}
            <span className="block text-small font-normal text-lead max-md:not-print:inline max-md:not-print:pl-2">
              {shortDate(row.bad.on)}
            </span>
          </span>
        ) : (
          row.judged && <span className="text-lead">none in sight</span>
        )}
      </td>
      <td className={`${cell} num md:text-right`}>
        {row.tonight_k != null && (
          <span className={row.tonight_k <= 0 ? 'font-bold text-oxide-text' : ''}>
            {kelvin(row.tonight_k)} <span className="font-sans text-small">tonight</span>
          </span>
        )}
        {row.margin_k != null && (
          <span
            className={`block text-small max-md:not-print:inline ${row.margin_k <= 0 ? 'text-oxide-text' : 'text-lead'}`}
          >
            {kelvin(row.margin_k)}{' '}
            <span className="font-sans whitespace-nowrap">
              <span className="md:hidden print:hidden">above ice at the least, </span>
              {shortDate(row.margin_on)}
            </span>
          </span>
        )}
      </td>
      <td className={cell}>
        <span className={row.overdue ? 'font-bold text-oxide-text' : ''}>
          {row.overdue ? `was due ${shortDate(row.due.to)}` : `by ${shortDate(row.due.to)}`}
        </span>
        <span className="block text-small text-lead max-md:not-print:inline max-md:not-print:pl-2">
          <span className="print:hidden">{word(`due_${row.due.why}`)}; </span>seen {seen}
        </span>
      </td>
      <td className="only-print border border-ink" aria-hidden="true" />
    </>
  )
})

/** A distance from ice; below nothing it freezes. */
function kelvin(k: number): string {
  return `${Math.round(k)}${thin}K`.replace('-', '−')
}
