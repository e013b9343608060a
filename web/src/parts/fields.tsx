// What a label or a vehicle says, as a form: the fields, their units and their codes
// come from the core's own tables, so that one added there stands here.
import type { FieldInfo } from '../api/types'
import { useWord } from '../api/words'
import { capital } from './format'
import { OneOf } from './ui/chips'
import { TextField } from './ui/field'

/** What is said so far: a figure as it was typed, a code, or yes and no. */
export type FieldDraft = Record<string, string | boolean | undefined>

/** What a form sends: blanks are not said; what is no figure is sent as it was typed, to
 * be refused by name. */
export function saidFrom(draft: FieldDraft): Record<string, string | boolean> {
  const said: Record<string, string | boolean> = {}
  for (const [name, value] of Object.entries(draft)) {
    if (typeof value === 'string' ? value.trim() !== '' : value !== undefined) said[name] = value as string | boolean
  }
  return said
}

/** What is known already, as a draft. */
export function draftOf(known: object, fields: FieldInfo[]): FieldDraft {
  const draft: FieldDraft = {}
  for (const f of fields) {
    const value = (known as Record<string, unknown>)[f.name]
    if (typeof value === 'boolean') draft[f.name] = value
    else if (typeof value === 'string' || typeof value === 'number') draft[f.name] = String(value)
  }
  return draft
}

type Props = {
  fields: FieldInfo[]
  draft: FieldDraft
  set: (draft: FieldDraft) => void
  /** What is wrong with a field, by its name. */
  wrong?: (name: string) => string | undefined
}

/** The fields in their order: figures and texts first, then what is tapped. */
export function Fields({ fields, draft, set, wrong }: Props) {
  const change = (name: string, value: string | boolean | undefined) => set({ ...draft, [name]: value })
  const typed = fields.filter((f) => f.kind === 'figure' || f.kind === 'text')
  const tapped = fields.filter((f) => f.kind === 'flag' || f.kind === 'code')
  return (
    <>
      {typed.length > 0 && (
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
          {typed.map((f) => (
            <TextField
              key={f.name}
              label={[capital(f.label), f.unit].filter(Boolean).join(', ')}
              value={String(draft[f.name] ?? '')}
              set={(text) => change(f.name, text)}
              numeric={f.kind === 'figure'}
              wrong={wrong?.(f.name)}
            />
          ))}
        </div>
      )}
      {tapped.map((f) => (
        <Tapped key={f.name} field={f} value={draft[f.name]} set={(value) => change(f.name, value)} />
      ))}
    </>
  )
}

type TappedProps = { field: FieldInfo; value: string | boolean | undefined; set: (value?: string | boolean) => void }

function Tapped({ field, value, set }: TappedProps) {
  const word = useWord()
  const flag = field.kind === 'flag'
  const codes = flag ? ['yes', 'no'] : field.codes.filter((c) => c !== '')
  const options = [{ code: '', word: 'not known' }, ...codes.map((code) => ({ code, word: flag ? code : word(code) }))]
  const code = flag ? (value === undefined ? '' : value ? 'yes' : 'no') : String(value ?? '')
  const pick = (next: string) => set(next === '' ? undefined : flag ? next === 'yes' : next)
  return <OneOf name={capital(field.label)} options={options} value={code} pick={pick} />
}
