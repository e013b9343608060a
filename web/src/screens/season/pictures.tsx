// A season as a picture: charge above, frost below, on one time axis; the day that matters is
// ringed once.
import type { Dates, SeasonPage, When } from '../../api/types'
import { dateOf, shortDate } from '../../parts/format'
import { around, lineBoxes, type Name, type Point, type Spot } from '../../parts/plot/place'
import { Band, Curved, Drop, Mark, Names, onArea, Plot, useArea, type Area } from '../../parts/plot/plot'

const dayOf = (date: string) => Date.parse(`${date}T00:00:00Z`) / 86_400_000
const dateAt = (day: number) => new Date(Math.round(day) * 86_400_000).toISOString().slice(0, 10)

/** The first of each month between two days. */
function monthStarts(from: number, to: number): number[] {
  const list: number[] = []
  const at = new Date(from * 86_400_000)
  at.setUTCDate(1)
  for (;;) {
    at.setUTCMonth(at.getUTCMonth() + 1)
    const day = at.getTime() / 86_400_000
    if (day > to) return list
    list.push(day)
  }
}

type Bad = { at: number; name: string }

type Worst = { when: When; code: 'freezes' | 'no_start' | 'below_12_4' }

/** The worst of what comes: ice before a morning it does not start, before 12.4 V. */
export function worstOf(dates: Dates): Worst | null {
  if (dates.freezes) return { when: dates.freezes, code: 'freezes' }
  if (dates.no_start) return { when: dates.no_start, code: 'no_start' }
  if (dates.below_12_4) return { when: dates.below_12_4, code: 'below_12_4' }
  return null
}

export function SeasonPictures({ page }: { page: SeasonPage }) {
  const { curve } = page.answer
  const first = curve[0]
  const last = curve.at(-1)
  if (!first || !last) return null
  const x = {
    from: dayOf(first.date),
    to: dayOf(last.date),
    name: '',
    at: monthStarts(dayOf(first.date), dayOf(last.date)),
    say: (v: number) => shortDate(dateAt(v)),
  }
  const worst = worstOf(page.answer.dates)
  const bad = worst && { at: dayOf(worst.when.date), name: dateOf(worst.when.date) }
  return (
    <div className="grid gap-1">
      <Charge page={page} x={x} bad={bad} />
      {page.answer.curve.some((p) => p.coldest_c < 5) && <Frost page={page} x={x} bad={bad} />}
    </div>
  )
}

type Axis = { from: number; to: number; name: string; at: number[]; say: (v: number) => string }

/** The charge of 12.4 V at rest, as the core has it. */
const charged = 69

function Charge({ page, x, bad }: { page: SeasonPage; x: Axis; bad: Bad | null }) {
  const { curve } = page.answer
  const at = (key: 'percent' | 'low' | 'high'): Point[] => curve.map((p) => [dayOf(p.date), p[key]])
  const starts: Point[] = curve.flatMap((p) =>
    p.starts_percent == null ? [] : [[dayOf(p.date), p.starts_percent] as const],
  )
  const today = dayOf(page.today)
  const read = page.forecast.charge
  const found = page.visits.flatMap((v): Point[] =>
    v.off && !v.mistaken ? [[dayOf(v.off.on), v.off.found.percent]] : [],
  )
  return (
    <Plot
      says={`Charge from ${dateOf(dateAt(x.from))} on, left as it is: ${Math.round(curve[0]?.percent ?? 0)} % at first, ${Math.round(curve.at(-1)?.percent ?? 0)} % at the end.`}
      x={x}
      y={{ from: 0, to: 100, name: 'charge, %', ticks: 4 }}
      height={19}
      reads={[{ name: 'charge', points: at('low'), upper: at('high') }]}
    >
      {(area) => (
        <>
          <Band lower={at('low')} upper={at('high')} />
          <Level at={charged} />
          {starts.length > 0 && <Curved points={starts} tone="lead" broken />}
          <Curved points={at('percent')} tone="verdigris" />
          {today > x.from && <Drop at={today} />}
          {bad && <Upright at={bad.at} />}
          {found.map((p) => (
            <Mark key={p[0]} at={p} />
          ))}
          {read && <Mark at={[x.from, read.percent]} error={(read.high - read.low) / 2} />}
          <Names
            list={namesOf(area, starts, today > x.from ? today : null, bad)}
            taken={[
              ...lineBoxes(onArea(at('percent'), area)),
              ...lineBoxes(onArea(starts, area)),
              ...[today, bad?.at].flatMap((day) => (day === undefined ? [] : lineBoxes(onArea(upright(day), area)))),
              ...found.map((p) => around([[area.x(p[0]), area.y(p[1])]], 9)),
              ...(read ? [around([[area.x(x.from), area.y(read.percent)]], 10)] : []),
            ]}
          />
        </>
      )}
    </Plot>
  )
}

function namesOf(area: Area, starts: Point[], today: number | null, bad: Bad | null): Name[] {
  const { x, y, rem, left, right, top } = area
  const end = (text: string, level: number): Name => ({
    text,
    spots: [
      { x: right - 4, y: y(level) - 6, anchor: 'end' },
      { x: right - 4, y: y(level) + 1.1 * rem, anchor: 'end' },
      { x: left + 6 * rem, y: y(level) - 6, anchor: 'start' },
    ],
  })
  const list: Name[] = []
  if (bad) {
    list.push({
      text: bad.name,
      tone: 'fill-oxide-text',
      spots: [
        { x: x(bad.at) + 6, y: top + 0.9 * rem, anchor: 'start' },
        { x: x(bad.at) - 6, y: top + 0.9 * rem, anchor: 'end' },
        { x: x(bad.at) + 6, y: top + 2.1 * rem, anchor: 'start' },
      ],
    })
  }
  list.push(end('12.4 V: charge it below this', charged))
  if (starts.length > 0) list.push({ text: 'starts its engine above this', spots: along(starts, area, -8) })
  if (today !== null) {
    list.push({
      text: 'today',
      spots: [1, -1].map((s) => ({
        x: x(today) + 6 * s,
        y: area.bottom - 8,
        anchor: s > 0 ? ('start' as const) : ('end' as const),
      })),
    })
  }
  return list
}

function Level({ at }: { at: number }) {
  const { y, left, right } = useArea()
  return <path d={`M${left} ${y(at)}H${right}`} className="stroke-ink" strokeWidth="1.5" strokeDasharray="1.5 5" />
}

function Upright({ at }: { at: number }) {
  const { x, top, bottom } = useArea()
  return <path d={`M${x(at)} ${top}V${bottom}`} className="stroke-oxide" strokeWidth="2" strokeDasharray="7 5" />
}

function Frost({ page, x, bad }: { page: SeasonPage; x: Axis; bad: Bad | null }) {
  const { curve } = page.answer
  const of = (key: 'freezes_c' | 'freezes_low_c' | 'freezes_high_c' | 'coldest_c'): Point[] =>
    curve.map((p) => [dayOf(p.date), Math.max(p[key], floor)])
  const floor = Math.min(...curve.map((p) => p.coldest_c)) - 20
  const low = Math.min(...curve.map((p) => Math.max(Math.min(p.freezes_c, p.coldest_c), floor)))
  const high = Math.max(10, ...curve.map((p) => Math.min(p.coldest_c, 10)))
  const nights = of('coldest_c').map(([a, b]): Point => [a, Math.min(b, high)])
  return (
    <Plot
      says={`The coldest nights against the freezing point of its acid${bad && page.answer.dates.freezes ? `: they meet about ${bad.name}` : ': they do not meet'}.`}
      x={x}
      y={{ from: low - 3, to: high, name: '°C', ticks: 5 }}
      height={15}
      reads={[
        { name: 'coldest night', points: nights },
        { name: 'it freezes at', points: of('freezes_c') },
      ]}
    >
      {(area) => (
        <>
          <Band lower={of('freezes_high_c')} upper={of('freezes_low_c')} danger />
          <Curved points={of('freezes_c')} tone="oxide" />
          <Curved points={nights} />
          {bad && <Upright at={bad.at} />}
          <Names
            list={[
              {
                text: 'the coldest night of the month',
                spots: along(nights, area, -8),
              },
              { text: 'it freezes here', tone: 'fill-oxide-text', spots: along(of('freezes_c'), area, 1.2 * area.rem) },
            ]}
            taken={[...lineBoxes(onArea(nights, area)), ...lineBoxes(onArea(of('freezes_c'), area))]}
          />
        </>
      )}
    </Plot>
  )
}

/** The points of an upright line. */
function upright(at: number): Point[] {
  return [0, 25, 50, 75, 100].map((level) => [at, level])
}

/** Places for a name along a line, above or below it; at its ends it lies within the picture. */
function along(points: Point[], { x, y }: Area, by: number): Spot[] {
  const at = (share: number, anchor: Spot['anchor'], away: number): Spot[] => {
    const p = points[Math.round(share * (points.length - 1))]
    return p ? [by, -by, 2 * by, -2 * by].map((dy) => ({ x: x(p[0]) + away, y: y(p[1]) + dy, anchor })) : []
  }
  return [
    ...[0.8, 0.7, 0.55, 0.85, 0.4, 0.25, 0.15].flatMap((share) => at(share, 'middle', 0)),
    ...at(0, 'start', 8),
    ...at(1, 'end', -8),
    ...[0.9, 0.6, 0.3].flatMap((share) => at(share, 'end', 0)),
  ]
}
