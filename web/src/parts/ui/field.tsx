// A field: its name, what is typed, and what is wrong with it where it is wrong.
import { useId, type ComponentProps, type ReactNode } from 'react'
import { Button } from './button'

type FrameProps = {
  label: ReactNode
  /** The name is said to those who do not see the field only. */
  quiet?: boolean
  wrong?: string
  hint?: string
  className?: string
  /** A name of its own for what leads here. */
  id?: string
  children: (id: string, told?: string) => ReactNode
}

/** The name above, the input, and what is wrong or meant below, tied together. */
export function FieldFrame({ label, quiet, wrong, hint, className = '', id: given, children }: FrameProps) {
  const own = useId()
  const id = given ?? own
  const told = wrong || hint ? `${id}-told` : undefined
  return (
    <div className={`grid min-w-0 gap-1 ${className}`}>
      <label htmlFor={id} className={quiet ? 'sr-only' : 'text-small'}>
        {label}
      </label>
      {children(id, told)}
      {told && (
        <p
          id={told}
          role={wrong ? 'alert' : undefined}
          className={`text-small ${wrong ? 'text-oxide-text' : 'text-lead'}`}
        >
          {wrong || hint}
        </p>
      )}
    </div>
  )
}

type TextProps = Omit<ComponentProps<'input'>, 'value' | 'onChange'> & {
  label: ReactNode
  quiet?: boolean
  value: string
  set: (text: string) => void
  numeric?: boolean
  unit?: string
  wrong?: string
  hint?: string
}

/** One line of text; the class is of its frame, for how wide it is. */
export function TextField({
  label,
  quiet,
  value,
  set,
  numeric,
  unit,
  wrong,
  hint,
  className,
  id: given,
  ...rest
}: TextProps) {
  return (
    <FieldFrame label={label} quiet={quiet} wrong={wrong} hint={hint} className={className} id={given}>
      {(id, told) => (
        <span className="relative grid">
          <input
            id={id}
            className={`field ${numeric ? 'num' : ''} ${unit ? 'pr-14' : ''}`}
            inputMode={numeric ? 'decimal' : undefined}
            autoComplete="off"
            aria-invalid={wrong ? true : undefined}
            aria-describedby={told}
            value={value}
            onChange={(e) => set(e.target.value)}
            {...rest}
          />
          {unit && (
            <span className="pointer-events-none absolute inset-y-0 right-3 grid place-items-center text-lead">
              {unit}
            </span>
          )}
        </span>
      )}
    </FieldFrame>
  )
}

type SelectProps = {
  id?: string
  label: ReactNode
  className?: string
  value: string
  set: (code: string) => void
  options: readonly { code: string; word: string }[]
  wrong?: string
}

export function SelectField({ id: given, label, className, value, set, options, wrong }: SelectProps) {
  return (
    <FieldFrame label={label} wrong={wrong} className={className} id={given}>
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

type FileProps = {
  accept: string
  capture?: 'environment'
  className?: string
  take: (file: File) => void
  children: ReactNode
}

/** A button that asks for a file. */
export function FileButton({ accept, capture, className = '', take, children }: FileProps) {
  return (
    <Button
      asChild
      className={`relative has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-focus ${className}`}
    >
      <label>
        {children}
        <input
          type="file"
          accept={accept}
          capture={capture}
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0]
            // The same file may be taken again.
            e.target.value = ''
            if (file) take(file)
          }}
        />
      </label>
    </Button>
  )
}
