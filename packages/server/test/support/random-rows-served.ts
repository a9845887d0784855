import type { RowObject } from '../../../engine/src/read/rows/read-rows.ts'
import { serveTables, type Handler } from '../../src/handler/serve-tables.ts'
import type { Database } from './databases.ts'

const TYPES = {
  row: 'bigint not null',
  site: 'text',
  note: 'text',
  count: 'integer',
  cover: 'decimal(10, 2)',
  mass: 'double precision',
  seen: 'boolean',
  day: 'date',
  tags: 'text[]',
} as const

/** All that occur in the random tables. */
const SITES = ['Lower Ings', 'lower ings', 'Élan', 'elan', 'Zoë', 'Über', 'a b', 'a-b', '10', '9']

const said = (value: unknown): string => {
  // A page takes an empty text of an object for none.
  if (value === null || value === undefined || value === '') return 'null'
  if (Array.isArray(value)) return value.length === 0 ? 'null' : `array[${value.map(said).join(',')}]`
  if (typeof value === 'number') return double(value)
  return typeof value === 'string' ? `'${value.replaceAll("'", "''")}'` : String(value)
}

/** Without an exponent some databases take it for a decimal, and round it. */
const double = (value: number): string => (/e/.test(String(value)) ? String(value) : `${value}e0`)

export interface Served {
  readonly handler: Handler
  put(rows: readonly RowObject[]): Promise<void>
  close(): Promise<void>
}

/**
 * The rows of the random tables in a database, served at `/rows/sightings`; `put` replaces them. `few`: the database knows
 * all sites that may occur.
 */
export async function servedRows(database: Database, few: boolean): Promise<Served> {
  const columns = Object.entries({ ...TYPES, site: few ? 'sites' : TYPES.site })
  if (few) {
    const sites = [...SITES].sort(new Intl.Collator('en').compare)
    await database.run(`create type sites as enum (${sites.map(said).join(', ')})`)
  }
  // One text is ordered by the column's own collation, the other by what the statement says.
  await database.makeTable('sightings', Object.fromEntries(columns), ['row'], few ? [] : ['site'])
  return {
    handler: serveTables({
      engine: database.engine,
      tables: [{ name: 'sightings', key: ['row'] }],
      path: '/rows',
      // Of some ten rows, many are far behind the first.
      limits: { places: { from: 3, step: 4, keptMs: 0 } },
    }),
    async put(rows) {
      await database.run('delete from sightings')
      if (rows.length === 0) return
      const lines = rows.map(
        (row, at) => `(${columns.map(([name]) => (name === 'row' ? at : said(row[name]))).join(', ')})`,
      )
      await database.run(`insert into sightings values ${lines.join(', ')}`)
    },
    close: () => database.close(),
  }
}
