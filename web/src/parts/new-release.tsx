// A build of another release is at the server: said once, and taken when the person is
// ready for it, or with the next page they open.
import { RefreshCw } from 'lucide-react'
import { useEffect, useRef, useSyncExternalStore } from 'react'
import { useLocation } from 'react-router'
import { outOfDate, takeNewRelease, watchRelease } from '../api/release'
import { Button } from './ui/button'

export function NewRelease() {
  const other = useSyncExternalStore(watchRelease, outOfDate)
  // A job is one place, whatever of it is looked at.
  const pathname = useLocation().pathname.split('/').slice(0, 3).join('/')
  const at = useRef(pathname)
  useEffect(() => {
    if (other && at.current !== pathname) void takeNewRelease()
    at.current = pathname
  }, [other, pathname])
  if (!other) return null
  return (
    <div role="status" className="no-print flex flex-wrap items-center gap-3 bg-marigold-wash px-4 py-2 text-ink">
      <p className="min-w-0 flex-1">
        A new release of Grapnel is here. What you have typed and done stays; until it is taken, what you keep waits on
        this device.
      </p>
      <Button weight="outline" onClick={() => void takeNewRelease()}>
        <RefreshCw size={18} aria-hidden="true" />
        Go on with it
      </Button>
    </div>
  )
}
