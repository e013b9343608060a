// One standing battery over the days to come: what it comes to left as it is, every care
// compared for this one, what people believe, and who came to it.
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { wordsFor } from '../../api/client'
import { useHello } from '../../api/session'
import { bodyOf, useEndStanding, useMistakenVisit, usePutAway, useSeason } from '../../api/standing'
import type { Care, SeasonPage } from '../../api/types'
import { useWord } from '../../api/words'
import { deliver } from '../../delivery/queue'
import { useAllDeeds } from '../../delivery/use'
import { capital, dateOf, day, shortDate, thin } from '../../parts/format'
import { FormDialog } from '../../parts/form-dialog'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { PlainForm } from '../../parts/ui/plain-form'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { useToast } from '../../parts/ui/toast'
import { draftOf, saidFrom, StandingFields, standingWrong } from '../yard/standing-fields'
import { SeasonPictures, worstOf } from './pictures'

export function SeasonScreen() {
  const { standing = '' } = useParams()
  const query = useSeason(standing)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Screen page={page} />}
      </Loaded>
    </Shell>
  )
}

function Screen({ page }: { page: SeasonPage }) {
  const { row, answer, standing } = page
  return (
    <>
      <Head page={page} />
      <div className="flex flex-1 flex-col lg:flex-row">
        <main className="min-w-0 flex-1 bg-sheet px-4 py-4 md:px-6">
          {row.judged ? (
            <>
              <h2 className="text-small font-bold text-lead">Left as it is</h2>
              <SeasonPictures page={page} />
            </>
          ) : (
            <p role="alert" className="rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
              Lithium, or of an unknown kind: no lead table holds for it. It is kept by its maker’s instructions, and
              its visits are planned all the same.
            </p>
          )}
          <Basis page={page} />
          <Reminders page={page} />
          <Visits page={page} />
        </main>
        <aside
          className="shrink-0 border-line bg-paper px-4 py-4 lg:w-[400px] lg:border-l"
          aria-label="What to do with it"
        >
          {standing.to_at ? (
            <div className="grid justify-items-start gap-3">
              <p>It does not stand any more. Volts first, eye or gravity, then load, charge, and only then start.</p>
              <Button asChild weight="main">
                <Link to={`/bring-in?purpose=after_storage&plate=${encodeURIComponent(row.name)}`}>Bring it in</Link>
              </Button>
            </div>
          ) : (
            <Cares page={page} />
          )}
          {answer.beliefs.length > 0 && (
            <section className="mt-5 grid gap-2">
              <h2 className="text-small font-bold text-lead">People say</h2>
              {answer.beliefs.map((b) => (
                <p key={b.code}>{b.text}</p>
              ))}
            </section>
          )}
        </aside>
      </div>
    </>
  )
}

function Head({ page }: { page: SeasonPage }) {
  const word = useWord()
  const { row, standing, forecast } = page
  const drawn =
    forecast.drain_basis === 'none'
      ? 'not connected'
      : `${forecast.drain_ma}${thin}mA ${forecast.drain_basis === 'measured' ? 'measured' : 'as is usual'}`
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-3 md:px-6">
      <div className="min-w-0 flex-1">
        <h1 className="text-head font-bold">
          <span className="num">{row.name}</span>
          {row.about && `, ${row.about}`}
        </h1>
        <p className="text-small text-lead">
          {[
            row.customer,
            row.label,
            `${[row.place, row.spot].filter(Boolean).join(', ') || 'elsewhere'}, ${word(row.where)}`,
            drawn,
            word(`care_${row.care}`),
          ]
            .filter(Boolean)
            .join('; ')}{' '}
          <Link className="underline" to={`/batteries/${standing.battery_id}`}>
            Its life
          </Link>
        </p>
      </div>
      <Outlook page={page} />
      <Change page={page} />
    </div>
  )
}

const comes = {
  freezes: ['May freeze as it is', 'May freeze from'],
  no_start: ['Would not start', 'Would not start from about'],
  below_12_4: ['Below 12.4\u00a0V', 'Below 12.4\u00a0V from about'],
} as const

/** What it comes to with the care that was chosen. */
function Outlook({ page: { row, forecast, today } }: { page: SeasonPage }) {
  if (!row.judged) return null
  const worst = worstOf(forecast.dates)
  if (!worst) {
    return <p className="rounded-card bg-verdigris-wash px-3 py-2 font-bold">Holds through the season</p>
  }
  const { when, code } = worst
  const [now, later] = comes[code]
  return (
    <p className={`rounded-card px-3 py-2 ${code === 'below_12_4' ? 'bg-marigold-wash' : 'bg-oxide-wash'}`}>
      <b>{when.date <= today ? now : `${later} ${dateOf(when.date)}`}</b>{' '}
      {when.date > today && when.early !== when.late && (
        <span className="text-small">
          {shortDate(when.early)} to {when.open ? 'later' : shortDate(when.late)}
        </span>
      )}
    </p>
  )
}

function Change({ page }: { page: SeasonPage }) {
  const end = useEndStanding(page.standing.id)
  const toast = useToast()
  if (page.standing.to_at) {
    return <Button onClick={() => end.mutate(true)}>It stands on</Button>
  }
  const takeOut = () =>
    end.mutate(false, {
      onSuccess: () =>
        toast(`${page.row.name} is out. Volts, eye or gravity, load, charge, then start.`, () => end.mutate(true)),
    })
  return (
    <div className="no-print flex flex-wrap gap-2">
      <FormDialog
        trigger="Change"
        title={`How ${page.row.name} stands`}
        about="Where, what draws on it, and what there is to keep it."
        form={(done) => <ChangeForm page={page} done={done} />}
      />
      <Button disabled={end.isPending} onClick={takeOut}>
        Take it out
      </Button>
      {end.error && <p className="text-oxide-text">{wordsFor(end.error)}</p>}
    </div>
  )
}

function ChangeForm({ page, done }: { page: SeasonPage; done: () => void }) {
  const put = usePutAway(page.standing.id)
  const [draft, setDraft] = useState(draftOf(page.standing.said, page.standing.place_id))
  const submit = () => {
    const said = saidFrom(draft, page.standing.said.care, new Date().toISOString())
    put.mutate({ ...bodyOf(page, said), place_id: draft.place || undefined }, { onSuccess: done })
  }
  return (
    <PlainForm submit={submit} error={put.error} pending={put.isPending} wrong={standingWrong(draft)} button="Keep it">
      <StandingFields draft={draft} set={setDraft} loose={!page.standing.vehicle_id} />
    </PlainForm>
  )
}

function Cares({ page }: { page: SeasonPage }) {
  const put = usePutAway(page.standing.id)
  const toast = useToast()
  const word = useWord()
  const chosen = page.standing.said.care
  const choose = (kind: Care['kind'] | '') =>
    put.mutate(bodyOf(page, { care: kind }), {
      onSuccess: () =>
        toast(`${page.row.name}: ${word(`care_${kind}`)}.`, () => put.mutate(bodyOf(page, { care: chosen }))),
    })
  return (
    <section className="grid gap-3" aria-label="Cares compared">
      <h2 className="text-small font-bold text-lead">What to do with it, best first</h2>
      {page.answer.care.map((c) => (
        <CareCard
          key={c.kind}
          care={c}
          chosen={chosen === c.kind}
          choose={() => choose(chosen === c.kind ? '' : c.kind)}
        />
      ))}
      {put.error && (
        <p role="alert" className="text-oxide-text">
          {wordsFor(put.error)}
        </p>
      )}
      <p className="text-small text-lead">
        Next visit from {dateOf(page.forecast.due.from)} to {dateOf(page.forecast.due.to)},{' '}
        {word(`due_${page.forecast.due.why}`)}.{' '}
        <Link className="underline" to="/yard/rounds">
          To the rounds
        </Link>
      </p>
    </section>
  )
}

/** What a care comes to, in two or three words. */
function outcome(c: Care): string {
  const [dates, charged] = [c.dates, c.charged_dates]
  const first = [dates.freezes, dates.charge_too_low, dates.below_12_4].flatMap((w) => (w ? [w.date] : [])).sort()[0]
  if (!c.fits && c.kind !== 'none' && c.kind !== 'bypass' && !charged) return 'no'
  if (c.charge_first) return 'charged first'
  if (!first) return 'holds'
  return `${dates.freezes?.date === first ? 'ice ' : 'to '}${shortDate(first)}`
}

function CareCard({ care, chosen, choose }: { care: Care; chosen: boolean; choose: () => void }) {
  const word = useWord()
  const facts = [
    care.hands_minutes_month > 0 && `${Math.round(care.hands_minutes_month)}${thin}min a month`,
    care.every_days != null && `every ${care.every_days} days`,
    care.minutes != null && `${Math.round(care.minutes)}${thin}min each time`,
    care.amps && care.fits && `${care.amps.enough}${thin}A is enough, ${care.amps.most}${thin}A at the most`,
  ].filter(Boolean)
  return (
    <article
      aria-label={word(`care_${care.kind}`)}
      className={`grid gap-1 rounded-card border-[1.5px] bg-sheet p-3 ${chosen ? 'border-ink' : care.fits ? 'border-line' : 'border-dashed border-line'}`}
    >
      <div className="flex items-baseline gap-3">
        <h3 className={`font-bold ${care.fits ? '' : 'text-lead'}`}>
          {care.kind === 'none' ? 'Leave it as it is' : capital(word(`care_${care.kind}`))}
        </h3>
        <span className={`num ml-auto text-right ${care.fits ? 'font-bold' : 'text-lead'}`}>{outcome(care)}</span>
      </div>
      {facts.length > 0 && <p className="text-small">{facts.join('; ')}</p>}
      <ul className="text-small text-lead">
        {care.why.map((w) => (
          <li key={w.code}>{w.text}</li>
        ))}
      </ul>
      {care.solar_watts_by_month && <Watts list={care.solar_watts_by_month} />}
      {(care.fits || chosen || care.kind === 'none') && (
        <Button className="no-print justify-self-start" aria-pressed={chosen} onClick={choose}>
          {chosen ? 'Chosen; leave it' : 'Choose this'}
        </Button>
      )}
    </article>
  )
}

const initials = 'JFMAMJJASOND'

/** The panel each month asks for. */
function Watts({ list }: { list: (number | null)[] }) {
  return (
    <table className="w-full text-center text-small">
      <caption className="text-left text-lead">The panel each month asks for, W</caption>
      <thead>
        <tr>
          {[...initials].map((m, i) => (
            <th key={i} scope="col" className="font-normal text-lead">
              {m}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr className="num">
          {list.map((w, i) => (
            <td key={i}>{w == null ? '–' : Math.ceil(w)}</td>
          ))}
        </tr>
      </tbody>
    </table>
  )
}

function Basis({ page }: { page: SeasonPage }) {
  const { forecast, answer, climate } = page
  const word = useWord()
  const from = {
    reading: 'its last reading',
    said: 'what was said of it',
    charged: 'its last full charge',
    guess: 'nothing that was measured',
  }[forecast.basis]
  return (
    <section className="mt-4 grid gap-1 text-small">
      <p>
        Worked out from {from}
        {forecast.charge &&
          `, ${Math.round(forecast.charge.percent)}${thin}% (${Math.round(forecast.charge.low)} to ${Math.round(forecast.charge.high)})`}{' '}
        on {dateOf(forecast.from)}. Climate: {climate.own ? 'our own' : word(`zone_${climate.zone || 'temperate'}`)}.
      </p>
      {answer.assumed.length > 0 && (
        <ul className="text-marigold-text">
          {answer.assumed.map((a) => (
            <li key={a.code}>{a.text}</li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Reminders({ page: { answer } }: { page: SeasonPage }) {
  return (
    <section className="mt-5">
      <h2 className="text-small font-bold text-lead">While it stands</h2>
      <ul className="list-disc pl-5">
        {answer.traction && <li>{answer.traction.text}</li>}
        {answer.reminders.map((r) => (
          <li key={r.code}>{r.text}</li>
        ))}
      </ul>
    </section>
  )
}

function Visits({ page }: { page: SeasonPage }) {
  const word = useWord()
  const zone = useHello().data?.shop?.time_zone
  const mistaken = useMistakenVisit(page.standing.id)
  const waiting = useAllDeeds().filter((d) => d.kind === 'visit' && d.subject === page.standing.id)
  return (
    <section className="mt-5 grid gap-2">
      <div className="flex items-center gap-3">
        <h2 className="text-small font-bold text-lead">Who came to it</h2>
        {!page.standing.to_at && (
          <FormDialog
            trigger="Somebody came"
            weight="plain"
            title={`At ${page.row.name}`}
            about="What was read and done. The forecast goes on from it, and says by how much it was off."
            form={(done) => <CameForm page={page} done={done} />}
          />
        )}
      </div>
      {page.visits.length === 0 && waiting.length === 0 && (
        <p className="text-lead">Nobody since it was put away on {day(page.standing.from_at, zone)}.</p>
      )}
      {mistaken.error && <p className="text-oxide-text">{wordsFor(mistaken.error)}</p>}
      <ul className="divide-y divide-line">
        {waiting.map((d) => (
          <li key={d.id} className="py-2 text-marigold-text">
            {d.kind === 'visit' && d.line} waits for the line
          </li>
        ))}
        {page.visits.map((v) => (
          <li key={v.id} className="py-2">
            <b className={`num ${v.mistaken ? 'line-through' : ''}`}>{v.typed || word(`did_${v.did}`)}</b>{' '}
            <span className="text-small text-lead">
              {day(v.at, zone)}, {v.by}
              {v.typed && `, ${word(`did_${v.did}`)}`}
              {v.note && `: ${v.note}`}
            </span>
            {v.mistaken ? (
              <span className="block text-small text-lead">By mistake: kept, and counts no more.</span>
            ) : (
              <Button
                className="no-print"
                disabled={mistaken.isPending}
                aria-label={`${v.typed || word(`did_${v.did}`)} was a mistake`}
                onClick={() => mistaken.mutate(v.id)}
              >
                Mistaken
              </Button>
            )}
            {v.off && !v.mistaken && (
              <span className={`block text-small ${v.off.inside ? '' : 'text-marigold-text'}`}>{v.off.say.text}</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

function CameForm({ page, done }: { page: SeasonPage; done: () => void }) {
  const word = useWord()
  const [line, setLine] = useState('')
  const [did, setDid] = useState('looked')
  const [note, setNote] = useState('')
  const [error, setError] = useState<unknown>(null)
  const [busy, setBusy] = useState(false)
  const keep = () => {
    setBusy(true)
    setError(null)
    deliver(page.standing.id, { kind: 'visit', line: line.trim(), did: did as 'looked', note, name: page.row.name })
      .then(done)
      .catch((problem: unknown) => setError(problem))
      .finally(() => setBusy(false))
  }
  return (
    <PlainForm submit={keep} error={error} pending={busy} button="Keep it">
      <TextField label="Reading line" placeholder="12.41 v 8c rested 12h" value={line} set={setLine} />
      <OneOf
        name="What was done"
        value={did}
        pick={setDid}
        options={['looked', 'charged', 'moved'].map((code) => ({ code, word: word(`did_${code}`) }))}
      />
      <TextField label="Note" value={note} set={setNote} maxLength={500} />
    </PlainForm>
  )
}
