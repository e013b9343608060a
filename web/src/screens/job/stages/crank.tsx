// Crank power: the load against its limit, the countdown in figures that can be
// read from the other side of the bonnet, and what the other methods say.
import { useEffect, useRef } from 'react'
import { useClocks, useLeft } from '../../../api/clocks'
import { useStopClock } from '../../../delivery/use'
import type { BatteryOnJob, Picture } from '../../../api/types'
import { thin } from '../../../parts/format'
import { tick } from '../../../parts/ring'
import { ChargeScale } from '../drawings/charge-scale'
import { ReserveHelper, reserveWanted, TwoMethods } from '../drawings/helpers'
import { LoadPicture } from '../drawings/load-picture'
import { Barred, NotJudged } from './barred'
import type { StageProps } from './props'
import { StepAtHand } from './steps'
import { Found, TakeButtons } from './takes'
import { Button } from '../../../parts/ui/button'

export default function CrankPower({ page, picture, assessment, battery, setLine }: StageProps) {
  if (picture.scale.length === 0) return <NotJudged battery={battery} />
  if (assessment.verdict.action === 'stop_unsafe') {
    return <Barred page={page} battery={battery} stage="crank_power" setLine={setLine} assessment={assessment} />
  }
  const { plan } = picture
  return (
    <div>
      <Countdown battery={battery} picture={picture} />
      <StepAtHand page={page} battery={battery} stage="crank_power" setLine={setLine} />
      {plan.amps == null && (
        <p className="mb-2 rounded-part bg-marigold-wash px-3 py-2">
          The rating on the label is not known, so no load can prove anything. Complete the label under Arrive.
        </p>
      )}
      <LoadPicture picture={picture} />
      <h2 className="mt-1 text-small font-bold">Charge</h2>
      <ChargeScale picture={picture} state={assessment.charge_state} />
      <div className="mt-3 grid gap-2 [&>*]:min-w-0">
        <TakeButtons stage="crank_power" setLine={setLine} />
        <Found kinds={['conductance', 'reserve']} assessment={assessment} />
        <TwoMethods methods={picture.methods} />
        {picture.reserve && (
          <ReserveHelper
            plan={picture.reserve}
            open={reserveWanted(picture, assessment.next[0]?.test)}
            setLine={setLine}
          />
        )}
      </div>
    </div>
  )
}

type CountProps = { battery: BatteryOnJob; picture: Picture }

/** The seconds of the load. They are counted here and on every screen of the shop;
 * the last five are heard and felt. */
function Countdown({ battery, picture }: CountProps) {
  const { data } = useClocks()
  const stop = useStopClock()
  const kind = battery.work.clocks.find((c) => c.kind === 'load')
  const running = data?.clocks.find((c) => c.battery_id === battery.id && c.kind === 'load')
  const seconds = Math.ceil(useLeft(running))
  const said = useRef(0)
  useEffect(() => {
    if (running && seconds > 0 && seconds <= 5 && said.current !== seconds) tick()
    said.current = seconds
  }, [running, seconds])
  if (!kind || picture.plan.amps == null) return null
  if (!running) {
    return (
      <div className="mb-1">
        <Tiles picture={picture} />
        {!picture.plan.fail_proves && (
          <p className="mb-1 text-small text-marigold-text">
            A pass will count; a fail will prove nothing yet: the battery does not count as charged.
          </p>
        )}
      </div>
    )
  }
  const share = Math.min(1, Math.max(0, 1 - seconds / kind.seconds))
  return (
    <div role="timer" aria-label="Seconds of the load" className="mb-3 grid justify-items-center gap-1">
      <span className={`num text-count leading-none font-bold md:text-count ${seconds <= 0 ? 'text-oxide-text' : ''}`}>
        {Math.max(0, seconds)}
      </span>
      <span className="text-lead">{seconds > 0 ? 'seconds to the reading' : 'read the volts, then load off'}</span>
      <Chain share={share} />
      <span className="font-bold">Watch the volts, not the amps</span>
      <Tiles picture={picture} />
      <Button className="max-lg:hidden" onClick={() => stop.mutate(running)}>
        {seconds > 0 ? 'Stop: load off' : 'Seen'}
      </Button>
    </div>
  )
}

const links = 11

/** A chain that fills link by link. */
function Chain({ share }: { share: number }) {
  return (
    <svg viewBox="0 0 330 30" className="w-full max-w-[360px]" aria-hidden="true">
      {Array.from({ length: links }, (_, i) => (
        <rect
          key={i}
          x={4 + i * 29}
          y={i % 2 === 0 ? 5 : 9}
          width={36}
          height={i % 2 === 0 ? 20 : 12}
          rx={i % 2 === 0 ? 10 : 6}
          fill="none"
          strokeWidth="4"
          className={i < share * links ? 'stroke-marigold' : 'stroke-line'}
        />
      ))}
    </svg>
  )
}

/** The three numbers that matter before the load goes on. */
function Tiles({ picture }: { picture: Picture }) {
  const { plan, temperature } = picture
  const tiles = [
    ['Draw', plan.amps == null ? '—' : `${plan.amps}${thin}A`, plan.converted ? 'converted rating' : ''],
    ['Hold at least', `${plan.limit.value.toFixed(2)}${thin}V`, ''],
    ['Battery, about', temperature == null ? '—' : `${Math.round(temperature)}${thin}°C`, ''],
  ]
  return (
    <dl className="mb-3 grid w-full grid-cols-3 gap-2 lg:hidden">
      {tiles.map(([name, value, note]) => (
        <div key={name} className="rounded-part border border-line bg-sheet px-3 py-2">
          <dt className="text-small text-lead">{name}</dt>
          <dd className="num text-sign font-bold">{value}</dd>
          {note && <dd className="text-small text-marigold-text">{note}</dd>}
        </div>
      ))}
    </dl>
  )
}
