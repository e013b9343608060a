// How its maker wants a battery charged that nothing is planned for: what was written down,
// and where it is written.
import { useMakerCharge, useSetMakerCharge } from '../api/charging'
import type { MakerCharge as Said } from '../api/types'
import { figureOf, thin } from './format'
import { FormDialog } from './form-dialog'
import { Tiles } from './charge'
import { Loaded } from './ui/loaded'
import { TextField } from './ui/field'
import { Submit, useForm } from './ui/form'

type Props = { battery: string }

export function MakerCharge({ battery }: Props) {
  const query = useMakerCharge(battery)
  return <Loaded query={query}>{(said) => <Shown battery={battery} said={said} />}</Loaded>
}

function Shown({ battery, said }: Props & { said: Said }) {
  const known = said.volts !== null || said.amps !== null || said.charger !== ''
  const figure = (x: number | null, unit: string) => (x === null ? 'not written down' : `${x}${thin}${unit}`)
  return (
    <section aria-label="By its maker" className="grid gap-2">
      {known ? (
        <Tiles
          className="grid-cols-1 sm:grid-cols-3"
          tiles={[
            ['Maker’s volts', figure(said.volts, 'V')],
            ['Maker’s amperes', figure(said.amps, 'A')],
            ['Maker’s charger', said.charger || 'not written down'],
          ]}
        />
      ) : (
        <p className="text-lead">What its maker says of volts, amperes and charger is not written down yet.</p>
      )}
      <div>
        <FormDialog
          trigger={known ? 'Change what its maker says' : 'Write down what its maker says'}
          title="Charging by its maker"
          about="From the label or the maker’s instructions. Nothing is worked out from it; it is there for whoever connects the charger."
          form={(done) => <Write battery={battery} said={said} done={done} />}
        />
      </div>
    </section>
  )
}

function Write({ battery, said, done }: Props & { said: Said; done: () => void }) {
  const set = useSetMakerCharge(battery)
  const form = useForm({
    draft: `maker ${battery}`,
    start: () => ({ volts: said.volts?.toString() ?? '', amps: said.amps?.toString() ?? '', charger: said.charger }),
    schema: 'MakerInputBody',
    body: ({ volts, amps, charger }) => ({ volts: figureOf(volts), amps: figureOf(amps), charger }),
    send: (body) => set.mutateAsync(body),
    sent: done,
  })
  const { values, change, wrong } = form
  return (
    <form onSubmit={form.submit} className="grid gap-3" noValidate>
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Volts"
          numeric
          unit="V"
          value={values.volts}
          set={(volts) => change({ volts })}
          wrong={wrong('volts')}
        />
        <TextField
          label="Amperes"
          numeric
          unit="A"
          value={values.amps}
          set={(amps) => change({ amps })}
          wrong={wrong('amps')}
        />
      </div>
      <TextField
        label="Charger"
        value={values.charger}
        set={(charger) => change({ charger })}
        wrong={wrong('charger')}
      />
      <Submit form={form}>Keep it</Submit>
    </form>
  )
}
