// Takes out of the API's description what forms send, for the check in the browser: run by
// `make api`.
import { readFileSync, writeFileSync } from 'node:fs'

const { components } = JSON.parse(readFileSync('src/api/gen/openapi.json', 'utf8'))
const wanted = [
  ...[
    'BringInInputBody',
    'BatteryInput',
    'VehicleInput',
    'PersonInputBody',
    'KeepInstrumentInputBody',
    'PasswordInputBody',
  ],
  ...['AskChargeInputBody', 'KeepChargerInputBody', 'KeepPlaceInputBody', 'MakerInputBody'],
]

/** A schema with what it names put in its place. */
function whole(schema) {
  if (Array.isArray(schema)) return schema.map(whole)
  if (schema === null || typeof schema !== 'object') return schema
  if (schema.$ref) return whole(components.schemas[schema.$ref.split('/').at(-1)])
  return Object.fromEntries(
    Object.entries(schema)
      .filter(([name]) => name !== 'description' && name !== '$schema')
      .map(([name, part]) => [name, whole(part)]),
  )
}

const forms = Object.fromEntries(wanted.map((name) => [name, whole(components.schemas[name])]))
writeFileSync('src/api/gen/forms.json', JSON.stringify(forms) + '\n')
