// The battery's label as a form: a few taps for the usual case.
import type { FieldInfo, Label, LabelSaid } from '../api/types'
import { useChoices } from '../api/jobs'
import { draftOf, type FieldDraft, Fields, saidFrom } from './fields'
import { OneOf } from './ui/chips'
import { SelectField, TextField } from './ui/field'

export type LabelDraft = {
  chemistry: string
  nominal: number
  rating: string
  standard: string
  ah: string
  made: string
  /** The rest of the label, by the core's table. */
  more: FieldDraft
  maker: string
  tag: string
}

export const emptyLabel: LabelDraft = {
  chemistry: 'flooded',
  nominal: 12,
  rating: '',
  standard: 'SAE',
  ah: '',
  made: '',
  more: {},
  maker: '',
  tag: '',
}

/** The fields that stand on the form in a way of their own. */
const own = ['chemistry', 'nominal_v', 'rating', 'capacity_ah', 'made', 'position']

export function draftFrom(b: { label: Label; maker: string; tag: string }, fields: FieldInfo[]): LabelDraft {
  const l = b.label
  return {
    chemistry: l.chemistry,
    nominal: l.nominal_v,
    rating: l.rating ? String(l.rating.value) : '',
    standard: l.rating?.standard ?? 'SAE',
    ah: l.capacity_ah == null ? '' : String(l.capacity_ah),
    made: l.made ?? '',
    more: draftOf(l, rest(fields)),
    maker: b.maker,
    tag: b.tag,
  }
}

function rest(fields: FieldInfo[]): FieldInfo[] {
  return fields.filter((f) => !own.includes(f.name))
}

/** The label as it was typed; the core reads the figures and refuses by name what is none. */
export function labelFrom(d: LabelDraft): LabelSaid {
  return {
    ...saidFrom({ ...d.more, made: d.made, capacity_ah: d.ah }),
    chemistry: d.chemistry,
    nominal_v: d.nominal,
    rating: d.rating.trim() === '' ? undefined : { value: d.rating, standard: d.standard },
  }
}

const nominals = [6, 8, 12, 24].map((n) => ({ code: String(n), word: `${n}\u00a0V` }))

/** The name on the form of a field that the API names. */
export function labelFieldOf(field: string): string {
  const name = field.replace(/^label\./, '')
  if (name.startsWith('rating')) return 'rating'
  if (name === 'capacity_ah') return 'ah'
  return ['tag', 'maker', 'chemistry', 'made'].includes(name) ? name : `more.${name}`
}

type Props = {
  draft: LabelDraft
  set: (draft: LabelDraft) => void
  all?: boolean
  /** What is wrong with a field of the draft, by its name. */
  wrong?: (name: string) => string | undefined
}

/** The label as it is on the battery, filled in as it is read. */
export function LabelFields({ draft, set, all = false, wrong = () => undefined }: Props) {
  const { data: choices } = useChoices()
  const change = (part: Partial<LabelDraft>) => set({ ...draft, ...part })
  return (
    <div className="grid gap-3">
      <div>
        <Posts />
        <div className="grid gap-3 rounded-part border-2 border-ink bg-sheet p-3.5">
          <OneOf
            name="Kind of battery"
            options={choices?.chemistries ?? []}
            value={draft.chemistry}
            pick={(chemistry) => change({ chemistry })}
          />
          <OneOf
            name="Volts"
            options={nominals}
            value={String(draft.nominal)}
            pick={(n) => change({ nominal: Number(n) })}
          />
          <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
            <TextField
              label="Rating, A"
              value={draft.rating}
              set={(rating) => change({ rating })}
              wrong={wrong('rating')}
              className="text-sign font-bold"
              numeric
            />
            <SelectField
              label="Standard"
              value={draft.standard}
              set={(standard) => change({ standard })}
              options={(choices?.standards ?? []).map((s) => ({ code: s.code, word: s.code }))}
            />
            <TextField label="Ah" value={draft.ah} set={(ah) => change({ ah })} wrong={wrong('ah')} numeric />
            <TextField
              label="Made, 2023-03"
              value={draft.made}
              set={(made) => change({ made })}
              wrong={wrong('made')}
              className="num"
            />
          </div>
        </div>
      </div>
      {all && (
        <>
          <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
            <TextField label="Maker" value={draft.maker} set={(maker) => change({ maker })} wrong={wrong('maker')} />
            <TextField label="Our tag" value={draft.tag} set={(tag) => change({ tag })} wrong={wrong('tag')} />
          </div>
          <Fields
            fields={rest(choices?.label_fields ?? [])}
            draft={draft.more}
            set={(more) => change({ more })}
            wrong={(name) => wrong(`more.${name}`)}
          />
        </>
      )}
    </div>
  )
}

/** What makes the frame below a battery: its two posts, each with its sign. */
function Posts() {
  const post = 'grid h-5 w-11 place-items-center rounded-t-part border-2 border-b-0 border-ink text-small font-bold'
  return (
    <div aria-hidden="true" className="flex justify-between px-9">
      <span className={`${post} bg-sheet`}>−</span>
      <span className={`${post} bg-ink text-sheet`}>+</span>
    </div>
  )
}
