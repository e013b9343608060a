// Where deeds are kept on the device: one row each, in the order they were done, sealed for
// whoever did them. Fetched late; where the browser keeps nothing they live as long as the page.
import { openDB, type IDBPDatabase } from 'idb'
import { client, take } from '../api/client'
import type { Deed } from './deeds'
import { inMemory, type Keeper } from './memory'
import { keepKey, keyOf, openDevice, opened, sealed, seals, type Device } from './seal'

const rows = 'deeds'

export async function openKeeper(): Promise<Keeper> {
  try {
    const db = await openDevice()
    await adopt(db)
    return {
      lasts: true,
      unlock: (person, still) => unlock(db, person, still),
      all: async () => {
        const list = await db.getAll(rows)
        return Promise.all(list.map(async (row) => opened(await keyOf(db, row.person), row)))
      },
      put: async (deed) => {
        const row = await sealed(await keyOf(db, deed.person), deed)
        return { ...deed, order: Number(await db.put(rows, row)) }
      },
      drop: async (deed) => {
        if (deed.order !== undefined) await db.delete(rows, deed.order)
      },
    }
  } catch {
    return inMemory()
  }
}

/** Has the key at hand of whoever is signed in, from the server where it is not here, and seals
 * what was kept before there was one. Without the server it is kept as it is until then. */
async function unlock(db: IDBPDatabase<Device>, person: string, still: () => boolean): Promise<void> {
  if (!seals()) return
  if (!(await keyOf(db, person))) {
    const answer = await take(client.GET('/me/seal')).catch(() => null)
    // Somebody else may have come meanwhile, or nobody is here any more.
    if (answer?.person !== person || !still()) return
    await keepKey(db, person, answer.key)
  }
  const key = await keyOf(db, person)
  for (const row of await db.getAll(rows)) {
    if (row.person !== person || row.kind === 'sealed') continue
    const closed = await sealed(key, row)
    // What was sent in the meantime is not put back.
    const write = db.transaction(rows, 'readwrite')
    if (row.order !== undefined && (await write.store.getKey(row.order)) !== undefined) void write.store.put(closed)
    await write.done
  }
}

type OldDeed = { id: string; job: string; battery: string; takenAt: string; person?: string; by?: string } & (
  { line: string } | { code: string; value: string; note?: string }
)
type OldPicture = { id: string; job: string; note: string; takenAt: string; person?: string; body: Blob }

/** Takes over what a release before kept elsewhere. */
async function adopt(db: IDBPDatabase<Device>) {
  const list = oldDeeds()
  const pictures = await oldPictures()
  if (list.length === 0 && pictures.length === 0) return
  const write = db.transaction(rows, 'readwrite')
  for (const { job, battery, takenAt, ...rest } of list) {
    const common = { ...rest, subject: job, battery, at: takenAt, refused: undefined }
    void write.store.put({ ...common, kind: 'line' in rest ? 'reading' : 'answer' } as Deed)
  }
  for (const { job, takenAt, ...rest } of pictures) {
    void write.store.put({ ...rest, kind: 'picture', subject: job, at: takenAt, refused: undefined })
  }
  await write.done
  try {
    localStorage.removeItem(oldPlace)
  } catch {
    // Nothing was there.
  }
  indexedDB.deleteDatabase(oldBase)
}

const [oldPlace, oldBase] = ['grapnel-outbox', 'grapnel']

function oldDeeds(): OldDeed[] {
  try {
    return JSON.parse(localStorage.getItem(oldPlace) ?? '[]') as OldDeed[]
  } catch {
    return []
  }
}

async function oldPictures(): Promise<OldPicture[]> {
  const there = await indexedDB.databases?.().catch(() => [])
  if (!there?.some((d) => d.name === oldBase)) return []
  const old = await openDB(oldBase)
  const list = old.objectStoreNames.contains('pictures') ? ((await old.getAll('pictures')) as OldPicture[]) : []
  old.close()
  return list
}
