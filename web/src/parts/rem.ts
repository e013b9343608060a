// The size of the text, which a person may set at any time: what is drawn follows it.
import { useSyncExternalStore } from 'react'

const read = () => parseFloat(getComputedStyle(document.documentElement).fontSize) || 16

const watchers = new Set<() => void>()
let ruler: ResizeObserver | undefined

/** Measures an element that is as wide as the text is high; nobody sees it. */
function watch(tell: () => void) {
  watchers.add(tell)
  if (!ruler) {
    const one = document.createElement('span')
    one.className = 'pointer-events-none invisible fixed size-[1rem]'
    one.setAttribute('aria-hidden', 'true')
    document.body.append(one)
    ruler = new ResizeObserver(() => watchers.forEach((each) => each()))
    ruler.observe(one)
  }
  return () => void watchers.delete(tell)
}

/** Pixels of one rem. */
export function useRem(): number {
  return useSyncExternalStore(watch, read)
}
