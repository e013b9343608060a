import { useEffect, useRef, useState } from 'react'
import { CornerDownLeft, Grid3x3 } from 'lucide-react'
import { useCompletions } from '../../../api/bench'
import type { Completions, Preview } from '../../../api/types'
import { ApiProblem, wordsFor } from '../../../api/client'
import { useWord } from '../../../api/words'
import { typing } from '../../../parts/keys'
import { Meters } from './meter'
import type { ReadingLine } from './use-reading-line'

type Props = {
  line: ReadingLine
  preview: Preview | undefined
  error: unknown
  keep: () => void
  keeping: boolean
  /** The line is down: what is typed cannot be echoed and is kept on the device. */
  down: boolean
  last: string
  keypad?: { open: boolean; toggle: () => void }
}

/** The reading line: always at the bottom, "/" reaches it, Enter keeps. */
export function LineBar({ line, preview, error, keep, keeping, down, last, keypad }: Props) {
  const { text, owner, gap, begun } = line
  const input = useRef<HTMLInputElement>(null)
  // The line Enter was pressed on: an error in it is said aloud, not one in a line begun since.
  const [pressed, setPressed] = useState<string>()
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key === '/' && !typing(event)) {
        event.preventDefault()
        input.current?.focus()
      }
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [])

  // A button that begins a line leaves the rest to be typed: behind it, or in the
  // gap it left for the figure.
  useEffect(() => {
    if (owner !== 'button' || gap === undefined) return
    input.current?.focus()
    input.current?.setSelectionRange(gap, gap)
  }, [owner, gap, begun])
  const completions = useCompletions(text)
  const next = useRef<HTMLDivElement>(null)

  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter') {
      setPressed(text)
      keep()
    } else if (event.key === 'ArrowUp' && last !== '') {
      event.preventDefault()
      line.type(last)
    } else if (event.key === 'ArrowDown' && next.current) {
      event.preventDefault()
      next.current.querySelector('button')?.focus()
    } else if (event.key === 'Escape') {
      if (text === '') input.current?.blur()
      line.clear()
    }
  }
  return (
    <div className="no-print shrink-0 border-t-[1.5px] border-ink bg-paper px-4 pt-2 pb-2.5 md:px-5">
      {/* Under a keypad there is no room for a hint. */}
      <div
        className={`mb-1 min-h-line ${keypad?.open && text.trim() === '' ? 'max-lg:hidden' : ''}`}
        aria-live="polite"
        id="understood"
      >
        <Understood line={text} preview={preview} error={error} loud={pressed === text} take={line.type} />
      </div>
      {text.trim() !== '' && completions.data && (
        <Next
          list={next}
          line={text}
          completions={completions.data}
          take={line.type}
          back={() => input.current?.focus()}
        />
      )}
      <Meters put={line.put} />
      <div className="flex items-center gap-2 rounded-part border-[1.5px] border-ink bg-sheet px-3 has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-focus">
        <kbd className="key" aria-hidden="true">
          /
        </kbd>
        <input
          ref={input}
          // A line that a link brought along is at hand at once.
          autoFocus={text !== ''}
          value={text}
          // The key that leads here is no part of a reading.
          onChange={(e) => line.type(e.target.value.replace(/^\//, ''))}
          onKeyDown={onKey}
          aria-label="Reading line"
          aria-describedby="understood"
          aria-keyshortcuts="/"
          autoComplete="off"
          autoCapitalize="off"
          spellCheck={false}
          enterKeyHint="done"
          // Our own keypad stands there instead.
          inputMode={keypad?.open ? 'none' : undefined}
          maxLength={500}
          placeholder="12.41 v 18c rested 2h"
          className="num min-h-target min-w-0 flex-1 bg-transparent text-sign outline-none placeholder:text-lead placeholder:opacity-70"
        />
        {keypad && (
          <button
            type="button"
            aria-pressed={keypad.open}
            onClick={keypad.toggle}
            className="grid size-target place-items-center lg:hidden"
            aria-label={keypad.open ? 'Put the keypad away' : 'Keypad'}
          >
            <Grid3x3 size={22} />
          </button>
        )}
        <button
          type="button"
          className="flex min-h-target items-center gap-1.5 px-1 text-small text-lead"
          onClick={keep}
          disabled={!preview && !down}
        >
          <span className={keeping ? '' : 'max-sm:sr-only'}>{keeping ? 'keeping' : 'Enter keeps it'}</span>
          <CornerDownLeft size={16} aria-hidden="true" />
        </button>
      </div>
    </div>
  )
}

/** How many continuations are offered; the rest is found by typing on. */
const mostOffered = 14

type NextProps = {
  list: React.RefObject<HTMLDivElement | null>
  line: string
  completions: Completions
  take: (line: string) => void
  back: () => void
}

/** What may come next, each taken by a tap, or by Down, the arrows and Enter. */
function Next({ list, line, completions, take, back }: NextProps) {
  const offered = completions.list.slice(0, mostOffered)
  if (offered.length === 0) return null
  const onKey = (event: React.KeyboardEvent) => {
    const at = event.target as HTMLElement
    const to = { ArrowRight: at.nextElementSibling, ArrowLeft: at.previousElementSibling }[event.key]
    if (to) (to as HTMLElement).focus()
    if (event.key === 'ArrowUp' || event.key === 'Escape') back()
    if (event.key.startsWith('Arrow')) event.preventDefault()
  }
  return (
    <div
      ref={list}
      role="toolbar"
      aria-label="What may come next"
      className="relative -mx-1 mb-1.5 flex gap-1.5 overflow-x-auto px-1 py-1"
      onKeyDown={onKey}
    >
      {offered.map((c) => (
        <button
          key={c.insert}
          type="button"
          title={`${c.says}, as in ${c.example}`}
          className="flex min-h-target shrink-0 items-baseline gap-2 rounded-part border-[1.5px] border-line bg-sheet px-2.5 py-1.5 max-lg:min-h-target max-lg:items-center"
          onClick={() => {
            take(`${upTo(line, completions.from)}${c.insert} `)
            back()
          }}
        >
          <span className="num">{c.insert}</span>
          <span className="text-small text-lead max-sm:sr-only">{c.says}</span>
        </button>
      ))}
    </div>
  )
}

/** The line up to a byte of its UTF-8 form, which is how the core counts. */
function upTo(line: string, byte: number): string {
  return new TextDecoder().decode(new TextEncoder().encode(line).slice(0, byte))
}

/** The line from a byte on; from its end where the whole is meant. */
function from(line: string, byte: number): string {
  return byte === 0 ? '' : new TextDecoder().decode(new TextEncoder().encode(line).slice(byte))
}

type UnderstoodProps = {
  line: string
  preview: Preview | undefined
  error: unknown
  loud: boolean
  take: (line: string) => void
}

/** What was understood, word by word: solid for said, marigold for assumed. */
function Understood({ line, preview, error, loud, take }: UnderstoodProps) {
  const word = useWord()
  if (line.trim() === '') {
    return <p className="text-small text-lead">Type a reading as it is called out; it is echoed here first.</p>
  }
  const missing = error instanceof ApiProblem ? error.fields.filter((f) => f.code === 'problem.missing') : []
  if (error && !loud && missing.length > 0 && error instanceof ApiProblem && missing.length === error.fields.length) {
    return <p className="text-small text-lead">Still needed: {missing.map((f) => word(f.field)).join(', ')}.</p>
  }
  if (error) {
    const fields = error instanceof ApiProblem ? error.fields : []
    return (
      <p className={`text-small ${loud ? 'font-bold text-oxide-text' : 'text-lead'}`} role={loud ? 'alert' : undefined}>
        {wordsFor(error)}
        {fields.flatMap((f) =>
          f.suggest.map((s) => (
            <button
              key={s}
              type="button"
              className="ml-2 min-h-target rounded-part border-[1.5px] border-ink px-2 text-ink"
              onClick={() => take(`${upTo(line, f.start)}${s}${from(line, f.end)}`)}
            >
              take {s}
            </button>
          )),
        )}
      </p>
    )
  }
  if (!preview) return null
  const refusal = preview.refusals[0]
  if (refusal) {
    return (
      <p className="text-small font-bold text-oxide-text" role={loud ? 'alert' : undefined}>
        {refusal.reason.text} {refusal.clears.text}
      </p>
    )
  }
  return (
    <p className="flex flex-wrap gap-x-2.5 gap-y-1 text-small">
      <span className="text-lead">Understood:</span>
      {preview.understood.map((u) => (
        <span
          key={`${u.start}${u.field}`}
          className={`border-b-2 ${u.assumed ? 'border-marigold' : 'border-verdigris'}`}
        >
          {u.text.text}
        </span>
      ))}
      {preview.assumed.map((s) => (
        <span key={s.code} className="border-b-2 border-marigold">
          {s.text}
        </span>
      ))}
      <span className="text-lead">
        {preview.findings.every((f) => f.valid) ? '' : 'will be kept, marked: proves nothing yet'}
      </span>
    </p>
  )
}
