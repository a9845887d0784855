import { mkdtemp, rm } from 'node:fs/promises'
import { createReadStream } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { DuckDBInstance, type DuckDBConnection } from '@duckdb/node-api'
import type { RecipeInput } from '@vast-meadow/engine'
import type { SqlEngine } from '@vast-meadow/server'
import { postgresEngine } from '@vast-meadow/server/postgres'
import pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { makeSplitTable, runOn, type Servers } from '../../../scripts/postgres/split-table.mjs'
import { rowsStatement, tableStatements } from './sightings-sql'

const BATCH_ROWS = 250_000
const COLLATION = 'en-x-icu'

/** What is made, and who hears how far it is. */
export interface Making {
  readonly table: string
  readonly key: string
  readonly recipe: RecipeInput
  readonly rows: number
  readonly tell: (done: number) => void
}

/** The addresses of a cluster as they are given: first the coordinator's. */
export function serversOf(addresses: string): Servers {
  const [coordinator = '', ...shards] = addresses.split(/\s+/).filter(Boolean)
  return { coordinator, shards }
}

/** The rows of a recipe, kept by the servers of a cluster; made where they are not. */
export async function clusterEngine(servers: Servers, making: Making): Promise<SqlEngine> {
  const pool = new pg.Pool({ connectionString: servers.coordinator, max: 8 })
  if (!(await isMade(pool, making))) await makeRows(pool, servers, making)
  return postgresEngine({ pool, collation: COLLATION })
}

const remark = ({ rows }: Making): string => `${rows} rows`

/** Whether all rows are there: that is written down when the last one is. */
async function isMade(pool: pg.Pool, making: Making): Promise<boolean> {
  const { rows } = await pool.query<{ said: string | null }>(
    'select obj_description(to_regclass($1)) as said',
    [making.table],
  )
  return rows[0]?.said === remark(making)
}

async function makeRows(pool: pg.Pool, servers: Servers, making: Making): Promise<void> {
  const { table, key, recipe, rows, tell } = making
  tell(0)
  await makeSplitTable(servers, table, columnsOf(recipe), [key])
  const folder = await mkdtemp(join(tmpdir(), 'sightings-'))
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  try {
    await connection.run("set TimeZone = 'UTC'")
    for (const statement of tableStatements(table, recipe, 'en')) await connection.run(statement)
    await connection.run('create table places (shard integer, key integer)')
    for (let from = 0; from < rows; from += BATCH_ROWS) {
      const to = Math.min(rows, from + BATCH_ROWS)
      await connection.run(`delete from "${table}"`)
      await connection.run(rowsStatement(table, recipe, from, to))
      await place(connection, pool, servers, making)
      await Promise.all(
        servers.shards.map(async (shard, nth) => {
          const file = join(folder, `${nth}.csv`)
          const mine = `select * from "${table}" where "${key}" in (select key from places where shard = ${nth})`
          await connection.run(`copy (${mine}) to '${file}' (format csv, header false)`)
          await copyTo(shard, table, file)
        }),
      )
      tell(to)
    }
  } finally {
    connection.closeSync()
    instance.closeSync()
    await rm(folder, { recursive: true, force: true })
  }
  await Promise.all(servers.shards.map(shard => runOn(shard, [`vacuum analyze "${table}"`])))
  await runOn(servers.coordinator, [
    `analyze "${table}"`,
    `comment on table "${table}" is '${remark(making)}'`,
  ])
}

/** Notes which server keeps each row: that is for the coordinator to say. */
async function place(
  connection: DuckDBConnection,
  pool: pg.Pool,
  { shards }: Servers,
  { table, key }: Making,
): Promise<void> {
  const ends = await connection.runAndReadAll(`select min("${key}"), max("${key}") from "${table}"`)
  const [[low, high] = []] = ends.getRows()
  await connection.run('delete from places')
  const appender = await connection.createAppender('places')
  for (const nth of shards.keys()) {
    const { rows } = await pool.query<[number]>({
      text: `select i from generate_series($1::integer, $2::integer) i
        where satisfies_hash_partition(cast('${table}' as regclass), ${shards.length}, ${nth}, i)`,
      values: [Number(low), Number(high)],
      rowMode: 'array',
    })
    for (const [i] of rows) {
      appender.appendInteger(nth)
      appender.appendInteger(i)
      appender.endRow()
    }
  }
  appender.closeSync()
}

async function copyTo(shard: string, table: string, file: string): Promise<void> {
  const client = new pg.Client({ connectionString: shard })
  await client.connect()
  try {
    await pipeline(createReadStream(file), client.query(copyFrom(`copy "${table}" from stdin (format csv)`)))
  } finally {
    await client.end()
  }
}

/** The columns of a recipe as PostgreSQL keeps them; texts are ordered by the language wherever they are. */
function columnsOf({ columns }: RecipeInput): Record<string, string> {
  return Object.fromEntries(columns.map(column => [column.key, typeOf(column)]))
}

function typeOf(column: RecipeInput['columns'][number]): string {
  switch (column.kind) {
    case 'count':
      return 'integer not null'
    case 'number':
      return column.decimals ? `numeric(${9 + column.decimals}, ${column.decimals})` : 'integer'
    case 'date':
      return 'date'
    case 'time':
      return 'timestamptz'
    case 'yes-no':
      return 'boolean'
    default:
      return `text collate "${COLLATION}"`
  }
}
