// Deeds of a page that may keep nothing: they live as long as it does.
import type { Deed } from './deeds'

export type Keeper = {
  /** Whether it outlives the page. */
  lasts: boolean
  /** Opens what somebody did here, while they are signed in still. */
  unlock: (person: string, still: () => boolean) => Promise<void>
  all: () => Promise<Deed[]>
  /** Keeps a deed behind all others, or anew in its place. */
  put: (deed: Deed) => Promise<Deed>
  drop: (deed: Deed) => Promise<void>
}

export function inMemory(): Keeper {
  let list: Deed[] = []
  let last = 0
  return {
    lasts: false,
    unlock: () => Promise.resolve(),
    all: () => Promise.resolve(list),
    put: (deed) => {
      const kept = { ...deed, order: deed.order ?? ++last }
      list = [...list.filter((d) => d.order !== kept.order), kept]
      return Promise.resolve(kept)
    },
    drop: (deed) => {
      list = list.filter((d) => d.order !== deed.order)
      return Promise.resolve()
    },
  }
}
