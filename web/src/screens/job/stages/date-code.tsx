// The date code as it is stamped: guesses of the core that a person confirms, or that it
// cannot be told.
import { useState } from 'react'
import { useSum } from '../../../api/bench'
import { ApiProblem } from '../../../api/client'
import type { BatteryOnJob } from '../../../api/types'
import { useAnswer, useRelabel } from '../../../delivery/use'
import { Trouble } from '../../../parts/trouble'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { TextField } from '../../../parts/ui/field'

const prefix = 'made_'

export function DateCode({ job, battery }: { job: string; battery: BatteryOnJob }) {
  const [code, setCode] = useState('')
  const relabel = useRelabel(job)
  const answer = useAnswer(job)
  const { made } = battery.label
  if (made) {
    return (
      <p>
        <span className="text-small text-lead">Made </span>
        <span className="num">{made}</span>
      </p>
    )
  }
  const confirm = (date: string) =>
    relabel.mutate({
      battery: battery.id,
      tag: battery.tag,
      maker: battery.maker,
      label: { ...battery.label, made: date },
    })
  return (
    <section aria-label="Date code">
      <h2 className="text-small font-bold text-lead">The date code, as it is stamped</h2>
      <div className="mt-1 flex flex-wrap items-center gap-1.5">
        <TextField
          className="w-[6.5rem]"
          label="Date code"
          quiet
          placeholder="C4"
          value={code}
          maxLength={12}
          autoCapitalize="characters"
          set={setCode}
        />
        {code.trim() !== '' && <Guesses code={code.trim()} confirm={confirm} />}
        <Chip onClick={() => answer.mutate({ battery: battery.id, code: 'look_date', value: 'not_needed' })}>
          cannot be told
        </Chip>
      </div>
      <Trouble error={relabel.error ?? answer.error} />
    </section>
  )
}

function Guesses({ code, confirm }: { code: string; confirm: (made: string) => void }) {
  const { data, error } = useSum('date_code', { date_code: code })
  if (error instanceof ApiProblem) {
    return <span className="text-small">Not a code of ours to read: {error.fields[0]?.allowed ?? error.message}</span>
  }
  const guesses = (data?.figures ?? []).filter((f) => f.code.startsWith(prefix))
  return guesses.map((g) => (
    <Button
      key={g.code}

      onClick={() => confirm(g.code.slice(prefix.length))}
    >
      {g.text}
    </Button>
  ))
}
