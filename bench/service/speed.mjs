// What the handler of the server costs beside the bare statement in the same engine, on DuckDB and, where it is installed,
// on a cluster of PostgreSQL. Arguments: rows on DuckDB, by commas; rows on the cluster, 0: none; a folder for the data.
import { existsSync, mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import { serveTables } from '@vast-meadow/server'
import { duckdbEngine } from '@vast-meadow/server/duckdb'
import { postgresEngine } from '@vast-meadow/server/postgres'
import pg from 'pg'
import { startCluster } from '../../scripts/postgres/cluster.mjs'
import { postgresPrograms } from '../../scripts/postgres/servers.mjs'
import { compare } from '../measure.mjs'
import { scrollBench } from './scroll.mjs'

const [sizes = '100000', clusterRows = '0', folder = '/var/tmp/vast-meadow-bench'] = process.argv.slice(2)
const TABLE = 'sightings'
const SITES = ['Lower', 'Upper', 'Long', 'Far', 'Nether'].flatMap(part =>
  ['Ings', 'Withy', 'Mead', 'Holt', 'Carr', 'Leaze', 'Croft', 'Strand'].map(name => `${part} ${name}`),
)
const listed = texts => texts.map(text => `'${text}'`).join(', ')

const QUESTIONS = {
  'first window': { $orderby: 'sighting', $top: '96' },
  'how many': { $count: '' },
  'window by cover': { $orderby: 'cover desc', $top: '96' },
  'window by day and cover': { $orderby: 'seen_on,cover', $top: '96' },
  'condition, counted': { $count: '', $filter: 'cover gt 40 and seen_on ge 2020-01-01' },
  'condition on texts, counted': { $count: '', $filter: "contains(VastMeadow.fold(remark),'gate')" },
  'search for a word, counted': { $count: '', $search: 'ings' },
  'groups with three summaries': {
    $apply: 'groupby((site),aggregate($count as n,cover with average as c,count with sum as s))',
    $orderby: 'site',
  },
  'sums of all': {
    $apply: 'aggregate(cover with sum as a,count with max as b,site with countdistinct as c)',
  },
  'jump to the middle, by key': { $orderby: 'sighting', $top: '96', $skip: 'MIDDLE' },
  'jump to the middle, by cover': { $orderby: 'cover desc', $top: '96', $skip: 'MIDDLE' },
}

/** Rows of the table as DuckDB makes them, from one place up to another. */
const made = (from, to) => `select
  i::integer as sighting,
  ([${listed(SITES)}])[1 + (hash(i) % ${SITES.length})::integer] as site,
  (hash(i * 3) % 10000) / 100.0 as cover,
  (hash(i * 5) % 400)::integer as count,
  date '2012-01-01' + (hash(i * 7) % 4700)::integer as seen_on,
  timestamptz '2012-01-01 00:00:00+00' + to_seconds((hash(i * 11) % 400000000)::bigint) as recorded,
  (hash(i * 13) % 2) = 0 as verified,
  'seen ' || (['by the gate', 'under willows', 'along the ditch', 'near the ford'])[1 + (hash(i * 17) % 4)::integer]
    || ' ' || (hash(i * 19) % 1000) as remark
  from range(${from}, ${to}) r(i)`

async function duckdb(rows) {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `bench-${rows}.duckdb`)
  const isMade = existsSync(file)
  const instance = await DuckDBInstance.create(file)
  if (!isMade) {
    const connection = await instance.connect()
    await connection.run("set TimeZone = 'UTC'")
    await connection.run(`create type sites as enum (${listed([...SITES].sort())})`)
    await connection.run(`create table ${TABLE} (sighting integer not null, site sites, cover decimal(10, 2),
      count integer, seen_on date, recorded timestamptz, verified boolean, remark varchar)`)
    for (let from = 0; from < rows; from += 1_000_000)
      await connection.run(`insert into ${TABLE} ${made(from, Math.min(rows, from + 1_000_000))}`)
    await connection.run('checkpoint')
    connection.closeSync()
  }
  const engine = duckdbEngine({ instance })
  const measured = await measure(engine, rows)
  const scroll = await scrollBench(engine, TABLE, rows < 10_000 ? 1 : 6)
  engine.close()
  instance.closeSync()
  return { ...measured, scroll }
}

async function cluster(rows) {
  const place = join(folder, 'cluster')
  rmSync(place, { recursive: true, force: true })
  mkdirSync(place, { recursive: true })
  const servers = await startCluster(place, 3, {
    shared_buffers: '512MB',
    work_mem: '64MB',
    max_wal_size: '4GB',
  })
  try {
    const text = 'text collate "en-x-icu"'
    await servers.makeTable(
      TABLE,
      {
        sighting: 'integer not null',
        site: text,
        cover: 'numeric(10, 2)',
        count: 'integer',
        seen_on: 'date',
        recorded: 'timestamptz',
        verified: 'boolean',
        remark: text,
      },
      ['sighting'],
    )
    const pool = new pg.Pool({ connectionString: servers.url, max: 4 })
    const site = `(array[${listed(SITES)}])[1 + (i * 7919) % ${SITES.length}]`
    for (let from = 0; from < rows; from += 100_000)
      await pool.query(`insert into ${TABLE} select i, ${site}, (i * 48271 % 10000) / 100.0, i * 31 % 400,
        date '2012-01-01' + (i * 13 % 4700)::integer, timestamptz '2012-01-01 00:00:00+00' + i * interval '17 seconds',
        i % 2 = 0, 'seen ' || (array['by the gate', 'under willows', 'along the ditch', 'near the ford'])[1 + i % 4]
        || ' ' || i * 19 % 1000 from generate_series(${from}::bigint, ${Math.min(rows, from + 100_000) - 1}) i`)
    for (const url of servers.shardUrls) {
      const shard = new pg.Client({ connectionString: url })
      await shard.connect()
      await shard.query(`vacuum analyze ${TABLE}`)
      await shard.end()
    }
    const measured = await measure(postgresEngine({ pool }), rows)
    await pool.end()
    return measured
  } finally {
    await servers.stop()
    rmSync(place, { recursive: true, force: true })
  }
}

/** By question: milliseconds of the statements alone, and of the handler's whole answer. */
async function measure(engine, rows) {
  const heard = []
  const listening = {
    ...engine,
    count: (statement, signal) => (heard.push([statement, 'count']), engine.count(statement, signal)),
    rows: (statement, signal, budget) => (
      heard.push([statement, 'rows']),
      engine.rows(statement, signal, budget)
    ),
  }
  const tables = [{ name: TABLE, key: ['sighting'] }]
  // Places of an order are kept as long as the run takes: a jump is measured once they are known.
  const limits = { seconds: 600, places: { keptMs: 1e9 } }
  const handler = serveTables({ engine: listening, tables, limits })
  const never = new AbortController().signal
  const figures = {}
  for (const [name, { $count, ...given }] of Object.entries(QUESTIONS)) {
    const params = Object.fromEntries(
      Object.entries(given).map(([key, value]) => [
        key,
        value.replace('MIDDLE', String(Math.floor(rows / 2))),
      ]),
    )
    const path = $count === undefined ? TABLE : `${TABLE}/$count`
    const ask = async () => {
      const answer = await handler(new Request(`http://here/${path}?${new URLSearchParams(params)}`))
      const text = await answer.text()
      if (answer.status !== 200) throw new Error(`${name}: ${text}`)
    }
    heard.length = 0
    const started = performance.now()
    await ask()
    const first = performance.now() - started
    const [statement, kind] = heard.at(-1)
    const told = await compare(
      { statement: () => engine[kind](statement, never), handler: ask },
      { rounds: first > 3000 ? 3 : 7, slowMs: 20_000 },
    )
    figures[name] = {
      first: Math.round(first),
      statement: told.statement.median,
      handler: told.handler.median,
    }
  }
  return { rows, figures }
}

const results = { duckdb: [], cluster: null }
for (const rows of sizes.split(',').map(Number)) results.duckdb.push(await duckdb(rows))
if (Number(clusterRows) > 0 && postgresPrograms()) results.cluster = await cluster(Number(clusterRows))
console.log(JSON.stringify(results))
