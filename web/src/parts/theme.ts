// Light or dark: what the person chose, else what the device asks for.
import { useSyncExternalStore } from 'react'

type Theme = 'light' | 'dark'
const place = 'grapnel-theme'

export function currentTheme(): Theme {
  const chosen = kept()
  if (chosen === 'light' || chosen === 'dark') return chosen
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

function kept(): string | null {
  try {
    return localStorage.getItem(place)
  } catch {
    return null
  }
}

export function setTheme(theme: Theme) {
  try {
    localStorage.setItem(place, theme)
  } catch {
    // A browser that keeps nothing has it for this page.
  }
  document.documentElement.dataset.theme = theme
  watchers.forEach((tell) => tell())
}

const watchers = new Set<() => void>()

function watch(tell: () => void) {
  watchers.add(tell)
  return () => void watchers.delete(tell)
}

/** The theme that is shown, wherever it is turned. */
export function useTheme(): Theme {
  return useSyncExternalStore(watch, currentTheme)
}
