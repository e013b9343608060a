import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { type SetUpBody, useSetUp, useSignIn } from '../../api/session'
import type { Hello } from '../../api/types'
import { Mark } from '../../parts/glyph'
import { Sheet } from '../../parts/ui/sheet'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { TextField } from '../../parts/ui/field'

function Frame({ title, about, children }: { title: string; about: string; children: React.ReactNode }) {
  return (
    <main className="mx-auto grid min-h-dvh w-full max-w-md content-center gap-4 p-5">
      <div className="flex items-center gap-3">
        <Mark size={44} />
        <div>
          <h1 className="text-head font-bold">{title}</h1>
          <p className="text-lead">{about}</p>
        </div>
      </div>
      {children}
    </main>
  )
}

type FieldProps = {
  label: string
  value: string
  set: (text: string) => void
  type?: string
  auto?: string
  focus?: boolean
}

function Field({ label, value, set, type = 'text', auto = 'off', focus = false }: FieldProps) {
  return (
    <TextField
      label={label}
      type={type}
      value={value}
      set={set}
      autoComplete={auto}
      autoFocus={focus}
      autoCapitalize="off"
      required
    />
  )
}

/** The session has ended in mid-work: what is open stays as it is behind this. */
export function SignInAgain({ hello, name }: { hello: Hello; name: string }) {
  return (
    <Dialog.Root open>
      <Sheet
        title="Sign in to go on"
        about={`The session of ${name} has ended. What was typed is still there, and what was done waits on this device.`}
        stays
      >
        <SignInForm hello={hello} />
      </Sheet>
    </Dialog.Root>
  )
}

export function SignInScreen({ hello }: { hello: Hello }) {
  return (
    <Frame title="Grapnel" about="The verdict holds.">
      <SignInForm hello={hello} />
    </Frame>
  )
}

function SignInForm({ hello }: { hello: Hello }) {
  const [signInName, setSignInName] = useState('')
  const [password, setPassword] = useState('')
  const signIn = useSignIn()
  return (
    <>
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          signIn.mutate({ sign_in: signInName, password })
        }}
      >
        <Field label="Sign in as" value={signInName} set={setSignInName} auto="username" focus />
        <Field label="Password" value={password} set={setPassword} type="password" auto="current-password" />
        <Trouble error={signIn.error} />
        <Button type="submit" weight="main" disabled={signIn.isPending}>
          Sign in
        </Button>
      </form>
      {hello.demo.length > 0 && (
        <section className="border-t border-line pt-3" aria-label="Demo workshop">
          <p className="text-small text-lead">This is the demo workshop. Everyone in it is invented. Come in as</p>
          <div className="mt-2 flex flex-wrap gap-2">
            {hello.demo.map((p) => (
              <Button
                key={p.sign_in}

                onClick={() => signIn.mutate({ sign_in: p.sign_in, password: p.password })}
              >
                {p.name}, {p.role}
              </Button>
            ))}
          </div>
        </section>
      )}
    </>
  )
}

export function SetUpScreen() {
  const setUp = useSetUp()
  const [form, setForm] = useState<SetUpBody>({
    code: '',
    shop_name: '',
    time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
    name: '',
    sign_in: '',
    password: '',
  })
  const field = (key: keyof SetUpBody, label: string, type?: string, auto?: string) => (
    <Field label={label} value={form[key]} set={(text) => setForm({ ...form, [key]: text })} type={type} auto={auto} />
  )
  return (
    <Frame title="Set the shop up" about="Once, with the code printed in the terminal.">
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          setUp.mutate(form)
        }}
      >
        {field('code', 'Code from the terminal')}
        {field('shop_name', 'Name of the shop')}
        {field('time_zone', 'Time zone')}
        {field('name', 'Your name, as the owner')}
        {field('sign_in', 'Sign in as', 'text', 'username')}
        {field('password', 'Password, 10 characters or more', 'password', 'new-password')}
        <Trouble error={setUp.error} />
        <Button type="submit" weight="main" disabled={setUp.isPending}>
          Open the shop
        </Button>
      </form>
    </Frame>
  )
}
