// The search from any screen: what is in the shop, and what was here before.
import { Dialog } from 'radix-ui'
import { Search } from 'lucide-react'
import { lazy, Suspense, useEffect, useState } from 'react'
import { typing } from './keys'
import { Sheet } from './ui/sheet'

const FindLine = lazy(() => import('./find-line'))

export function Find() {
  const [open, setOpen] = useState(false)
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== 'f' || typing(event)) return
      event.preventDefault()
      setOpen(true)
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [])
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="grid size-11 place-items-center rounded-part" aria-label="Find" aria-keyshortcuts="f">
        <Search size={20} aria-hidden="true" />
      </Dialog.Trigger>
      <Sheet title="Find" about="What is in the shop, and what was here before: by plate, name or tag.">
        <Suspense fallback={<div className="h-72" />}>
          <FindLine done={() => setOpen(false)} />
        </Suspense>
      </Sheet>
    </Dialog.Root>
  )
}
