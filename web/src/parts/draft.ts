// What is being typed survives a reload of the page, in this tab, until it is kept or
// given up.
import { useCallback, useEffect, useRef, useState } from 'react'

const place = 'grapnel-draft:'

function read<T>(name: string): T | undefined {
  if (name === '') return undefined
  try {
    const kept = sessionStorage.getItem(place + name)
    return kept === null ? undefined : (JSON.parse(kept) as T)
  } catch {
    return undefined
  }
}

function write(name: string, value: unknown) {
  if (name === '') return
  try {
    if (value === undefined) sessionStorage.removeItem(place + name)
    else sessionStorage.setItem(place + name, JSON.stringify(value))
  } catch {
    // A browser that keeps nothing has it on the screen all the same.
  }
}

/** A state that is kept under a name, unless that is empty, as for a password; the third of
 * what it gives forgets it. */
export function useDraft<T>(name: string, start: T | (() => T)) {
  const [value, set] = useState<T>(() => read<T>(name) ?? begun(start))
  const change = useCallback(
    (next: T | ((now: T) => T)) =>
      set((now) => {
        const changed = next instanceof Function ? next(now) : next
        write(name, changed === '' ? undefined : changed)
        return changed
      }),
    [name],
  )
  const forget = useCallback(() => write(name, undefined), [name])
  return [value, change, forget] as const
}

function begun<T>(start: T | (() => T)): T {
  return start instanceof Function ? start() : start
}

/** Forgets what one person began before another comes. */
export function forgetDrafts() {
  try {
    Object.keys(sessionStorage)
      .filter((key) => key.startsWith(place))
      .forEach((key) => sessionStorage.removeItem(key))
  } catch {
    // Nothing was kept.
  }
}

/** A form that is put away by the person has nothing begun; one that is gone with its
 * page has. */
export function useForgotten(forget: () => void) {
  const held = useRef(forget)
  useEffect(() => () => held.current(), [])
}
