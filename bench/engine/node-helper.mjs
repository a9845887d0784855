// A helper's thread in Node, and the way to it: what the browser's workers are in a page.
import { isMainThread, parentPort, Worker } from 'node:worker_threads'

if (!isMainThread) {
  const { HelperThread } = await import('../../packages/engine/dist/worker/helper-thread.js')
  parentPort.on('message', ({ tasks }) => new HelperThread().listen(tasks))
  parentPort.postMessage({ id: 0, ready: true })
}

/** Links to so many threads, as soon as they listen. */
export async function helpersInNode(count) {
  const { HelperLink, readyHelpers } = await import('../../packages/engine/dist/worker/helper-link.js')
  const links = Array.from({ length: count }, () => {
    const worker = new Worker(new URL(import.meta.url))
    const port = {
      onmessage: null,
      onerror: null,
      postMessage: (message, transfer) => worker.postMessage(message, transfer),
      terminate: () => void worker.terminate(),
    }
    worker.on('message', data => port.onmessage?.({ data }))
    return new HelperLink(port)
  })
  return await readyHelpers(links)
}
