// One's own account: the password, the second step, where one is signed in.
import { useState } from 'react'
import { client, take } from '../../api/client'
import { useBeginSecond, useConfirmSecond, useDropSecond, useEndMine, useHello, useMySessions } from '../../api/session'
import type { Session } from '../../api/types'
import { useQueryClient } from '@tanstack/react-query'
import { dayAndClock } from '../../parts/format'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { TextField } from '../../parts/ui/field'
import { Submit, useForm } from '../../parts/ui/form'
import { Loaded } from '../../parts/ui/loaded'
import { PlainForm } from '../../parts/ui/plain-form'
import { useToast } from '../../parts/ui/toast'

export function AccountScreen() {
  const { data: hello } = useHello()
  const person = hello?.person
  if (!person) return null
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-3xl gap-7 px-4 py-5 md:px-6">
        <div>
          <h1 className="text-head font-bold">{person.name}</h1>
          <p className="text-lead">
            Signs in as <span className="num">{person.sign_in}</span>, {person.role} of {hello.shop?.name}
          </p>
        </div>
        <Sessions zone={hello.shop?.time_zone} />
        <Password />
        <SecondStep on={person.second_step} />
      </main>
    </Shell>
  )
}

function Sessions({ zone }: { zone?: string }) {
  const sessions = useMySessions()
  const end = useEndMine()
  return (
    <section className="grid gap-2" aria-label="Where I am signed in">
      <h2 className="font-bold">Where I am signed in</h2>
      <Loaded query={sessions}>
        {(list) => (
          <>
            <ul className="divide-y divide-line border-y border-line">
              {list.map((s) => (
                <One key={s.id} session={s} zone={zone} busy={end.isPending} end={() => end.mutate(s.id)} />
              ))}
            </ul>
            {list.length > 1 && (
              <Button className="justify-self-start" disabled={end.isPending} onClick={() => end.mutate(null)}>
                Sign out everywhere but here
              </Button>
            )}
          </>
        )}
      </Loaded>
      <Trouble error={end.error} />
      <p className="text-small text-lead">
        A device that is not used for 12 hours is signed out by itself, any device after 14 days.
      </p>
    </section>
  )
}

type OneProps = { session: Session; zone?: string; busy: boolean; end: () => void }

function One({ session, zone, busy, end }: OneProps) {
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
      <div className="min-w-0 flex-1">
        <p className="font-bold">
          {session.device || 'A program'}
          {session.current && <span className="ml-2 font-normal text-verdigris-text">this one</span>}
        </p>
        <p className="text-small text-lead">
          from <span className="num">{session.address}</span>, since {dayAndClock(session.begun_at, zone)}, used last{' '}
          {dayAndClock(session.seen_at, zone)}
        </p>
      </div>
      {!session.current && (
        <Button disabled={busy} onClick={end}>
          Sign out there
        </Button>
      )}
    </li>
  )
}

const nothing = () => ({ had: '', password: '' })

function Password() {
  const say = useToast()
  const cache = useQueryClient()
  const form = useForm({
    draft: '',
    start: nothing,
    schema: 'PasswordInputBody',
    body: (said) => said,
    send: (body) => take(client.POST('/me/password', { body })),
    sent: () => {
      say('The password is changed. Every other device is signed out.')
      form.reset(nothing())
      void cache.invalidateQueries({ queryKey: ['my sessions'] })
    },
  })
  const text = (name: 'had' | 'password', label: string, auto: string) => (
    <TextField
      label={label}
      type="password"
      autoComplete={auto}
      value={form.values[name]}
      set={(value) => form.change({ [name]: value })}
      wrong={form.wrong(name)}
    />
  )
  return (
    <form className="grid gap-3" onSubmit={form.submit} noValidate>
      <h2 className="font-bold">Another password</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        {text('had', 'The password as it is', 'current-password')}
        {text('password', 'The new one, 10 characters or more', 'new-password')}
      </div>
      <Submit form={form}>Change it</Submit>
    </form>
  )
}

/** A second step at signing in: begun, shown to the phone, confirmed, written down. */
function SecondStep({ on }: { on: boolean }) {
  const begin = useBeginSecond()
  const confirm = useConfirmSecond()
  const drop = useDropSecond()
  const cache = useQueryClient()
  const say = useToast()
  const [code, setCode] = useState('')
  const [had, setHad] = useState('')
  const settled = () => {
    begin.reset()
    confirm.reset()
    setCode('')
    void cache.invalidateQueries({ queryKey: ['hello'] })
  }
  return (
    <section className="grid gap-3" aria-label="Second step">
      <h2 className="font-bold">Second step</h2>
      <p className="text-lead">
        {on || confirm.data
          ? 'Signing in asks for a code of your phone besides the password.'
          : 'Off. With it a stolen password alone opens nothing: signing in also asks for a code that your phone makes by itself, without the line.'}
      </p>
      {confirm.data && (
        <div role="status" className="grid gap-2 rounded-part bg-verdigris-wash px-3 py-2">
          <p>
            It is on. Write these down or print them: each opens once in place of a lost phone. They are shown this
            once.
          </p>
          <ul className="num grid grid-cols-2 gap-x-6 sm:grid-cols-3">
            {confirm.data.codes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <div className="flex gap-2">
            <Button onClick={() => print()}>Print</Button>
            <Button onClick={settled}>I have them</Button>
          </div>
        </div>
      )}
      {!on && !begin.data && (
        <Button
          weight="outline"
          className="justify-self-start"
          disabled={begin.isPending}
          onClick={() => begin.mutate()}
        >
          Switch it on
        </Button>
      )}
      {!on && begin.data && !confirm.data && (
        <div className="grid gap-4 sm:grid-cols-[auto_1fr]">
          <svg
            viewBox={`0 0 ${begin.data.side} ${begin.data.side}`}
            className="size-44 rounded-part border border-line"
            role="img"
            aria-label="Code for the phone"
          >
            {/* A camera wants it dark on light in either theme. */}
            <rect width="100%" height="100%" fill="#fff" />
            <path d={begin.data.path} fill="#000" />
          </svg>
          <PlainForm
            submit={() => confirm.mutate(code.replaceAll(' ', ''))}
            error={confirm.error}
            pending={confirm.isPending}
            wrong={code.trim() === ''}
            button="It shows this"
          >
            <p>
              Let an authenticator on the phone look at the picture, or type{' '}
              <span className="num break-all select-all">{begin.data.secret}</span> into it. Then give the six figures
              it shows.
            </p>
            <TextField
              label="Code on the phone"
              numeric
              autoComplete="one-time-code"
              maxLength={12}
              value={code}
              set={setCode}
              className="max-w-40"
            />
          </PlainForm>
        </div>
      )}
      {on && (
        <PlainForm
          submit={() =>
            drop.mutate(had, {
              onSuccess: () => {
                setHad('')
                say('The second step is off.')
              },
            })
          }
          error={drop.error}
          pending={drop.isPending}
          wrong={had === ''}
          button="Switch it off"
        >
          <TextField
            label="My password, to switch it off"
            type="password"
            autoComplete="current-password"
            value={had}
            set={setHad}
            className="max-w-80"
          />
        </PlainForm>
      )}
      <Trouble error={begin.error} />
    </section>
  )
}
