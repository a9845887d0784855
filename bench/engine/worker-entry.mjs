// The engine's operations in a worker of the browser.
import { buildTable } from './data.mjs'
import { runOperations } from './operations.mjs'

onmessage = async ({ data: { rows, rounds, only } }) => {
  const results = await runOperations(buildTable(rows), { rounds, only, log: line => postMessage({ line }) })
  postMessage({ results })
}
postMessage({ ready: true })
