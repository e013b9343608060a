// What a battery looks like from outside, as a form.
import { useChoices } from '../../api/jobs'
import type { CaseBody } from '../../api/types'
import { figureOf } from '../../parts/format'
import { SelectField, TextField } from '../../parts/ui/field'

export type CaseDraft = {
  size: string
  length: string
  width: string
  height: string
  layout: string
  terminal: string
  hold_down: string
  vent_side: string
}

export const emptyCase: CaseDraft = {
  ...{ size: '', length: '', width: '', height: '' },
  ...{ layout: '', terminal: '', hold_down: '', vent_side: '' },
}

export function bodyOf(b: CaseBody): CaseDraft {
  return {
    size: b.case || b.group,
    length: String(b.length_mm ?? ''),
    width: String(b.width_mm ?? ''),
    height: String(b.height_mm ?? ''),
    layout: b.layout,
    terminal: b.terminal,
    hold_down: b.hold_down,
    vent_side: b.vent_side,
  }
}

/** A size by its name, empty where it has none. */
export const sizeOf = (b: CaseBody) => (b.case ? `case ${b.case}` : b.group ? `group ${b.group}` : '')

/** Millimetres as they were typed; nothing for nothing. */
export const millimetres = (text: string): number | null => figureOf(text) ?? null

/** What is wrong with millimetres that were typed, nothing for nothing. */
export const wrongFigure = (text: string) =>
  Number.isNaN(millimetres(text) ?? 0) ? 'A figure is wanted here.' : undefined

export function bodyFrom(d: CaseDraft): CaseBody {
  const european = /^L/.test(d.size)
  return {
    case: european ? d.size : '',
    group: european ? '' : d.size,
    length_mm: millimetres(d.length),
    width_mm: millimetres(d.width),
    height_mm: millimetres(d.height),
    layout: d.layout,
    terminal: d.terminal,
    hold_down: d.hold_down,
    vent_side: d.vent_side,
  }
}

export function CaseFields({ draft, set }: { draft: CaseDraft; set: (draft: CaseDraft) => void }) {
  const { data: choices } = useChoices()
  const change = (part: Partial<CaseDraft>) => set({ ...draft, ...part })
  const open = [{ code: '', word: 'not known' }]
  const sizes = [...(choices?.cases ?? []), ...(choices?.groups ?? []).map((g) => ({ ...g, word: `group ${g.word}` }))]
  return (
    <div className="grid gap-3">
      <SelectField
        label="Case size"
        value={draft.size}
        set={(size) => change({ size })}
        options={[...open, ...sizes]}
      />
      <Sides draft={draft} change={change} names={['Or length, mm', 'Width, mm', 'Height, mm']} />
      <OutsideFields draft={draft} change={change} />
    </div>
  )
}

type SidesProps = {
  draft: Pick<CaseDraft, 'length' | 'width' | 'height'>
  change: (part: Partial<SidesProps['draft']>) => void
  /** What each side is called here. */
  names: [string, string, string]
}

/** Length, width and height in millimetres. */
export function Sides({ draft, change, names }: SidesProps) {
  return (
    <div className="grid grid-cols-3 gap-3">
      {(['length', 'width', 'height'] as const).map((side, i) => (
        <TextField
          key={side}
          label={names[i]}
          numeric
          value={draft[side]}
          set={(text) => change({ [side]: text })}
          wrong={wrongFigure(draft[side])}
        />
      ))}
    </div>
  )
}

/** Whether a side was typed that is no figure. */
export const caseWrong = (d: Pick<CaseDraft, 'length' | 'width' | 'height'>) =>
  [d.length, d.width, d.height].some((side) => wrongFigure(side))

type Outside = Pick<CaseDraft, 'layout' | 'terminal' | 'hold_down' | 'vent_side'>

/** How the posts lie, what they are, what holds it and where its gas leaves: of a case, or as a
 * vehicle wants them. */
export function OutsideFields({ draft, change }: { draft: Outside; change: (part: Partial<Outside>) => void }) {
  const { data: choices } = useChoices()
  const open = [{ code: '', word: 'not known' }]
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <SelectField
        label="Posts, seen from their side"
        value={draft.layout}
        set={(layout) => change({ layout })}
        options={[...open, ...(choices?.layouts ?? [])]}
      />
      <SelectField
        label="Terminals"
        value={draft.terminal}
        set={(terminal) => change({ terminal })}
        options={[...open, ...(choices?.terminals ?? [])]}
      />
      <SelectField
        label="Held by"
        value={draft.hold_down}
        set={(hold_down) => change({ hold_down })}
        options={[...open, ...(choices?.hold_downs ?? [])]}
      />
      <SelectField
        label="Gas outlet"
        value={draft.vent_side}
        set={(vent_side) => change({ vent_side })}
        options={[...open, ...(choices?.vent_sides ?? [])]}
      />
    </div>
  )
}
