// Small controls of the forms: a text and a choice of few.

import { Chip } from './ui/chips'
type TextProps = { label: string; value: string; set: (text: string) => void; numeric?: boolean }

export function Text({ label, value, set, numeric = false }: TextProps) {
  return (
    <label className="grid gap-1 text-small">
      {label}
      <input
        className={`field text-body ${numeric ? 'num' : ''}`}
        inputMode={numeric ? 'decimal' : undefined}
        value={value}
        autoComplete="off"
        onChange={(e) => set(e.target.value)}
      />
    </label>
  )
}

type ChipsProps = { name: string; options: (readonly [string, string])[]; value: string; pick: (code: string) => void }

/** One of several, a tap each; arrow keys move between them. */
export function Chips({ name, options, value, pick }: ChipsProps) {
  const move = (event: React.KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    const at = options.findIndex(([code]) => code === value)
    const next = options[(at + step + options.length) % options.length]
    if (!next) return
    pick(next[0])
    const group = event.currentTarget
    requestAnimationFrame(() => group.querySelector<HTMLElement>('[aria-checked="true"]')?.focus())
  }
  const none = !options.some(([code]) => code === value)
  return (
    <div role="radiogroup" aria-label={name} onKeyDown={move}>
      <div className="mb-1 text-small">{name}</div>
      <div className="flex flex-wrap gap-2">
        {options.map(([code, label], i) => (
          <Chip
            key={code}

            role="radio"
            aria-checked={code === value}
            tabIndex={code === value || (none && i === 0) ? 0 : -1}

            onClick={() => pick(code)}
          >
            {label}
          </Chip>
        ))}
      </div>
    </div>
  )
}
