// How a battery stands, as fields: where, what draws on it, what there is to keep it.
import type { StandingSaid } from '../../api/types'
import { usePlaces } from '../../api/shelf'
import { useWord } from '../../api/words'
import { figureOf } from '../../parts/format'
import { OneOf } from '../../parts/ui/chips'
import { SelectField, TextField } from '../../parts/ui/field'

export type StandingDraft = {
  place: string
  spot: string
  where: StandingSaid['where']
  connected: boolean
  drain: string
  mains: string
  live: string
  fuse: string
  coldest: string
  wanted: string
  note: string
  percent: string
}

const [yes, no, unknown] = ['yes', 'no', '']

export const emptyStanding: StandingDraft = {
  place: '',
  spot: '',
  where: 'outdoors',
  connected: true,
  drain: '',
  mains: unknown,
  live: unknown,
  fuse: '',
  coldest: '',
  wanted: '',
  note: '',
  percent: '',
}

const told = (flag?: boolean | null) => (flag == null ? unknown : flag ? yes : no)
const asked = (text: string) => (text === unknown ? null : text === yes)
const minus = (text: string) => figureOf(text.replace('−', '-'))

export function draftOf(said: StandingSaid, place?: string): StandingDraft {
  return {
    place: place ?? '',
    spot: said.spot,
    where: said.where,
    connected: said.connected,
    drain: said.drain_ma == null ? '' : String(said.drain_ma),
    mains: told(said.mains),
    live: told(said.socket?.live),
    fuse: said.socket?.fuse_a == null ? '' : String(said.socket.fuse_a),
    coldest: said.coldest_start_c == null ? '' : String(said.coldest_start_c),
    wanted: said.wanted_on,
    note: said.note,
    percent: '',
  }
}

/** What a charge that somebody says is off by, percent. */
const saidOff = 10

export function saidFrom(d: StandingDraft, care: StandingSaid['care'], now: string): StandingSaid {
  const fuse = minus(d.fuse)
  const percent = minus(d.percent)
  return {
    spot: d.spot.trim(),
    where: d.where,
    connected: d.connected,
    drain_ma: minus(d.drain) ?? null,
    mains: asked(d.mains),
    socket: d.live === unknown && fuse === undefined ? undefined : { live: asked(d.live), fuse_a: fuse ?? null },
    coldest_start_c: minus(d.coldest) ?? null,
    care,
    wanted_on: d.wanted,
    note: d.note.trim(),
    charge:
      percent === undefined
        ? undefined
        : {
            percent,
            low: Math.max(0, percent - saidOff),
            high: Math.min(100, percent + saidOff),
            at: now,
            from: 'said',
          },
  }
}

const isFigure = (text: string) => text.trim() === '' || !Number.isNaN(minus(text))

export function standingWrong(d: StandingDraft): boolean {
  return ![d.drain, d.fuse, d.coldest, d.percent].every(isFigure)
}

const wrong = (text: string) => (isFigure(text) ? undefined : 'A figure.')

type Props = { draft: StandingDraft; set: (draft: StandingDraft) => void; loose?: boolean }

export function StandingFields({ draft, set, loose }: Props) {
  const word = useWord()
  const { data: places } = usePlaces()
  const change = (part: Partial<StandingDraft>) => set({ ...draft, ...part })
  const known = [
    { code: yes, word: 'yes' },
    { code: no, word: 'no' },
    { code: unknown, word: 'not known' },
  ]
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <SelectField
          label="Place"
          value={draft.place}
          set={(place) => change({ place })}
          options={[{ code: '', word: 'elsewhere' }, ...(places ?? []).map((p) => ({ code: p.id, word: p.name }))]}
        />
        <TextField label="Where in it" placeholder="row C" value={draft.spot} set={(spot) => change({ spot })} />
      </div>
      <OneOf
        name="The air there"
        value={draft.where}
        pick={(where) => change({ where: where as StandingDraft['where'] })}
        options={(['outdoors', 'unheated', 'heated'] as const).map((code) => ({ code, word: word(code) }))}
      />
      {!loose && (
        <OneOf
          name="Connected to its vehicle"
          value={draft.connected ? yes : no}
          pick={(code) => change({ connected: code === yes })}
          options={known.slice(0, 2)}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        {!loose && (
          <TextField
            label="Drain asleep, if measured"
            numeric
            unit="mA"
            value={draft.drain}
            set={(drain) => change({ drain })}
            wrong={wrong(draft.drain)}
          />
        )}
        <TextField
          label="Charge, if not read"
          numeric
          unit="%"
          value={draft.percent}
          set={(percent) => change({ percent })}
          wrong={wrong(draft.percent)}
        />
      </div>
      <OneOf name="Mains there" value={draft.mains} pick={(mains) => change({ mains })} options={known} />
      {!loose && (
        <>
          <OneOf
            name="Accessory socket live with the key off"
            value={draft.live}
            pick={(live) => change({ live })}
            options={known}
          />
          <div className="grid grid-cols-2 gap-3">
            <TextField
              label="Its fuse"
              numeric
              unit="A"
              value={draft.fuse}
              set={(fuse) => change({ fuse })}
              wrong={wrong(draft.fuse)}
            />
            <TextField
              label="Has to start at"
              numeric
              unit="°C"
              placeholder="coldest of each month"
              value={draft.coldest}
              set={(coldest) => change({ coldest })}
              wrong={wrong(draft.coldest)}
            />
          </div>
        </>
      )}
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Wanted again on" type="date" value={draft.wanted} set={(wanted) => change({ wanted })} />
        <TextField label="Note" value={draft.note} set={(note) => change({ note })} maxLength={500} />
      </div>
    </>
  )
}
