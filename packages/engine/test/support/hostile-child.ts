import { readFile } from '../../src/read/read-file.ts'
import { HOSTILE } from './hostile-files.ts'

/** Reads one hostile file, and tells what became of it and how much memory that took at most. */
const bytes = HOSTILE[process.argv[2]].make()
const blob = new Blob([bytes])
const megabytes = (): number => process.memoryUsage().rss / 2 ** 20
const before = megabytes()
let most = before
const watch = setInterval(() => (most = Math.max(most, megabytes())), 5)
const read = await readFile(blob)
clearInterval(watch)
const became = read.ok ? read.table.rows : read.problem.code
console.log(
  JSON.stringify({ became, megabytes: Math.max(most, megabytes()) - before, size: blob.size / 2 ** 20 }),
)
