// A word or two beside what has none of its own.
import { Tooltip } from 'radix-ui'
import type { ReactNode } from 'react'

export function Tip({ says, children }: { says: string; children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={400}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={6}
            className="z-50 max-w-xs rounded-part border-[1.5px] border-ink bg-sheet px-2.5 py-1 text-small text-ink"
          >
            {says}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  )
}
