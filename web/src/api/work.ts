// What is done around a job's readings: steps answered, stop rules lifted, how it
// sits, who has it, pictures.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { ApiProblem, client, Offline, take } from './client'
import { usePageChange } from './jobs'
import { sendAnswer, sendOrPost } from './outbox'
import type { Desk, ProblemBody, Seating } from './types'

export type StepAnswer = { id?: string; battery: string; code: string; value: string; note?: string }

/** Answers a step. While the line is down the answer waits on the device. */
export function useAnswer(job: string) {
  const cache = useQueryClient()
  return usePageChange(job, (input: StepAnswer) => {
    input.id ??= uuid()
    const answer = { ...input, id: input.id, job, takenAt: new Date().toISOString() }
    return sendOrPost(answer, cache, () => sendAnswer(answer))
  })
}

export function useClearStop(job: string) {
  return usePageChange(job, (input: { id?: string; battery: string; stop: string; reason: string }) => {
    input.id ??= uuid()
    return take(
      client.PUT('/jobs/{job}/clearings/{clearing}', {
        params: { path: { job, clearing: input.id } },
        body: { battery_id: input.battery, stop: input.stop, reason: input.reason },
      }),
    )
  })
}

export function useSeating(job: string, battery: string) {
  return usePageChange(job, (seating: Seating) =>
    take(client.PUT('/jobs/{job}/batteries/{battery}/seating', { params: { path: { job, battery } }, body: seating })),
  )
}

export function useDesk(job: string) {
  return usePageChange(job, (desk: Desk) =>
    take(client.PUT('/jobs/{job}/desk', { params: { path: { job } }, body: desk })),
  )
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

export function useKeepPhoto(job: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async (input: { file: Blob; note: string; id?: string }) => {
      input.id ??= uuid()
      const body = await smaller(input.file)
      const answer = await fetch(`/api/jobs/${job}/photos/${input.id}?note=${encodeURIComponent(input.note)}`, {
        method: 'PUT',
        body,
      }).catch(() => null)
      if (!answer) throw new Offline()
      if (!answer.ok) throw new ApiProblem((await answer.json()) as ProblemBody)
    },
    retry: (count, error) => error instanceof Offline && count < 8,
    onSuccess: () => cache.invalidateQueries({ queryKey: ['job', job] }),
  })
}
