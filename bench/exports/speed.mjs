// How fast a table is written in each format, beside DuckDB's `copy` of the same rows: `node exports/speed.mjs ROWS`. The last
// line is JSON.
import { closeSync, mkdtempSync, openSync, rmSync, statSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import { round3 } from '../measure.mjs'
import { buildTable, csvPieces } from '../engine/data.mjs'
import { exportParts, openTable } from './export-in-node.mjs'

const rows = Number(process.argv[2] ?? 1_000_000)
const table = buildTable(rows)
const folder = mkdtempSync(join(tmpdir(), 'exports-'))
const file = join(folder, 'rows.csv')
const handle = openSync(file, 'w')
for (const piece of csvPieces(table)) writeSync(handle, piece)
closeSync(handle)
const connection = await (await DuckDBInstance.create(':memory:', { threads: '2' })).connect()
await connection.run(`create table t as select * from read_csv('${file}')`)
const source = await openTable(table)
const columns = table.fields.map(({ key }) => key)
const OPTIONS = {
  csv: 'format csv, header',
  ndjson: 'format json',
  json: 'format json, array true',
  parquet: 'format parquet',
}
console.error(`${rows} rows × ${columns.length} columns; one thread, DuckDB with two`)
const results = {}
for (const format of ['csv', 'ndjson', 'json', 'xlsx', 'parquet', 'arrow']) {
  let bytes = 0
  const from = performance.now()
  for await (const part of exportParts(source, { format, columns })) {
    bytes += part.length
  }
  const ms = performance.now() - from
  let beside = ''
  results[format] = { seconds: round3(ms / 1000), megabytes: round3(bytes / 1e6) }
  if (OPTIONS[format]) {
    const target = join(folder, `copied.${format}`)
    const started = performance.now()
    await connection.run(`copy t to '${target}' (${OPTIONS[format]})`)
    const took = performance.now() - started
    const size = statSync(target).size
    results[format].duckdb = { seconds: round3(took / 1000), megabytes: round3(size / 1e6) }
    beside = `  DuckDB: ${(took / 1000).toFixed(1)} s, ${(size / 1e6).toFixed(0)} MB, ${(size / 1e3 / took).toFixed(0)} MB/s`
  }
  console.log(
    `${format.padEnd(8)} ${(ms / 1000).toFixed(1)} s, ${(bytes / 1e6).toFixed(0)} MB, ${(bytes / 1e3 / ms).toFixed(0)} MB/s, ${(rows / ms).toFixed(0)} k rows/s${beside}`,
  )
}
rmSync(folder, { recursive: true, force: true })
source.close()
console.log(JSON.stringify({ rows, formats: results }))
