// DuckDB-WASM in the browser, in its own worker, on the same rows.
import * as duckdb from '@duckdb/duckdb-wasm'
import { buildTable, csvPieces, words } from './data.mjs'
import { queries } from './queries.mjs'

globalThis.runWasm = async (rows, rounds, log) => {
  const db = new duckdb.AsyncDuckDB(new duckdb.VoidLogger(), new Worker('/duckdb-browser-eh.worker.js'))
  await db.instantiate('/duckdb-eh.wasm')
  const blob = new Blob([...csvPieces(buildTable(rows))])
  await db.registerFileBuffer('rows.csv', new Uint8Array(await blob.arrayBuffer()))
  const connection = await db.connect()
  const results = {}
  const time = async (name, run, most) => {
    const times = []
    for (let round = -1; round < most; round++) {
      const started = performance.now()
      await run(round)
      const ms = performance.now() - started
      if (round >= 0) times.push(ms)
      if (round === -1 && ms > 5000) most = 1
    }
    results[name] = { times }
    await log(`${name}: ${times.map(ms => ms.toFixed(0)).join(' ')} ms`)
  }
  await time(
    'read CSV',
    () => connection.query(`create or replace table t as select * from read_csv('rows.csv')`),
    2,
  )
  for (const [name, query] of Object.entries(queries)) {
    await time(name, round => connection.query(query(words[(round + 1) * 17 + 3], round)), rounds)
  }
  await db.terminate()
  return { results, bytes: blob.size }
}
