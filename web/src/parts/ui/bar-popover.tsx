// What opens from the bar on top: a list under its button.
import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'

type Props = { name: string; look: string; button: ReactNode; children: ReactNode }

export function BarPopover({ name, look, button, children }: Props) {
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`relative flex min-h-bar min-w-0 items-center gap-1.5 rounded-pill border-[1.5px] border-bar-ink px-2 sm:gap-2 sm:px-3 ${look}`}
      >
        {button}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label={name}
          className="z-20 max-h-[80dvh] w-[min(420px,94vw)] overflow-y-auto rounded-part border-[1.5px] border-ink bg-sheet p-2.5 text-ink"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
