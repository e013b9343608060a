// The bench: every sum of the trade by itself, without a job. The address holds
// the inputs, so that a link keeps them.
import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useSums } from '../../api/bench'
import type { BenchPage } from '../../api/types'
import { Shell } from '../../parts/shell'
import { Loaded } from '../../parts/ui/loaded'
import { Card } from './card'
import { TextField } from '../../parts/ui/field'

export function SumsScreen() {
  const { sum } = useParams()
  const query = useSums()
  return (
    <Shell>
      <Loaded query={query} whole>
        {(bench) => <Bench bench={bench} open={sum} />}
      </Loaded>
    </Shell>
  )
}

function Bench({ bench, open }: { bench: BenchPage; open?: string }) {
  const [params] = useSearchParams()
  const [search, setSearch] = useState('')
  const card = bench.cards.find((c) => c.id === open)
  const wanted = search.trim().toLowerCase()
  const found = bench.cards.filter((c) => wanted === '' || `${c.title} ${c.formula}`.toLowerCase().includes(wanted))
  return (
    <div className="flex flex-1 flex-col lg:flex-row">
      <nav
        aria-label="Sums"
        className={`shrink-0 border-line px-4 py-4 lg:w-[270px] lg:border-r ${card ? 'max-lg:hidden' : 'lg:hidden'}`}
      >
        {!card && <h1 className="mb-2 text-head font-bold">Bench sums</h1>}
        <Search search={search} setSearch={setSearch} />
        {found.length === 0 && <p className="pt-3 text-lead">No sum is called that.</p>}
        <div>
          {bench.groups.map((g) => (
            <Group
              key={g.code}
              word={g.word}
              cards={found.filter((c) => c.group === g.code)}
              open={open}
              params={params}
            />
          ))}
        </div>
      </nav>
      <main className={`min-w-0 flex-1 bg-sheet px-4 py-4 md:px-6 ${card ? '' : 'max-lg:hidden'}`}>
        {card ? (
          <Card key={card.id} card={card} />
        ) : (
          <>
            <div className="mb-4 flex flex-wrap items-end gap-x-8 gap-y-2 max-lg:hidden">
              <div>
                <h1 className="text-head font-bold">Bench sums</h1>
                <p className="text-lead">
                  Every sum of the trade, worked out as you type, with where its figures are from.
                </p>
              </div>
              <div className="ml-auto w-72">
                <Search search={search} setSearch={setSearch} />
              </div>
            </div>
            <div className="grid gap-x-8 gap-y-5 max-lg:hidden lg:grid-cols-2 xl:grid-cols-3">
              {bench.groups.map((g) => (
                <Overview key={g.code} word={g.word} cards={found.filter((c) => c.group === g.code)} params={params} />
              ))}
            </div>
          </>
        )}
      </main>
    </div>
  )
}

function Search({ search, setSearch }: { search: string; setSearch: (text: string) => void }) {
  return (
    <TextField
      label="Search the sums"
      quiet
      type="search"
      placeholder="search: fuse, freeze, cable …"
      value={search}
      set={setSearch}
    />
  )
}

type GroupProps = { word: string; cards: BenchPage['cards']; params: URLSearchParams; open?: string }

function address(id: string, params: URLSearchParams): string {
  const kept = params.toString()
  return `/sums/${id}${kept ? `?${kept}` : ''}`
}

function Group({ word, cards, open, params }: GroupProps) {
  if (cards.length === 0) return null
  return (
    <section className="pt-4">
      <h2 className="text-small font-bold text-lead">{word}</h2>
      <ul>
        {cards.map((c) => (
          <li key={c.id}>
            <Link
              to={address(c.id, params)}
              aria-current={c.id === open ? 'page' : undefined}
              className={`flex min-h-target items-center border-b border-line lg:min-h-bar lg:border-0 ${c.id === open ? 'font-bold underline decoration-marigold decoration-[3px] underline-offset-4' : ''}`}
            >
              {c.title}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Overview({ word, cards, params }: GroupProps) {
  if (cards.length === 0) return null
  return (
    <section>
      <h2 className="mb-1 text-small font-bold text-lead">{word}</h2>
      <ul className="border-t border-line">
        {cards.map((c) => (
          <li key={c.id} className="border-b border-line">
            <Link to={address(c.id, params)} className="block rounded-part px-2 py-2 hover:bg-paper">
              <span className="font-bold">{c.title}</span>
              <span className="line-clamp-2 text-small text-lead">{c.formula}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
