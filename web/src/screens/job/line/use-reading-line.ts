// The reading line as it stands: its text, where the next figure goes, and whose text it
// is. Whatever writes into the line does it through here.
import { useCallback, useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { useDraft } from '../../../parts/draft'

/** Whose text stands there: typed by hand, begun by a button, or put together by the keypad
 * of figures. */
export type Owner = 'hand' | 'button' | 'keypad'

export type ReadingLine = {
  text: string
  owner: Owner
  /** The gap that was left for a figure, or where the last one was typed; undefined where
   * the line has none. */
  gap: number | undefined
  /** How often a line was begun here: each time the hand goes to its gap. */
  begun: number
  /** Begins a line, by a button: the rest is typed into its gap. */
  begin: (text: string) => void
  /** The text as it is typed by hand; at is where the next figure goes. */
  type: (text: string, at?: number) => void
  /** The text as the keypad of figures put it together. */
  compose: (text: string) => void
  /** Puts a figure where it belongs, with what names the instrument behind it. */
  put: (figure: string) => void
  /** Clears what was kept; what was begun meanwhile stays. */
  clear: (kept?: string) => void
}

type Written = { text: string; owner: Owner; at?: number; begun: number }

/** The line of a battery. It outlives a reload; one that a link brought along comes before
 * what was begun. */
export function useReadingLine(battery: string): ReadingLine {
  const brought = useSearchParams()[0].get('line') ?? ''
  const [text, setText] = useDraft(brought ? `line ${battery} ${brought}` : `line ${battery}`, brought)
  const [of, setOf] = useState<Written>({ text: '', owner: 'button', begun: 0 })
  // Text that nobody wrote here was begun before: by a link, or before a reload.
  const owner = of.text === text ? of.owner : 'button'
  const gap = of.text === text && of.at !== undefined ? of.at : gapIn(text)
  const write = useCallback(
    (next: string, by: Owner, at?: number) => {
      setOf((last) => ({ text: next, owner: by, at, begun: by === 'button' ? last.begun + 1 : last.begun }))
      setText(next)
    },
    [setText],
  )
  return useMemo(
    () => ({
      text,
      owner,
      gap,
      begun: of.begun,
      begin: (next) => write(next, 'button'),
      type: (next, at) => write(next, 'hand', at),
      compose: (next) => write(next, 'keypad'),
      put: (figure) => write(placed(text, gap, figure), 'button'),
      clear: (kept) => setText((now) => (kept === undefined || now === kept ? '' : now)),
    }),
    [text, owner, gap, of.begun, write, setText],
  )
}

/** Where a line that was begun leaves a gap for a figure: in front, within, or behind. */
function gapIn(text: string): number | undefined {
  if (text.startsWith(' ')) return 0
  if (text.endsWith(' ')) return text.length
  const within = text.indexOf('  ')
  return within < 0 ? undefined : within + 1
}

/** The text with an instrument's figure in its gap, else at its end, and once with the
 * instrument's name. */
function placed(text: string, gap: number | undefined, figure: string): string {
  const [value = '', ...by] = figure.split(' ')
  const tail = by.join(' ')
  const [head, rest] = gap === undefined ? [text, ''] : [text.slice(0, gap), text.slice(gap)]
  const whole = [head.trimEnd(), value, rest.trimStart()].filter(Boolean).join(' ')
  return tail === '' || whole.includes(` ${tail}`) ? whole : `${whole} ${tail}`
}
