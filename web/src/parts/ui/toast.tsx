// What was done, said once and gone by itself: for what changes nothing on the screen.
import { Toast } from 'radix-ui'
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react'

type Said = { id: number; text: string }

const Say = createContext<(text: string) => void>(() => undefined)

/** Says something in passing. */
export function useToast() {
  return useContext(Say)
}

/** How long it stays, in milliseconds. */
const stays = 5000

export function Toasts({ children }: { children: ReactNode }) {
  const [list, setList] = useState<Said[]>([])
  const say = useCallback((text: string) => setList((now) => [...now, { id: Date.now() + now.length, text }]), [])
  return (
    <Say.Provider value={say}>
      <Toast.Provider duration={stays} label="Done">
        {children}
        {list.map((t) => (
          <Toast.Root
            key={t.id}
            onOpenChange={(open) => !open && setList((now) => now.filter((other) => other.id !== t.id))}
            className="rounded-part border-[1.5px] border-ink bg-sheet px-4 py-3 text-ink"
          >
            <Toast.Description>{t.text}</Toast.Description>
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed right-3 bottom-3 z-50 grid w-[min(22rem,92vw)] gap-2" />
      </Toast.Provider>
    </Say.Provider>
  )
}
