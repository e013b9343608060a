// The climate of the shop: a zone by its name, or figures of its own.
import { useState } from 'react'
import { useKeepClimate } from '../../api/standing'
import type { YardPage } from '../../api/types'
import { useWord } from '../../api/words'
import { figureOf } from '../../parts/format'
import { PlainForm } from '../../parts/ui/plain-form'
import { OneOf } from '../../parts/ui/chips'

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const own = 'own'

export function ClimateForm({ page, owner, done }: { page: YardPage; owner: boolean; done: () => void }) {
  const word = useWord()
  const keep = useKeepClimate()
  const { climate, zones } = page
  const [zone, setZone] = useState<string>(climate.own ? own : climate.zone || 'temperate')
  const figures = climate.own ?? zones.find((z) => z.code === (climate.zone || 'temperate'))
  const text = (list: number[] = []) => list.map(String)
  const [means, setMeans] = useState(text(figures?.monthly_c))
  const [nights, setNights] = useState(text(figures?.coldest_c))
  const pick = (code: string) => {
    setZone(code)
    const found = zones.find((z) => z.code === code)
    if (!found) return
    setMeans(text(found.monthly_c))
    setNights(text(found.coldest_c))
  }
  const numbers = (list: string[]) => list.map((t) => figureOf(t.replace('−', '-')) ?? NaN)
  const [m, n] = [numbers(means), numbers(nights)]
  const wrong = [...m, ...n].some(Number.isNaN) || n.some((night, i) => night > (m[i] ?? 0))
  const submit = () =>
    keep.mutate(
      zone === own ? { zone: '', own: { monthly_c: m, coldest_c: n } } : { zone: zone as (typeof climate)['zone'] },
      { onSuccess: done },
    )
  const change = (list: string[], set: (list: string[]) => void, i: number, to: string) => {
    set(list.map((old, at) => (at === i ? to : old)))
    setZone(own)
  }
  return (
    <PlainForm submit={submit} error={keep.error} pending={keep.isPending} wrong={!owner || wrong} button="Keep it">
      <OneOf
        name="Zone"
        value={zone}
        pick={pick}
        options={[
          ...zones.map((z) => ({ code: z.code, word: word(`zone_${z.code}`) })),
          { code: own, word: 'our own' },
        ]}
      />
      <table className="w-full border-collapse">
        <caption className="sr-only">Degrees by month</caption>
        <thead>
          <tr className="text-left text-small text-lead">
            <th scope="col" className="font-normal">
              Month
            </th>
            <th scope="col" className="font-normal">
              Mean, °C
            </th>
            <th scope="col" className="font-normal">
              Coldest night, °C
            </th>
          </tr>
        </thead>
        <tbody>
          {months.map((month, i) => (
            <tr key={month}>
              <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                {month}
              </th>
              <td className="py-0.5 pr-3">
                <input
                  className="field num"
                  inputMode="decimal"
                  aria-label={`Mean of ${month}`}
                  value={means[i] ?? ''}
                  onChange={(e) => change(means, setMeans, i, e.target.value)}
                />
              </td>
              <td className="py-0.5">
                <input
                  className="field num"
                  inputMode="decimal"
                  aria-label={`Coldest night of ${month}`}
                  value={nights[i] ?? ''}
                  onChange={(e) => change(nights, setNights, i, e.target.value)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {wrong && <p className="text-small text-oxide-text">Twelve figures each; no night is warmer than its mean.</p>}
      {!owner && <p className="text-small text-lead">The owner keeps the climate.</p>}
    </PlainForm>
  )
}
