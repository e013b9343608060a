// What a device forgets as soon as it learns that nobody is signed in; the page and the worker both
// do it, whoever hears of it first.
import { forgetKeys } from './seal'

/** Where the worker keeps answers: pages, pictures, and what hardly changes. */
export const [pagesCache, picturesCache, constantsCache] = ['grapnel-pages', 'grapnel-pictures', 'grapnel-constants']

/** Forgets it all; a browser that keeps nothing has nothing to forget. */
export async function forgetHere(): Promise<void> {
  const names = [pagesCache, picturesCache, constantsCache]
  await Promise.allSettled([...names.map((name) => globalThis.caches?.delete(name)), forgetKeys()])
}
