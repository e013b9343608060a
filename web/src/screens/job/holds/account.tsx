// What a verdict answers to whoever asks: what would turn it, where the schools
// of practice disagree on this case, and the paragraph for the customer.
import { useState } from 'react'
import { useAccount } from '../../../api/jobs'
import type { Account, JobPage } from '../../../api/types'
import { Button } from '../../../parts/ui/button'

/** The nearest change of one reading, and the schools that differ on this case. */
export function TurnsAndSchools({ page, battery }: { page: JobPage; battery: string }) {
  const { data } = useAccount(page, battery, true)
  if (!data) return null
  return (
    <>
      <List title="The nearest change of one reading" texts={data.turns.map((t) => t.text.text).slice(0, 3)} />
      <List title="Where the schools disagree on it" texts={data.schools.map((s) => s.text)} />
    </>
  )
}

function List({ title, texts }: { title: string; texts: string[] }) {
  if (texts.length === 0) return null
  return (
    <div className="border-t border-line pt-3">
      <h3 className="mb-1 text-small font-bold text-lead">{title}</h3>
      <ul className="list-disc space-y-1 pl-5">
        {texts.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
    </div>
  )
}

export function paragraph(account: Account): string {
  return account.answer.map((s) => s.text).join(' ')
}

/** The customer's question with its answer, to be read out or copied. */
export function ForCustomer({ page, battery }: { page: JobPage; battery: string }) {
  const { data } = useAccount(page, battery, true)
  const [copied, setCopied] = useState(false)
  if (!data) return null
  const copy = () =>
    navigator.clipboard.writeText(`${data.question.text} ${paragraph(data)}`).then(
      () => setCopied(true),
      () => setCopied(false),
    )
  return (
    <section aria-label="For the customer" className="grid gap-2 rounded-card border border-line bg-paper p-4">
      <h2 className="font-bold">{data.question.text}</h2>
      <p className="text-sign leading-relaxed">{paragraph(data)}</p>
      {'clipboard' in navigator && (
        <div className="no-print">
          <Button onClick={() => void copy()}>{copied ? 'Copied' : 'Copy it'}</Button>
        </div>
      )}
    </section>
  )
}
