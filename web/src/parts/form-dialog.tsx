// A form in a dialog: made anew each time it is opened.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { Sheet } from './ui/sheet'
import { Button, type Weight } from './ui/button'

type Props = {
  trigger: string
  weight?: Weight
  title: string
  about: string
  form: (done: () => void) => React.ReactNode
}

export function FormDialog({ trigger, weight = 'outline', title, about, form }: Props) {
  const [open, setOpen] = useState(false)
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button weight={weight}>{trigger}</Button>
      </Dialog.Trigger>
      {open && (
        <Sheet title={title} about={about}>
          {form(() => setOpen(false))}
        </Sheet>
      )}
    </Dialog.Root>
  )
}
