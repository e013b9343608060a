// What waits on the device is sealed for whoever did it: with a key that the server gives that
// person, that this browser uses and cannot show, and that is forgotten as soon as nobody is
// signed in. Browsers seal in a secure context only; elsewhere it is kept as it is.
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Deed } from './deeds'

/** A deed as it lies on the device: what may be known of it by anybody, and the rest sealed. */
type SealedRow = Pick<Deed, 'id' | 'subject' | 'at' | 'person' | 'by' | 'order'> & {
  kind: 'sealed'
  sealed: Part
  body?: Part & { type: string }
}

type Part = { iv: Uint8Array<ArrayBuffer>; data: ArrayBuffer }

export type Row = Deed | SealedRow

export interface Device extends DBSchema {
  deeds: { key: number; value: Row }
  keys: { key: string; value: CryptoKey }
}

/** Opens what this device keeps. */
export function openDevice(): Promise<IDBPDatabase<Device>> {
  return openDB<Device>('grapnel-deeds', 2, {
    upgrade: (db, before) => {
      if (before < 1) db.createObjectStore('deeds', { keyPath: 'order', autoIncrement: true })
      db.createObjectStore('keys')
    },
    // A newer release in another tab wants it otherwise.
    blocking: (_now, _next, event) => (event.target as IDBDatabase).close(),
  })
}

/** Whether this browser seals. */
export function seals(): boolean {
  return 'crypto' in globalThis && 'subtle' in crypto
}

/** The key of somebody, as it was kept here. */
export async function keyOf(db: IDBPDatabase<Device>, person: string | undefined): Promise<CryptoKey | undefined> {
  return person === undefined ? undefined : db.get('keys', person)
}

/** Keeps the key of whoever is signed in, and no other's. */
export async function keepKey(db: IDBPDatabase<Device>, person: string, text: string): Promise<void> {
  const raw = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
  const key = await crypto.subtle.importKey('raw', raw, 'AES-GCM', false, ['encrypt', 'decrypt'])
  const write = db.transaction('keys', 'readwrite')
  void write.store.clear()
  void write.store.put(key, person)
  await write.done
}

/** Forgets every key: what waits is opened by nobody until its person signs in again. */
export async function forgetKeys(): Promise<void> {
  const db = await openDevice()
  await db.clear('keys')
  db.close()
}

async function close(key: CryptoKey, data: ArrayBuffer | Uint8Array<ArrayBuffer>): Promise<Part> {
  const iv = crypto.getRandomValues(new Uint8Array(12))
  return { iv, data: await crypto.subtle.encrypt({ name: 'AES-GCM', iv }, key, data) }
}

function open(key: CryptoKey, { iv, data }: Part): Promise<ArrayBuffer> {
  return crypto.subtle.decrypt({ name: 'AES-GCM', iv }, key, data)
}

/** Seals a deed; one that is sealed already stays as it is. */
export async function sealed(key: CryptoKey | undefined, deed: Deed): Promise<Row> {
  if (!key || deed.kind === 'sealed') return deed
  const { id, subject, at, person, by, order } = deed
  const common = { id, subject, at, person, by, kind: 'sealed' as const, ...(order === undefined ? {} : { order }) }
  const { body, ...said } = deed.kind === 'picture' ? deed : { ...deed, body: undefined }
  const row = { ...common, sealed: await close(key, new TextEncoder().encode(JSON.stringify(said))) }
  if (!body) return row
  return { ...row, body: { ...(await close(key, await body.arrayBuffer())), type: body.type } }
}

/** Opens a deed; one that the key does not open is what may be known of it by anybody. */
export async function opened(key: CryptoKey | undefined, row: Row): Promise<Deed> {
  if (row.kind !== 'sealed' || !('sealed' in row)) return row
  const { sealed: part, body, ...common } = row
  if (!key) return common
  try {
    const said = JSON.parse(new TextDecoder().decode(await open(key, part))) as Deed
    const whole = body ? { ...said, body: new Blob([await open(key, body)], { type: body.type }) } : said
    return { ...whole, order: row.order }
  } catch {
    return common
  }
}
