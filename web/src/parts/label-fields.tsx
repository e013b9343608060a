// The battery's label as a form: a few taps for the usual case.
import type { FieldInfo, Label, LabelSaid } from '../api/types'
import { useChoices } from '../api/jobs'
import { Chips, Text } from './controls'
import { draftOf, type FieldDraft, Fields, saidFrom } from './fields'

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

const nominals = [6, 8, 12, 24]

type Props = { draft: LabelDraft; set: (draft: LabelDraft) => void; all?: boolean }

export function LabelFields({ draft, set, all = false }: Props) {
  const { data: choices } = useChoices()
  const change = (part: Partial<LabelDraft>) => set({ ...draft, ...part })
  return (
    <div className="grid gap-3">
      <Chips
        name="Kind of battery"
        options={(choices?.chemistries ?? []).map((c) => [c.code, c.word])}
        value={draft.chemistry}
        pick={(chemistry) => change({ chemistry })}
      />
      <Chips
        name="Volts"
        options={nominals.map((n) => [String(n), `${n}\u00a0V`])}
        value={String(draft.nominal)}
        pick={(n) => change({ nominal: Number(n) })}
      />
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <Text label="Rating, A" value={draft.rating} set={(rating) => change({ rating })} numeric />
        <label className="grid gap-1 text-small">
          Standard
          <select className="field" value={draft.standard} onChange={(e) => change({ standard: e.target.value })}>
            {(choices?.standards ?? []).map((s) => (
              <option key={s.code}>{s.code}</option>
            ))}
          </select>
        </label>
        <Text label="Ah" value={draft.ah} set={(ah) => change({ ah })} numeric />
        <Text label="Made, 2023-03" value={draft.made} set={(made) => change({ made })} />
      </div>
      {all && (
        <>
          <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
            <Text label="Maker" value={draft.maker} set={(maker) => change({ maker })} />
            <Text label="Our tag" value={draft.tag} set={(tag) => change({ tag })} />
          </div>
          <Fields fields={rest(choices?.label_fields ?? [])} draft={draft.more} set={(more) => change({ more })} />
        </>
      )}
    </div>
  )
}
