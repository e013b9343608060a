// What is found as it is typed: jobs in the shop, known batteries, and the way to bring in
// what is not known.
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useToday, useVehicles } from '../api/jobs'
import { useWord } from '../api/words'
import { fits } from './format'
import { Combobox } from './ui/combobox'

type Hit = { id: string; href: string; title: string; says: string }

export default function FindLine({ done }: { done: () => void }) {
  const [query, setQuery] = useState('')
  const navigate = useNavigate()
  const hits = useHits(query)
  return (
    <div className="min-h-72">
      <Combobox
        label="Plate, name or tag"
        value={query}
        set={setQuery}
        items={hits}
        id={(hit) => hit.id}
        say={(hit) => `${hit.title}, ${hit.says}`}
        show={(hit) => (
          <span>
            <b>{hit.title}</b>
            <span className="block text-small text-lead">{hit.says}</span>
          </span>
        )}
        take={(hit) => {
          done()
          void navigate(hit.href)
        }}
        focus
        eager
      />
    </div>
  )
}

const mostShown = 8

function useHits(query: string): Hit[] {
  const word = useWord()
  const { data: today } = useToday()
  const { data: vehicles } = useVehicles(query)
  const typed = query.trim()
  if (typed === '') return []
  const jobs = [...(today?.open ?? []), ...(today?.closed ?? [])]
    .filter((row) => fits(typed, row.plate, row.customer_name, row.description))
    .map((row) => ({
      id: row.job.id,
      href: `/jobs/${row.job.id}`,
      title: row.plate || row.description,
      says: [row.job.state === 'open' ? row.job.place || 'in the shop' : 'handed back', word(row.action)].join(', '),
    }))
  const known = (vehicles ?? []).flatMap((v) =>
    v.batteries.map((b) => ({
      id: b.id,
      href: `/batteries/${b.id}`,
      title: v.plate || v.description,
      says: [v.customer_name, 'the battery and what was read of it'].filter(Boolean).join(', '),
    })),
  )
  const bring = {
    id: 'bring in',
    href: `/bring-in?plate=${encodeURIComponent(typed)}`,
    title: `Bring in ${typed}`,
    says: 'a new job',
  }
  return [...[...jobs, ...known].slice(0, mostShown), bring]
}
