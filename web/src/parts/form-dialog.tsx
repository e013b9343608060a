// A form in a dialog: made anew each time it is opened, so that what was begun and not
// kept is gone.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { Sheet } from './keys'
import { Trouble } from './trouble'
import { Button } from './ui/button'

type Props = { trigger: string; title: string; about: string; form: (done: () => void) => React.ReactNode }

export function FormDialog({ trigger, title, about, form }: Props) {
  const [open, setOpen] = useState(false)
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button weight="outline">{trigger}</Button>
      </Dialog.Trigger>
      {open && (
        <Sheet title={title} about={about}>
          {form(() => setOpen(false))}
        </Sheet>
      )}
    </Dialog.Root>
  )
}

type FormProps = { keep: () => void; keeping: boolean; error: unknown; button: string; children: React.ReactNode }

/** The fields, what is wrong with them, and the button that keeps them. */
export function KeepForm({ keep, keeping, error, button, children }: FormProps) {
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        keep()
      }}
    >
      {children}
      <Trouble error={error} />
      <Button type="submit" weight="main" disabled={keeping}>
        {button}
      </Button>
    </form>
  )
}
