// Whether a body fits the API's description of it. Fetched when a form is sent: the check
// is large, and the server makes it as well.
import { zodResolver } from '@hookform/resolvers/zod'
import { fromJSONSchema } from 'zod'
import schemas from '../../api/gen/forms.json'

export type Checked = keyof typeof schemas

export type Fault = { field: string; text: string }

/** What of a body does not fit, field by field. */
export async function faultsOf(schema: Checked, body: unknown): Promise<Fault[]> {
  const fits = fromJSONSchema(schemas[schema] as Parameters<typeof fromJSONSchema>[0])
  const options = { fields: {}, shouldUseNativeValidation: false }
  const { errors } = await zodResolver(fits as never)(body as never, undefined, options)
  return flat(errors)
}

function flat(errors: Record<string, unknown>, path = ''): Fault[] {
  return Object.entries(errors).flatMap(([name, error]) => {
    const field = path === '' ? name : `${path}.${name}`
    if (!error || typeof error !== 'object') return []
    if ('message' in error && typeof error.message === 'string') return [{ field, text: error.message }]
    return flat(error as Record<string, unknown>, field)
  })
}
