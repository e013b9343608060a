// Pictures taken at the vehicle: made smaller, and kept on the device while the line is
// down, until each has been sent once.
import { useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { createStore, del, entries, set } from 'idb-keyval'
import { useEffect, useSyncExternalStore } from 'react'
import { v7 as uuid } from 'uuid'
import { ApiProblem, Offline, wordsFor } from './client'
import { useLineUp } from './live'
import type { Hello, ProblemBody } from './types'

export type Picture = {
  id: string
  job: string
  note: string
  takenAt: string
  person?: string
  body: Blob
  /** What the server had against it; it then waits for a person. */
  refused?: string
}

const place = createStore('grapnel', 'pictures')
const watching = new Set<() => void>()
let list: Picture[] = []
let read: Promise<void> | undefined

/** Reads what an earlier visit left, once; a browser that keeps nothing has none. */
function left(): Promise<void> {
  read ??= entries<string, Picture>(place)
    .then((kept) => tell([...kept.map(([, picture]) => picture), ...list]))
    .catch(() => undefined)
  return read
}

function tell(next: Picture[]) {
  list = next
  watching.forEach((heard) => heard())
}

/** The pictures of a job that wait on this device. */
export function useWaitingPictures(job: string): Picture[] {
  useEffect(() => void left(), [])
  const all = useSyncExternalStore(
    (heard) => {
      watching.add(heard)
      return () => watching.delete(heard)
    },
    () => list,
  )
  return all.filter((p) => p.job === job)
}

/** The longer side of a picture as it is kept, in pixels. */
const mostPixels = 1600

/** Makes a picture small enough to keep; one the browser cannot draw goes as it is. */
async function smaller(file: Blob): Promise<Blob> {
  const image = await createImageBitmap(file).catch(() => null)
  if (!image) return file
  const scale = Math.min(1, mostPixels / Math.max(image.width, image.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(image.width * scale)
  canvas.height = Math.round(image.height * scale)
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
  return new Promise((done) => canvas.toBlob((blob) => done(blob ?? file), 'image/jpeg', 0.8))
}

async function send({ id, job, note, takenAt, body }: Picture) {
  const about = new URLSearchParams({ note, taken_at: takenAt })
  const answer = await fetch(`/api/jobs/${job}/photos/${id}?${about}`, { method: 'PUT', body }).catch(() => null)
  if (!answer) throw new Offline()
  if (!answer.ok) throw new ApiProblem((await answer.json()) as ProblemBody)
}

/** Keeps a picture. While the line is down it waits on the device. */
export function useKeepPhoto(job: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async ({ file, note }: { file: Blob; note: string }) => {
      const person = cache.getQueryData<Hello>(['hello'])?.person?.id
      const takenAt = new Date().toISOString()
      const picture = { id: uuid(), job, note, takenAt, person, body: await smaller(file) }
      try {
        await send(picture)
      } catch (error) {
        if (!(error instanceof Offline)) throw error
        await set(picture.id, picture, place)
        tell([...list, picture])
        if (person) later(cache, person)
      }
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ['job', job] }),
  })
}

/** How long after the line failed it is tried again, in milliseconds. */
const pause = 5000
let again: ReturnType<typeof setTimeout> | undefined

function later(cache: QueryClient, person: string) {
  clearTimeout(again)
  again = setTimeout(() => void flush(cache, person), pause)
}

/** Takes a picture off the device. */
export async function letGo(picture: Picture) {
  await del(picture.id, place)
  tell(list.filter((p) => p.id !== picture.id))
}

async function refuse(picture: Picture, refused: string) {
  await set(picture.id, { ...picture, refused }, place)
  tell(list.map((p) => (p.id === picture.id ? { ...p, refused } : p)))
}

/** Sends what waits, one after the other, until the line is down again. */
async function flush(cache: QueryClient, person: string) {
  clearTimeout(again)
  await left()
  for (const picture of list.filter((p) => p.person === person && !p.refused)) {
    try {
      await send(picture)
      await letGo(picture)
      void cache.invalidateQueries({ queryKey: ['job', picture.job] })
    } catch (error) {
      if (error instanceof Offline || (error instanceof ApiProblem && [401, 503].includes(error.status))) {
        later(cache, person)
        return
      }
      await refuse(picture, wordsFor(error))
    }
  }
}

/** Sends the pictures that wait whenever the line is back. */
export function usePictures(person: string | undefined) {
  const cache = useQueryClient()
  const up = useLineUp()
  useEffect(() => {
    if (person && up) void flush(cache, person)
  }, [cache, person, up])
}
