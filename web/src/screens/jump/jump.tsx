// A jump worked out before anything is clamped: may it be, will it crank, where the volts
// stay on the way, what would help most, and then its order.
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useBegin, useJump, useProcedures } from '../../api/attempts'
import { wordsFor } from '../../api/client'
import { useJob } from '../../api/jobs'
import type { JobPage, JumpAnswer, JumpBody, JumpSum } from '../../api/types'
import { type Tile, Tiles } from '../../parts/charge'
import { thin } from '../../parts/format'
import { SceneView } from '../../parts/scene/scene'
import { Shell } from '../../parts/shell'
import { useTitle } from '../../parts/title'
import { useWide } from '../../parts/width'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'
import { useBatteryAt } from '../procedure/list'

export function JumpScreen() {
  const { job = '' } = useParams()
  const query = useJob(job)
  return (
    <Shell>
      <Loaded query={query} whole>
        {(page) => <Jump page={page} />}
      </Loaded>
    </Shell>
  )
}

type Way = JumpBody['with']['kind']

const ways: { code: Way; word: string }[] = [
  { code: 'pack', word: 'Pack' },
  { code: 'charger', word: 'Mains charger' },
  { code: 'vehicle', word: 'Another vehicle' },
]

/** What is typed: all as text, so that an empty field is one that is not known. */
type Typed = Record<
  'amps' | 'percent' | 'nominal' | 'celsius' | 'mm2' | 'metres' | 'engine' | 'joints' | 'minutes',
  string
>

const nothing: Typed = {
  amps: '',
  percent: '',
  nominal: '',
  celsius: '',
  mm2: '',
  metres: '',
  engine: '',
  joints: '',
  minutes: '',
}

const figure = (text: string): number | undefined => {
  const x = Number(text.replace(',', '.').replace('−', '-'))
  return text.trim() === '' || Number.isNaN(x) ? undefined : x
}

type Said = { way: Way; school: 'body' | 'post'; people: string; running: boolean; hybrid: boolean; typed: Typed }

function bodyOf({ way, school, people, running, hybrid, typed }: Said): JumpBody {
  return {
    with: {
      kind: way,
      amps: way === 'vehicle' ? undefined : figure(typed.amps),
      percent: figure(typed.percent),
      nominal_v: figure(typed.nominal),
      battery_c: figure(typed.celsius),
      running: way === 'vehicle' && running,
      hybrid: way === 'vehicle' && hybrid,
    },
    mm2: figure(typed.mm2),
    metres: figure(typed.metres),
    engine_c: figure(typed.engine),
    joints_mohm: figure(typed.joints) ?? 0,
    feed_minutes: figure(typed.minutes) ?? 0,
    school,
    people: Number(people),
  }
}

function Jump({ page }: { page: JobPage }) {
  const battery = useBatteryAt(page)
  const plate = page.vehicle?.plate ?? ''
  const [said, setSaid] = useState<Said>({
    way: 'pack',
    school: 'body',
    people: '1',
    running: true,
    hybrid: false,
    typed: nothing,
  })
  const set = (part: Partial<Said>) => setSaid((now) => ({ ...now, ...part }))
  const sum = useJump(page.job.id, battery?.id ?? '', bodyOf(said))
  useTitle([plate, 'jump it'].filter(Boolean).join(', '))
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-3 md:px-6">
        <h1 className="text-head font-bold">Jump it</h1>
        <p className="text-small text-lead">{[plate, battery?.label_text].filter(Boolean).join(', ')}</p>
        <div className="ml-auto flex flex-wrap gap-x-5 gap-y-2">
          <OneOf name="With what" quiet options={ways} value={said.way} pick={(code) => set({ way: code as Way })} />
          <OneOf
            name="How many people"
            quiet
            options={[
              { code: '1', word: 'Alone' },
              { code: '2', word: 'Two people' },
            ]}
            value={said.people}
            pick={(people) => set({ people })}
          />
        </div>
      </header>
      <div className="grid flex-1 lg:grid-cols-[1fr_400px]">
        <main className="grid min-w-0 content-start gap-5 bg-paper px-4 py-4 md:px-6">
          {sum.error && sum.data && (
            <p role="alert" className="rounded-part bg-oxide-wash px-3 py-2 text-oxide-text">
              {wordsFor(sum.error)}
            </p>
          )}
          <Loaded query={sum}>
            {({ answer, picture }) => (
              <>
                <Verdict answer={answer} way={said.way} />
                {picture && <Picture picture={picture} said={said} set={set} />}
                <Answered answer={answer} />
              </>
            )}
          </Loaded>
          {battery && <ThreeWays job={page.job.id} battery={battery.id} said={said} set={set} />}
        </main>
        <section
          aria-label="What is known"
          className="grid content-start gap-4 border-line bg-sheet px-4 py-4 lg:border-l"
        >
          {sum.data && <Begin page={page} battery={battery?.id ?? ''} said={said} sum={sum.data} />}
          <Known said={said} set={set} />
          <p className="flex gap-5">
            <Link className="underline" to={`/jobs/${page.job.id}/procedures?battery=${battery?.id ?? ''}`}>
              Other orders of work
            </Link>
            <Link className="underline" to={`/jobs/${page.job.id}`}>
              To the job
            </Link>
          </p>
        </section>
      </div>
    </>
  )
}

type PictureProps = { picture: NonNullable<JumpSum['picture']>; said: Said; set: (part: Partial<Said>) => void }

/** Everything on, as it will be: the last clamp may be put elsewhere on the picture. */
function Picture({ picture, said, set }: PictureProps) {
  const wide = useWide()
  const choose = (hit: string) => {
    if (hit === 'body' || hit === 'post') set({ school: hit })
  }
  return (
    <figure className={picture.width > 700 ? '' : 'max-w-[560px]'}>
      <SceneView scene={picture} narrow={!wide} chosen={said.school} onTap={choose} className="max-h-[52dvh] w-full" />
      <figcaption className="text-small text-lead">
        The last clamp goes where the ring is; tap the bare metal or the earthed post for the other school. Hatched: no
        clamp, no hand.
      </figcaption>
    </figure>
  )
}

function Known({ said, set }: { said: Said; set: (part: Partial<Said>) => void }) {
  const { typed, way } = said
  const field = (key: keyof Typed, label: string) => (
    <TextField label={label} numeric value={typed[key]} set={(text) => set({ typed: { ...typed, [key]: text } })} />
  )
  return (
    <form data-free className="grid gap-3" onSubmit={(e) => e.preventDefault()}>
      <h2 className="font-bold">What is known</h2>
      <p className="text-small text-lead">What is left empty is taken as usual, and said below the sum.</p>
      <div className="grid grid-cols-2 gap-3">
        {way === 'pack' && field('amps', 'Peak on its label, A')}
        {way === 'charger' && field('amps', 'Engine start, A')}
        {field('percent', way === 'charger' ? 'Its own charge, %' : 'How full what gives is, %')}
        {field('nominal', 'Its nominal volts, V')}
        {field('celsius', 'How cold it is, °C')}
        {way === 'vehicle' && field('mm2', 'Leads, mm² of copper')}
        {way === 'vehicle' && field('metres', 'Length of one, m')}
        {field('engine', 'The engine, °C')}
        {field('joints', 'Bad joints, mΩ')}
        {field('minutes', 'Feed first, min')}
      </div>
      {way === 'vehicle' && (
        <>
          <OneOf
            name="The donor’s engine"
            options={[
              { code: 'on', word: 'runs while cranking' },
              { code: 'off', word: 'off while cranking' },
            ]}
            value={said.running ? 'on' : 'off'}
            pick={(code) => set({ running: code === 'on' })}
          />
          <OneOf
            name="The donor is"
            options={[
              { code: 'car', word: 'a car, a van' },
              { code: 'hybrid', word: 'a hybrid' },
            ]}
            value={said.hybrid ? 'hybrid' : 'car'}
            pick={(code) => set({ hybrid: code === 'hybrid' })}
          />
        </>
      )}
      <OneOf
        name="The last clamp"
        options={[
          { code: 'body', word: 'on bare metal' },
          { code: 'post', word: 'on the post, where its maker says so' },
        ]}
        value={said.school}
        pick={(code) => set({ school: code as Said['school'] })}
      />
    </form>
  )
}

const gives: Record<Way, string> = {
  vehicle: 'The donor gives',
  pack: 'The pack gives',
  charger: 'The charger gives',
}

/** Whether it may be, whether it cranks, and how long to feed first. */
function Verdict({ answer, way }: { answer: JumpAnswer; way: Way }) {
  const { cranks, cable, feed } = answer
  if (!answer.allowed || !cranks || !cable) {
    return (
      <section aria-label="Not this way" className="grid gap-2">
        <h2 className="text-[1.375rem] font-bold text-oxide-text">Not this way.</h2>
        <ul className="grid gap-2">
          {answer.refusals.map((r) => (
            <li key={r.code} className="rounded-part bg-oxide-wash px-3 py-2 text-oxide-text">
              {r.text}
            </li>
          ))}
        </ul>
        <p>Cleaning and seating the clamps may do it alone; a full charge always does when the battery is sound.</p>
      </section>
    )
  }
  const percent = Math.round(cranks.probability * 100)
  const [tone, says] =
    percent >= 90
      ? ['text-verdigris-text', 'It will crank']
      : percent < 50
        ? ['text-oxide-text', 'It will hardly crank']
        : ['text-marigold-text', 'It may crank']
  const tiles: Tile[] = [
    ['At the starter', `${cranks.starter_volts.value.toFixed(1)}${thin}V`],
    [gives[way], `${Math.round(cranks.donor_amps)}${thin}A`],
    ['The flat one gives', `${Math.round(cranks.dead_amps)}${thin}A`],
    ['Leads warm by', `${cable.kelvin_per_try.toFixed(1)}${thin}K a try`],
  ]
  return (
    <section aria-label="Will it crank" className="grid gap-3">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <b className={`text-[1.75rem] ${tone}`}>{says}</b>
        <span className="num text-head">{`${percent}${thin}%`}</span>
        <span className="text-small text-lead">
          {`speed ${cranks.speed.value.toFixed(2)} (${cranks.speed.low.toFixed(2)} to ${cranks.speed.high.toFixed(2)}), a warm engine on a sound battery is 1`}
        </span>
      </p>
      <p>{feedWords(feed)}</p>
      <Tiles className="grid-cols-2 md:grid-cols-4" tiles={tiles} />
    </section>
  )
}

/** Where the volts stay, what would help, what was taken for granted, what follows. */
function Answered({ answer }: { answer: JumpAnswer }) {
  if (!answer.cranks) return <Assumed answer={answer} />
  return (
    <>
      <Lost lost={answer.lost} band={answer.cranks.starter_volts} />
      {answer.better.length > 0 && (
        <section aria-label="What would help">
          <h2 className="pb-1 font-bold">What would help, the most first</h2>
          <ul>
            {answer.better.map((b) => (
              <li key={b.change} className="flex justify-between gap-4 border-b border-line py-1.5">
                <span>{b.text}</span>
                <span className="num">{`${Math.round(b.probability * 100)}${thin}%`}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Assumed answer={answer} />
      <section aria-label="Afterwards">
        <h2 className="pb-1 font-bold">Afterwards</h2>
        <ul className="list-disc pl-5">
          {answer.after.map((a) => (
            <li key={a.code}>{a.text}</li>
          ))}
        </ul>
      </section>
    </>
  )
}

/** What was taken for what nobody said. */
function Assumed({ answer }: { answer: JumpAnswer }) {
  if (answer.assumed.length === 0) return null
  return (
    <section aria-label="Assumed">
      <h2 className="pb-1 font-bold">Taken for what was not said</h2>
      <ul className="grid gap-1 text-small text-marigold-text">
        {answer.assumed.map((a) => (
          <li key={a.text}>{a.text}</li>
        ))}
      </ul>
    </section>
  )
}

type WaysProps = { job: string; battery: string; said: Said; set: (part: Partial<Said>) => void }

/** The three ways beside each other, for this battery, this engine, this cold. */
function ThreeWays(props: WaysProps) {
  return (
    <section aria-label="The three ways">
      <h2 className="pb-1 font-bold">The three ways, here</h2>
      <ul>
        {ways.map((way) => (
          <OneWay key={way.code} {...way} {...props} />
        ))}
      </ul>
    </section>
  )
}

function OneWay({ code, word, job, battery, said, set }: WaysProps & { code: Way; word: string }) {
  // What was said of one way's own strength says nothing of another's.
  const typed = code === said.way ? said.typed : { ...said.typed, amps: '', nominal: '', mm2: '', metres: '' }
  const { data } = useJump(job, battery, bodyOf({ ...said, way: code, typed }))
  const answer = data?.answer
  const says = answer?.cranks
    ? `${Math.round(answer.cranks.probability * 100)}${thin}%, ${feedWords(answer.feed).toLowerCase()}`
    : (answer?.refusals[0]?.text ?? '')
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-1.5">
      <b className="w-40">{word}</b>
      <span className="min-w-0 flex-1 basis-60 text-small">{says}</span>
      {code !== said.way && <Button onClick={() => set({ way: code })}>Take it</Button>}
    </li>
  )
}

function feedWords(feed: JumpAnswer['feed']): string {
  if (!feed) return 'Feeding alone does not get there within an hour.'
  const { value, low, high } = feed.minutes
  if (value === 0) return 'No feeding needed: it cranks at once in nine of ten.'
  return `Feed it first: ${value}${thin}min (${low} to ${high}) until it cranks in nine of ten.`
}

const looks: Record<JumpAnswer['lost'][number]['code'], string> = {
  donor: 'fill-marigold-wash stroke-marigold',
  leads: 'fill-oxide-wash stroke-oxide',
  joints: 'fill-line stroke-lead',
  starter: 'fill-verdigris-wash stroke-verdigris',
}

/** What reaches the starter, and where the rest stays: one bar of volts, in the order of the
 * way. */
function Lost({ lost, band }: { lost: JumpAnswer['lost']; band: { low: number; high: number } }) {
  const whole = lost.reduce((sum, l) => sum + l.volts, 0) || 1
  const parts = lost.map((l, i) => ({ ...l, from: lost.slice(0, i).reduce((sum, b) => sum + b.volts, 0) }))
  const says = lost.map((l) => `${l.text} ${l.volts.toFixed(1)} V`).join(', ')
  return (
    <section aria-label="Where the volts stay">
      <h2 className="pb-1 font-bold">Where the volts stay</h2>
      <svg viewBox="0 0 640 56" className="w-full" role="img" aria-label={says} preserveAspectRatio="none">
        {parts.map((p) => (
          <rect
            key={p.code}
            x={(p.from / whole) * 636 + 2}
            y="4"
            width={Math.max(1.5, (p.volts / whole) * 636)}
            height="48"
            className={looks[p.code]}
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <ul className="grid gap-x-6 gap-y-1 pt-2 sm:grid-cols-2">
        {parts.map((p) => (
          <li key={p.code} className="flex items-baseline gap-2">
            <svg viewBox="0 0 14 14" className="size-3.5 shrink-0" aria-hidden="true">
              <rect x="1" y="1" width="12" height="12" rx="3" className={looks[p.code]} strokeWidth="2" />
            </svg>
            <span className="flex-1">{p.text}</span>
            <b className="num">{`${p.volts.toFixed(1)}${thin}V`}</b>
          </li>
        ))}
      </ul>
      <p className="text-small text-lead">
        {`At the starter ${band.low.toFixed(1)} to ${band.high.toFixed(1)}${thin}V in four of five.`}
      </p>
    </section>
  )
}

type BeginProps = { page: JobPage; battery: string; said: Said; sum: JumpSum }

/** The order that goes with it, with the minutes that were worked out. */
function Begin({ page, battery, said, sum: { answer, steps } }: BeginProps) {
  const navigate = useNavigate()
  const job = page.job.id
  const begin = useBegin(job)
  const offered = useProcedures(job, battery)
  const { procedure } = answer
  const stopped = offered.data?.find((o) => o.name === 'jump')?.stopped
  if (!procedure) return null
  const minutes =
    figure(said.typed.minutes) ?? (answer.feed && answer.feed.minutes.value > 0 ? answer.feed.minutes.value : undefined)
  return (
    <div className="grid gap-2">
      <h2 className="font-bold">The order</h2>
      <ol
        aria-label="The steps"
        className="max-h-56 list-decimal overflow-y-auto rounded-part border border-line py-1 pr-2 pl-9 text-small"
        // What scrolls must be reached by keyboard.
        // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
        tabIndex={0}
      >
        {steps.map((text, i) => (
          <li key={i} className="py-0.5">
            {text}
          </li>
        ))}
      </ol>
      <p className="text-small text-lead">The makers’ instructions for both come first.</p>
      {stopped && (
        <p className="rounded-part bg-oxide-wash px-3 py-2 text-oxide-text">
          A stop rule forbids a jump.{' '}
          <Link className="underline" to={`/jobs/${job}/${battery}/look`}>
            What was seen
          </Link>
        </p>
      )}
      {begin.error && (
        <p role="alert" className="text-oxide-text">
          {wordsFor(begin.error)}
        </p>
      )}
      <Button
        weight="main"
        className="min-h-16"
        disabled={!answer.allowed || stopped || begin.isPending}
        onClick={() =>
          begin.mutate(
            {
              battery_id: battery,
              name: procedure.name,
              setting: procedure.setting,
              school: procedure.school,
              people: procedure.people,
              minutes: minutes && minutes >= 1 ? minutes : undefined,
            },
            { onSuccess: (made) => void navigate(`/jobs/${job}/procedures/${made.attempt.id}`) },
          )
        }
      >
        Begin, step by step
      </Button>
    </div>
  )
}
