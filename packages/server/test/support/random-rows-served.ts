import { DuckDBInstance } from '@duckdb/node-api'
import type { RowObject } from '../../../engine/src/read/rows/read-rows.ts'
import { duckdbEngine } from '../../src/engine/duckdb-engine.ts'
import { serveTables, type Handler } from '../../src/handler/serve-tables.ts'

const TYPES = {
  row: 'bigint not null',
  site: 'varchar',
  note: 'varchar',
  count: 'integer',
  cover: 'decimal(10, 2)',
  mass: 'double',
  seen: 'boolean',
  day: 'date',
  tags: 'varchar[]',
} as const

/** All that occur in the random tables. */
const SITES = ['Lower Ings', 'lower ings', 'Élan', 'elan', 'Zoë', 'Über', 'a b', 'a-b', '10', '9']

const said = (value: unknown): string => {
  // A page takes an empty text of an object for none.
  if (value === null || value === undefined || value === '') return 'null'
  if (Array.isArray(value)) return value.length === 0 ? 'null' : `[${value.map(said).join(',')}]`
  return typeof value === 'string' ? `'${value.replaceAll("'", "''")}'` : String(value)
}

export interface Served {
  readonly handler: Handler
  put(rows: readonly RowObject[]): Promise<void>
  close(): void
}

/**
 * The rows of the random tables in a database, served at `/rows/sightings`; `put` replaces them. `few`: the database knows
 * all sites that may occur.
 */
export async function servedRows({ few }: { readonly few: boolean }): Promise<Served> {
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  const columns = Object.entries({ ...TYPES, site: few ? 'sites' : TYPES.site })
  const sites = [...SITES].sort(new Intl.Collator('en').compare)
  await connection.run(`create type sites as enum (${sites.map(said).join(', ')})`)
  await connection.run(
    `create table sightings (${columns.map(([name, type]) => `"${name}" ${type}`).join(', ')})`,
  )
  const engine = duckdbEngine({ instance, locale: 'en' })
  return {
    handler: serveTables({
      engine,
      tables: [{ name: 'sightings', key: ['row'] }],
      path: '/rows',
      // Of some ten rows, many are far behind the first.
      limits: { places: { from: 3, step: 4, keptMs: 0 } },
    }),
    async put(rows) {
      await connection.run('delete from sightings')
      if (rows.length === 0) return
      const lines = rows.map(
        (row, at) => `(${columns.map(([name]) => (name === 'row' ? at : said(row[name]))).join(', ')})`,
      )
      await connection.run(`insert into sightings values ${lines.join(', ')}`)
    },
    close() {
      void engine.close()
      connection.closeSync()
      instance.closeSync()
    },
  }
}
