// What is pressed: one button of four weights, at a link's place as well.
import { Slot } from 'radix-ui'
import type { ComponentProps } from 'react'

/** main: what the screen is for; outline: what stands beside it; plain: everything else;
 * bare: an icon in a row of its own. */
export type Weight = 'main' | 'outline' | 'plain' | 'bare'

type Props = ComponentProps<'button'> & {
  weight?: Weight
  /** The look goes to the one child, such as a link. */
  asChild?: boolean
}

const looks: Record<Weight, string> = {
  main: 'btn btn-main',
  outline: 'btn btn-outline',
  plain: 'btn',
  bare: 'btn-bare',
}

export function Button({ weight = 'plain', asChild, className = '', type = 'button', ...rest }: Props) {
  const look = `${looks[weight]} ${className}`
  if (asChild) return <Slot.Root className={look} {...rest} />
  return <button type={type} className={look} {...rest} />
}
