// The visits as a calendar: a file once, or an address that a program asks again and again.
import { useState } from 'react'
import { wordsFor } from '../../api/client'
import { useHello } from '../../api/session'
import { useFeeds, useMakeFeed, useWithdrawFeed } from '../../api/standing'
import { day } from '../../parts/format'
import { Button } from '../../parts/ui/button'
import { TextField } from '../../parts/ui/field'
import { Loaded } from '../../parts/ui/loaded'

export function CalendarForm() {
  const feeds = useFeeds()
  const make = useMakeFeed()
  const withdraw = useWithdrawFeed()
  const [name, setName] = useState('')
  const { data: hello } = useHello()
  const address = make.data && `${location.origin}${make.data.path}`
  return (
    <div className="grid gap-4">
      <Button asChild className="justify-self-start">
        <a href="/api/calendar.ics" download="grapnel.ics">
          Take it as a file
        </a>
      </Button>
      <form
        data-free
        className="grid gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          make.mutate(name.trim(), { onSuccess: () => setName('') })
        }}
      >
        <TextField
          label="Subscribe: for whom or what"
          placeholder="Edda’s phone"
          hint="Whoever has the address sees what stands and when it is due, and no customer. It is shown once, here."
          value={name}
          set={setName}
          maxLength={60}
        />
        <Button type="submit" className="justify-self-start" disabled={make.isPending || name.trim() === ''}>
          Make an address
        </Button>
        {make.error && (
          <p role="alert" className="text-oxide-text">
            {wordsFor(make.error)}
          </p>
        )}
      </form>
      {address && (
        <div className="grid gap-1 rounded-part border-[1.5px] border-verdigris bg-verdigris-wash p-3">
          <p>Give this to the program, now: it is not shown again.</p>
          <output aria-label="Secret address" className="num text-small break-all select-all">
            {address}
          </output>
        </div>
      )}
      <Loaded query={feeds} empty="Nobody has subscribed yet.">
        {(list) => (
          <ul aria-label="Addresses" className="divide-y divide-line">
            {list.map((f) => (
              <li key={f.id} className="flex flex-wrap items-center gap-3 py-2">
                <span className="flex-1">
                  <b>{f.name}</b>
                  <span className="block text-small text-lead">
                    made {day(f.created_at, hello?.shop?.time_zone)} by {f.by}
                    {f.rests && ', who is switched off: it does not answer'}
                  </span>
                </span>
                <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate(f.id)}>
                  Withdraw {f.name}
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Loaded>
      {withdraw.error && <p className="text-oxide-text">{wordsFor(withdraw.error)}</p>}
    </div>
  )
}
