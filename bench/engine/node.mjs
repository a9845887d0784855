// One size in Node: `node node.mjs ROWS ROUNDS [OPERATION]`. Prints the results as JSON on the last line.
import { buildTable } from './data.mjs'
import { runOperations } from './operations.mjs'

const [rows, rounds] = process.argv.slice(2, 4).map(Number)
const only = process.argv[4]
const results = await runOperations(buildTable(rows), {
  rounds,
  only,
  log: line => console.error(`  node ${rows}: ${line}`),
})
console.log(JSON.stringify(results))
