// One battery's life: its readings over the visits, latest first.
import { Link, useParams } from 'react-router'
import { useBattery } from '../../api/jobs'
import { useHello } from '../../api/session'
import type { BatteryPage } from '../../api/types'
import { useWord } from '../../api/words'
import { clock, day } from '../../parts/format'
import { Glyph } from '../../parts/glyph'
import { Shell } from '../../parts/shell'
import { Loaded } from '../../parts/ui/loaded'
import { Button } from '../../parts/ui/button'

type Visit = BatteryPage['visits'][number]

export function BatteryScreen() {
  const { battery = '' } = useParams()
  const query = useBattery(battery)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Life page={page} />}
      </Loaded>
    </Shell>
  )
}

function Life({ page }: { page: BatteryPage }) {
  const zone = useHello().data?.shop?.time_zone
  const word = useWord()
  const { battery } = page
  return (
    <main className="mx-auto grid w-full max-w-5xl gap-5 px-4 py-5 md:px-6">
      <div>
        <h1 className="text-head font-bold">{page.label_text}</h1>
        <p className="text-lead">
          {[battery.maker, battery.tag, battery.label.made && `made ${battery.label.made}`].filter(Boolean).join(', ')}
        </p>
        <ul>
          {page.installations.map((s) => (
            <li key={s.from_at} className="text-small">
              Sat in {s.description}
              {s.description && s.plate && ', '}
              <span className="num">{s.plate}</span> from {day(s.from_at, zone)}
              {s.to_at ? ` to ${day(s.to_at, zone)}` : ', still there'}
            </li>
          ))}
        </ul>
        {page.replacements.map((r) => (
          <p key={r.id} className="text-small">
            {r.new_id === battery.id
              ? `Fitted ${day(r.at, zone)} by ${r.by}${r.warranty_until && `, warranty until ${r.warranty_until}`}.`
              : `Its life here ended ${day(r.at, zone)}: ${[r.maker, r.tag].filter(Boolean).join(' ')} was fitted for it; ${word(`goes_${r.goes}`)}, ${word(`deposit_${r.deposit}`)}.`}
          </p>
        ))}
      </div>
      {page.visits.length === 0 && <p className="text-lead">It has not been on a job yet.</p>}
      {page.visits.map((v) => (
        <VisitPart key={v.job_id} visit={v} zone={zone} />
      ))}
    </main>
  )
}

/** What a reading proved on its visit. */
function Said({ findings, reading }: { findings: Visit['findings']; reading: string }) {
  const finding = findings.find((f) => f.reading === reading)
  return finding ? <span className="block text-small text-lead">{finding.text.text}</span> : null
}

function VisitPart({ visit, zone }: { visit: Visit; zone?: string }) {
  const word = useWord()
  return (
    <section
      aria-label={`Visit of ${day(visit.opened_at, zone)}`}
      className="rounded-card border border-line bg-sheet p-4"
    >
      <div className="flex items-center gap-3">
        <Glyph action={visit.action} size={44} />
        <div className="min-w-0 flex-1">
          <h2 className="font-bold">
            {day(visit.opened_at, zone)}: {word(visit.action)}
          </h2>
          <p className="text-small text-lead">
            {visit.state === 'closed' ? 'handed back' : 'still open'}, rules{' '}
            <span className="num">{visit.rules_hash}</span>
          </p>
        </div>
        <Button asChild>
          <Link to={`/jobs/${visit.job_id}`}>The job</Link>
        </Button>
      </div>
      <ol className="mt-2 divide-y divide-line">
        {visit.readings.map((r) => (
          <li key={r.root} className="grid grid-cols-[3.6rem_1fr] gap-3 py-1.5">
            <span className="num text-small text-lead">{clock(r.taken_at, zone)}</span>
            <span>
              <span className={`num ${r.state === 'mistaken' ? 'text-lead line-through' : ''}`}>{r.typed}</span>
              <Said findings={visit.findings} reading={r.id} />
              {r.reason && <span className="block text-small text-lead">{r.reason}</span>}
            </span>
          </li>
        ))}
        {visit.readings.length === 0 && <li className="py-1.5 text-lead">No reading was taken.</li>}
      </ol>
    </section>
  )
}
