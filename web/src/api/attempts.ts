// Orders of work: what there is for a battery, what was begun, and how far it has come.
import { useMutation, useQuery, useQueryClient, keepPreviousData } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import type { Deed } from '../delivery/deeds'
import { client, take } from './client'
import type { AttemptPage, BeginBody, JumpBody } from './types'

export const attemptKey = (attempt: string) => ['attempt', attempt]

export function useProcedures(job: string, battery: string) {
  return useQuery({
    queryKey: ['job', job, 'procedures', battery],
    enabled: battery !== '',
    // What was seen meanwhile may forbid it.
    refetchOnMount: 'always',
    queryFn: async ({ signal }) =>
      await take(
        client.GET('/jobs/{job}/batteries/{battery}/procedures', { params: { path: { job, battery } }, signal }),
      ),
  })
}

export function useAttempts(job: string) {
  return useQuery({
    queryKey: ['job', job, 'attempts'],
    refetchOnMount: 'always',
    queryFn: async ({ signal }) =>
      await take(client.GET('/jobs/{job}/attempts', { params: { path: { job } }, signal })),
  })
}

export function useAttempt(job: string, attempt: string) {
  const cache = useQueryClient()
  return useQuery({
    queryKey: [...attemptKey(attempt), job],
    queryFn: async ({ signal }) => {
      const page = await take(
        client.GET('/jobs/{job}/attempts/{attempt}', { params: { path: { job, attempt } }, signal }),
      )
      // What was done meanwhile has answered already: nothing that was done goes off the screen.
      const now = cache.getQueryData<AttemptPage>([...attemptKey(attempt), job])
      return now && now.events.length > page.events.length ? now : page
    },
  })
}

/** Begins an order of work; the answer is its first page. */
export function useBegin(job: string) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: (body: BeginBody) =>
      take(client.PUT('/jobs/{job}/attempts/{attempt}', { params: { path: { job, attempt: uuid() } }, body })),
    onSuccess: (page) => {
      cache.setQueryData([...attemptKey(page.attempt.id), job], page)
      void cache.invalidateQueries({ queryKey: ['job', job, 'attempts'] })
    },
  })
}

/** Will it crank: worked out anew with each change of what is asked. */
export function useJump(job: string, battery: string, body: JumpBody) {
  return useQuery({
    queryKey: ['job', job, 'jump', battery, body],
    enabled: battery !== '',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) =>
      await take(
        client.POST('/jobs/{job}/batteries/{battery}/jump', { params: { path: { job, battery } }, body, signal }),
      ),
  })
}

/** How far an attempt has come once what waits on this device is counted in. What waits was
 * done at the step that was due then, so that it also tells of what the server had by then
 * and this page, which may be an older one, does not. */
export function progressWith({ progress, steps }: AttemptPage, waiting: Deed[], attempt: string) {
  let { at, open, ended } = progress
  for (const deed of waiting) {
    if (deed.kind !== 'step' || deed.attempt !== attempt || deed.refused || !open) continue
    if (deed.did === 'done') at = Math.max(at, Math.min(deed.step + 1, steps.length))
    else if (deed.did === 'back' && at <= deed.step + 1) at = deed.step
    else if (deed.did === 'left' || (deed.did === 'finished' && at === steps.length)) [open, ended] = [false, deed.did]
  }
  return { at, open, ended }
}
