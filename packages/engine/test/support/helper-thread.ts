import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import { build } from 'esbuild'
import type { HelperPort } from '../../src/worker/helper-link.ts'

const source = fileURLToPath(new URL('../../src/worker/serve.ts', import.meta.url))

/** The engine's worker as a script that Node's threads can run. */
async function threadScript(): Promise<string> {
  const entry = `
    import { parentPort } from 'node:worker_threads'
    import { serveEngine } from ${JSON.stringify(source)}
    const port = { onmessage: null, postMessage: message => parentPort.postMessage(message) }
    parentPort.on('message', data => port.onmessage({ data }))
    serveEngine({}, port)`
  const { outputFiles } = await build({
    stdin: { contents: entry, resolveDir: fileURLToPath(new URL('.', import.meta.url)), loader: 'js' },
    bundle: true,
    write: false,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    logLevel: 'error',
  })
  const file = join(mkdtempSync(join(tmpdir(), 'meadow-thread-')), 'thread.mjs')
  writeFileSync(file, outputFiles[0].text)
  return file
}

/** Until a thread is taken for one that never answers, in ms: on a machine that does other things too, it starts late. */
export const PATIENCE_MS = 60_000

let script: Promise<string> | undefined

/** Starts threads that serve as the engine's worker does. `ended`: all that were started. */
export async function threads(): Promise<{ start(): HelperPort; end(): Promise<void> }> {
  const file = await (script ??= threadScript())
  const started: Worker[] = []
  return {
    start() {
      const worker = new Worker(file)
      started.push(worker)
      const port: HelperPort = {
        onmessage: null,
        onerror: null,
        postMessage: (message, transfer) => worker.postMessage(message, transfer as never),
        terminate: () => void worker.terminate(),
      }
      worker.on('message', data => port.onmessage?.({ data } as never))
      worker.on('error', error => port.onerror?.({ message: error.message, preventDefault() {} } as never))
      return port
    },
    async end() {
      await Promise.all(started.map(worker => worker.terminate()))
    },
  }
}
