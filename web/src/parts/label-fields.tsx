// The battery's label as a form: a few taps for the usual case.
import type { Label } from '../api/types'
import { useChoices } from '../api/jobs'

export type LabelDraft = {
  chemistry: string
  nominal: number
  rating: string
  standard: string
  ah: string
  reserve: string
  made: string
  sealed: '' | 'sealed' | 'caps'
  maker: string
  tag: string
}

export const emptyLabel: LabelDraft = {
  chemistry: 'flooded',
  nominal: 12,
  rating: '',
  standard: 'SAE',
  ah: '',
  reserve: '',
  made: '',
  sealed: '',
  maker: '',
  tag: '',
}

export function draftFrom(b: { label: Label; maker: string; tag: string }): LabelDraft {
  const l = b.label
  return {
    chemistry: l.chemistry,
    nominal: l.nominal_v,
    rating: l.rating ? String(l.rating.value) : '',
    standard: l.rating?.standard ?? 'SAE',
    ah: l.capacity_ah == null ? '' : String(l.capacity_ah),
    reserve: l.reserve_min == null ? '' : String(l.reserve_min),
    made: l.made ?? '',
    sealed: l.sealed == null ? '' : l.sealed ? 'sealed' : 'caps',
    maker: b.maker,
    tag: b.tag,
  }
}

/** A typed figure with either decimal mark; what is no figure is sent as it is, to be refused by name. */
function figure(text: string): number | undefined {
  const plain = text.trim().replace(',', '.')
  return plain === '' ? undefined : Number(plain)
}

export function labelFrom(d: LabelDraft): Label {
  const rating = figure(d.rating)
  return {
    chemistry: d.chemistry,
    nominal_v: d.nominal,
    rating: rating === undefined ? undefined : { value: rating, standard: d.standard },
    capacity_ah: figure(d.ah),
    reserve_min: figure(d.reserve),
    made: d.made.trim() || undefined,
    sealed: d.sealed === '' ? undefined : d.sealed === 'sealed',
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
            <Text label="Reserve, min" value={draft.reserve} set={(reserve) => change({ reserve })} numeric />
            <Text label="Maker" value={draft.maker} set={(maker) => change({ maker })} />
            <Text label="Our tag" value={draft.tag} set={(tag) => change({ tag })} />
          </div>
          <Chips
            name="Cells"
            options={[
              ['', 'not known'],
              ['sealed', 'sealed'],
              ['caps', 'caps that open'],
            ]}
            value={draft.sealed}
            pick={(sealed) => change({ sealed: sealed as LabelDraft['sealed'] })}
          />
        </>
      )}
    </div>
  )
}

type TextProps = { label: string; value: string; set: (text: string) => void; numeric?: boolean }

export function Text({ label, value, set, numeric = false }: TextProps) {
  return (
    <label className="grid gap-1 text-small">
      {label}
      <input
        className={`field text-[1rem] ${numeric ? 'num' : ''}`}
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
          <button
            key={code}
            type="button"
            role="radio"
            aria-checked={code === value}
            tabIndex={code === value || (none && i === 0) ? 0 : -1}
            className="chip"
            onClick={() => pick(code)}
          >
            {label}
          </button>
        ))}
      </div>
    </div>
  )
}
