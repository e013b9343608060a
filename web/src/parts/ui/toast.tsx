// What was done, said once and gone by itself: for what changes nothing on the screen.
import { Toast } from 'radix-ui'
import { Button } from './button'
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react'

type Said = { id: number; text: string; undo?: () => void }

type SayIt = (text: string, undo?: () => void) => void

const Say = createContext<SayIt>(() => undefined)

/** Says something in passing, with the way back where there is one. */
export function useToast() {
  return useContext(Say)
}

/** How long it stays, in milliseconds. */
const stays = 5000

export function Toasts({ children }: { children: ReactNode }) {
  const [list, setList] = useState<Said[]>([])
  const say = useCallback<SayIt>(
    (text, undo) => setList((now) => [...now, { id: Date.now() + now.length, text, undo }]),
    [],
  )
  return (
    <Say.Provider value={say}>
      <Toast.Provider duration={stays} label="Done">
        {children}
        {list.map((t) => (
          <Toast.Root
            key={t.id}
            onOpenChange={(open) => !open && setList((now) => now.filter((other) => other.id !== t.id))}
            className="flex items-center gap-3 rounded-part border-[1.5px] border-ink bg-sheet px-4 py-3 text-ink"
          >
            <Toast.Description className="flex-1">{t.text}</Toast.Description>
            {t.undo && (
              <Toast.Action altText={`Undo: ${t.text}`} asChild>
                <Button onClick={t.undo}>Undo</Button>
              </Toast.Action>
            )}
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed right-3 bottom-3 z-50 grid w-[min(22rem,92vw)] gap-2" />
      </Toast.Provider>
    </Say.Provider>
  )
}
