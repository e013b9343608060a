// Bring it in: what it is, what they say, and the battery. Three taps for the
// usual case; everything else may be left out.
import { useNavigate, useSearchParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useImport } from '../../api/bench'
import { nobody, useBringIn, useChoices, useVehicles } from '../../api/jobs'
import type { BringInBody, FoundVehicle } from '../../api/types'
import { useDraft } from '../../parts/draft'
import { Chips, Text } from '../../parts/controls'
import { type FieldDraft, Fields, saidFrom } from '../../parts/fields'
import { emptyLabel, type LabelDraft, LabelFields, labelFrom } from '../../parts/label-fields'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { Chip } from '../../parts/ui/chips'

type Coming = {
  plate: string
  description: string
  kind: string
  /** What is said of the vehicle besides its kind. */
  facts: FieldDraft
  customer: string
  phone: string
  symptoms: string[]
  complaint: string
  place: string
  promised: string
  purpose: string
  count: number
  joined: string
  known: FoundVehicle | null
}

export function BringInScreen() {
  const [search] = useSearchParams()
  const navigate = useNavigate()
  const bringIn = useBringIn()
  // The same job however often it is asked for, also by the page opened anew.
  const [jobId, , forgetId] = useDraft('bring-in id', () => uuid())
  const [draft, setDraft, forgetDraft] = useDraft<Coming>('bring-in', {
    plate: search.get('plate') ?? '',
    description: '',
    kind: 'car',
    facts: {},
    customer: '',
    phone: '',
    symptoms: [],
    complaint: '',
    place: '',
    promised: '',
    purpose: search.get('purpose') ?? 'repair',
    count: 1,
    joined: '',
    known: null,
  })
  const [label, setLabel, forgetLabel] = useDraft<LabelDraft>('bring-in label', emptyLabel)
  const change = (part: Partial<Coming>) => setDraft({ ...draft, ...part })
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    bringIn.mutate(bodyFrom(jobId, draft, label), {
      onSuccess: (job) => {
        ;[forgetId, forgetDraft, forgetLabel].forEach((forget) => forget())
        void navigate(`/jobs/${job.id}`)
      },
    })
  }
  return (
    <Shell>
      <form onSubmit={submit} className="flex flex-1 flex-col">
        <main className="mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-10 gap-y-5 px-4 py-5 md:px-6 lg:grid-cols-2">
          <h1 className="text-head font-bold lg:col-span-2">Bring it in</h1>
          <div className="grid content-start gap-4">
            <What draft={draft} change={change} />
            <Symptoms chosen={draft.symptoms} set={(symptoms) => change({ symptoms })} />
          </div>
          <div className="grid content-start gap-4">
            {draft.known ? (
              <KnownBattery known={draft.known} forget={() => change({ known: null })} />
            ) : (
              <LabelFields draft={label} set={setLabel} />
            )}
            <Extras draft={draft} change={change} />
          </div>
        </main>
        <div className="sticky bottom-0 flex flex-wrap items-center gap-4 border-t-[1.5px] border-ink bg-paper px-4 py-2.5 md:px-6">
          <div className="min-w-0 flex-1">
            <Trouble error={bringIn.error} />
            {!bringIn.error && (
              <p className="hidden text-small text-lead sm:block">
                Everything but the kind of battery may be left out.
              </p>
            )}
          </div>
          <FromFile />
          <Button type="submit" weight="main" className="px-6" disabled={bringIn.isPending}>
            {bringIn.failureCount > 0 && bringIn.isPending ? 'Line is down, trying again' : 'Bring it in'}
          </Button>
        </div>
      </form>
    </Shell>
  )
}

/** A job in plain text, as another Grapnel or a notebook has it. */
function FromFile() {
  const take = useImport()
  const navigate = useNavigate()
  const read = async (event: React.ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0]
    event.target.value = ''
    if (file) take.mutate(await file.text(), { onSuccess: (done) => void navigate(`/jobs/${done.job_id}`) })
  }
  return (
    <>
      <label className="btn has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-focus">
        From a text file
        <input type="file" accept=".txt,text/plain" className="sr-only" onChange={(e) => void read(e)} />
      </label>
      {take.error && (
        <div className="order-first basis-full">
          <Trouble error={take.error} />
        </div>
      )}
    </>
  )
}

function bodyFrom(id: string, draft: Coming, label: LabelDraft): BringInBody {
  const promised = draft.promised ? new Date(draft.promised).toISOString() : undefined
  const common = {
    id,
    symptoms: draft.symptoms,
    complaint: draft.complaint,
    place: draft.place,
    purpose: draft.purpose,
    promised_at: promised,
  }
  if (draft.known) {
    const { known } = draft
    return {
      ...common,
      vehicle: { id: known.id },
      batteries: known.batteries.map((b) => ({ id: b.id, position: b.position, label: b.label })),
    }
  }
  return {
    ...common,
    customer: draft.customer ? { id: nobody, name: draft.customer, phone: draft.phone } : undefined,
    vehicle:
      draft.kind === 'none'
        ? undefined
        : {
            id: nobody,
            plate: draft.plate,
            description: draft.description,
            facts: { ...saidFrom(draft.facts), kind: draft.kind },
            joined: draft.count > 1 ? draft.joined || 'parallel' : undefined,
          },
    batteries: Array.from({ length: draft.count }, (_, i) => ({
      id: nobody,
      maker: label.maker,
      tag: draft.count > 1 && label.tag ? `${label.tag}-${i + 1}` : label.tag,
      position: draft.count > 1 ? String(i + 1) : undefined,
      label: labelFrom(label),
    })),
  }
}

type PartProps = { draft: Coming; change: (part: Partial<Coming>) => void }

function What({ draft, change }: PartProps) {
  const { data: choices } = useChoices()
  const { data: found } = useVehicles(draft.known ? '' : draft.plate)
  return (
    <>
      <label className="grid gap-1 text-small">
        Plate or name
        <input
          className="field num text-sign uppercase"
          value={draft.plate}
          autoFocus
          autoComplete="off"
          onChange={(e) => change({ plate: e.target.value, known: null })}
        />
      </label>
      {found && found.length > 0 && !draft.known && draft.plate.trim().length > 1 && (
        <ul className="grid gap-1.5" aria-label="Known here">
          {found.slice(0, 4).map((v) => (
            <li key={v.id}>
              <Chip
                className="w-full gap-3"
                onClick={() => change({ known: v, plate: v.plate, kind: v.kind ?? 'car' })}
              >
                <span className="num font-bold">{v.plate}</span>
                <span>
                  {v.description}
                  {v.customer_name && `, ${v.customer_name}`}
                </span>
              </Chip>
            </li>
          ))}
        </ul>
      )}
      <Chips
        name="What for"
        options={(choices?.purposes ?? []).map((c) => [c.code, c.word])}
        value={draft.purpose}
        pick={(purpose) => change({ purpose })}
      />
      {!draft.known && (
        <Chips
          name="What it is"
          options={(choices?.vehicle_kinds ?? []).map((c) => [
            c.code,
            c.code === 'none' ? 'battery by itself' : c.word,
          ])}
          value={draft.kind}
          pick={(kind) => change({ kind })}
        />
      )}
      {!draft.known && <HowMany draft={draft} change={change} />}
    </>
  )
}

/** Several batteries of one label, each tested by itself; and a start-stop system. */
function HowMany({ draft, change }: PartProps) {
  const { data: choices } = useChoices()
  const fact = (name: string, value?: boolean) => change({ facts: { ...draft.facts, [name]: value } })
  return (
    <>
      <Chips
        name="How many batteries"
        options={['1', '2', '3', '4'].map((n) => [n, n])}
        value={String(draft.count)}
        pick={(n) => change({ count: Number(n) })}
      />
      {draft.count > 1 && (
        <Chips
          name="How they are joined"
          options={(choices?.joins ?? []).filter((c) => c.code !== 'alone').map((c) => [c.code, c.word])}
          value={draft.joined || 'parallel'}
          pick={(joined) => change({ joined })}
        />
      )}
      {['car', 'van', 'truck', 'hybrid'].includes(draft.kind) && (
        <Chip
          className="justify-self-start"
          aria-pressed={draft.facts.start_stop === true}
          onClick={() => fact('start_stop', draft.facts.start_stop ? undefined : true)}
        >
          It stops and starts by itself
        </Chip>
      )}
    </>
  )
}

function Symptoms({ chosen, set }: { chosen: string[]; set: (codes: string[]) => void }) {
  const { data: choices } = useChoices()
  return (
    <fieldset>
      <legend className="mb-1 text-small">What they say</legend>
      <div className="flex flex-wrap gap-2">
        {(choices?.symptoms ?? []).map((c) => {
          const on = chosen.includes(c.code)
          return (
            <Chip
              key={c.code}

              aria-pressed={on}
              onClick={() => set(on ? chosen.filter((s) => s !== c.code) : [...chosen, c.code])}
            >
              {c.word}
            </Chip>
          )
        })}
      </div>
    </fieldset>
  )
}

function KnownBattery({ known, forget }: { known: FoundVehicle; forget: () => void }) {
  return (
    <div className="grid gap-2 rounded-card border-[1.5px] border-verdigris bg-verdigris-wash p-3.5">
      <p className="font-bold">Known here: {known.description || known.plate}</p>
      <p>
        {known.customer_name || 'no customer named'};{' '}
        {known.batteries.map((b) => [b.maker, b.tag].filter(Boolean).join(' ') || 'its battery').join(', ')}. Its
        readings so far stand beside the new ones.
      </p>
      <Button className="justify-self-start" onClick={forget}>
        Not this one
      </Button>
    </div>
  )
}

function Extras({ draft, change }: PartProps) {
  const { data: choices } = useChoices()
  return (
    <>
      {!draft.known && (
        <div className="grid grid-cols-2 gap-3">
          <Text label="Whose" value={draft.customer} set={(customer) => change({ customer })} />
          <Text label="Phone" value={draft.phone} set={(phone) => change({ phone })} />
          <Text label="Vehicle, in words" value={draft.description} set={(description) => change({ description })} />
        </div>
      )}
      {!draft.known && draft.kind !== 'none' && <MoreOfIt draft={draft} change={change} />}
      <Text label="In their words" value={draft.complaint} set={(complaint) => change({ complaint })} />
      <Chips
        name="Where it stands"
        options={(choices?.places ?? []).map((c) => [c.code, c.word])}
        value={draft.place}
        pick={(place) => change({ place })}
      />
      <label className="grid gap-1 text-small">
        Promised for
        <input
          type="datetime-local"
          className="field num"
          value={draft.promised}
          onChange={(e) => change({ promised: e.target.value })}
        />
      </label>
    </>
  )
}

/** Everything else the core knows to ask of a vehicle; all of it may be left out. */
function MoreOfIt({ draft, change }: PartProps) {
  const { data: choices } = useChoices()
  const fields = (choices?.vehicle_fields ?? []).filter((f) => f.name !== 'kind' && f.name !== 'start_stop')
  return (
    <details>
      <summary className="min-h-fold py-1.5 text-small">More about the vehicle</summary>
      <div className="grid gap-3 py-1">
        <Fields fields={fields} draft={draft.facts} set={(facts) => change({ facts })} />
      </div>
    </details>
  )
}
