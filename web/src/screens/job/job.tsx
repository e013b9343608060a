// One job: the trail on the left, the stage at hand in the centre, what holds
// on the right, and the reading line at the bottom, always.
import { ListOrdered } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useClocks } from '../../api/clocks'
import { useLineUp } from '../../api/live'
import { useChoices, useJob, usePreview, useWithWaiting } from '../../api/jobs'
import type { Sent } from '../../delivery/deeds'
import { deliver } from '../../delivery/queue'
import { wordsFor } from '../../api/client'
import { useHello, useMay } from '../../api/session'
import type { BatteryOnJob, JobPage } from '../../api/types'
import { useWord } from '../../api/words'
import { Glyph } from '../../parts/glyph'
import { May } from '../../parts/may'
import { typing } from '../../parts/keys'
import { useTitle } from '../../parts/title'
import { Shell } from '../../parts/shell'
import { DeskButton } from './desk'
import { FigurePad } from './line/figure-pad'
import { Holds } from './holds/holds'
import { hasKeypad, Keypad } from './line/keypad'
import { LineBar } from './line/line'
import { type ReadingLine, useReadingLine } from './line/use-reading-line'
import { LoadStart } from './line/load-start'
import { PendingReadings } from './readings/pending'
import { Readings } from './readings/readings'
import { fetchStages, StageView } from './stages/stage'
import { Trail, TrailAcross } from './trail'
import { Button } from '../../parts/ui/button'
import { Chip } from '../../parts/ui/chips'
import { Loaded } from '../../parts/ui/loaded'
import { useToast } from '../../parts/ui/toast'

export { fetchStages }

export function JobScreen() {
  const { job = '' } = useParams()
  const { data, dataUpdatedAt, error, refetch } = useJob(job)
  const page = useWithWaiting(data, dataUpdatedAt)
  useEffect(fetchStages, [])
  return (
    <Shell fill>
      <Loaded query={{ data: page, error, refetch }} whole>
        {(page) => <Job key={page.job.id} page={page} />}
      </Loaded>
    </Shell>
  )
}

/** The job at an address: which of its batteries, which stage. Without either it opens where
 * the work stands. */
function Job({ page }: { page: JobPage }) {
  const { battery: named, stage: at } = useParams()
  const navigate = useNavigate()
  const chosen = Math.max(
    0,
    page.batteries.findIndex((b) => b.id === named),
  )
  const battery = page.batteries[chosen]
  const stage = at ?? battery?.work.at ?? 'arrive'
  const to = (index: number, code: string) => `/jobs/${page.job.id}/${page.batteries[index]?.id}/${code}`
  // What the address leaves open is settled once, so that Back leads to what was seen.
  const whole = to(chosen, stage)
  useEffect(() => {
    if (!at) void navigate({ pathname: whole, search: location.search }, { replace: true })
  }, [at, whole, navigate])
  useTitle([page.vehicle?.plate, useWord()(stage)].filter(Boolean).join(', '))
  if (!battery) return <main className="p-6">This job has no battery.</main>
  return (
    <OneBattery
      key={battery.id}
      page={page}
      battery={battery}
      chosen={chosen}
      // Another battery of the job is looked at on the same stage.
      choose={(index) => void navigate(to(index, stage))}
      stage={stage}
      setStage={(code, byItself) => {
        if (code !== stage) void navigate(to(chosen, code), { replace: byItself })
      }}
    />
  )
}

type HeadProps = { page: JobPage; battery: BatteryOnJob; chosen: number; choose: (index: number) => void }

/** Goes to a stage; what the work does by itself is no step of the person's to go back to. */
type SetStage = (stage: string, byItself?: boolean) => void
type OneProps = HeadProps & { stage: string; setStage: SetStage }

function OneBattery({ page, battery, chosen, choose, stage, setStage }: OneProps) {
  const id = page.job.id
  const zone = useHello().data?.shop?.time_zone
  const line = useReadingLine(battery.id)
  const stageOf = useChoices().data?.stage_of_test
  const [aside, setAside] = useState<string[]>([])
  const preview = usePreview(page, battery.id, line.text, { aside })
  const keeping = useKeeping(page.job, battery, line, stage, setStage)
  useStageKeys(battery, setStage)
  const [pad, setPad] = useState<{ stage: string; open: boolean } | null>(null)
  // By itself the keypad is there until the stage has its reading, where it leaves room.
  const own = hasKeypad(stage)
  const typed = line.text.trim() !== ''
  const measures = useMay('keepReading')
  const padOpen = measures && (pad?.stage === stage ? pad.open : roomy() && (own ? !hasReading(battery, stage) : typed))

  const asked = typed || aside.length > 0
  const shown = asked && !preview.error ? preview.data : undefined
  const assessment = shown?.assessment ?? battery.assessment
  const picture = shown?.picture ?? battery.picture
  const trail = shown?.trail ?? battery.trail
  const here = shown?.stage || stage
  const barred = stage === 'crank_power' && battery.work.forbidden.includes('test')
  const waited = useWaited(battery.id)
  const up = useLineUp()
  const last = battery.readings[battery.readings.length - 1]?.typed ?? ''
  const canKeep = (!!shown || !up) && typed
  const keys = { line, keep: keeping.keep, canKeep, keeping: keeping.busy }
  const say = useToast()
  const looksOn = () => say('A technician takes the readings.')
  const setLine = measures ? line.begin : looksOn
  const keepLine = measures ? keeping.keepLine : looksOn
  const props = { page, battery, assessment, picture, setLine, keepLine, zone }
  return (
    <>
      <Header page={page} battery={battery} chosen={chosen} choose={choose} />
      <TrailAcross trail={trail} here={here} onGo={setStage} />
      <div className="flex min-h-0 flex-1 flex-col lg:flex-row">
        <Trail trail={trail} here={here} onGo={setStage} />
        <main className="min-w-0 flex-1 border-line bg-sheet px-4 py-4 md:px-6 lg:overflow-y-auto lg:border-x">
          {/* What is wrong with the line is said at the line. */}
          <Notice text={asked && preview.error ? '' : keeping.notice} />
          <StageView stage={here} {...props} />
          <div className="mt-4">
            <PendingReadings job={id} setLine={setLine} shown={battery.readings.map((r) => r.id)} />
            <Readings
              page={page}
              readings={battery.readings}
              findings={battery.assessment.findings}
              effects={battery.assessment.effects}
              zone={zone}
              aside={aside}
              setAside={setAside}
              setLine={setLine}
            />
          </div>
        </main>
        <aside className="flex shrink-0 flex-col min-h-0 bg-paper lg:w-[338px] [&>section]:flex-1">
          <Holds
            page={page}
            battery={battery.id}
            assessment={assessment}
            preview={!!shown}
            aside={aside.length}
            countAgain={() => setAside([])}
            onNext={(test) => setStage(stageOf?.[test] ?? stage)}
          />
        </aside>
      </div>
      <div className="sticky bottom-0 z-10 max-h-[80dvh] overflow-y-auto">
        {!own && padOpen && line.text !== '' && (
          <div className="lg:hidden">
            <FigurePad {...keys} />
          </div>
        )}
        {own && padOpen && !barred && (
          <div className="lg:hidden">
            <VerdictStrip action={assessment.verdict.action} preview={!!shown} />
            <Keypad
              key={stage}
              stage={stage}
              picture={battery.picture}
              waited={waited}
              start={<LoadStart page={page} battery={battery} />}
              {...keys}
            />
          </div>
        )}
        <May do="keepReading" else={<LooksOn />}>
          <LineBar
            line={line}
            preview={typed ? shown : undefined}
            error={typed ? preview.error : null}
            keep={keeping.keep}
            keeping={keeping.busy}
            down={!up}
            last={last}
            keypad={
              own || line.text !== '' ? { open: padOpen, toggle: () => setPad({ stage, open: !padOpen }) } : undefined
            }
          />
        </May>
      </div>
    </>
  )
}

/** Keeps the line that stands there. A key hit twice keeps it once; what is typed and kept
 * while another is on its way goes behind it. */
function useKeeping(
  { id: job, revision }: JobPage['job'],
  battery: BatteryOnJob,
  line: ReadingLine,
  stage: string,
  go: SetStage,
) {
  const [onTheirWay, setOnTheirWay] = useState(0)
  const here = useRef(stage)
  useEffect(() => {
    here.current = stage
  }, [stage])
  // What was refused was refused as the job stood then.
  const [notice, setNotice] = useState<{ text: string; revision?: number }>({ text: '' })
  const keep = (whole: string, after: (sent: Sent | null) => void) => {
    setOnTheirWay((n) => n + 1)
    deliver(job, { kind: 'reading', battery: battery.id, line: whole })
      .then(after, (error: unknown) => setNotice({ text: wordsFor(error), revision }))
      .finally(() => setOnTheirWay((n) => n - 1))
  }
  return {
    notice: notice.revision === undefined || notice.revision === revision ? notice.text : '',
    busy: onTheirWay > 0,
    keepLine: (whole: string) => keep(whole, () => setNotice({ text: '' })),
    keep: () => {
      const kept = line.text
      if (kept.trim() === '') return
      keep(kept, (sent) => {
        setNotice({ text: sent?.reopened ? 'Kept. The job had been handed back; it is open again.' : '' })
        const after = sent?.page?.batteries.find((b) => b.id === battery.id)
        // Whoever has gone on meanwhile is not called back.
        if (after && here.current === stage) go(after.work.at, true)
        line.clear(kept)
      })
    },
  }
}

/** What the waits of a battery add to the volts read now. */
function useWaited(battery: string): string[] {
  const { data } = useClocks()
  return (data?.clocks ?? []).filter((c) => c.battery_id === battery && c.says && c.kind !== 'sleep').map((c) => c.says)
}

/** What holds in one line, in sight while figures are tapped in. */
function VerdictStrip({ action, preview }: { action: string; preview: boolean }) {
  const word = useWord()
  return (
    <p className="no-print flex items-center gap-2.5 border-t border-line bg-paper px-3 py-1.5" aria-hidden="true">
      <Glyph action={action} size={30} />
      <span className="font-bold">{word(action)}</span>
      {preview && <span className="ml-auto text-small text-marigold-text">not kept</span>}
    </p>
  )
}

/** Whether a keypad leaves room for what it is about: not with text twice its size, nor
 * on a phone that lies down. */
function roomy(): boolean {
  return matchMedia('(min-height: 40rem)').matches
}

/** Whether the stage's own reading counts already. */
function hasReading(battery: BatteryOnJob, stage: string): boolean {
  return battery.trail.some((s) => s.code === stage && s.state === 'done')
}

function useStageKeys(battery: BatteryOnJob, go: (stage: string) => void) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const stage = battery.trail[Number(event.key) - 1]
      if (!typing(event) && stage) go(stage.code)
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [battery.trail, go])
}

/** In the place of the line, for those who do not measure. */
function LooksOn() {
  return (
    <p className="no-print border-t border-line bg-paper px-4 py-2.5 text-small text-lead">
      A technician takes the readings. The closing points and handing back are yours, under Finish.
    </p>
  )
}

function Notice({ text }: { text: string }) {
  if (!text) return null
  return (
    <p role="status" className="mb-3 rounded-part bg-marigold-wash px-3 py-2">
      {text}
    </p>
  )
}

function Header({ page, battery, chosen, choose }: HeadProps) {
  const word = useWord()
  const { job, customer, vehicle } = page
  const says = [customer?.name, job.symptoms.map(word).join(', ')].filter(Boolean).join(': ')
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-x-5 gap-y-1 border-b border-line bg-sheet px-4 py-2.5 md:px-5">
      {vehicle?.plate && <span className="plate text-sign">{vehicle.plate}</span>}
      <div className="min-w-0 flex-1">
        <p className="hidden truncate font-bold sm:block">
          {vehicle ? vehicle.description || word(vehicle.kind ?? '') : 'Battery by itself'}
        </p>
        <p className="hidden truncate text-small text-lead sm:block">{says}</p>
      </div>
      {page.batteries.length > 1 && (
        <div className="flex gap-1" role="group" aria-label="Which battery">
          {page.batteries.map((b, i) => (
            <Chip key={b.id} aria-pressed={i === chosen} onClick={() => choose(i)}>
              {b.position || i + 1}
            </Chip>
          ))}
        </div>
      )}
      <DeskButton page={page} />
      <Button asChild>
        <Link to={`/jobs/${job.id}/procedures?battery=${battery.id}`} aria-label="Step by step">
          <ListOrdered size={18} aria-hidden="true" />
          <span className="max-md:hidden">Step by step</span>
        </Link>
      </Button>
      <div className="text-right">
        <p className="text-small font-bold md:text-body">{battery.label_text}</p>
        <p className="hidden text-small text-lead md:block">
          {[battery.maker, battery.label.made && `made ${battery.label.made}`, job.state === 'closed' && 'handed back']
            .filter(Boolean)
            .join(', ')}
        </p>
      </div>
    </div>
  )
}
