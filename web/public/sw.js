// What Grapnel does without the line: the pages and parts of the application, and
// what of the day was looked at last, are answered from this device. Nothing is
// answered from here as long as the server answers.
const shell = 'grapnel-shell-1'
const data = 'grapnel-data-1'

// Enough for the jobs of a day and what stands around them.
const mostKept = 120

// What is kept of the server's answers: what is read, never what is asked or written.
const kept =
  /^\/api\/(hello|today|choices|people|sums|clocks|instruments|figures|jobs\/[^/]+|jobs\/[^/]+\/batteries\/[^/]+\/account|batteries\/[^/]+)$/

self.addEventListener('install', (event) => {
  event.waitUntil(takeShell().then(() => self.skipWaiting()))
})

// The page with the files it names: they were fetched before this worker was there.
async function takeShell() {
  const cache = await caches.open(shell)
  const page = await fetch('/')
  const files = (await page.clone().text()).match(/\/assets\/[^"']+/g) ?? []
  await cache.put('/', page)
  await cache.addAll(files)
}

self.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) => Promise.all(names.filter((n) => n !== shell && n !== data).map((n) => caches.delete(n))))
      .then(() => self.clients.claim()),
  )
})

self.addEventListener('fetch', (event) => {
  const url = new URL(event.request.url)
  if (event.request.method !== 'GET' || url.origin !== self.location.origin) return
  if (event.request.mode === 'navigate') {
    // Every address of ours is the one page.
    event.respondWith(serverFirst(event.request, shell, '/'))
  } else if (url.pathname.startsWith('/assets/') || url.pathname === '/grapnel.svg') {
    event.respondWith(keptFirst(event.request))
  } else if (kept.test(url.pathname)) {
    event.respondWith(serverFirst(event.request, data, url.pathname + url.search))
  }
})

// Files whose names carry their own hash never change.
async function keptFirst(request) {
  const cache = await caches.open(shell)
  const had = await cache.match(request)
  if (had) return had
  const answer = await fetch(request)
  if (answer.ok) {
    await cache.put(request, answer.clone())
    if (request.url.endsWith('.wasm')) await forgetOthers(cache, request.url)
  }
  return answer
}

// The core of an earlier release is two megabytes that nobody asks for any more.
async function forgetOthers(cache, url) {
  const keys = await cache.keys()
  await Promise.all(keys.filter((k) => k.url.endsWith('.wasm') && k.url !== url).map((k) => cache.delete(k)))
}

async function serverFirst(request, name, key) {
  const cache = await caches.open(name)
  try {
    const answer = await fetch(request)
    if (answer.ok) {
      await cache.put(key, answer.clone())
      if (name === data) await forgetOldest(cache)
    }
    return answer
  } catch (error) {
    const had = await cache.match(key)
    if (!had) throw error
    // What is on the screen already may be newer than this.
    const headers = new Headers(had.headers)
    headers.set('x-kept', 'on this device')
    return new Response(had.body, { status: had.status, headers })
  }
}

async function forgetOldest(cache) {
  const keys = await cache.keys()
  await Promise.all(keys.slice(0, Math.max(0, keys.length - mostKept)).map((k) => cache.delete(k)))
}
