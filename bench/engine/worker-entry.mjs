// The engine's operations in a worker of the browser. The same script, started again, is a helper's thread.
import { HelperLink } from '../../packages/engine/dist/worker/helper-link.js'
import { HelperThread } from '../../packages/engine/dist/worker/helper-thread.js'
import { sharedMemory } from '../../packages/engine/dist/table/allocate.js'
import { settleTable } from '../../packages/engine/dist/table/settle-table.js'
import { buildTable } from './data.mjs'
import { runOperations } from './operations.mjs'

onmessage = async ({ data }) => {
  if (data.call === 'helper') {
    new HelperThread().listen(data.tasks)
    return
  }
  const { rows, rounds, only } = data
  const helper = new HelperLink(new Worker(location.href, { type: 'module' }))
  const helpers = (await helper.ready) ? [helper] : []
  const table = settleTable(buildTable(rows), sharedMemory)
  const results = await runOperations(table, { rounds, only, helpers, log: line => postMessage({ line }) })
  postMessage({ results })
}
postMessage({ id: 0, ready: true })
