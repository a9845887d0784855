import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import pg from 'pg'
import { startCluster } from '../../../../scripts/postgres/cluster.mjs'
import { freePort, makeServer, postgresPrograms, startServer } from '../../../../scripts/postgres/servers.mjs'
import { duckdbEngine } from '../../src/engine/duckdb-engine.ts'
import type { SqlEngine } from '../../src/engine/engine.ts'
import { postgresEngine } from '../../src/engine/postgres-engine.ts'

/** A database for tests, and how it is asked. */
export interface Database {
  readonly engine: SqlEngine
  /** Where a server is reached; of a database in this process nothing. */
  readonly address: string
  /** One that works on so many questions at once. */
  engineFor(atOnce: number): SqlEngine
  run(statement: string): Promise<void>
  /** Makes a table; `collated` columns have the collation of the language themselves, where the engine has such. */
  makeTable(
    name: string,
    columns: Readonly<Record<string, string>>,
    key: readonly string[],
    collated?: readonly string[],
  ): Promise<void>
  close(): Promise<void>
}

/** PostgreSQL is installed, or must be: a run that counts leaves nothing out. */
export const hasPostgres = postgresPrograms() !== null || process.env.CI !== undefined

export const DATABASES = {
  DuckDB: duckdb,
  PostgreSQL: postgres,
  'a cluster of PostgreSQL': postgresCluster,
} as const

export const databaseNames = (Object.keys(DATABASES) as (keyof typeof DATABASES)[]).filter(
  name => hasPostgres || name === 'DuckDB',
)

const listOf = (columns: Readonly<Record<string, string>>): string =>
  Object.entries(columns)
    .map(([name, type]) => `"${name.replaceAll('"', '""')}" ${type}`)
    .join(', ')

const COLLATION = '"en-x-icu"'

const withCollation = (
  columns: Readonly<Record<string, string>>,
  collated: readonly string[],
): Record<string, string> =>
  Object.fromEntries(
    Object.entries(columns).map(([name, type]) => [
      name,
      collated.includes(name) ? `${type} collate ${COLLATION}` : type,
    ]),
  )

async function duckdb(): Promise<Database> {
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  const engine = duckdbEngine({ instance, locale: 'en' })
  const run = async (statement: string): Promise<void> => {
    await connection.run(statement)
  }
  return {
    engine,
    address: '',
    engineFor: atOnce => duckdbEngine({ instance, atOnce }),
    run,
    makeTable: (name, columns) => run(`create table "${name.replaceAll('"', '""')}" (${listOf(columns)})`),
    async close() {
      await engine.close()
      connection.closeSync()
      instance.closeSync()
    },
  }
}

function folderForServers(): string {
  const folder = mkdtempSync(join(tmpdir(), 'meadow-postgres-'))
  // The servers may run as another user.
  chmodSync(folder, 0o755)
  return folder
}

/** Engines over a server, each with its connections. */
function engines(
  url: string,
): Pick<Database, 'engine' | 'address' | 'engineFor' | 'run' | 'close'> & { readonly pool: pg.Pool } {
  const pools: pg.Pool[] = []
  const engineFor = (atOnce: number): SqlEngine => {
    const pool = new pg.Pool({ connectionString: url, max: atOnce })
    pools.push(pool)
    return postgresEngine({ pool, locale: 'en' })
  }
  const engine = engineFor(4)
  return {
    engine,
    address: url,
    engineFor,
    pool: pools[0],
    async run(statement) {
      await pools[0].query(statement)
    },
    async close() {
      for (const pool of pools) await pool.end()
    },
  }
}

async function postgres(): Promise<Database> {
  const folder = folderForServers()
  const data = join(folder, 'data')
  await makeServer(data)
  const server = await startServer(data, await freePort())
  const { pool: _, ...over } = engines(server.url)
  return {
    ...over,
    makeTable: (name, columns, __, collated = []) =>
      over.run(`create table "${name.replaceAll('"', '""')}" (${listOf(withCollation(columns, collated))})`),
    async close() {
      await over.close()
      await server.stop()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

export interface ClusterDatabase extends Database {
  stopShard(nth: number): Promise<void>
  startShard(nth: number): Promise<void>
  /** How the coordinator goes about a statement. */
  plan(statement: string, values: readonly unknown[]): Promise<string>
}

export async function postgresCluster(): Promise<ClusterDatabase> {
  const folder = folderForServers()
  const cluster = await startCluster(folder, 3)
  const { pool, ...over } = engines(cluster.url)
  return {
    ...over,
    stopShard: cluster.stopShard,
    startShard: cluster.startShard,
    makeTable: (name, columns, key, collated = []) =>
      cluster.makeTable(name, withCollation(columns, collated), key),
    async plan(statement, values) {
      const { rows } = await pool.query<{ 'QUERY PLAN': string }>(`explain (verbose) ${statement}`, [
        ...values,
      ])
      return rows.map(row => row['QUERY PLAN']).join('\n')
    },
    async close() {
      await over.close()
      await cluster.stop()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
