import pg, {
  type CustomTypesConfig,
  type FieldDef,
  type Pool,
  type PoolClient,
  type QueryArrayConfig,
  type QueryConfig,
} from 'pg'
import { postgresDialect } from '../dialect/postgres.ts'
import { QuestionError } from '../language/problem.ts'
import type { Statement } from '../statement/statement.ts'
import type { Property } from '../tables/served-table.ts'
import type { Budget } from './budget.ts'
import type { Answered, Described, SqlEngine } from './engine.ts'

export interface PostgresOptions {
  /** Connections to the database; whoever opened it ends it. As many questions are worked on at once as it has. */
  readonly pool: Pool
  /** BCP 47 tag of the language by which texts are ordered; default `en`. */
  readonly locale?: string
  /** The collation of the database by which texts are ordered; default: the one of ICU for the locale. */
  readonly collation?: string
}

/** Values come as the texts that the database writes. */
const AS_TEXT: CustomTypesConfig = { getTypeParser: () => (text: unknown) => text }

/**
 * Tables and views of a PostgreSQL database, or of another that speaks its protocol. The database's encoding is UTF-8. A
 * partitioned table some of whose partitions are foreign tables is asked part by part.
 */
export function postgresEngine({
  pool,
  locale = 'en',
  collation = `${locale}-x-icu`,
}: PostgresOptions): SqlEngine {
  const ready = new WeakSet<PoolClient>()
  // Without a listener, a connection that breaks while nobody uses it would end the process.
  pool.on('error', () => {})

  const connect = async (): Promise<PoolClient> => {
    const client = await pool.connect()
    if (ready.has(client)) return client
    try {
      await client.query("set datestyle = 'ISO'; set timezone = 'UTC'; set intervalstyle = 'iso_8601'")
      ready.add(client)
      return client
    } catch (error) {
      client.release(true)
      throw error
    }
  }

  /** Ends what a connection works on, over one beside those of the pool, which may all be taken. */
  const cancel = async (client: PoolClient): Promise<void> => {
    const { processID } = client as PoolClient & { readonly processID?: number }
    const beside = new pg.Client(pool.options)
    try {
      await beside.connect()
      await beside.query('select pg_cancel_backend($1)', [processID ?? 0])
    } finally {
      await beside.end()
    }
  }

  /** Works over a connection that nobody else has meanwhile. */
  async function withClient<T>(signal: AbortSignal, work: (client: PoolClient) => Promise<T>): Promise<T> {
    if (signal.aborted) throw new QuestionError({ code: 'given-up' })
    let client: PoolClient
    try {
      client = await connect()
    } catch {
      throw new QuestionError({ code: 'engine-gone' })
    }
    const cancelling: Promise<void>[] = []
    let broken = false
    let ended = false
    /** Told again until it has ended: what comes between two messages of a question is not heard. */
    const untilEnded = async (): Promise<void> => {
      while (!ended && !broken) {
        await cancel(client).catch(() => (broken = true))
        if (!ended) await new Promise(resolve => setTimeout(resolve, 100))
      }
    }
    const stop = (): void => {
      cancelling.push(untilEnded())
    }
    try {
      if (signal.aborted) throw new QuestionError({ code: 'given-up' })
      signal.addEventListener('abort', stop, { once: true })
      return await work(client)
    } catch (error) {
      if (signal.aborted) throw new QuestionError({ code: 'given-up' })
      if (isGone(error)) {
        broken = true
        throw new QuestionError({ code: 'engine-gone' })
      }
      throw error
    } finally {
      ended = true
      signal.removeEventListener('abort', stop)
      // Until it has arrived: else it would end the next question of this connection.
      await Promise.all(cancelling)
      client.release(broken)
    }
  }

  const run = (statement: Statement, signal: AbortSignal): Promise<Answer> =>
    withClient(signal, client => queried(client, statement))

  return {
    dialect: postgresDialect(collation),
    async describe(source): Promise<Described> {
      const never = new AbortController().signal
      const name = source.map(part => `"${part.replaceAll('"', '""')}"`).join('.')
      const { rows } = await run({ text: COLUMNS, values: [name] }, never)
      const found = rows.map(row => ({ name: row[0] ?? '', property: propertyFor(row, collation) }))
      const properties = found.flatMap(({ property }) => property ?? [])
      const leftOut = found.flatMap(({ name, property }) => (property ? [] : [name]))
      const parts = await run({ text: PARTS, values: [name] }, never)
      const isSplit = parts.rows.some(([, , kind]) => kind === 'f')
      return {
        properties,
        leftOut,
        parts: isSplit ? parts.rows.map(([schema, table]) => [schema ?? '', table ?? '']) : [],
      }
    },
    async count(statement, signal) {
      const { rows } = await run(statement, signal)
      return Number(rows[0][0])
    },
    async rows(statement, signal, budget) {
      if (budget) return await withClient(signal, client => rowsWithin(budget, client, statement))
      return answeredRows(await run(statement, signal))
    },
    transaction: (work, signal) =>
      withClient(signal, async client => {
        await client.query('begin')
        try {
          const result = await work(async statement => answeredRows(await queried(client, statement)))
          await client.query('commit')
          return result
        } catch (error) {
          // A connection that broke has nothing left to be taken back.
          await client.query('rollback').catch(() => {})
          throw changeError(error)
        }
      }),
    close() {},
  }
}

interface Answer {
  readonly rows: readonly (readonly (string | null)[])[]
  readonly types: readonly number[]
}

/** Rows as texts, and the types of their columns. */
async function queried(client: PoolClient, { text, values }: Statement): Promise<Answer> {
  const { rows, fields } = await client.query<(string | null)[]>({
    text,
    values: [...values],
    rowMode: 'array',
    types: AS_TEXT,
  })
  return { rows, types: fields.map(({ dataTypeID }) => dataTypeID) }
}

/** Rows as they come, as long as there is room for them; what comes behind is let go. */
function rowsWithin(budget: Budget, client: PoolClient, { text, values }: Statement): Promise<Answered[][]> {
  return new Promise((resolve, reject) => {
    const rows: Answered[][] = []
    const config: QueryArrayConfig = { text, values: [...values], rowMode: 'array', types: AS_TEXT }
    // Its types know rows as objects alone.
    const query = new pg.Query(config as QueryConfig)
    query.on('row', (given: (string | null)[], result?: { readonly fields: readonly FieldDef[] }) => {
      if (budget.isSpent) return
      const row = given.map((text, i) => answered(text, result?.fields[i].dataTypeID ?? 0))
      if (budget.takes(row)) rows.push(row)
    })
    query.on('end', () => resolve(rows))
    query.on('error', reject)
    client.query(query)
  })
}

const answeredRows = ({ rows, types }: Answer): Answered[][] =>
  rows.map(row => row.map((text, i) => answered(text, types[i])))

/** What stands against a change, by the class of what the database says. */
function changeError(error: unknown): unknown {
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  // Serialisation and deadlocks: another was quicker.
  if (/^(40001|40P01)$/.test(code)) return new QuestionError({ code: 'changed-meanwhile' })
  if (code.startsWith('23')) return new QuestionError({ code: 'breaks-rule' })
  if (code.startsWith('22')) return new QuestionError({ code: 'not-storable' })
  return error
}

/** Whether the database, or one behind it, cannot be reached. */
function isGone(error: unknown): boolean {
  if (!(error instanceof Error)) return false
  const code = 'code' in error ? String(error.code) : ''
  // Class 08: the connection; 57P: the server goes down; HV00N: no connection to a server behind a foreign table.
  return (
    /^(08|57P|HV00N)/.test(code) ||
    /^(ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOENT)/.test(code) ||
    (code === '' && /connection (terminated|ended)|timeout/i.test(error.message))
  )
}

const COLUMNS = `
  select a.attname, t.typname, a.attnotnull, a.atttypmod, c.collname, t.typtype
  from pg_catalog.pg_attribute a
  join pg_catalog.pg_type d on d.oid = a.atttypid
  join pg_catalog.pg_type t on t.oid = case when d.typtype = 'd' then d.typbasetype else d.oid end
  left join pg_catalog.pg_collation c on c.oid = a.attcollation
  where a.attrelid = cast($1 as regclass) and a.attnum > 0 and not a.attisdropped
  order by a.attnum`

const PARTS = `
  select n.nspname, c.relname, c.relkind
  from pg_catalog.pg_partition_tree(cast($1 as regclass)) p
  join pg_catalog.pg_class c on c.oid = p.relid
  join pg_catalog.pg_namespace n on n.oid = c.relnamespace
  where p.isleaf and p.level > 0
  order by c.relname`

/** What a column is to readers; null: none of the types that a grid has. */
function propertyFor(row: readonly (string | null)[], collation: string): Property | null {
  const [name, type, notNull, modifier, collated, kind] = row
  if (name === null || type === null) return null
  const as = (edm: string, of: Property['type'], more: Partial<Property> = {}): Property => ({
    name,
    nullable: notNull !== 't',
    edm,
    type: of,
    ...more,
  })
  if (kind === 'e') return as('String', 'text', { asText: true })
  switch (type) {
    case 'text':
    case 'varchar':
      return as('String', 'text', { ranked: collated === collation })
    case 'bpchar':
    case 'uuid':
    case 'name':
      return as('String', 'text', { asText: true })
    case 'int2':
      return as('Int16', 'integer')
    case 'int4':
      return as('Int32', 'integer')
    case 'int8':
      return as('Int64', 'integer')
    case 'numeric': {
      const [precision, scale] = digitsOf(Number(modifier))
      return as('Decimal', 'number', precision === null ? {} : { precision, scale })
    }
    case 'float4':
      return as('Single', 'number')
    case 'float8':
      return as('Double', 'number')
    case 'bool':
      return as('Boolean', 'boolean')
    case 'date':
      return as('Date', 'date')
    case 'time':
      return as('TimeOfDay', 'time')
    case 'timestamp':
      return as('DateTimeOffset', 'moment', { wall: true })
    case 'timestamptz':
      return as('DateTimeOffset', 'moment')
    case '_text':
    case '_varchar':
      return as('Collection(String)', 'tags')
    // Bytes.
    case 'bytea':
      return null
    default:
      // Documents, addresses, ranges, lists, intervals: as the database writes them.
      return as('String', 'text', { asText: true, told: true })
  }
}

/** Precision and scale as the catalogue keeps them in one number; scales may be negative. */
function digitsOf(modifier: number): readonly [number | null, number] {
  if (modifier < 4) return [null, 0]
  const packed = modifier - 4
  const scale = packed & 0x7ff
  return [(packed >> 16) & 0xffff, scale > 1023 ? scale - 2048 : scale]
}

/** Types of values by the numbers that the protocol gives them. */
const TYPE = {
  bool: 16,
  int8: 20,
  int2: 21,
  int4: 23,
  float4: 700,
  float8: 701,
  numeric: 1700,
  timestamp: 1114,
  timestamptz: 1184,
  textArray: 1009,
  varcharArray: 1015,
} as const

function answered(text: string | null, type: number): Answered {
  if (text === null) return null
  switch (type) {
    case TYPE.bool:
      return text === 't'
    case TYPE.int2:
    case TYPE.int4:
    case TYPE.float4:
    case TYPE.float8:
      return Number(text)
    case TYPE.int8:
      return Number.isSafeInteger(Number(text)) ? Number(text) : text
    case TYPE.numeric:
      return text.replace(/[^0-9]/g, '').length <= 15 || !/\d/.test(text) ? Number(text) : text
    case TYPE.timestamp:
    case TYPE.timestamptz:
      return momentText(text)
    case TYPE.textArray:
    case TYPE.varcharArray:
      return textsOf(text)
    default:
      return text
  }
}

/** `2024-02-29 10:00:00.5+00` as ISO 8601 writes it; years beyond four digits and before the first as they come. */
const momentText = (text: string): string =>
  /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d/.test(text) && !text.endsWith('BC')
    ? `${text.slice(0, 10)}T${text.slice(11).replace(/\+00$/, '')}Z`
    : text

/** The texts of an array as the database writes it: `{a,"b c","with \\"quotes\\"",NULL}`. */
function textsOf(written: string): string[] {
  const texts: string[] = []
  for (const [, quoted, bare] of written.slice(1, -1).matchAll(/"((?:[^"\\]|\\.)*)"|([^,{}"]+)/gs)) {
    if (quoted !== undefined) texts.push(quoted.replace(/\\(.)/gs, '$1'))
    else if (bare !== 'NULL') texts.push(bare)
  }
  return texts
}
