// What is done around a job's readings: steps answered, stop rules lifted, how it
// sits, who has it.
import { useQueryClient } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { client, take } from './client'
import { usePageChange } from './jobs'
import { sendAnswer, sendOrPost } from './outbox'
import type { Desk, Mounting } from './types'

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

/** A stop rule lifted: for the readings that were seen, as the job stood when it was said. */
export type Clearing = { battery: string; stop: string; readings: string[]; revision: number; reason: string }

export function useClearStop(job: string) {
  return usePageChange(job, (input: Clearing & { id?: string }) => {
    input.id ??= uuid()
    return take(
      client.PUT('/jobs/{job}/clearings/{clearing}', {
        params: { path: { job, clearing: input.id } },
        body: {
          battery_id: input.battery,
          stop: input.stop,
          readings: input.readings,
          revision: input.revision,
          reason: input.reason,
        },
      }),
    )
  })
}

export function useMounting(job: string, battery: string) {
  return usePageChange(job, (mounting: Mounting) =>
    take(
      client.PUT('/jobs/{job}/batteries/{battery}/mounting', { params: { path: { job, battery } }, body: mounting }),
    ),
  )
}

export function useDesk(job: string) {
  return usePageChange(job, (desk: Desk) =>
    take(client.PUT('/jobs/{job}/desk', { params: { path: { job } }, body: desk })),
  )
}
