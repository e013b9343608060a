// Times and figures as people of the shop read them.
// A no-break space between a figure and its unit, as the core prints it.
export const thin = '\u00a0'

/** What a clock of a zone that shows so stands for, as an ISO time: text as a date picker
 * gives it, such as 2026-11-24T17:00. */
export function fromZone(text: string, zone?: string): string {
  const read = Date.parse(`${text}Z`)
  if (!zone) return new Date(text).toISOString()
  const ahead = (at: number) => Date.parse(`${new Date(at).toLocaleString('sv', { timeZone: zone })}Z`) - at
  // The clock may change between the guess and what it stands for.
  return new Date(read - ahead(read - ahead(read))).toISOString()
}

export function clock(iso: string, zone?: string): string {
  return new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: zone })
}

export function day(iso: string, zone?: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: zone })
}

export function dayAndClock(iso: string, zone?: string): string {
  return new Date(iso).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone: zone,
  })
}

export function weekdayAndClock(iso: string, zone?: string): string {
  return new Date(iso).toLocaleString('en-GB', { weekday: 'short', hour: '2-digit', minute: '2-digit', timeZone: zone })
}

/** How long ago, or until, in the largest unit that reads well. */
export function span(milliseconds: number): string {
  const minutes = Math.round(Math.abs(milliseconds) / 60000)
  if (minutes < 60) return `${minutes}${thin}min`
  if (minutes < 48 * 60) {
    const rest = minutes % 60
    return `${Math.floor(minutes / 60)}${thin}h${rest ? ` ${rest}${thin}min` : ''}`
  }
  return `${Math.round(minutes / 1440)} days`
}

export function volts(v: number): string {
  return `${v.toFixed(2)}${thin}V`
}

export function percent(p: number): string {
  return `${Math.round(p * 100)}`
}

/** A word as a line begins with it. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** Whether what is looked for stands in any of some texts; blanks and capitals do not count. */
export function fits(query: string, ...texts: string[]): boolean {
  const plain = (text: string) => text.toLowerCase().replaceAll(' ', '')
  return texts.some((text) => plain(text).includes(plain(query)))
}

/** A time as one of today's clock, of another day with its name, or with its date where the
 * name would say several days. */
export function when(iso: string, now: string, zone?: string): string {
  const date = (at: string) => new Date(at).toLocaleDateString('sv', { timeZone: zone })
  if (date(iso) === date(now)) return clock(iso, zone)
  const days = Math.abs(Date.parse(date(now)) - Date.parse(date(iso))) / 86_400_000
  return days < 7 ? weekdayAndClock(iso, zone) : dayAndClock(iso, zone)
}

/** A time as one says it now. */
export const whenNow = (iso: string, zone?: string) => when(iso, new Date().toISOString(), zone)

/** A figure as it was typed, with a comma or a point; nothing for nothing. */
export const figureOf = (text: string) => (text.trim() === '' ? undefined : Number(text.replace(',', '.')))

const long = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', timeZone: 'UTC' })
const short = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })

/** A date as it is said, 24 January. */
export function dateOf(date: string): string {
  return long.format(Date.parse(`${date}T12:00:00Z`))
}

/** The same where there is little room, 24 Jan. */
export function shortDate(date: string): string {
  return short.format(Date.parse(`${date}T12:00:00Z`))
}

const inZones = new Map<string, Intl.DateTimeFormat>()

/** The same of a time, on the day that it is in a zone. */
export function shortDay(iso: string, zone = 'UTC'): string {
  const known = inZones.get(zone)
  const form = known ?? new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: zone })
  if (!known) inZones.set(zone, form)
  return form.format(Date.parse(iso))
}
