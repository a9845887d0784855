// DuckDB native with two threads and arquero, in Node: `node node-rivals.mjs ROWS ROUNDS`.
import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import * as aq from 'arquero'
import { median, p95, round3 } from '../measure.mjs'
import { bareColumns, buildTable, csvPieces, words } from './data.mjs'
import { queries } from './queries.mjs'

const [rows, rounds] = process.argv.slice(2).map(Number)
const table = buildTable(rows)
const folder = mkdtempSync(join(tmpdir(), 'bench-'))
const file = join(folder, 'rows.csv')
const handle = openSync(file, 'w')
for (const piece of csvPieces(table)) writeSync(handle, piece)
closeSync(handle)

const results = {}
async function time(name, rival, run, most = rounds) {
  const times = []
  for (let round = -1; round < most; round++) {
    const started = performance.now()
    await run(round)
    if (round >= 0) times.push(performance.now() - started)
  }
  results[name] = {
    ...results[name],
    [rival]: { median: round3(median(times)), p95: round3(p95(times)), runs: times.length },
  }
  console.error(`  node ${rows} ${rival} ${name}: ${results[name][rival].median} ms`)
}

const connection = await (await DuckDBInstance.create(':memory:', { threads: '2' })).connect()
await time(
  'read CSV',
  'DuckDB native, 2 threads',
  () => connection.run(`create or replace table t as select * from read_csv('${file}')`),
  3,
)
await time(
  'write CSV',
  'DuckDB native, 2 threads',
  () => connection.run(`copy t to '${join(folder, 'written.csv')}' (header, delimiter ',')`),
  3,
)
for (const [name, query] of Object.entries(queries)) {
  await time(name, 'DuckDB native, 2 threads', round =>
    connection.run(query(words[(round + 1) * 17 + 3], round)),
  )
}

if (rows <= 1_000_000) {
  const columns = bareColumns(table)
  const plain = Object.fromEntries(
    Object.entries(columns).map(([key, column]) => [
      key,
      column.codes ? Array.from(column.codes, code => column.texts[code]) : column,
    ]),
  )
  const arq = aq.table(plain)
  const few = 3
  await time('order by a number with few decimals', 'arquero', () => arq.orderby('cover').indices(), few)
  await time(
    'order by a 600-value text, collated',
    'arquero',
    () => arq.orderby(aq.collate('species')).indices(),
    few,
  )
  await time(
    'condition: number range and one of two texts',
    'arquero',
    () =>
      arq
        .filter(d => d.cover >= 20 && d.cover <= 40 && (d.state === 'seen' || d.state === 'confirmed'))
        .indices(),
    few,
  )
  await time(
    'group by one column, rows gathered',
    'arquero',
    () => arq.groupby('species').count().objects(),
    few,
  )
  await time(
    'group by one, five summaries',
    'arquero',
    () =>
      arq
        .groupby('species')
        .rollup({
          n: d => aq.op.valid(d.cover),
          sum: d => aq.op.sum(d.cover),
          mean: d => aq.op.mean(d.cover),
          min: d => aq.op.min(d.cover),
          max: d => aq.op.max(d.cover),
        })
        .objects(),
    few,
  )
  await time(
    'median by group',
    'arquero',
    () =>
      arq
        .groupby('species')
        .rollup({ m: d => aq.op.median(d.cover) })
        .objects(),
    few,
  )
  await time(
    'distinct values by group',
    'arquero',
    () =>
      arq
        .groupby('site')
        .rollup({ n: d => aq.op.distinct(d.observer) })
        .objects(),
    few,
  )
}
rmSync(folder, { recursive: true })
console.log(JSON.stringify(results))
