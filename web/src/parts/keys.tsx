// The keys, on "?": what each does on this screen.
import { Dialog } from 'radix-ui'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { Chip } from './ui/chips'
import { Sheet } from './ui/sheet'

const keys = [
  ['/', 'to the line at the bottom: a reading on a job, a search on Today'],
  ['Enter', 'keep the reading that stands there'],
  ['Up', 'bring back the last line typed'],
  ['Down', 'to what may come next; Enter takes it'],
  ['Esc', 'clear the line; once more leaves it'],
  ['1 to 8', 'a stage of the trail'],
  ['Right, Left', 'in an order of work: done, and back'],
  ['− and +', 'on Today: a week, a season; back to the day'],
  ['Y', 'the yard'],
  ['F', 'find what is here, or was'],
  ['B', 'bring it in'],
  ['T', 'Today'],
  ['S', 'the bench sums'],
  ['?', 'these keys'],
] as const

const place = 'grapnel-keys'

/** Whether single keys do anything: who dictates, or rests a hand on them, switches them
 * off. */
function keysOn(): boolean {
  try {
    return localStorage.getItem(place) !== 'off'
  } catch {
    return true
  }
}

function switchKeys(on: boolean) {
  try {
    localStorage.setItem(place, on ? 'on' : 'off')
  } catch {
    // A browser that keeps nothing has them on.
  }
}

/** True when a key press belongs to something that is being typed in, or single keys are
 * off. */
export function typing(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  return (
    !keysOn() ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    !!target?.closest('input, textarea, select, [contenteditable], [role="dialog"], [role="menu"]')
  )
}

/** Whether a form has been begun that would be left by a key; what stands in the address
 * is free to be left. */
function formBegun(): boolean {
  const typed = 'input:not([type=file], [type=checkbox], [type=radio], [type=hidden]), textarea'
  return [...document.querySelectorAll<HTMLInputElement>(`form:not([data-free]) :is(${typed})`)].some(
    (field) => field.value !== '',
  )
}

export function Keys() {
  const [open, setOpen] = useState(false)
  const [on, setOn] = useState(keysOn)
  const navigate = useNavigate()
  useEffect(() => {
    const show = () => setOpen(true)
    addEventListener('grapnel-keys', show)
    return () => removeEventListener('grapnel-keys', show)
  }, [])
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event)) return
      const actions: Record<string, () => void> = {
        '?': () => setOpen(true),
        b: () => void navigate('/bring-in'),
        t: () => void navigate('/'),
        y: () => void navigate('/yard'),
        s: () => void navigate('/sums'),
      }
      const action = actions[event.key]
      if (!action || (event.key !== '?' && formBegun())) return
      event.preventDefault()
      action()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [navigate])
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Sheet title="Keys">
        <dl className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2">
          {keys.map(([key, what]) => (
            <div key={key} className="contents">
              <dt>
                <kbd className="key">{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <div className="mt-4 flex flex-wrap items-center gap-3 border-t border-line pt-3">
          <Chip
            aria-pressed={on}
            onClick={() => {
              switchKeys(!on)
              setOn(!on)
            }}
          >
            Single keys {on ? 'are on' : 'are off'}
          </Chip>
          <p className="min-w-0 flex-1 text-small text-lead">
            Off for whoever dictates, or has a hand on the keys. Under the person’s menu they are switched on again.
          </p>
        </div>
      </Sheet>
    </Dialog.Root>
  )
}
