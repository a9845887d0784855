// Every format read into a typed table, beside a well-known parser that makes objects or vectors of it, and rows that
// are replaced with few changes. Run in Node: `node engine/reading.mjs ROWS ROUNDS [ROWS OF THE LIST]`. Prints JSON on the last line.
import { createRequire } from 'node:module'
import {
  bytesOf,
  diffRows,
  EditableTable,
  finish,
  readFile,
  tableFromRows,
  valueAt,
} from '../../packages/engine/dist/index.js'
import { compare, median, round3 } from '../measure.mjs'
import { buildTable, csvPieces } from './data.mjs'

// The writers and parsers of column files are those that the repository's own tests use.
const repository = createRequire(new URL('../../package.json', import.meta.url))
const arrow = repository('apache-arrow')
const fromRepository = name => import(repository.resolve(name))
const { parquetReadObjects } = await fromRepository('hyparquet')
const { parquetWriteBuffer } = await fromRepository('hyparquet-writer')

// Rivals are installed when everything is measured, not for a run in small.
const Papa = await import('papaparse').then(
  ({ default: papa }) => papa,
  () => null,
)

const [rows, rounds] = process.argv.slice(2, 4).map(Number)
/** Rows of the list that is handed over anew. */
const MANY = Number(process.argv[4] ?? 1_000_000)
let table = buildTable(rows)
const keys = table.fields.map(field => field.key)
let objects = Array.from({ length: rows }, (_, row) =>
  Object.fromEntries(keys.map((key, i) => [key, valueAt(table.columns[i], row)])),
)
const results = { table: { rows, columns: keys.length } }

async function note(name, bytes, parser, parse) {
  const blob = new Blob([bytes])
  let read
  results[name] = await compare(
    {
      [parser]: parse,
      meadow: async () => {
        read = await readFile(blob)
        if (!read.ok) throw new Error(JSON.stringify(read.problem))
      },
    },
    { rounds, slowMs: 20_000 },
  )
  results[name].parser = parser
  results[name].megabytes = blob.size / 1e6
  results[name].bytesPerRow = Math.round(bytesOf(read.table) / rows)
  results[name].heapPerRow = Math.round(heapOf(parse) / rows)
  console.error(`  ${name}: ${results[name].meadow.ratio}× of ${parser}, ${results[name].meadow.median} ms`)
}

/** Bytes that what a parser makes keeps, on the heap and beside it; 0 where the collector cannot be called. */
function heapOf(parse) {
  if (!globalThis.gc) return 0
  globalThis.gc()
  const held = () => process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers
  const before = held()
  const made = parse()
  globalThis.gc()
  const bytes = held() - before
  // Held until here, so that it is not collected before it is weighed.
  return made instanceof Promise ? 0 : made ? bytes : 0
}

// What is read is made first, and what it was made from given back: a collector that goes through millions of objects
// again and again would be measured, not a reader.
const csv = [...csvPieces(table)].join('')
const json = JSON.stringify(objects)
const lines = objects.map(row => JSON.stringify(row)).join('\n')
const vectors = Object.fromEntries(
  table.fields.map(({ key, type }) => {
    const kind =
      type === 'text' ? new arrow.Utf8() : type === 'boolean' ? new arrow.Bool() : new arrow.Float64()
    const values = objects.map(row => row[key])
    return [key, arrow.vectorFromArray(values, kind)]
  }),
)
const ipc = arrow.tableToIPC(new arrow.Table(vectors), 'file')
for (const key of keys) delete vectors[key]
const parquet = parquetWriteBuffer({
  columnData: table.fields.map(({ key, type }) => ({
    name: key,
    data: objects.map(row => row[key] ?? undefined),
    type: type === 'text' ? 'STRING' : type === 'boolean' ? 'BOOLEAN' : 'DOUBLE',
  })),
})
objects = table = null
globalThis.gc?.()

if (Papa) await note('CSV', csv, 'papaparse', () => Papa.parse(csv, { header: true, dynamicTyping: true }))
else await note('CSV', csv, 'split alone', () => csv.split('\n').map(line => line.split(',')))
await note('JSON', json, 'JSON.parse', () => JSON.parse(json))
await note('NDJSON', lines, 'JSON.parse a line', () => lines.split('\n').map(line => JSON.parse(line)))
await note('Arrow', ipc, 'apache-arrow, to objects', () =>
  arrow
    .tableFromIPC(ipc)
    .toArray()
    .map(row => row.toJSON()),
)
await note('Parquet', parquet, 'hyparquet, to objects', () => parquetReadObjects({ file: parquet }))

// The list handed over anew with a hundred of its rows changed, beside reading all of it.
const keyed = Array.from({ length: MANY }, (_, row) => ({
  row,
  site: `site ${row % 600}`,
  note: `note ${row} ${(row * 7919) % 1013}`,
  cover: (row % 10_000) / 100,
  count: row % 97,
  seen: row % 3 === 0,
  day: `2024-0${(row % 9) + 1}-1${row % 10}`,
  mass: row / 7,
}))
const step = MANY / 100
const changed = (row, round) => ({ ...row, cover: round, site: `site ${round}` })
/** Rows that did not change are the same objects; or all are copies, as some frameworks make them. */
const LISTS = {
  sameObjectsMs: round => keyed.map((row, i) => (i % step === 0 ? changed(row, round) : row)),
  copiedObjectsMs: round => keyed.map((row, i) => (i % step === 0 ? changed(row, round) : { ...row })),
}
const edits = new EditableTable(finish(tableFromRows(keyed)))
finish(edits.keys(['row']))
const spend = act => {
  const started = performance.now()
  act()
  return performance.now() - started
}
results.replace = { readAllMs: Math.round(spend(() => finish(tableFromRows(keyed)))) }
for (const [name, listOf] of Object.entries(LISTS)) {
  let before = keyed
  const spent = []
  for (let round = 1; round <= rounds + 1; round++) {
    const after = listOf(round)
    spent.push(spend(() => void finish(edits.commit(finish(diffRows(before, after, ['row'])), ['row']))))
    before = after
  }
  results.replace[name] = round3(median(spent.slice(1)))
}
console.error(`  replace: ${JSON.stringify(results.replace)}`)
console.log(JSON.stringify(results))
