// A form of few fields that is sent whole: what the server has against it stands above its
// button, and what was typed stays.
import type { ReactNode } from 'react'
import { wordsFor } from '../../api/client'
import { Button } from './button'

type Props = {
  submit: () => void
  /** What the server said against it. */
  error?: unknown
  /** It is on its way. */
  pending: boolean
  /** Something on it cannot be sent. */
  wrong?: boolean
  /** What the button says. */
  button: string
  children: ReactNode
}

export function PlainForm({ submit, error, pending, wrong = false, button, children }: Props) {
  return (
    <form
      data-free
      className="grid gap-4"
      onSubmit={(e) => {
        e.preventDefault()
        submit()
      }}
    >
      {children}
      {error != null && (
        <p role="alert" className="text-oxide-text">
          {wordsFor(error)}
        </p>
      )}
      <Button type="submit" weight="main" className="justify-self-start" disabled={pending || wrong}>
        {button}
      </Button>
    </form>
  )
}
