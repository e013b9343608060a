// Who works here; the owner adds people.
import { useQueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { client, take } from '../../api/client'
import { useHello, usePeople } from '../../api/session'
import type { Person } from '../../api/types'
import { Shell } from '../../parts/shell'
import { OneOf } from '../../parts/ui/chips'
import { TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { Loaded } from '../../parts/ui/loaded'
import { type Column, Table } from '../../parts/ui/table'
import { useToast } from '../../parts/ui/toast'

const roles = ['technician', 'counter', 'owner'] as const

const columns: Column<Person>[] = [
  { name: 'Name', of: (p) => <b>{p.name}</b> },
  { name: 'Signs in as', of: (p) => <span className="num">{p.sign_in}</span> },
  { name: 'Role', of: (p) => p.role },
]

export function PeopleScreen() {
  const { data: hello } = useHello()
  const people = usePeople()
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-3xl gap-5 px-4 py-5 md:px-6">
        <h1 className="text-head font-bold">People of the shop</h1>
        <Loaded query={people}>
          {(list) => <Table caption="People of the shop" columns={columns} rows={list} id={(p) => p.id} />}
        </Loaded>
        {hello?.person?.role === 'owner' ? <AddPerson /> : <p className="text-lead">The owner adds people.</p>}
      </main>
    </Shell>
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
      <OneOf
        name="Role"
        options={roles.map((r) => ({ code: r, word: r }))}
        value={person.role}
        pick={(role) => form.change({ role })}
      />
      <Submit form={form}>Add them</Submit>
    </form>
  )
}
