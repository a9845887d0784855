// One size in Node: `node node.mjs ROWS ROUNDS`. Prints the results as JSON on the last line.
import { buildTable } from './data.mjs'
import { runOperations } from './operations.mjs'

const [rows, rounds] = process.argv.slice(2).map(Number)
const results = await runOperations(buildTable(rows), {
  rounds,
  log: line => console.error(`  node ${rows}: ${line}`),
})
console.log(JSON.stringify(results))
