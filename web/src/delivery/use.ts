// The queue as the screens use it.
import { useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import { useEffect, useMemo, useSyncExternalStore } from 'react'
import { watchLine } from '../api/live'
import type { BatteryOnJob, ClockKind, JobPage, LabelSaid, Mounting, Person, Stop, VehicleBody } from '../api/types'
import { asWaiting, type Deed, type Doing, type Sent } from './deeds'
import {
  carryFor,
  carryForNobody,
  deeds,
  deedsLast,
  deliver,
  heldBack,
  tryNow,
  waitingDeeds,
  watchDeeds,
} from './queue'

/** What waits on this device, in order. */
export function useDeeds(): Deed[] {
  return useSyncExternalStore(watchDeeds, waitingDeeds)
}

/** What waits, and what is just on its way. */
export function useAllDeeds(): Deed[] {
  return useSyncExternalStore(watchDeeds, deeds)
}

/** Why the server does not take what waits; empty where it does not say. */
export function useHeldBack(): string {
  return useSyncExternalStore(watchDeeds, heldBack)
}

/** Whether what waits outlives the page. */
export function useDeedsLast(): boolean {
  return useSyncExternalStore(watchDeeds, deedsLast)
}

/** What waits of a job, in the form in which the core on the device counts it in. */
export function useWaiting(job: string): object[] {
  const all = useDeeds()
  return useMemo(() => all.filter((d) => d.subject === job && !d.refused).map(asWaiting), [all, job])
}

type Delivery<T> = UseMutationResult<Sent | null, Error, T>

/** A write that is kept here first and sent in its turn. */
function useDelivery<T>(subject: string, doing: (input: T) => Doing): Delivery<T> {
  return useMutation({ mutationFn: (input: T) => deliver(subject, doing(input)) })
}

export type Change =
  | { kind: 'correct'; reading: string; line: string; reason: string }
  | { kind: 'mistaken'; reading: string; reason: string }
  | { kind: 'undo'; reading: string }

/** Corrects a reading, marks it mistaken, or takes the last change back. */
export function useChange(job: string) {
  return useDelivery(job, (change: Change) => change)
}

type StepAnswer = { battery: string; code: string; value: string; note?: string }

export function useAnswer(job: string) {
  return useDelivery(job, (said: StepAnswer) => ({ kind: 'answer', ...said }))
}

/** A stop rule lifted: for the readings that were seen, as the job stood when it was said. */
export type Clearing = { battery: string; stop: Stop['stop']; readings: string[]; revision: number; reason: string }

export function useClearStop(job: string) {
  return useDelivery(job, (clearing: Clearing) => ({ kind: 'stop', ...clearing }))
}

export function useCloseJob(job: string) {
  return useDelivery(job, (close: boolean) => ({ kind: close ? 'close' : 'reopen' }))
}

/** Completes or corrects what is known of the job's vehicle. */
export function useDescribe(job: string) {
  return useDelivery(job, (vehicle: VehicleBody) => ({ kind: 'vehicle', vehicle }))
}

export function useRelabel(job: string) {
  return useDelivery(job, (said: { battery: string; tag: string; maker: string; label: LabelSaid }) => ({
    kind: 'label',
    ...said,
  }))
}

export function useMounting(job: string, battery: string) {
  return useDelivery(job, (mounting: Mounting) => ({ kind: 'mounting', battery, mounting }))
}

export function useDesk(job: string) {
  return useDelivery(job, (desk: Extract<Doing, { kind: 'desk' }>['desk']) => ({ kind: 'desk', desk }))
}

type KeptInputs = { sum: string; title: string; inputs: Record<string, string> }

/** Keeps a sum with a job. */
export function useKeepSum(job: string) {
  return useDelivery(job, (kept: KeptInputs) => ({ kind: 'sum', ...kept }))
}

/** Sets a clock going on a battery: on this device at once, and on every other when
 * the server has it. */
export function useStartClock(page: JobPage, battery: BatteryOnJob) {
  return useDelivery(page.job.id, (kind: ClockKind) => {
    const clock = {
      job_id: page.job.id,
      battery_id: battery.id,
      kind: kind.kind,
      seconds: kind.seconds,
      plate: page.vehicle?.plate ?? '',
      place: page.job.place,
      by: '',
      text: kind.text,
      rings: kind.rings,
      says: '',
      begins: '',
      early: true,
    }
    return { kind: 'clock', battery: battery.id, clock }
  })
}

/** Stops a clock of a job, or of a battery or vehicle that is on none. */
export function useStopClock() {
  return useMutation({
    mutationFn: (clock: { id: string; job_id?: string; battery_id: string }) =>
      deliver(clock.job_id ?? clock.battery_id, { kind: 'clock_stop', clock: clock.id }),
  })
}

/** Sends for whoever is signed in what waits, also from earlier visits, and whenever the
 * line comes back. */
export function useCarrying(person: Person | null | undefined) {
  const cache = useQueryClient()
  const id = person?.id
  const name = person?.name
  useEffect(() => {
    if (!id || !name) return carryForNobody()
    carryFor(id, name, cache)
    addEventListener('online', tryNow)
    const left = watchLine(tryNow)
    return () => {
      removeEventListener('online', tryNow)
      left()
    }
  }, [cache, id, name])
  // What the browser does not keep is lost with the page.
  useEffect(() => {
    const stay = (event: BeforeUnloadEvent) => {
      if (!deedsLast() && deeds().length > 0) event.preventDefault()
    }
    addEventListener('beforeunload', stay)
    return () => removeEventListener('beforeunload', stay)
  }, [])
}
