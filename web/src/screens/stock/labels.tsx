// Labels to stick on the batteries of the stock, printed from here: the tag large, what is on
// the maker's label, when it was made and charged, and the code of the tag.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { client, take } from '../../api/client'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { Loaded } from '../../parts/ui/loaded'

export function LabelsScreen() {
  const [left, setLeft] = useState<string[]>([])
  const query = useQuery({
    queryKey: ['stock', 'labels'],
    refetchOnMount: 'always',
    queryFn: async ({ signal }) => await take(client.GET('/stock/labels', { signal })),
  })
  const toggle = (id: string) => setLeft((now) => (now.includes(id) ? now.filter((x) => x !== id) : [...now, id]))
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-5xl content-start gap-4 px-4 py-4 md:px-6 print:p-0">
        <div className="no-print flex flex-wrap items-center gap-3">
          <h1 className="text-head font-bold">Labels to stick on</h1>
          <Button weight="main" onClick={() => print()}>
            Print
          </Button>
          <Link className="underline" to="/stock">
            To the stock
          </Link>
          <p className="w-full text-small text-lead">Untick what has its label already.</p>
        </div>
        <Loaded query={query} empty="Nothing is in stock.">
          {(labels) => (
            <ul className="grid gap-3 sm:grid-cols-2 print:grid-cols-2 print:gap-2">
              {labels.map((l) => (
                <li
                  key={l.battery_id}
                  className={`grid grid-cols-[1fr_6.5rem] gap-3 rounded-card border border-ink bg-sheet p-3 break-inside-avoid ${left.includes(l.battery_id) ? 'no-print opacity-60' : ''}`}
                >
                  <div className="min-w-0">
                    <label className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        className="no-print size-5 accent-ink"
                        checked={!left.includes(l.battery_id)}
                        onChange={() => toggle(l.battery_id)}
                        aria-label={`Print ${l.tag}`}
                      />
                      <b className="num text-head">{l.tag}</b>
                    </label>
                    <p>{[l.maker, l.size].filter(Boolean).join(', ')}</p>
                    <p>{l.text}</p>
                    <p className="text-small">
                      {l.made && `made ${l.made}, `}charged {l.charged_on || '__________'}
                    </p>
                  </div>
                  <svg
                    viewBox={`0 0 ${l.side} ${l.side}`}
                    className="w-full bg-white"
                    role="img"
                    aria-label={`QR code of ${l.tag}`}
                  >
                    <rect width={l.side} height={l.side} fill="#fff" />
                    <path d={l.path} fill="#000" />
                  </svg>
                </li>
              ))}
            </ul>
          )}
        </Loaded>
      </main>
    </Shell>
  )
}
