// The stage at hand with its working surface; each comes when it is opened first.
import { lazy, useState } from 'react'
import type { Assessment, BatteryOnJob, JobPage, Picture } from '../../api/types'
import { useClearStop } from '../../delivery/use'
import { useWord } from '../../api/words'
import { Part } from '../../parts/part'
import { Trouble } from '../../parts/trouble'
import { Because } from './holds'
import { Steps } from './steps'
import { Cautions } from './takes'
import { Button } from '../../parts/ui/button'

export type StageProps = {
  page: JobPage
  battery: BatteryOnJob
  assessment: Assessment
  picture: Picture
  setLine: (line: string) => void
  /** Keeps a whole line at once: an answer by one tap. */
  keepLine: (line: string) => void
  zone?: string
}

const heads: Record<string, string> = {
  arrive: 'Who, what, and what they say',
  look: 'Before anything is clamped on',
  charge_state: 'Volts at rest, on the scale of this chemistry',
  charge: 'A full charge, then a rest',
  crank_power: 'Volts at the end of the load',
  vehicle: 'What flattened it',
  decide: 'What the readings say together',
  finish: 'Hand it back',
}

const pieces = {
  arrive: () => import('./arrive'),
  look: () => import('./look'),
  charge_state: () => import('./charge-state'),
  charge: () => import('./charge'),
  crank_power: () => import('./crank'),
  vehicle: () => import('./vehicle'),
  decide: () => import('./decide'),
  finish: () => import('./finish'),
}

const surfaces = {
  arrive: lazy(pieces.arrive),
  look: lazy(pieces.look),
  charge_state: lazy(pieces.charge_state),
  charge: lazy(pieces.charge),
  crank_power: lazy(pieces.crank_power),
  vehicle: lazy(pieces.vehicle),
  decide: lazy(pieces.decide),
  finish: lazy(pieces.finish),
}

/** Fetches the other stages once the one at hand stands, so that they open at once and
 * without the line. */
export function fetchStages() {
  setTimeout(() => Object.values(pieces).forEach((fetch) => void fetch().catch(() => undefined)), 1500)
}

/** The stage at hand, with its drawing. */
export function StageView({ stage, ...props }: StageProps & { stage: string }) {
  const word = useWord()
  const Surface = surfaces[stage as keyof typeof surfaces] ?? surfaces.arrive
  return (
    <section aria-label={word(stage)}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-3.5">
        <h1 className="text-head font-bold">{word(stage)}</h1>
        <p className="text-small text-lead">{heads[stage]}</p>
      </div>
      <Stops page={props.page} battery={props.battery} />
      <Part key={stage}>
        <Surface {...props} />
      </Part>
      {withCautions.includes(stage) && (
        <details className="mt-3">
          <summary className="text-small font-bold text-lead">Cautions for this work</summary>
          <div className="pt-2">
            <Cautions page={props.page} />
          </div>
        </details>
      )}
    </section>
  )
}

const withCautions = ['charge_state', 'charge', 'crank_power', 'vehicle']

/** The stop rules that hold, in front of every step, and the way to lift each; those
 * that were lifted, with who said so and why. */
function Stops({ page, battery }: { page: JobPage; battery: BatteryOnJob }) {
  const stops = page.cautions.filter((c) => c.stops && battery.assessment.cautions.includes(c.id))
  const { cleared } = battery.work
  if (stops.length + cleared.length === 0) return null
  return (
    <div className="mb-3 grid gap-2">
      {stops.length > 0 && (
        <div role="alert" className="grid gap-2 rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
          {stops.map((c) => (
            <div key={c.id}>
              <p className="font-bold">{c.text}</p>
              <Lift page={page} battery={battery} stop={c.id} />
            </div>
          ))}
        </div>
      )}
      {cleared.map((c) => (
        <p key={c.id} className="rounded-part bg-marigold-wash px-3 py-2 text-small">
          Stop rule lifted by {c.by}: {c.reason}
        </p>
      ))}
    </div>
  )
}

function Lift({ page, battery, stop }: { page: JobPage; battery: BatteryOnJob; stop: string }) {
  const clear = useClearStop(page.job.id)
  const [reason, setReason] = useState('')
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small">It no longer holds</summary>
      <form
        className="flex flex-wrap gap-2 py-1"
        onSubmit={(e) => {
          e.preventDefault()
          // For what was seen here: a finding that came since stops all the same.
          const readings = battery.assessment.stops.find((s) => s.stop === stop)?.readings ?? []
          const seen = { battery: battery.id, stop, readings, revision: page.job.revision, reason }
          clear.mutate(seen, { onSuccess: () => setReason('') })
        }}
      >
        <input
          className="field min-h-target max-w-[26rem]"
          aria-label="Why the stop rule no longer holds"
          placeholder="what was done, what was seen"
          value={reason}
          maxLength={300}
          onChange={(e) => setReason(e.target.value)}
        />
        <Button type="submit" weight="outline" disabled={clear.isPending}>
          Lift it under my name
        </Button>
      </form>
      <p className="text-small">
        For what was found so far. A finding that was a mistake is better marked mistaken under the readings.
      </p>
      <Trouble error={clear.error} />
    </details>
  )
}

type BarredProps = Pick<StageProps, 'page' | 'battery' | 'assessment' | 'setLine'> & { stage: string }

/** A stage that a stop rule closes: what was seen, and the steps it forbids. */
export function Barred({ page, battery, stage, assessment, setLine }: BarredProps) {
  return (
    <div className="grid max-w-3xl gap-3">
      <Because statements={assessment.verdict.because} />
      <Steps page={page} battery={battery} stage={stage} setLine={setLine} />
    </div>
  )
}

/** What is kept and not judged: lithium, or a chemistry nobody knows yet. */
export function NotJudged({ battery }: { battery: BatteryOnJob }) {
  return (
    <div className="grid gap-3">
      <Because statements={battery.assessment.verdict.because} />
      <p className="text-lead">Readings are kept all the same.</p>
    </div>
  )
}
