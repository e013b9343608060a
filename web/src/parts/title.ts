// The title of the window: what rings first, then where one is.
import { useEffect } from 'react'

let [place, ringing] = ['', '']

function write() {
  document.title = [ringing, place, 'Grapnel'].filter(Boolean).join(' · ')
}

/** Names where one is; nothing where another names it. */
export function useTitle(name?: string) {
  useEffect(() => {
    if (name === undefined) return
    place = name
    write()
    return () => {
      place = ''
      write()
    }
  }, [name])
}

/** Says what rings, in front of all; empty for nothing. */
export function sayRinging(text: string) {
  ringing = text
  write()
}
