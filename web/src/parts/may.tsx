// What is offered to those only who may do it: the table of rights is the server's.
import type { ReactNode } from 'react'
import { useMay } from '../api/session'
import type { Operation } from '../api/types'

type Props = {
  do: Operation
  /** What stands there for whoever may not. */
  else?: ReactNode
  children: ReactNode
}

export function May({ do: operation, else: otherwise = null, children }: Props) {
  return <>{useMay(operation) ? children : otherwise}</>
}
