// A figure that is made one less or one more with a thumb.
import { Minus, Plus } from 'lucide-react'

type Props = {
  name: string
  value: number
  set: (value: number) => void
  least: number
  most: number
  by?: number
  unit?: string
}

export function Stepper({ name, value, set, least, most, by = 1, unit = '' }: Props) {
  const to = (next: number) => set(Math.min(most, Math.max(least, Math.round(next / by) * by)))
  return (
    <div role="group" aria-label={name} className="inline-flex items-stretch gap-1.5">
      <button
        type="button"
        className="key-pad"
        aria-label={`${name}: less`}
        disabled={value <= least}
        onClick={() => to(value - by)}
      >
        <Minus size={20} aria-hidden="true" />
      </button>
      <output className="num grid min-w-[4.5rem] place-items-center rounded-part border-[1.5px] border-line px-2 text-body">
        {value}
        {unit && `\u00a0${unit}`}
      </output>
      <button
        type="button"
        className="key-pad"
        aria-label={`${name}: more`}
        disabled={value >= most}
        onClick={() => to(value + by)}
      >
        <Plus size={20} aria-hidden="true" />
      </button>
    </div>
  )
}
