// Where deeds are kept on the device: one row each, in the order they were done. Fetched
// late; where the browser keeps nothing they live as long as the page.
import { openDB, type IDBPDatabase } from 'idb'
import type { Deed } from './deeds'
import { inMemory, type Keeper } from './memory'

const rows = 'deeds'

export async function openKeeper(): Promise<Keeper> {
  try {
    const db = await openDB('grapnel-deeds', 1, {
      upgrade: (fresh) => void fresh.createObjectStore(rows, { keyPath: 'order', autoIncrement: true }),
    })
    await adopt(db)
    return {
      lasts: true,
      all: async () => (await db.getAll(rows)) as Deed[],
      put: async (deed) => ({ ...deed, order: Number(await db.put(rows, deed)) }),
      drop: async (deed) => {
        if (deed.order !== undefined) await db.delete(rows, deed.order)
      },
    }
  } catch {
    return inMemory()
  }
}

type OldDeed = { id: string; job: string; battery: string; takenAt: string; person?: string; by?: string } & (
  { line: string } | { code: string; value: string; note?: string }
)
type OldPicture = { id: string; job: string; note: string; takenAt: string; person?: string; body: Blob }

/** Takes over what a release before kept elsewhere. */
async function adopt(db: IDBPDatabase) {
  const list = oldDeeds()
  const pictures = await oldPictures()
  if (list.length === 0 && pictures.length === 0) return
  const write = db.transaction(rows, 'readwrite')
  for (const { job, battery, takenAt, ...rest } of list) {
    const common = { ...rest, subject: job, battery, at: takenAt, refused: undefined }
    void write.store.put({ ...common, kind: 'line' in rest ? 'reading' : 'answer' })
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
