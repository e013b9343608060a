// Light or dark: what the person chose, else what the device asks for.
type Theme = 'light' | 'dark'
const place = 'grapnel-theme'

export function currentTheme(): Theme {
  const chosen = localStorage.getItem(place)
  if (chosen === 'light' || chosen === 'dark') return chosen
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function setTheme(theme: Theme) {
  localStorage.setItem(place, theme)
  document.documentElement.dataset.theme = theme
}
