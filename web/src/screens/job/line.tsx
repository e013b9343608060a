import { useEffect, useRef, useState } from 'react'
import { CornerDownLeft, Grid3x3 } from 'lucide-react'
import type { Preview } from '../../api/types'
import { wordsFor } from '../../api/client'
import { typing } from '../../parts/keys'

type Props = {
  line: string
  setLine: (line: string) => void
  preview: Preview | undefined
  error: unknown
  keep: () => void
  keeping: 'no' | 'yes' | 'again'
  last: string
  keypad?: { open: boolean; toggle: () => void }
}

/** The reading line: always at the bottom, "/" reaches it, Enter keeps. */
export function ReadingLine({ line, setLine, preview, error, keep, keeping, last, keypad }: Props) {
  const input = useRef<HTMLInputElement>(null)
  const [pressed, setPressed] = useState(false)
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

  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter') {
      setPressed(true)
      keep()
    } else if (event.key === 'ArrowUp' && last !== '') {
      event.preventDefault()
      setLine(last)
    } else if (event.key === 'Escape') {
      if (line === '') input.current?.blur()
      setLine('')
    }
  }
  return (
    <div className="no-print shrink-0 border-t-[1.5px] border-ink bg-paper px-4 pt-2 pb-2.5 md:px-5">
      <div className="min-h-[30px]" aria-live="polite" id="understood">
        <Understood line={line} preview={preview} error={error} loud={pressed} take={setLine} />
      </div>
      <div className="flex items-center gap-2 rounded-part border-[1.5px] border-ink bg-sheet px-3 has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-focus">
        <kbd className="key" aria-hidden="true">
          /
        </kbd>
        <input
          ref={input}
          value={line}
          onChange={(e) => {
            setPressed(false)
            // The key that leads here is no part of a reading.
            setLine(e.target.value.replace(/^\//, ''))
          }}
          onKeyDown={onKey}
          aria-label="Reading line"
          aria-describedby="understood"
          aria-keyshortcuts="/"
          autoComplete="off"
          autoCapitalize="off"
          spellCheck={false}
          enterKeyHint="done"
          maxLength={500}
          placeholder="12.41 v 18c rested 2h"
          className="num h-[44px] min-w-0 flex-1 bg-transparent text-[1.1rem] outline-none placeholder:text-lead placeholder:opacity-70"
        />
        {keypad && (
          <button
            type="button"
            aria-pressed={keypad.open}
            onClick={keypad.toggle}
            className="grid size-[48px] place-items-center lg:hidden"
            aria-label={keypad.open ? 'Put the keypad away' : 'Keypad'}
          >
            <Grid3x3 size={22} />
          </button>
        )}
        <button
          type="button"
          className="flex min-h-[44px] items-center gap-1.5 px-1 text-small text-lead"
          onClick={keep}
          disabled={!preview || keeping !== 'no'}
        >
          <span className={keeping === 'no' ? 'max-sm:sr-only' : ''}>
            {keeping === 'again' ? 'line is down, trying again' : keeping === 'yes' ? 'keeping' : 'Enter keeps it'}
          </span>
          <CornerDownLeft size={16} aria-hidden="true" />
        </button>
      </div>
    </div>
  )
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
  if (line.trim() === '') {
    return (
      <p className="text-small text-lead">Type a reading as it is called out. It is shown here before it is kept.</p>
    )
  }
  if (error) {
    const suggest =
      error instanceof Error && 'fields' in error ? (error as { fields: { suggest: string[] }[] }).fields : []
    return (
      <p className={`text-small ${loud ? 'font-bold text-oxide-text' : 'text-lead'}`} role={loud ? 'alert' : undefined}>
        {wordsFor(error)}
        {suggest
          .flatMap((f) => f.suggest)
          .map((s) => (
            <button
              key={s}
              type="button"
              className="ml-2 rounded-part border-[1.5px] border-ink px-2 text-ink"
              onClick={() => take(s)}
            >
              take {s}
            </button>
          ))}
      </p>
    )
  }
  if (!preview) return null
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
      <span className="text-lead">{preview.finding.valid ? '' : 'will be kept, marked: proves nothing yet'}</span>
    </p>
  )
}
