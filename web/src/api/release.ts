// Whether this page belongs to the server it talks to. Every answer names the build of
// the front end that goes with it; a page of another build asks it nothing more, keeps
// what is done, and goes on as the new one when it is opened anew.
const mine = document.querySelector<HTMLMetaElement>('meta[name="build"]')?.content ?? ''
const watching = new Set<() => void>()
let other = false

/** Takes note of the build that an answer names. */
export function answeredBy(build: string | null) {
  // In development the page is not the built one.
  if (other || !build || mine === '' || mine.startsWith('__') || build === mine) return
  other = true
  watching.forEach((tell) => tell())
  void navigator.serviceWorker?.getRegistration().then((worker) => worker?.update())
}

export function outOfDate(): boolean {
  return other
}

export function watchRelease(tell: () => void): () => void {
  watching.add(tell)
  return () => watching.delete(tell)
}

/** How long the worker of the new build may take to take over, in milliseconds. */
const changeTime = 4000

/** Opens the page anew, as the build that the server has. */
export async function takeNewRelease() {
  const worker = await navigator.serviceWorker?.getRegistration()
  const next = worker?.waiting ?? worker?.installing
  if (next) {
    const taken = new Promise((done) => navigator.serviceWorker.addEventListener('controllerchange', done))
    next.postMessage('take over')
    await Promise.race([taken, new Promise((done) => setTimeout(done, changeTime))])
  }
  location.reload()
}
