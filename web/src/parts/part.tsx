// A part of a screen that comes when it is opened. What cannot be fetched, or fails when
// it is drawn, takes nothing else of the screen with it.
import { Component, Suspense, type ReactNode } from 'react'
import { Button } from './ui/button'

type Props = { children: ReactNode }

/** While a part is on its way its place is kept, so that nothing below it moves under a
 * tap. */
export function Part({ children }: Props) {
  return (
    <Held>
      <Suspense fallback={<div aria-busy="true" className="min-h-[70vh]" />}>{children}</Suspense>
    </Held>
  )
}

class Held extends Component<Props, { error?: Error }> {
  state: { error?: Error } = {}

  static getDerivedStateFromError(error: Error) {
    return { error }
  }

  render() {
    const { error } = this.state
    if (!error) return this.props.children
    // What is not fetched now is asked for again when the page is opened anew only.
    const missing = /import|module|fetch|load/i.test(error.message)
    return (
      <div
        role="alert"
        className="m-auto grid max-w-md gap-3 rounded-part border-[1.5px] border-oxide bg-oxide-wash p-4"
      >
        <p>
          {missing
            ? 'This part is not on the device yet. It comes when the line is back.'
            : 'This part of the screen failed. What was kept is safe.'}
        </p>
        <Button weight="main" onClick={() => location.reload()}>
          Open it again
        </Button>
      </div>
    )
  }
}
