import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { ApiProblem } from '../../api/client'
import { type SetUpBody, useResetCode, useSetUp, useSignIn } from '../../api/session'
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
        covers
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
  const [withCode, setWithCode] = useState(false)
  return (
    <>
      {withCode ? (
        <CodeForm name={signInName} setName={setSignInName} />
      ) : (
        <PasswordForm name={signInName} setName={setSignInName} />
      )}
      <button
        type="button"
        className="min-h-target justify-self-start text-small underline"
        onClick={() => setWithCode(!withCode)}
      >
        {withCode ? 'I know my password' : 'I have a code'}
      </button>
      {hello.demo.length > 0 && <DemoPeople people={hello.demo} />}
    </>
  )
}

type NameProps = { name: string; setName: (name: string) => void }

function PasswordForm({ name, setName }: NameProps) {
  const [password, setPassword] = useState('')
  const [second, setSecond] = useState('')
  const signIn = useSignIn()
  const asked = signIn.error instanceof ApiProblem && signIn.error.fields.some((f) => f.field === 'second')
  // Once it was asked for it stays, whatever the next answer says.
  const [stays, setStays] = useState(false)
  if (asked && !stays) setStays(true)
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        signIn.mutate({ sign_in: name, password, second: second.trim() || undefined })
      }}
    >
      <Field label="Sign in as" value={name} set={setName} auto="username" focus />
      <Field label="Password" value={password} set={setPassword} type="password" auto="current-password" />
      {stays && (
        <Field
          label="Code of the phone, or a recovery code"
          value={second}
          set={setSecond}
          auto="one-time-code"
          focus
        />
      )}
      <Trouble error={signIn.error} />
      <Button type="submit" weight="main" disabled={signIn.isPending}>
        Sign in
      </Button>
    </form>
  )
}

/** Sets another password with a code that the owner, or the machine, handed out. */
function CodeForm({ name, setName }: NameProps) {
  const [code, setCode] = useState('')
  const [password, setPassword] = useState('')
  const reset = useResetCode()
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        reset.mutate({ sign_in: name, code, password })
      }}
    >
      <p className="text-small text-lead">
        The owner makes a code under People; without an owner it is made at the machine: grapnel reset-password NAME.
      </p>
      <Field label="Sign in as" value={name} set={setName} auto="username" focus />
      <Field label="Code" value={code} set={setCode} />
      <Field
        label="New password, 10 characters or more"
        value={password}
        set={setPassword}
        type="password"
        auto="new-password"
      />
      <Trouble error={reset.error} />
      <Button type="submit" weight="main" disabled={reset.isPending}>
        Set it and sign in
      </Button>
    </form>
  )
}

function DemoPeople({ people }: { people: Hello['demo'] }) {
  const signIn = useSignIn()
  return (
    <section className="border-t border-line pt-3" aria-label="Demo workshop">
      <p className="text-small text-lead">This is the demo workshop. Everyone in it is invented. Come in as</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {people.map((p) => (
          <Button key={p.sign_in} onClick={() => signIn.mutate({ sign_in: p.sign_in, password: p.password })}>
            {p.name}, {p.role}
          </Button>
        ))}
      </div>
      <Trouble error={signIn.error} />
    </section>
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
