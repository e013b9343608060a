// Light or dark: what the person chose, else what the device asks for.
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
}
