// Pictures taken at the vehicle: made smaller, then delivered as everything else.
import { useMutation } from '@tanstack/react-query'
import type { Deed } from '../delivery/deeds'
import { deliver } from '../delivery/queue'
import { useDeeds } from '../delivery/use'

export type Picture = Extract<Deed, { kind: 'picture' }>

/** The pictures of a job that wait on this device. */
export function useWaitingPictures(job: string): Picture[] {
  return useDeeds().filter((d) => d.kind === 'picture' && d.subject === job) as Picture[]
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

/** Keeps a picture. */
export function useKeepPhoto(job: string) {
  return useMutation({
    mutationFn: async ({ file, note }: { file: Blob; note: string }) =>
      deliver(job, { kind: 'picture', note, body: await smaller(file) }),
  })
}
