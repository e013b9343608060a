// What a query brings: nothing yet, what went wrong with a way on, nothing at all in
// words, or what there is.
import type { UseQueryResult } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Button } from './button'
import { Trouble } from '../trouble'

type Props<T> = {
  query: UseQueryResult<T>
  /** What is said where there is nothing. */
  empty?: ReactNode
  children: (data: NonNullable<T>) => ReactNode
}

export function Loaded<T>({ query, empty, children }: Props<T>) {
  const { data, error, refetch } = query
  // What was there stays, whatever becomes of it in the background.
  if (data !== undefined && data !== null) {
    const none = Array.isArray(data) && data.length === 0
    return none && empty !== undefined ? <p className="text-lead">{empty}</p> : children(data)
  }
  if (error) {
    return (
      <div className="grid max-w-md gap-3 justify-self-center p-6">
        <Trouble error={error} />
        <Button weight="main" onClick={() => void refetch()}>
          Try again
        </Button>
      </div>
    )
  }
  return <div aria-busy="true" className="min-h-[40vh]" />
}
