// A field: its name, what is typed, and what is wrong with it where it is wrong.
import { useId, type ComponentProps, type ReactNode } from 'react'

type FrameProps = { label: string; wrong?: string; hint?: string; children: (id: string, told?: string) => ReactNode }

/** The name above, the input, and what is wrong or meant below, tied together. */
export function FieldFrame({ label, wrong, hint, children }: FrameProps) {
  const id = useId()
  const told = wrong || hint ? `${id}-told` : undefined
  return (
    <div className="grid min-w-0 gap-1">
      <label htmlFor={id} className="text-small">
        {label}
      </label>
      {children(id, told)}
      {told && (
        <p id={told} className={`text-small ${wrong ? 'text-oxide-text' : 'text-lead'}`}>
          {wrong || hint}
        </p>
      )}
    </div>
  )
}

type TextProps = Omit<ComponentProps<'input'>, 'value' | 'onChange'> & {
  label: string
  value: string
  set: (text: string) => void
  numeric?: boolean
  wrong?: string
  hint?: string
}

export function TextField({ label, value, set, numeric, wrong, hint, className = '', ...rest }: TextProps) {
  return (
    <FieldFrame label={label} wrong={wrong} hint={hint}>
      {(id, told) => (
        <input
          id={id}
          className={`field ${numeric ? 'num' : ''} ${className}`}
          inputMode={numeric ? 'decimal' : undefined}
          autoComplete="off"
          aria-invalid={wrong ? true : undefined}
          aria-describedby={told}
          value={value}
          onChange={(e) => set(e.target.value)}
          {...rest}
        />
      )}
    </FieldFrame>
  )
}

type SelectProps = {
  label: string
  value: string
  set: (code: string) => void
  options: readonly { code: string; word: string }[]
  wrong?: string
}

export function SelectField({ label, value, set, options, wrong }: SelectProps) {
  return (
    <FieldFrame label={label} wrong={wrong}>
      {(id, told) => (
        <select
          id={id}
          className="field"
          value={value}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={told}
          onChange={(e) => set(e.target.value)}
        >
          {options.map((o) => (
            <option key={o.code} value={o.code}>
              {o.word}
            </option>
          ))}
        </select>
      )}
    </FieldFrame>
  )
}
