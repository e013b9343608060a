// Chips: one of several or any of several, and those that do something at once. Arrow
// keys move within a group; a group is one stop of the Tab key.
import { RadioGroup, ToggleGroup } from 'radix-ui'
import type { ComponentProps, ReactNode } from 'react'

export type Chosen = { code: string; word: ReactNode }

type GroupProps = {
  name: string
  options: readonly Chosen[]
  /** The name is said to those who do not see the group only. */
  quiet?: boolean
}

function Named({ name, quiet, children }: { name: string; quiet?: boolean; children: ReactNode }) {
  return (
    <div>
      {!quiet && (
        <div aria-hidden="true" className="mb-1 text-small">
          {name}
        </div>
      )}
      {children}
    </div>
  )
}

type OneProps = GroupProps & { value: string; pick: (code: string) => void }

/** Exactly one of several: an arrow key takes the next. */
export function OneOf({ name, options, value, pick, quiet }: OneProps) {
  return (
    <Named name={name} quiet={quiet}>
      <RadioGroup.Root value={value} onValueChange={pick} aria-label={name} className="flex flex-wrap gap-2">
        {options.map((o) => (
          <RadioGroup.Item key={o.code} value={o.code} className="chip">
            {o.word}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </Named>
  )
}

type AnyProps = GroupProps & { values: string[]; set: (codes: string[]) => void }

/** Any of several. */
export function AnyOf({ name, options, values, set, quiet }: AnyProps) {
  return (
    <Named name={name} quiet={quiet}>
      <ToggleGroup.Root
        type="multiple"
        value={values}
        onValueChange={set}
        aria-label={name}
        className="flex flex-wrap gap-2"
      >
        {options.map((o) => (
          <ToggleGroup.Item key={o.code} value={o.code} className="chip">
            {o.word}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </Named>
  )
}

/** One of several or none: the one that is chosen gives way when it is tapped again. */
export function OneOrNone({ value, pick, quiet = true, ...group }: OneProps) {
  return (
    <AnyOf
      {...group}
      quiet={quiet}
      values={value === '' ? [] : [value]}
      set={(codes) => pick(codes.find((code) => code !== value) ?? '')}
    />
  )
}

/** A chip that does something at once. */
export function Chip({ className = '', type = 'button', ...rest }: ComponentProps<'button'>) {
  return <button type={type} className={`chip ${className}`} {...rest} />
}

/** Chips that each do something at once, as one group. */
export function Chips({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div role="group" aria-label={name} className="flex flex-wrap gap-1.5">
      {children}
    </div>
  )
}
