// Readings by thumb: figures on a keypad of our own, composed into the same line.
import { useState } from 'react'
import { Delete } from 'lucide-react'
import { useChoices } from '../../../api/jobs'
import type { Picture } from '../../../api/types'
import { thin } from '../../../parts/format'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import type { ReadingLine } from './use-reading-line'

type Slot = { id: string; name: string; unit: string }

type Props = {
  stage: string
  picture: Picture
  /** What the clocks add to the reading: how long it stood, by the clock. */
  waited: string[]
  /** What starts the seconds of a load. */
  start: React.ReactNode
}

/** What any of our keypads needs of the line it types into, and how it keeps it. */
export type LineKeys = Keeps & { line: ReadingLine }

type Keeps = { keep: () => void; canKeep: boolean; keeping: boolean }

const voltSlots: Slot[] = [
  { id: 'volts', name: 'volts', unit: 'V' },
  { id: 'temp', name: 'battery', unit: '°C' },
]

const loadSlots: Slot[] = [
  { id: 'volts', name: 'volts at the end', unit: 'V' },
  { id: 'amps', name: 'drawn', unit: 'A' },
  { id: 'seconds', name: 'for', unit: 's' },
]

/** True where a stage has figures of its own to enter. */
export function hasKeypad(stage: string) {
  return stage === 'charge_state' || stage === 'crank_power'
}

export function Keypad({ stage, picture, waited, start, line, ...keeps }: Props & LineKeys) {
  const load = stage === 'crank_power'
  const slots = load ? loadSlots : voltSlots
  const [figures, setFigures] = useState<Record<string, string>>({})
  const [active, setActive] = useState('volts')
  const [rest, setRest] = useState('')
  const [charged, setCharged] = useState(false)
  const { data: choices } = useChoices()
  // A line that was kept, cleared or begun elsewhere empties the figures as well.
  const [composed, setComposed] = useState(false)
  if (composed && line.owner !== 'keypad') {
    setComposed(false)
    setFigures({})
    setRest('')
    setCharged(false)
    setActive('volts')
  }
  const value = (id: string) =>
    figures[id] ??
    (id === 'amps' ? String(picture.plan.amps ?? '') : id === 'seconds' ? String(picture.plan.seconds) : '')

  const compose = (next: Record<string, string>, resting: string, after: boolean) => {
    setFigures(next)
    setRest(resting)
    setCharged(after)
    const of = (id: string) => next[id] ?? value(id)
    const parts = load
      ? ['load', of('amps') && `${of('amps')}a`, `${of('seconds')}s`, of('volts') && `${of('volts')}v`]
      : [of('volts') && `${of('volts')} v`, of('temp') && `${of('temp')}c`, resting]
    setComposed(true)
    line.compose([...parts, after && 'after charge'].filter(Boolean).join(' '))
  }
  const step = (sign: number) => compose({ ...figures, [active]: String(stepped(value(active), sign)) }, rest, charged)
  const press = (key: string) => {
    const before = figures[active] ?? ''
    const after =
      key === 'back'
        ? before.slice(0, -1)
        : key === '±'
          ? before.startsWith('-')
            ? before.slice(1)
            : `-${before}`
          : before + key
    compose({ ...figures, [active]: after }, rest, charged)
  }
  return (
    <div data-keypad className="no-print border-t border-line bg-sheet px-3 pt-2 pb-3">
      {load && start}
      {!load && (
        <div className="-mx-1 mb-2 flex flex-wrap gap-1.5" role="group" aria-label="How it stood">
          {[...waited.map((says) => ({ line: says, text: `${says}, by the clock` })), ...(choices?.rests ?? [])].map(
            (stood) => (
              <Chip
                key={stood.line}
                className="px-2.5 text-small"
                aria-pressed={rest === stood.line}
                onClick={() => compose(figures, rest === stood.line ? '' : stood.line, charged)}
              >
                {stood.text}
              </Chip>
            ),
          )}
        </div>
      )}
      <div className="mb-2 flex flex-wrap items-stretch gap-2">
        {slots.map((s) => (
          <button
            key={s.id}
            type="button"
            aria-pressed={active === s.id}
            onClick={() => setActive(s.id)}
            className={`min-h-14 rounded-part border-[1.5px] px-2.5 py-1 text-left ${s.id === 'volts' ? 'flex-1' : ''} ${active === s.id ? 'border-ink' : 'border-line'}`}
          >
            <span className="block text-small text-lead">{s.name}</span>
            <span className={`num font-bold ${s.id === 'volts' ? 'text-large' : 'text-sign'}`}>
              {value(s.id) || '–'}
              <span className="text-small font-normal text-lead">
                {thin}
                {s.unit}
              </span>
            </span>
          </button>
        ))}
        {active === 'volts' ? (
          <Chip
            aria-pressed={charged}
            className="px-2 text-small leading-tight"
            onClick={() => compose(figures, rest, !charged)}
          >
            after
            <br />
            charge
          </Chip>
        ) : (
          [-1, 1].map((sign) => <Step key={sign} sign={sign} step={step} />)
        )}
      </div>
      <div className="grid grid-cols-4 gap-1.5">
        {['7', '8', '9', 'back', '4', '5', '6', '±', '1', '2', '3'].map((k) => (
          <Key key={k} label={k} press={press} />
        ))}
        <KeepKey {...keeps} tall />
        <Key label="." press={press} />
        <Key label="0" press={press} />
        <Button className="text-small" onClick={() => line.clear()}>
          clear
        </Button>
      </div>
    </div>
  )
}

/** The figure one on; from nothing a temperature is stepped from that of a room. */
function stepped(figure: string, sign: number): number {
  return figure === '' ? 20 : Math.round(Number(figure)) + sign
}

const keyLook = 'num min-h-target rounded-part border-[1.5px] border-line bg-paper text-figure font-bold'

/** The key that keeps the line. */
export function KeepKey({ keep, canKeep, keeping, tall }: Keeps & { tall?: boolean }) {
  return (
    <button
      type="button"
      disabled={!canKeep}
      onClick={keep}
      className={`min-h-target rounded-part bg-verdigris font-bold text-sheet disabled:opacity-45 ${tall ? 'row-span-2' : ''}`}
    >
      {keeping ? 'Keeping' : 'Keep'}
    </button>
  )
}

/** A key that makes the figure one less or one more. */
export function Step({ sign, disabled, step }: { sign: number; disabled?: boolean; step: (sign: number) => void }) {
  return (
    <button
      type="button"
      aria-label={sign < 0 ? 'one less' : 'one more'}
      disabled={disabled}
      className={`${keyLook} min-w-[48px] disabled:opacity-45`}
      onClick={() => step(sign)}
    >
      {sign < 0 ? '−' : '+'}
    </button>
  )
}

export function Key({ label, press }: { label: string; press: (key: string) => void }) {
  const names: Record<string, string> = {
    back: 'back: delete the last figure',
    '±': 'plus or minus',
    '.': 'decimal mark',
  }
  return (
    <button type="button" aria-label={names[label] ?? label} className={keyLook} onClick={() => press(label)}>
      {label === 'back' ? <Delete className="mx-auto" size={24} aria-hidden="true" /> : label}
    </button>
  )
}
