// A count-down in figures: what is left, and how long ago it was over.

/** 0:09, 23:41, 1:05:00; over, how long ago with a plus. */
export function countdown(seconds: number): string {
  const s = Math.abs(seconds < 0 ? Math.floor(-seconds) : Math.ceil(seconds))
  const two = (n: number) => String(n).padStart(2, '0')
  const text =
    s >= 3600
      ? `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`
      : `${Math.floor(s / 60)}:${two(s % 60)}`
  return seconds < 0 ? `+${text}` : text
}

export function CountDown({ seconds, className = '' }: { seconds: number; className?: string }) {
  return <span className={`num ${seconds <= 0 ? 'text-oxide-text' : ''} ${className}`}>{countdown(seconds)}</span>
}
