// One size in Node: `node node.mjs ROWS ROUNDS [OPERATION]`. Prints the results as JSON on the last line.
import { buildTable } from './data.mjs'
import { helpersInNode } from './node-helper.mjs'
import { runOperations } from './operations.mjs'

const [rows, rounds] = process.argv.slice(2, 4).map(Number)
const only = process.argv[4]
const readers = await helpersInNode(1)
const results = await runOperations(buildTable(rows), {
  rounds,
  only,
  readers,
  log: line => console.error(`  node ${rows}: ${line}`),
})
for (const reader of readers) reader.close()
console.log(JSON.stringify(results))
