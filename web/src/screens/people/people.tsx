// Who works here. The owner adds people, changes what they may do, hands out a code for another
// password, and switches them off.
import { useQueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { useState } from 'react'
import { client, take } from '../../api/client'
import { useChangePerson, useEndSessions, useHello, useMay, usePeople, useResetPerson } from '../../api/session'
import type { Person } from '../../api/types'
import { FormDialog } from '../../parts/form-dialog'
import { clock } from '../../parts/format'
import { May } from '../../parts/may'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { Loaded } from '../../parts/ui/loaded'
import { PlainForm } from '../../parts/ui/plain-form'
import { type Column, Table } from '../../parts/ui/table'
import { useToast } from '../../parts/ui/toast'

const roles = [
  { code: 'technician', word: 'technician', about: 'measures, judges, corrects, lifts stop rules' },
  { code: 'counter', word: 'counter', about: 'brings in, hands back, prints, keeps the stock' },
  { code: 'owner', word: 'owner', about: 'all of that, and people, limits, instruments, chargers' },
] as const

const about = (role: string) => roles.find((r) => r.code === role)?.about

const columns: Column<Person>[] = [
  {
    name: 'Name',
    of: (p) => <b className={p.active ? '' : 'text-lead line-through'}>{p.name}</b>,
  },
  { name: 'Signs in as', of: (p) => <span className="num">{p.sign_in}</span> },
  {
    name: 'Role',
    of: (p) => (
      <>
        {p.active ? p.role : 'switched off'}
        {p.second_step && <span className="block text-small text-lead">with a second step</span>}
      </>
    ),
  },
]

const owners: Column<Person> = {
  name: 'Looked after',
  of: (p) => (
    <span className="flex flex-wrap gap-1.5">
      <FormDialog
        trigger="Change"
        title={p.name}
        about={`Signs in as ${p.sign_in}.`}
        form={(done) => <ChangePerson person={p} done={done} />}
      />
      {p.active && (
        <FormDialog
          trigger="Let in again"
          title={`Let ${p.name} in again`}
          about="When a password is forgotten, a phone is lost, or a device is in the wrong hands."
          form={() => <LetIn person={p} />}
        />
      )}
    </span>
  ),
}

export function PeopleScreen() {
  const people = usePeople()
  const looksAfter = useMay('changePerson')
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-4xl gap-5 px-4 py-5 md:px-6">
        <h1 className="text-head font-bold">People of the shop</h1>
        <Loaded query={people}>
          {(list) => (
            <Table
              caption="People of the shop"
              columns={looksAfter ? [...columns, owners] : columns}
              rows={list}
              id={(p) => p.id}
            />
          )}
        </Loaded>
        <May do="addPerson" else={<p className="text-lead">The owner adds people and changes what they may do.</p>}>
          <AddPerson />
        </May>
      </main>
    </Shell>
  )
}

type PickRole = { value: string; pick: (role: string) => void }

function Role({ value, pick }: PickRole) {
  return (
    <div>
      <OneOf name="Role" options={roles} value={value} pick={pick} />
      <p className="pt-1 text-small text-lead">{about(value)}</p>
    </div>
  )
}

function ChangePerson({ person, done }: { person: Person; done: () => void }) {
  const say = useToast()
  const change = useChangePerson()
  const [name, setName] = useState(person.name)
  const [role, setRole] = useState<string>(person.role)
  const to = (active: boolean) =>
    change.mutate(
      { id: person.id, name, role: role as Person['role'], active },
      {
        onSuccess: () => {
          say(active ? `${name} is ${role} and can sign in.` : `${name} is switched off and signed out everywhere.`)
          done()
        },
      },
    )
  return (
    <PlainForm submit={() => to(true)} error={change.error} pending={change.isPending} button="Keep it">
      <TextField label="Name" value={name} set={setName} />
      <Role value={role} pick={setRole} />
      <div className="grid gap-1 border-t border-line pt-3">
        <p className="text-small text-lead">
          {person.active
            ? 'Switched off, nobody comes in under this name; what was done under it stays.'
            : 'Switched off. Keeping it switches them on again.'}
        </p>
        {person.active && (
          <Button className="justify-self-start" disabled={change.isPending} onClick={() => to(false)}>
            Switch off
          </Button>
        )}
      </div>
    </PlainForm>
  )
}

function LetIn({ person }: { person: Person }) {
  const zone = useHello().data?.shop?.time_zone
  const reset = useResetPerson()
  const end = useEndSessions()
  const say = useToast()
  return (
    <div className="grid gap-4">
      {reset.data ? (
        <div role="status" className="grid gap-1 rounded-part bg-verdigris-wash px-3 py-2">
          <p className="num text-sign font-bold select-all">{reset.data.code}</p>
          <p>
            Say it or write it down for {person.name}: it is shown once. On the sign-in page, under “I have a code”, it
            sets another password, once, until tomorrow {clock(reset.data.until, zone)}.
          </p>
        </div>
      ) : (
        <div className="grid gap-1">
          <Button
            weight="main"
            className="justify-self-start"
            disabled={reset.isPending}
            onClick={() => reset.mutate(person.id)}
          >
            Make a code for another password
          </Button>
          <p className="text-small text-lead">
            What they have goes on opening until the code is used. Then they are signed out everywhere and their second
            step is off.
          </p>
        </div>
      )}
      <div className="grid gap-1 border-t border-line pt-3">
        <Button
          className="justify-self-start"
          disabled={end.isPending}
          onClick={() => end.mutate(person.id, { onSuccess: () => say(`${person.name} is signed out everywhere.`) })}
        >
          Sign them out everywhere
        </Button>
        <p className="text-small text-lead">At once, on every device. Their password still opens.</p>
      </div>
      <Trouble error={reset.error ?? end.error} />
    </div>
  )
}

const empty = () => ({ id: uuid(), name: '', sign_in: '', password: '', role: 'technician' })

function AddPerson() {
  const cache = useQueryClient()
  const say = useToast()
  const form = useForm({
    draft: '',
    start: empty,
    schema: 'PersonInputBody',
    body: (person) => person,
    send: (body) => take(client.POST('/people', { body })),
    sent: () => {
      say(`${form.getValues('name')} can sign in now.`)
      form.reset(empty())
      void cache.invalidateQueries({ queryKey: ['people'] })
    },
  })
  const person = form.values
  const text = (name: 'name' | 'sign_in' | 'password', label: string, more: object = {}) => (
    <TextField
      label={label}
      value={person[name]}
      set={(value) => form.change({ [name]: value })}
      wrong={form.wrong(name)}
      {...more}
    />
  )
  return (
    <form className="grid gap-3" onSubmit={form.submit} noValidate>
      <h2 className="font-bold">Someone new</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        {text('name', 'Name')}
        {text('sign_in', 'Signs in as', { autoCapitalize: 'off' })}
        {text('password', 'First password, 10 characters or more', { type: 'password', autoComplete: 'new-password' })}
      </div>
      <Role value={person.role} pick={(role) => form.change({ role })} />
      <Submit form={form}>Add them</Submit>
    </form>
  )
}
