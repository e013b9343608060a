// The service worker: what Grapnel does without the line. The whole application is kept
// when a build is taken, and goes with it; the pages looked at last are kept apart from
// what hardly changes. Nothing is answered from here as long as the server answers.
/// <reference lib="webworker" />
import { ExpirationPlugin } from 'workbox-expiration'
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { registerRoute } from 'workbox-routing'
import { CacheFirst, NetworkFirst, NetworkOnly } from 'workbox-strategies'
import type { WorkboxPlugin } from 'workbox-core'
import { constantsCache, forgetHere, pagesCache, picturesCache } from './delivery/forget'

declare const self: ServiceWorkerGlobalScope

/** How long the server is waited for before the device answers, in seconds. */
const patience = 3

cleanupOutdatedCaches()
precacheAndRoute(self.__WB_MANIFEST, { cleanURLs: false, directoryIndex: '' })

/** Whether an answer says that nobody is signed in. */
async function saysNobody(response: Response): Promise<boolean> {
  if (response.status === 401) return true
  if (!response.url.endsWith('/api/hello') || !response.ok) return false
  const hello = (await response.clone().json()) as { person: unknown }
  return hello.person === null
}

/** An answer that is not the server's, or that says it cannot work, is none: what stands
 * between answers with pages of its own. */
const ours: WorkboxPlugin = {
  fetchDidSucceed: async ({ response }) => {
    if (response.status >= 500 || !response.headers.has('grapnel-build')) {
      throw new Error(`no answer of ours: ${response.status}`)
    }
    if (await saysNobody(response)) await forgetHere()
    return response
  },
}

/** What comes from the device says so: what is on the screen already may be newer. */
const marked: WorkboxPlugin = {
  cachedResponseWillBeUsed: ({ cachedResponse }) => {
    if (!cachedResponse) return Promise.resolve(null)
    const headers = new Headers(cachedResponse.headers)
    headers.set('x-kept', 'on this device')
    return Promise.resolve(new Response(cachedResponse.body, { status: cachedResponse.status, headers }))
  },
}

// Every address of ours is the one page. Without the server it is the one whose parts are
// all here.
const page = new NetworkOnly({ networkTimeoutSeconds: patience, plugins: [ours] })
registerRoute(
  ({ request, url }) =>
    request.mode === 'navigate' && !url.pathname.startsWith('/api/') && !url.pathname.startsWith('/calendar/'),
  async (options) => {
    try {
      return await page.handle(options)
    } catch {
      return (await matchPrecache('/index.html')) ?? Response.error()
    }
  },
)

const constants = /^\/api\/(hello|choices|people|sums|instruments|figures)$/
const pages =
  /^\/api\/(today|clocks|shelf|standing|standing\/rounds|standing\/[^/]+|shelf\/charges\/[^/]+|shelf\/charges\/[^/]+\/trace|jobs\/[^/]+|jobs\/[^/]+\/batteries\/[^/]+\/account|jobs\/[^/]+\/attempts|jobs\/[^/]+\/attempts\/[^/]+|batteries\/[^/]+)$/

registerRoute(
  ({ url }) => constants.test(url.pathname),
  new NetworkFirst({ cacheName: constantsCache, networkTimeoutSeconds: patience, plugins: [ours, marked] }),
)
// Enough for the jobs of a day and what stands around them.
registerRoute(
  ({ url }) => pages.test(url.pathname),
  new NetworkFirst({
    cacheName: pagesCache,
    networkTimeoutSeconds: patience,
    plugins: [ours, marked, new ExpirationPlugin({ maxEntries: 120, purgeOnQuotaError: true })],
  }),
)
// A picture never changes.
registerRoute(
  ({ request, url }) => request.method === 'GET' && /^\/api\/photos\/[^/]+$/.test(url.pathname),
  new CacheFirst({
    cacheName: picturesCache,
    plugins: [ours, new ExpirationPlugin({ maxEntries: 60, purgeOnQuotaError: true })],
  }),
)
// The core of an earlier build is two megabytes that nobody asks for any more.
registerRoute(
  ({ url }) => url.pathname.endsWith('.wasm'),
  new CacheFirst({ cacheName: 'grapnel-core', plugins: [new ExpirationPlugin({ maxEntries: 1 })] }),
)

// A new build waits until it is taken, so that no page is left with parts of two.
self.addEventListener('message', (event) => {
  if (event.data === 'take over') void self.skipWaiting()
})
self.addEventListener('activate', (event) => {
  const before = ['grapnel-shell-1', 'grapnel-data-1']
  event.waitUntil(Promise.all([...before.map((name) => caches.delete(name)), self.clients.claim()]))
})
