// The stage at hand with its working surface; each comes when it is opened first.
import { lazy } from 'react'
import type { StageCode } from '../../../api/types'
import { useWord } from '../../../api/words'
import { Part } from '../../../parts/part'
import type { StageProps } from './props'
import { Stops } from './stops'
import { Cautions } from './takes'

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
  const Surface = surfaces[stage as StageCode] ?? surfaces.arrive
  return (
    <section aria-label={word(stage)}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-3.5">
        <h1 className="text-head font-bold">{word(stage)}</h1>
        <p className="text-small text-lead">{word(`head_${stage}`)}</p>
      </div>
      <Stops page={props.page} battery={props.battery} />
      <Part key={stage}>
        <Surface {...props} />
      </Part>
      {withCautions.includes(stage) && (
        <div className="mt-3">
          <Cautions page={props.page} />
        </div>
      )}
    </section>
  )
}

const withCautions = ['charge_state', 'charge', 'crank_power', 'vehicle']
