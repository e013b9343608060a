// What opens over a screen: title, what it is about, its content, and a way to close it.
import { Dialog } from 'radix-ui'
import { Button } from './button'

type SheetProps = {
  title: string
  about?: string
  /** It is not to be closed before it is answered. */
  stays?: boolean
  /** Nothing of what is behind it is to be read. */
  covers?: boolean
  children: React.ReactNode
}

export function Sheet({ title, about, stays, covers, children }: SheetProps) {
  const hold = (event: Event) => {
    if (stays) event.preventDefault()
  }
  return (
    <Dialog.Portal>
      <Dialog.Overlay className={`fixed inset-0 z-30 ${covers ? 'bg-paper' : 'bg-ink opacity-40'}`} />
      <Dialog.Content
        {...(about ? {} : { 'aria-describedby': undefined })}
        onEscapeKeyDown={hold}
        onPointerDownOutside={hold}
        className="fixed top-1/2 left-1/2 z-40 max-h-[92dvh] w-[min(560px,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-card border-[1.5px] border-ink bg-sheet p-5"
      >
        <div className="mb-3 flex items-start gap-4">
          <div>
            <Dialog.Title className="text-head font-bold">{title}</Dialog.Title>
            {about && <Dialog.Description className="text-small text-lead">{about}</Dialog.Description>}
          </div>
          {!stays && (
            <Dialog.Close asChild>
              <Button className="ml-auto" aria-label="Close">
                Close
              </Button>
            </Dialog.Close>
          )}
        </div>
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  )
}
