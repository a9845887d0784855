// The engine's operations in a worker of the browser.
import { buildTable } from './data.mjs'
import { runOperations } from './operations.mjs'

onmessage = async ({ data: { rows, rounds } }) => {
  const results = await runOperations(buildTable(rows), { rounds, log: line => postMessage({ line }) })
  postMessage({ results })
}
postMessage({ ready: true })
