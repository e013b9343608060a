// The core on the device, in a thread of its own: the same program as the server's,
// compiled for the browser. It is made ready by the first question.
import '../../device/wasm_exec.js'
import core from '../../device/core.wasm?url'

declare const Go: new () => {
  importObject: WebAssembly.Imports
  run: (instance: WebAssembly.Instance) => Promise<void>
}

type Core = { grapnelAnswer: (question: string, asked: string) => string; grapnelReady: () => void }
const scope = globalThis as unknown as Core

let ready: Promise<void> | undefined

async function start() {
  const go = new Go()
  const { instance } = await WebAssembly.instantiateStreaming(fetch(core), go.importObject)
  await new Promise<void>((done) => {
    scope.grapnelReady = done
    // It runs for as long as the page is open.
    void go.run(instance)
  })
}

addEventListener('message', (event: MessageEvent<{ id: number; question: string; asked: string }>) => {
  const { id, question, asked } = event.data
  ready ??= start()
  ready
    .then(() => postMessage({ id, text: scope.grapnelAnswer(question, asked) }))
    .catch(() => {
      ready = undefined
      postMessage({ id })
    })
})
