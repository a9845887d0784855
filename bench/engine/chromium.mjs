// The operations and DuckDB-WASM in Chromium.
import { fileURLToPath } from 'node:url'
import { openBrowser } from '../browser.mjs'
import { median, p95, round3 } from '../measure.mjs'

const entry = name => fileURLToPath(new URL(name, import.meta.url))

export async function engineInChromium(rows, rounds, only = '') {
  const { page, close } = await openBrowser({ worker: entry('worker-entry.mjs') })
  await page.exposeFunction('tell', line => console.error(`  worker ${rows}: ${line}`))
  const results = await page.evaluate(
    ({ rows, rounds, only }) =>
      new Promise((resolve, reject) => {
        const worker = new Worker('/worker.js', { type: 'module' })
        worker.onerror = event => reject(new Error(event.message))
        worker.onmessage = ({ data }) => {
          if (data.ready) worker.postMessage({ rows, rounds, only })
          else if (data.line) void window.tell(data.line)
          else resolve(data.results)
        }
      }),
    { rows, rounds, only },
  )
  await close()
  return results
}

export async function wasmInChromium(rows, rounds) {
  const { page, close } = await openBrowser({ wasm: entry('wasm-entry.mjs') })
  await page.exposeFunction('tell', line => console.error(`  wasm ${rows}: ${line}`))
  const { results } = await page.evaluate(
    async ({ rows, rounds }) => {
      await import('/wasm.js')
      return await window.runWasm(rows, rounds, line => window.tell(line))
    },
    { rows, rounds },
  )
  await close()
  return Object.fromEntries(
    Object.entries(results).map(([name, { times }]) => [
      name,
      { 'DuckDB-WASM': { median: round3(median(times)), p95: round3(p95(times)), runs: times.length } },
    ]),
  )
}
