// Putting something away: a vehicle the shop knows with its battery, or one of the stock.
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useVehicles } from '../../api/jobs'
import { usePutAway } from '../../api/standing'
import { useStock } from '../../api/stock'
import { fits } from '../../parts/format'
import { PlainForm } from '../../parts/ui/plain-form'
import { OneOf } from '../../parts/ui/chips'
import { Combobox } from '../../parts/ui/combobox'
import { emptyStanding, saidFrom, StandingFields, standingWrong } from './standing-fields'

/** What may be put away: a vehicle with its batteries, or a loose one. */
export type Found = {
  key: string
  title: string
  about: string
  loose: boolean
  batteries: { id: string; word: string }[]
}

export function PutAwayForm({ done }: { done: () => void }) {
  const [find, setFind] = useState('')
  const [taken, setTaken] = useState<Found | null>(null)
  const items = useFound(find)
  return (
    <div className="grid gap-4">
      <Combobox
        label="Plate, customer, or the tag of a battery in stock"
        value={find}
        set={(text) => {
          setFind(text)
          setTaken(null)
        }}
        items={taken ? [] : items}
        id={(f) => f.key}
        say={(f) => f.title}
        show={(f) => (
          <>
            <b>{f.title}</b> <span className="text-lead">{f.about}</span>
          </>
        )}
        take={(f) => {
          setTaken(f)
          setFind(f.title)
        }}
        eager
      />
      {!taken && find.trim() !== '' && items.length === 0 && (
        <p className="text-small">
          Nothing here is called that.{' '}
          <Link className="underline" to={`/bring-in?purpose=before_storage&plate=${encodeURIComponent(find.trim())}`}>
            Bring it in for storage
          </Link>{' '}
          and it is put away at the end.
        </p>
      )}
      {taken && <PutAwayDetails key={taken.key} found={taken} done={done} />}
    </div>
  )
}

function useFound(find: string): Found[] {
  const { data: vehicles } = useVehicles(find)
  const { data: stock } = useStock()
  if (find.trim() === '') return []
  const known = (vehicles ?? [])
    .filter((v) => v.batteries.length > 0)
    .map((v) => ({
      key: v.id,
      title: v.plate || v.description,
      about: [v.description, v.customer_name].filter(Boolean).join(', '),
      loose: false,
      batteries: v.batteries.map((b) => ({ id: b.id, word: [b.tag, b.position].filter(Boolean).join(', ') })),
    }))
  const loose = (stock?.rows ?? [])
    .filter((r) => fits(find, r.battery.tag))
    .map((r) => ({
      key: r.battery.id,
      title: r.battery.tag,
      about: r.label_text,
      loose: true,
      batteries: [{ id: r.battery.id, word: r.battery.tag }],
    }))
  return [...known, ...loose].slice(0, 12)
}

export function PutAwayDetails({ found, done }: { found: Found; done: () => void }) {
  const [id] = useState(() => uuid())
  const put = usePutAway(id)
  const navigate = useNavigate()
  const [battery, setBattery] = useState(found.batteries[0]?.id ?? '')
  const [draft, setDraft] = useState({
    ...emptyStanding,
    connected: !found.loose,
    where: found.loose ? ('heated' as const) : emptyStanding.where,
  })
  const submit = () => {
    const now = new Date().toISOString()
    put.mutate(
      { battery_id: battery, place_id: draft.place || undefined, from_at: now, said: saidFrom(draft, '', now) },
      {
        onSuccess: () => {
          done()
          void navigate(`/yard/${id}`)
        },
      },
    )
  }
  return (
    <PlainForm
      submit={submit}
      error={put.error}
      pending={put.isPending}
      wrong={battery === '' || standingWrong(draft)}
      button="Put it away"
    >
      {found.batteries.length > 1 && (
        <OneOf
          name="Which of its batteries; each stands by itself"
          value={battery}
          pick={setBattery}
          options={found.batteries.map((b) => ({ code: b.id, word: b.word }))}
        />
      )}
      <StandingFields draft={draft} set={setDraft} loose={found.loose} />
    </PlainForm>
  )
}
