// A form that checks what it can before it is sent, by the API's own description, puts
// what the server says is wrong at the field it is wrong with, and outlives a reload.
import { useEffect, useState, type ReactNode } from 'react'
import {
  useForm as useFields,
  useWatch,
  type DefaultValues,
  type FieldValues,
  type Path,
  type UseFormReturn,
} from 'react-hook-form'
import { ApiProblem } from '../../api/client'
import { useDraft } from '../draft'
import { Trouble } from '../trouble'
import { Button } from './button'
import type { Bodies } from '../../api/types'
import type { Checked, Fault } from './fits'

/** A body as a form makes it: a code is any text until it has been checked. */
type Said<B> = B extends string
  ? string
  : B extends (infer Item)[]
    ? Said<Item>[]
    : B extends object
      ? { [K in keyof B]: Said<B[K]> }
      : B

type Options<T, N extends Checked> = {
  /** Under which what is typed is kept until it is sent or given up. */
  draft: string
  start: () => T
  /** What of the API's description the body must fit, and how the form makes it. */
  schema: N
  body: (values: T) => Said<Bodies[N]>
  /** Names of the body's fields that stand on the form under another name. */
  named?: (field: string) => string
  /** Sends the body that fits. */
  send: (body: Bodies[N], values: T) => Promise<unknown>
  sent: () => void
}

export type Form<T extends FieldValues> = UseFormReturn<T> & {
  submit: (event: React.FormEvent) => void
  /** What stands on the form now. */
  values: T
  /** What is wrong and belongs to no field of the form. */
  trouble: unknown
  sending: boolean
  change: (part: Partial<T>) => void
  /** Gives up what was begun. */
  forget: () => void
  wrong: (name: string) => string | undefined
}

export function useForm<T extends FieldValues, N extends Checked>(options: Options<T, N>): Form<T> {
  const { draft, start, schema, body, named = (field) => field, send, sent } = options
  const [begun, keep, forget] = useDraft<T>(draft, start)
  const [trouble, setTrouble] = useState<unknown>(null)
  const [done, setDone] = useState(false)
  const form = useFields<T>({ defaultValues: begun as DefaultValues<T> })
  const { setError, setValue, getValues, formState } = form
  const values = useWatch({ control: form.control }) as T
  useEffect(() => {
    if (!done) keep(values)
  }, [done, values, keep])
  const fault = (field: string, text: string) => {
    const name = named(field)
    if (!known(getValues(), name)) return false
    setError(name as Path<T>, { message: text }, { shouldFocus: true })
    return true
  }
  const submit = form.handleSubmit(async (said) => {
    setTrouble(null)
    const made = body(said)
    const checked = await check(schema, made)
    if (checked.filter(({ field, text }) => !fault(field, text)).length < checked.length) return
    try {
      await send(made as Bodies[N], said)
      setDone(true)
      forget()
      sent()
    } catch (error) {
      const fields = error instanceof ApiProblem ? error.fields : []
      const left = fields.filter((f) => !fault(f.field, f.text))
      if (fields.length === 0 || left.length > 0) setTrouble(error)
    }
  })
  return {
    ...form,
    values,
    forget,
    submit: (event) => {
      form.clearErrors()
      void submit(event)
    },
    trouble,
    sending: formState.isSubmitting,
    change: (part) => {
      for (const [name, value] of Object.entries(part)) {
        form.clearErrors(name as Path<T>)
        setValue(name as Path<T>, value as T[keyof T] as never, { shouldDirty: true })
      }
    },
    wrong: (name) => at(formState.errors, name)?.message as string | undefined,
  }
}

/** What of a body does not fit the API's description. Where the check is not on the device
 * yet the server says it all the same. */
async function check(schema: Checked, body: unknown): Promise<Fault[]> {
  const late = await import('./fits').catch(() => null)
  return late ? late.faultsOf(schema, body) : []
}

type Tree = { [name: string]: unknown }

function at(tree: unknown, path: string): { message?: unknown } | undefined {
  return path.split('.').reduce<unknown>((part, name) => (part as Tree | undefined)?.[name], tree) as
    { message?: unknown } | undefined
}

function known(values: unknown, path: string): boolean {
  const [first = ''] = path.split('.')
  return typeof values === 'object' && values !== null && first in values
}

type SubmitProps = { form: { trouble: unknown; sending: boolean }; children: ReactNode }

/** What is wrong with the whole, and the button that sends it. */
export function Submit({ form, children }: SubmitProps) {
  return (
    <>
      <Trouble error={form.trouble} />
      <Button type="submit" weight="main" className="justify-self-start" disabled={form.sending}>
        {children}
      </Button>
    </>
  )
}
