// Who works here; the owner adds people.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { client, take } from '../../api/client'
import { useHello, usePeople } from '../../api/session'
import { Chips, Text } from '../../parts/controls'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'

const roles = ['technician', 'counter', 'owner'] as const

export function PeopleScreen() {
  const { data: hello } = useHello()
  const { data: people } = usePeople()
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-3xl gap-5 px-4 py-5 md:px-6">
        <h1 className="text-head font-bold">People of the shop</h1>
        <ul className="divide-y divide-line border-y border-line">
          {(people ?? []).map((p) => (
            <li key={p.id} className="flex gap-4 py-2">
              <span className="flex-1 font-bold">{p.name}</span>
              <span className="num">{p.sign_in}</span>
              <span className="w-24 text-lead">{p.role}</span>
            </li>
          ))}
        </ul>
        {hello?.person?.role === 'owner' ? <AddPerson /> : <p className="text-lead">The owner adds people.</p>}
      </main>
    </Shell>
  )
}

const empty = { name: '', sign_in: '', password: '', role: 'technician' }

function AddPerson() {
  const cache = useQueryClient()
  const [form, setForm] = useState({ ...empty, id: uuid() })
  const add = useMutation({
    mutationFn: () => take(client.POST('/people', { body: form })),
    onSuccess: () => {
      setForm({ ...empty, id: uuid() })
      return cache.invalidateQueries({ queryKey: ['people'] })
    },
  })
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        add.mutate()
      }}
    >
      <h2 className="font-bold">Someone new</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        <Text label="Name" value={form.name} set={(name) => setForm({ ...form, name })} />
        <Text label="Signs in as" value={form.sign_in} set={(sign_in) => setForm({ ...form, sign_in })} />
        <label className="grid gap-1 text-small">
          First password, 10 characters or more
          <input
            className="field"
            type="password"
            autoComplete="new-password"
            value={form.password}
            onChange={(e) => setForm({ ...form, password: e.target.value })}
          />
        </label>
      </div>
      <Chips
        name="Role"
        options={roles.map((r) => [r, r])}
        value={form.role}
        pick={(role) => setForm({ ...form, role })}
      />
      <Trouble error={add.error} />
      <Button type="submit" weight="main" className="justify-self-start" disabled={add.isPending}>
        Add them
      </Button>
    </form>
  )
}
