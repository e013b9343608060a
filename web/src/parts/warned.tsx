// What the owner has to see to, in the bar of every screen: a backup that is late rings.
import { TriangleAlert } from 'lucide-react'
import { useEffect } from 'react'
import { NavLink } from 'react-router'
import { useHello } from '../api/session'
import { ring } from './ring'

const short: Record<string, string> = {
  backup_failed: 'Backup failed',
  backup_late: 'Backup late',
  plain_http: 'Plain HTTP',
  certificate: 'Certificate ends',
  disk: 'Disk nearly full',
  disk_full: 'Disk full',
}

/** How often a late backup rings, in milliseconds. */
const ringEvery = 60 * 60_000

export function Warned() {
  const { data } = useHello()
  // What the device kept of an earlier release says nothing of it.
  const list = data && 'warnings' in data ? data.warnings : []
  const [first] = list
  const late = list.some((w) => w.code.startsWith('backup_'))
  useEffect(() => {
    if (!late) return
    ring()
    const timer = setInterval(ring, ringEvery)
    return () => clearInterval(timer)
  }, [late])
  if (!first) return null
  return (
    <NavLink
      to="/server"
      className="flex min-h-11 items-center gap-1.5 rounded-part bg-marigold-wash px-2 text-small text-ink"
      title={list.map((w) => w.text).join('\n')}
    >
      <TriangleAlert size={16} aria-hidden="true" />
      <span className="max-lg:sr-only">{short[first.code] ?? 'To see to'}</span>
      {list.length > 1 && <span className="num">{list.length}</span>}
      <span className="sr-only">{list.map((w) => w.text).join(' ')}</span>
    </NavLink>
  )
}
