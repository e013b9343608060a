// Charge state: volts at rest on the scale of this chemistry, the gravity of every
// cell on a drawing of the cells, and where it stood.
import { useState } from 'react'
import type { BatteryOnJob } from '../../../api/types'
import { ChargeScale } from '../drawings/charge-scale'
import { NotJudged } from './barred'
import type { StageProps } from './props'
import { StepAtHand } from './steps'
import { Found } from './takes'
import { Button } from '../../../parts/ui/button'

export default function ChargeState({ page, picture, assessment, battery, setLine }: StageProps) {
  if (picture.scale.length === 0) return <NotJudged battery={battery} />
  return (
    <div className="grid gap-2 [&>*]:min-w-0">
      <StepAtHand page={page} battery={battery} stage="charge_state" setLine={setLine} />
      <ChargeScale picture={picture} state={assessment.charge_state} />
      {!assessment.charge_state && picture.unrested && assessment.next[0] && (
        <p className="rounded-part bg-marigold-wash px-3 py-2">{assessment.next[0].text.text}</p>
      )}
      {battery.may_open && <Gravities battery={battery} setLine={setLine} />}
      <Found kinds={['gravity']} assessment={assessment} />
    </div>
  )
}

/** Six cells as they stand in the case, each with its gravity in points, or not to
 * be read. What is entered is the reading line. */
function Gravities({ battery, setLine }: { battery: BatteryOnJob; setLine: (line: string) => void }) {
  const { cells } = battery
  const [points, setPoints] = useState<string[]>(() => Array<string>(cells).fill(''))
  const [celsius, setCelsius] = useState('')
  const put = (list: string[], c: string) => {
    setPoints(list)
    setCelsius(c)
    setLine(`sg ${list.map((p) => p || '-').join(' ')}${c ? ` at ${c}c` : ''}`)
  }
  const step = (i: number, by: number) =>
    put(
      points.map((p, k) => (k === i ? String((Number(p) || 1250) + by) : p)),
      celsius,
    )
  return (
    <section aria-label="Gravity of every cell" className="mt-2">
      <h2 className="text-small font-bold text-lead">
        Hydrometer, cell by cell from the positive post; empty could not be read
      </h2>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {points.map((p, i) => (
          <div key={i} className="grid w-[86px] gap-1 rounded-part border-[1.5px] border-ink bg-paper p-1.5">
            <label className="text-center text-small text-lead" htmlFor={`cell-${i}`}>
              cell {i + 1}
            </label>
            <input
              id={`cell-${i}`}
              inputMode="numeric"
              className="num field min-h-target px-1 text-center text-sign"
              value={p}
              placeholder="–"
              maxLength={5}
              onChange={(e) =>
                put(
                  points.map((old, k) => (k === i ? e.target.value.trim() : old)),
                  celsius,
                )
              }
            />
            <span className="grid grid-cols-2 gap-1">
              <Button className="px-0" aria-label={`Cell ${i + 1}: 5 points less`} onClick={() => step(i, -5)}>
                −5
              </Button>
              <Button className="px-0" aria-label={`Cell ${i + 1}: 5 points more`} onClick={() => step(i, 5)}>
                +5
              </Button>
            </span>
          </div>
        ))}
        <div className="grid w-[86px] content-start gap-1 rounded-part border-[1.5px] border-line p-1.5">
          <label className="text-center text-small text-lead" htmlFor="acid-c">
            acid, °C
          </label>
          <input
            id="acid-c"
            inputMode="numeric"
            className="num field min-h-target px-1 text-center text-sign"
            value={celsius}
            placeholder="–"
            maxLength={4}
            onChange={(e) => put(points, e.target.value.trim())}
          />
        </div>
      </div>
    </section>
  )
}
