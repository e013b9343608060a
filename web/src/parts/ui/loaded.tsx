// What a query brings: nothing yet, what went wrong with a way on, nothing at all in
// words, or what there is.
import type { ReactNode } from 'react'
import { Trouble } from '../trouble'
import { Button } from './button'

type Asked<T> = { data: T | undefined; error: unknown; refetch: () => unknown }

type Props<T> = {
  query: Asked<T>
  /** It is the whole screen, not a part of one. */
  whole?: boolean
  /** What is said where there is nothing. */
  empty?: ReactNode
  children: (data: NonNullable<T>) => ReactNode
}

export function Loaded<T>({ query: { data, error, refetch }, whole, empty, children }: Props<T>) {
  // What was there stays, whatever becomes of it in the background.
  if (data !== undefined && data !== null) {
    const none = Array.isArray(data) && data.length === 0
    return none && empty !== undefined ? <p className="text-lead">{empty}</p> : children(data)
  }
  const Box = whole ? 'main' : 'div'
  if (error) {
    return (
      <Box className="m-auto grid max-w-md gap-3 p-6 text-center">
        <Trouble error={error} />
        <Button weight="main" onClick={() => void refetch()}>
          Try again
        </Button>
      </Box>
    )
  }
  return <Box aria-busy="true" className={whole ? 'flex-1' : 'min-h-[40vh]'} />
}
