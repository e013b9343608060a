// Bring it in: what came, what they say, and the battery's label. What the plate knows is
// filled in; everything but the kind of battery may be left out.
import { useEffect, useState, type ReactNode } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useImport } from '../../api/bench'
import { nobody, useBringIn, useChoices, useVehicles } from '../../api/jobs'
import { useHello } from '../../api/session'
import { fromZone, thin } from '../../parts/format'
import type { FoundVehicle } from '../../api/types'
import { type FieldDraft, Fields, saidFrom } from '../../parts/fields'
import { emptyLabel, type LabelDraft, labelFieldOf, LabelFields, labelFrom } from '../../parts/label-fields'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { AnyOf, Chip, OneOf, OneOrNone } from '../../parts/ui/chips'
import { Combobox } from '../../parts/ui/combobox'
import { FileButton, TextField } from '../../parts/ui/field'
import { useForm, type Form } from '../../parts/ui/form'

type Coming = {
  /** The same job however often it is asked for, also by the page opened anew. */
  id: string
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
  label: LabelDraft
}

function nothing(plate: string, purpose: string): Coming {
  return {
    id: uuid(),
    plate,
    description: '',
    kind: 'car',
    facts: {},
    customer: '',
    phone: '',
    symptoms: [],
    complaint: '',
    place: '',
    promised: '',
    purpose,
    count: 1,
    joined: '',
    known: null,
    label: emptyLabel,
  }
}

/** The name on the form of a field that the API names. */
function fieldOf(field: string): string {
  const own: Record<string, string> = {
    'customer.name': 'customer',
    'customer.phone': 'phone',
    promised_at: 'promised',
  }
  const battery = /^batteries(?:\[\d+\]|\.\d+)\.(.*)$/.exec(field)
  if (battery?.[1]) return `label.${labelFieldOf(battery[1])}`
  return own[field] ?? field.replace(/^vehicle\.facts\./, 'facts.').replace(/^vehicle\./, '')
}

export function BringInScreen() {
  const [search] = useSearchParams()
  const navigate = useNavigate()
  const bringIn = useBringIn()
  const zone = useHello().data?.shop?.time_zone
  const [step, setStep] = useState(0)
  const purpose = search.get('purpose') ?? 'repair'
  const form = useForm({
    draft: `bring-in ${purpose} ${search.get('plate') ?? ''}`,
    start: () => nothing(search.get('plate') ?? '', purpose),
    schema: 'BringInInputBody',
    body: (coming) => bodyFrom(coming, zone),
    named: fieldOf,
    send: (body) => bringIn.mutateAsync(body),
    sent: () => void navigate(`/jobs/${form.getValues('id')}`),
  })
  const draft = form.values
  const props = { form, draft }
  const known = draft.known && (
    <KnownBattery known={draft.known} forget={() => form.change({ known: null, plate: '' })} />
  )
  const steps: [string, ReactNode][] = [
    [
      'What came in',
      <div key="came" className="grid gap-4">
        <Plate {...props} />
        {draft.known && <div className="lg:hidden">{known}</div>}
        <Symptoms {...props} />
        <TextField
          label="In their words"
          value={draft.complaint}
          set={(complaint) => form.change({ complaint })}
          wrong={form.wrong('complaint')}
        />
      </div>,
    ],
    [
      'The battery',
      <div key="battery" className="grid gap-4">
        {!draft.known && <What {...props} />}
        {draft.known ? (
          known
        ) : (
          <LabelFields
            draft={draft.label}
            set={(label) => form.change({ label })}
            wrong={(name) => form.wrong(`label.${name}`)}
          />
        )}
      </div>,
    ],
    ['The rest', <Rest key="rest" {...props} />],
  ]
  return (
    <Shell>
      <form onSubmit={form.submit} className="flex flex-1 flex-col" noValidate>
        <main className="mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-10 gap-y-5 px-4 py-5 md:px-6 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
          <h1 className="text-head font-bold lg:col-span-2">
            Bring it in
            <span className="text-body font-normal text-lead lg:hidden">, {steps[step]?.[0].toLowerCase()}</span>
          </h1>
          {steps.map(([name, part], i) => (
            <section
              key={name}
              aria-label={name}
              className={`${i === step ? '' : 'max-lg:hidden'} ${i === 1 ? 'lg:col-start-2 lg:row-span-2 lg:row-start-2' : 'lg:col-start-1'}`}
            >
              {part}
            </section>
          ))}
        </main>
        <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t-[1.5px] border-ink bg-paper px-4 py-2.5 md:px-6">
          <div className="min-w-0 flex-1 max-lg:order-first max-lg:basis-full">
            <Trouble error={form.trouble} />
            {!form.trouble && (
              <p className="text-small text-lead max-lg:hidden">Everything but the kind of battery may be left out.</p>
            )}
          </div>
          <Button className="lg:hidden" disabled={step === 0} onClick={() => setStep(step - 1)}>
            Back
          </Button>
          <Button
            weight="outline"
            className="flex-1 lg:hidden"
            aria-label={steps[step + 1] && `Next: ${steps[step + 1]?.[0].toLowerCase()}`}
            disabled={step === steps.length - 1}
            onClick={() => setStep(step + 1)}
          >
            Next
          </Button>
          <FromFile />
          <Button type="submit" weight="main" className="px-6" disabled={form.sending}>
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
  const read = (text: string) => take.mutate(text, { onSuccess: (done) => void navigate(`/jobs/${done.job_id}`) })
  return (
    <>
      <FileButton accept=".txt,text/plain" className="max-lg:hidden" take={(file) => void file.text().then(read)}>
        From a text file
      </FileButton>
      {take.error && (
        <div className="order-first basis-full">
          <Trouble error={take.error} />
        </div>
      )}
    </>
  )
}

function bodyFrom(draft: Coming, zone?: string) {
  const promised = draft.promised ? fromZone(draft.promised, zone) : undefined
  const { label } = draft
  const common = {
    id: draft.id,
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

type PartProps = { form: Form<Coming>; draft: Coming }

const plain = (plate: string) => plate.toUpperCase().replaceAll(' ', '')

/** The plate, or a name: a vehicle that is known here is taken from it. */
function Plate({ form, draft }: PartProps) {
  const { change } = form
  const [declined, setDeclined] = useState('')
  const { data: found } = useVehicles(draft.known ? '' : draft.plate)
  const exact = found?.find((v) => plain(v.plate) === plain(draft.plate) && v.id !== declined)
  useEffect(() => {
    if (exact && !draft.known) change({ known: exact, kind: exact.kind ?? 'car' })
  }, [exact, draft.known, change])
  return (
    <Combobox
      label="Plate or name"
      value={draft.plate}
      set={(plate) => {
        if (draft.known) setDeclined(draft.known.id)
        change({ plate, known: null })
      }}
      items={draft.plate.trim().length > 1 && !draft.known ? (found ?? []).slice(0, 6) : []}
      id={(v) => v.id}
      say={(v) => [v.plate, v.description, v.customer_name].filter(Boolean).join(', ')}
      show={(v) => (
        <span className="flex flex-wrap gap-x-3">
          <span className="num font-bold">{v.plate}</span>
          <span>{[v.description, v.customer_name].filter(Boolean).join(', ')}</span>
        </span>
      )}
      take={(known) => change({ known, plate: known.plate, kind: known.kind ?? 'car' })}
      className="num text-sign uppercase"
      focus
    />
  )
}

/** What it is, and how many batteries it has. */
function What({ form, draft }: PartProps) {
  const { data: choices } = useChoices()
  const fact = (name: string, value?: boolean) => form.change({ facts: { ...draft.facts, [name]: value } })
  return (
    <>
      <OneOf
        name="What it is"
        options={(choices?.vehicle_kinds ?? []).map((c) =>
          c.code === 'none' ? { ...c, word: 'battery by itself' } : c,
        )}
        value={draft.kind}
        pick={(kind) => form.change({ kind })}
      />
      {['car', 'van', 'truck', 'hybrid'].includes(draft.kind) && (
        <Chip
          className="justify-self-start"
          aria-pressed={draft.facts.start_stop === true}
          onClick={() => fact('start_stop', draft.facts.start_stop ? undefined : true)}
        >
          Start-stop
        </Chip>
      )}
      {draft.kind === 'hybrid' && (
        <div role="group" aria-label="Does the 12 V battery crank the engine?" className="flex flex-wrap gap-2">
          {[true, false].map((cranks) => (
            <Chip
              key={String(cranks)}
              aria-pressed={draft.facts.cranks_12v === cranks}
              onClick={() => fact('cranks_12v', draft.facts.cranks_12v === cranks ? undefined : cranks)}
            >
              {cranks ? `Cranks on 12${thin}V` : `Does not crank on 12${thin}V`}
            </Chip>
          ))}
        </div>
      )}
    </>
  )
}

function Symptoms({ form, draft }: PartProps) {
  const { data: choices } = useChoices()
  return (
    <AnyOf
      name="What they say"
      options={choices?.symptoms ?? []}
      values={draft.symptoms}
      set={(symptoms) => form.change({ symptoms })}
    />
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

/** What is asked of few: whose it is, what for, where it stands, several batteries. */
function Rest({ form, draft }: PartProps) {
  const { data: choices } = useChoices()
  const { change, wrong } = form
  const text = (name: 'customer' | 'phone' | 'description', label: string) => (
    <TextField label={label} value={draft[name]} set={(value) => change({ [name]: value })} wrong={wrong(name)} />
  )
  return (
    <details open={draft.purpose !== 'repair' || matchMedia('(max-width: 63.99rem)').matches}>
      <summary className="min-h-fold py-1.5 font-bold">Whose, where, by when; and more about it</summary>
      <div className="grid gap-4 pt-2">
        <OneOf
          name="What for"
          options={choices?.purposes ?? []}
          value={draft.purpose}
          pick={(purpose) => change({ purpose })}
        />
        {!draft.known && (
          <div className="grid grid-cols-2 gap-3">
            {text('customer', 'Whose')}
            {text('phone', 'Phone')}
            {text('description', 'Vehicle, in words')}
          </div>
        )}
        <OneOrNone
          name="Where it stands"
          quiet={false}
          options={choices?.places ?? []}
          value={draft.place}
          pick={(place) => change({ place })}
        />
        <TextField
          label="Promised for"
          numeric
          type="datetime-local"
          value={draft.promised}
          set={(promised) => change({ promised })}
          wrong={wrong('promised')}
        />
        {!draft.known && (
          <OneOf
            name="How many batteries"
            options={['1', '2', '3', '4'].map((n) => ({ code: n, word: n }))}
            value={String(draft.count)}
            pick={(n) => change({ count: Number(n) })}
          />
        )}
        {draft.count > 1 && (
          <OneOf
            name="How they are joined"
            options={(choices?.joins ?? []).filter((c) => c.code !== 'alone')}
            value={draft.joined || 'parallel'}
            pick={(joined) => change({ joined })}
          />
        )}
        {!draft.known && draft.kind !== 'none' && (
          <Fields
            fields={(choices?.vehicle_fields ?? []).filter((f) => f.name !== 'kind' && f.name !== 'start_stop')}
            draft={draft.facts}
            set={(facts) => change({ facts })}
            wrong={(name) => wrong(`facts.${name}`)}
          />
        )}
      </div>
    </details>
  )
}
