// What the shelf is planned by: when somebody is there, the chargers with their channels, and
// the places with their mains and their air. The owner writes them down.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { useChargers } from '../../api/charging'
import { client, take } from '../../api/client'
import { useChoices } from '../../api/jobs'
import { useHello, useMay } from '../../api/session'
import type { Bodies, Charger, Hours, Place } from '../../api/types'
import { useWord } from '../../api/words'
import { figureOf, thin } from '../../parts/format'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { usePlaces } from '../../api/shelf'
import { Button } from '../../parts/ui/button'
import { AnyOf, Chip, OneOf } from '../../parts/ui/chips'
import { SelectField, TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { Loaded } from '../../parts/ui/loaded'
import { useToast } from '../../parts/ui/toast'

export function SetUpShelfScreen() {
  const { data: hello } = useHello()
  const owner = useMay('keepCharger')
  const chargers = useChargers()
  const places = usePlaces()
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-4xl gap-6 px-4 py-5 md:px-6">
        <h1 className="text-head font-bold">Hours, chargers and places</h1>
        {!owner && <p className="text-lead">The owner writes these down.</p>}
        {hello?.shop && <HoursPart hours={hello.shop.hands} owner={owner} />}
        <Loaded query={places}>
          {(there) => (
            <>
              <Loaded query={chargers}>{(list) => <ChargersPart list={list} places={there} owner={owner} />}</Loaded>
              <PlacesPart list={there} owner={owner} />
            </>
          )}
        </Loaded>
      </main>
    </Shell>
  )
}

const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/** When clamps can go on and off. */
function HoursPart({ hours, owner }: { hours: Hours[]; owner: boolean }) {
  const cache = useQueryClient()
  const say = useToast()
  const [list, setList] = useState(hours)
  const [trouble, setTrouble] = useState<unknown>(null)
  const set = (at: number, part: Partial<Hours>) => setList(list.map((h, i) => (i === at ? { ...h, ...part } : h)))
  const keep = () =>
    void take(client.PUT('/shelf/hands', { body: { hours: list } }))
      .then(() => {
        setTrouble(null)
        say('The hours are kept; the shelf is planned anew.')
        return cache.invalidateQueries()
      })
      .catch(setTrouble)
  return (
    <section aria-label="Hours" className="grid gap-2">
      <h2 className="font-bold">When somebody is there</h2>
      <ul className="grid gap-2">
        {list.map((h, i) => (
          <li key={i} className="flex flex-wrap items-end gap-2">
            <SelectField
              label="Day"
              className="w-40"
              value={String(h.day)}
              set={(day) => set(i, { day: Number(day) })}
              options={days.map((word, n) => ({ code: String(n + 1), word }))}
            />
            <TextField label="From" type="time" value={h.from} set={(from) => set(i, { from })} disabled={!owner} />
            <TextField label="To" type="time" value={h.to} set={(to) => set(i, { to })} disabled={!owner} />
            {owner && <Button onClick={() => setList(list.filter((_, n) => n !== i))}>Take off</Button>}
          </li>
        ))}
      </ul>
      <Trouble error={trouble} />
      {owner && (
        <div className="flex gap-2">
          <Button onClick={() => setList([...list, { day: 1, from: '08:00', to: '18:00' }])}>One more time</Button>
          <Button weight="main" onClick={keep}>
            Keep the hours
          </Button>
        </div>
      )}
    </section>
  )
}

const emptyCharger = () => ({
  id: uuid(),
  name: '',
  kind: 'multi_stage',
  amps: '',
  volts: '',
  settings: [] as string[],
  wake: '',
  compensates: false,
  channels: '1',
  place: '',
})

type ChargerDraft = ReturnType<typeof emptyCharger>

function chargerDraft(c: Charger): ChargerDraft {
  const text = (n: number | null | undefined) => (n == null ? '' : String(n))
  return {
    id: c.id,
    name: c.name,
    kind: c.kind,
    amps: c.amps.join(' '),
    volts: text(c.volts),
    settings: c.settings,
    wake: text(c.wake_v),
    compensates: c.compensates,
    channels: String(c.channels),
    place: c.place_id ?? '',
  }
}

function ChargersPart({ list, places, owner }: { list: Charger[]; places: Place[]; owner: boolean }) {
  const word = useWord()
  const [begun, setBegun] = useState<ChargerDraft>()
  const drop = useDrop('/chargers/{charger}', ['chargers'])
  const where = (c: Charger) => places.find((p) => p.id === c.place_id)?.name
  return (
    <section aria-label="Chargers" className="grid gap-2">
      <h2 className="font-bold">Chargers</h2>
      <ul className="divide-y divide-line">
        {list.map((c) => (
          <li key={c.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <p className="min-w-0 flex-1">
              <b>{c.name}</b>
              <span className="block text-small text-lead">
                {[
                  word(c.kind),
                  `${c.amps.join(', ')}${thin}A`,
                  c.channels > 1 && `${c.channels} channels`,
                  where(c),
                  c.wake_v != null && `starts from ${c.wake_v}${thin}V`,
                ]
                  .filter(Boolean)
                  .join(', ')}
              </span>
            </p>
            {owner && (
              <span className="flex gap-1.5">
                <Button onClick={() => setBegun(chargerDraft(c))}>Change</Button>
                <Button onClick={() => drop(c.id)}>Take off the list</Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {owner &&
        (begun ? (
          <KeepCharger key={begun.id} begun={begun} places={places} done={() => setBegun(undefined)} />
        ) : (
          <Button weight="outline" className="justify-self-start" onClick={() => setBegun(emptyCharger())}>
            One more charger
          </Button>
        ))}
    </section>
  )
}

/** Takes a row off the shop's list. */
function useDrop(path: '/chargers/{charger}' | '/places/{place}', queryKey: string[]) {
  const cache = useQueryClient()
  const say = useToast()
  return (id: string) => {
    const call =
      path === '/chargers/{charger}'
        ? client.DELETE(path, { params: { path: { charger: id } } })
        : client.DELETE(path, { params: { path: { place: id } } })
    void take<unknown>(call)
      .then(() => cache.invalidateQueries({ queryKey }))
      .catch((error: unknown) => say(error instanceof Error ? error.message : 'Something failed.'))
  }
}

const kinds: Charger['kind'][] = [
  'multi_stage',
  'taper',
  'maintainer',
  'supply',
  'constant',
  'boost',
  'solar',
  'engine',
]

function KeepCharger({ begun, places, done }: { begun: ChargerDraft; places: Place[]; done: () => void }) {
  const word = useWord()
  const cache = useQueryClient()
  const { data: choices } = useChoices()
  const form = useForm({
    draft: `charger ${begun.id}`,
    start: () => begun,
    schema: 'KeepChargerInputBody',
    body: (c) => ({
      name: c.name,
      kind: c.kind,
      amps: c.amps.split(/[\s;]+/).flatMap((text) => figureOf(text) ?? []),
      volts: figureOf(c.volts),
      settings: c.settings,
      wake_v: figureOf(c.wake),
      compensates: c.compensates,
      channels: figureOf(c.channels),
      place_id: c.place || undefined,
    }),
    named: (field) => (field.startsWith('amps') ? 'amps' : ({ wake_v: 'wake', place_id: 'place' }[field] ?? field)),
    send: (body: Bodies['KeepChargerInputBody'], c) =>
      take(client.PUT('/chargers/{charger}', { params: { path: { charger: c.id } }, body })),
    sent: () => {
      void cache.invalidateQueries({ queryKey: ['chargers'] })
      void cache.invalidateQueries({ queryKey: ['shelf'] })
      done()
    },
  })
  const c = form.values
  const text = (name: 'name' | 'amps' | 'volts' | 'wake' | 'channels', label: string, hint?: string) => (
    <TextField
      label={label}
      hint={hint}
      value={c[name]}
      set={(value) => form.change({ [name]: value })}
      wrong={form.wrong(name)}
    />
  )
  return (
    <form onSubmit={form.submit} className="grid gap-3 rounded-card border border-line bg-sheet p-4" noValidate>
      <div className="grid gap-3 sm:grid-cols-3">
        {text('name', 'Name')}
        {text('amps', 'Steps, A', '2 6 10')}
        {text('channels', 'Channels')}
        {text('volts', 'Volts it holds, V', 'Empty: those of the battery')}
        {text('wake', 'Starts from, V', 'Empty: from any')}
        <SelectField
          label="Where it stands"
          value={c.place}
          set={(place) => form.change({ place })}
          options={[{ code: '', word: 'not said' }, ...places.map((p) => ({ code: p.id, word: p.name }))]}
        />
      </div>
      <OneOf
        name="Kind"
        options={kinds.map((code) => ({ code, word: word(code) }))}
        value={c.kind}
        pick={(kind) => form.change({ kind })}
      />
      <AnyOf
        name="It can be set to; none for all lead"
        options={(choices?.chemistries ?? []).filter((o) => !['unknown', 'lifepo4'].includes(o.code))}
        values={c.settings}
        set={(settings) => form.change({ settings })}
      />
      <Chip
        className="justify-self-start"
        aria-pressed={c.compensates}
        onClick={() => form.change({ compensates: !c.compensates })}
      >
        It follows the temperature
      </Chip>
      <div className="flex gap-2">
        <Submit form={form}>Keep the charger</Submit>
        <Button
          onClick={() => {
            form.forget()
            done()
          }}
        >
          Leave it
        </Button>
      </div>
    </form>
  )
}

const emptyPlace = (ordinal: number) => ({
  id: uuid(),
  name: '',
  kind: 'shelf',
  indoors: true,
  watts: '',
  air: '',
  room: '',
  ordinal,
})

type PlaceDraft = ReturnType<typeof emptyPlace>

function PlacesPart({ list, owner }: { list: Place[]; owner: boolean }) {
  const word = useWord()
  const [begun, setBegun] = useState<PlaceDraft>()
  const drop = useDrop('/places/{place}', ['places'])
  const text = (n: number | null | undefined) => (n == null ? '' : String(n))
  return (
    <section aria-label="Places" className="grid gap-2">
      <h2 className="font-bold">Places</h2>
      <ul className="divide-y divide-line">
        {list.map((p) => (
          <li key={p.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <p className="min-w-0 flex-1">
              <b>{p.name}</b>
              <span className="block text-small text-lead">
                {[
                  word(p.kind),
                  p.indoors ? 'indoors' : 'outdoors',
                  p.watts != null && `${p.watts}${thin}W of mains`,
                  p.air_m3h != null && `${p.air_m3h}${thin}m³/h of fresh air`,
                ]
                  .filter(Boolean)
                  .join(', ')}
              </span>
            </p>
            {owner && (
              <span className="flex gap-1.5">
                <Button
                  onClick={() => setBegun({ ...p, watts: text(p.watts), air: text(p.air_m3h), room: text(p.room_m3) })}
                >
                  Change
                </Button>
                <Button onClick={() => drop(p.id)}>Take off the list</Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {owner &&
        (begun ? (
          <KeepPlace key={begun.id} begun={begun} done={() => setBegun(undefined)} />
        ) : (
          <Button
            weight="outline"
            className="justify-self-start"
            onClick={() => setBegun(emptyPlace(Math.max(0, ...list.map((p) => p.ordinal)) + 1))}
          >
            One more place
          </Button>
        ))}
    </section>
  )
}

const placeKinds: Place['kind'][] = ['bay', 'shelf', 'yard', 'counter', 'store']

function KeepPlace({ begun, done }: { begun: PlaceDraft; done: () => void }) {
  const word = useWord()
  const cache = useQueryClient()
  const form = useForm({
    draft: `place ${begun.id}`,
    start: () => begun,
    schema: 'KeepPlaceInputBody',
    body: (p) => ({
      name: p.name,
      kind: p.kind,
      indoors: p.indoors,
      ordinal: p.ordinal,
      watts: figureOf(p.watts),
      air_m3h: figureOf(p.air),
      room_m3: figureOf(p.room),
    }),
    named: (field) => ({ air_m3h: 'air', room_m3: 'room' })[field] ?? field,
    send: (body: Bodies['KeepPlaceInputBody'], p) =>
      take(client.PUT('/places/{place}', { params: { path: { place: p.id } }, body })),
    sent: () => {
      void cache.invalidateQueries()
      done()
    },
  })
  const p = form.values
  const text = (name: 'name' | 'watts' | 'air' | 'room', label: string, hint?: string) => (
    <TextField
      label={label}
      hint={hint}
      value={p[name]}
      set={(value) => form.change({ [name]: value })}
      wrong={form.wrong(name)}
    />
  )
  return (
    <form onSubmit={form.submit} className="grid gap-3 rounded-card border border-line bg-sheet p-4" noValidate>
      <div className="grid gap-3 sm:grid-cols-2">
        {text('name', 'Name')}
        {text('watts', 'Mains, W', 'Empty: not limited')}
        {text('air', 'Fresh air, m³/h', 'Empty: not limited; what is needed is said')}
        {text('room', 'Room, m³')}
      </div>
      <OneOf
        name="Kind"
        options={placeKinds.map((code) => ({ code, word: word(code) }))}
        value={p.kind}
        pick={(kind) => form.change({ kind })}
      />
      <Chip
        className="justify-self-start"
        aria-pressed={p.indoors}
        onClick={() => form.change({ indoors: !p.indoors })}
      >
        Indoors
      </Chip>
      <div className="flex gap-2">
        <Submit form={form}>Keep the place</Submit>
        <Button
          onClick={() => {
            form.forget()
            done()
          }}
        >
          Leave it
        </Button>
      </div>
    </form>
  )
}
