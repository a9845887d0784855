import {
  DuckDBDateValue,
  DuckDBDecimalValue,
  DuckDBListValue,
  DuckDBTimestampMillisecondsValue,
  DuckDBTimestampNanosecondsValue,
  DuckDBTimestampSecondsValue,
  DuckDBTimestampTZValue,
  DuckDBTimestampValue,
  DuckDBTimeValue,
  type DuckDBConnection,
  type DuckDBInstance,
  type DuckDBValue,
} from '@duckdb/node-api'
import { duckdbDialect } from '../dialect/duckdb.ts'
import { QuestionError } from '../language/problem.ts'
import type { Statement } from '../statement/statement.ts'
import type { Property } from '../tables/served-table.ts'
import type { Budget } from './budget.ts'
import type { Answered, SqlEngine } from './engine.ts'

export interface DuckDBOptions {
  /** The database that is asked; whoever opened it closes it. */
  readonly instance: DuckDBInstance
  /** BCP 47 tag of the language by which texts are ordered; default `en`. */
  readonly locale?: string
  /** Questions that are worked on at once; others wait. Default 4. */
  readonly atOnce?: number
}

/** Tables and views of a DuckDB database: its own, or over files of Parquet and delimited text. */
export function duckdbEngine({ instance, locale = 'en', atOnce = 4 }: DuckDBOptions): SqlEngine {
  const idle: DuckDBConnection[] = []
  const waiting: (() => void)[] = []
  let open = 0

  const connect = async (): Promise<DuckDBConnection> => {
    const connection = await instance.connect()
    // Dates with a time are read and written in UTC, wherever the server stands.
    await connection.run("set TimeZone = 'UTC'")
    return connection
  }

  /** Waits until a connection is free. Who gives up waits no more, so that nobody is woken in vain. */
  const untilFree = (signal: AbortSignal): Promise<void> =>
    new Promise((resolve, reject) => {
      const giveUp = (): void => {
        const place = waiting.indexOf(wake)
        if (place >= 0) waiting.splice(place, 1)
        reject(new QuestionError({ code: 'given-up' }))
      }
      const wake = (): void => {
        signal.removeEventListener('abort', giveUp)
        resolve()
      }
      waiting.push(wake)
      signal.addEventListener('abort', giveUp, { once: true })
    })

  const take = async (signal: AbortSignal): Promise<DuckDBConnection> => {
    if (signal.aborted) throw new QuestionError({ code: 'given-up' })
    while (open >= atOnce) await untilFree(signal)
    open++
    return idle.pop() ?? (await connect())
  }

  const giveBack = (connection: DuckDBConnection): void => {
    idle.push(connection)
    open--
    waiting.shift()?.()
  }

  /** Works over a connection that nobody else has meanwhile. */
  async function withConnection<T>(
    signal: AbortSignal,
    work: (connection: DuckDBConnection) => Promise<T>,
  ): Promise<T> {
    const connection = await take(signal)
    const stop = (): void => connection.interrupt()
    try {
      if (signal.aborted) throw new QuestionError({ code: 'given-up' })
      signal.addEventListener('abort', stop)
      return await work(connection)
    } catch (error) {
      if (signal.aborted) throw new QuestionError({ code: 'given-up' })
      throw error
    } finally {
      signal.removeEventListener('abort', stop)
      giveBack(connection)
    }
  }

  /** Rows as the engine has them. */
  const run = ({ text, values }: Statement, signal: AbortSignal): Promise<DuckDBValue[][]> =>
    withConnection(signal, async connection => {
      const reader = await connection.runAndReadAll(text, values as DuckDBValue[])
      return reader.getRows()
    })

  const never = new AbortController().signal

  return {
    dialect: duckdbDialect(locale),
    async describe(source) {
      const named = source.map(part => `"${part.replaceAll('"', '""')}"`).join('.')
      const rows = await run({ text: `describe ${named}`, values: [] }, never)
      const found: Property[] = []
      const leftOut: string[] = []
      for (const [name, type, nullable] of rows) {
        const property = propertyFor(String(name), String(type), nullable !== 'NO', locale)
        if (property) found.push(property)
        else leftOut.push(String(name))
      }
      return { properties: found, leftOut, parts: [] }
    },
    async count(statement, signal) {
      const [[count]] = await run(statement, signal)
      return Number(count)
    },
    async rows(statement, signal, budget) {
      if (budget) return await withConnection(signal, connection => rowsWithin(budget, connection, statement))
      const rows = await run(statement, signal)
      return rows.map(row => row.map(answered))
    },
    transaction: (work, signal) =>
      withConnection(signal, async connection => {
        await connection.run('begin transaction')
        try {
          const result = await work(async ({ text, values }) => {
            const reader = await connection.runAndReadAll(text, values as DuckDBValue[])
            return reader.getRows().map(row => row.map(answered))
          })
          await connection.run('commit')
          return result
        } catch (error) {
          // What failed by itself may have ended it already.
          await connection.run('rollback').catch(() => {})
          throw changeError(error)
        }
      }),
    close() {
      for (const connection of idle.splice(0)) connection.closeSync()
    },
  }
}

/** What stands against a change, by what the engine says. */
function changeError(error: unknown): unknown {
  const message = error instanceof Error ? error.message : ''
  if (/^TransactionContext Error|write-write conflict|Conflict on/i.test(message))
    return new QuestionError({ code: 'changed-meanwhile' })
  if (message.startsWith('Constraint Error')) return new QuestionError({ code: 'breaks-rule' })
  if (/^(Conversion|Out of Range|Invalid Input) Error/.test(message))
    return new QuestionError({ code: 'not-storable' })
  return error
}

/** What a column of a type is to readers; null: none of the types that a grid has. */
function propertyFor(name: string, type: string, nullable: boolean, locale: string): Property | null {
  const as = (edm: string, kind: Property['type'], more: Partial<Property> = {}): Property => ({
    name,
    nullable,
    edm,
    type: kind,
    ...more,
  })
  const decimal = /^DECIMAL\((\d+),(\d+)\)$/.exec(type)
  if (decimal) return as('Decimal', 'number', { precision: Number(decimal[1]), scale: Number(decimal[2]) })
  if (type.startsWith('ENUM(')) return as('String', 'text', { ranked: isRanked(type, locale), few: true })
  switch (type) {
    case 'VARCHAR':
      return as('String', 'text')
    case 'UUID':
      return as('String', 'text', { asText: true })
    case 'TINYINT':
    case 'SMALLINT':
    case 'UTINYINT':
      return as('Int16', 'integer')
    case 'INTEGER':
    case 'USMALLINT':
      return as('Int32', 'integer')
    case 'BIGINT':
    case 'UINTEGER':
      return as('Int64', 'integer')
    case 'UBIGINT':
    case 'HUGEINT':
    case 'UHUGEINT':
      return as('Decimal', 'integer', { precision: 38, scale: 0 })
    case 'FLOAT':
      return as('Single', 'number')
    case 'DOUBLE':
      return as('Double', 'number')
    case 'BOOLEAN':
      return as('Boolean', 'boolean')
    case 'DATE':
      return as('Date', 'date')
    case 'TIME':
      return as('TimeOfDay', 'time')
    case 'TIMESTAMP':
    case 'TIMESTAMP_S':
    case 'TIMESTAMP_MS':
    case 'TIMESTAMP_NS':
      return as('DateTimeOffset', 'moment', { wall: true })
    case 'TIMESTAMP WITH TIME ZONE':
      return as('DateTimeOffset', 'moment')
    case 'VARCHAR[]':
      return as('Collection(String)', 'tags')
    // Bytes, and nothing that could be told.
    case 'BLOB':
    case '"NULL"':
    case 'NULL':
      return null
    default:
      // Structures, lists, times with a zone, intervals: as the engine writes them.
      return as('String', 'text', { asText: true, told: true })
  }
}

/** Whether the values of an enumeration stand in the order of the language: then their places order them. */
function isRanked(type: string, locale: string): boolean {
  const values = Array.from(type.matchAll(/'((?:[^']|'')*)'/g), ([, value]) => value.replaceAll("''", "'"))
  const collator = new Intl.Collator(locale)
  return values.every((value, i) => i === 0 || collator.compare(values[i - 1], value) <= 0)
}

/** Rows chunk by chunk, as long as there is room for them. */
async function rowsWithin(
  budget: Budget,
  connection: DuckDBConnection,
  { text, values }: Statement,
): Promise<Answered[][]> {
  const result = await connection.stream(text, values as DuckDBValue[])
  const rows: Answered[][] = []
  for (;;) {
    const chunk = await result.fetchChunk()
    if (!chunk || chunk.rowCount === 0) return rows
    for (const given of chunk.getRows()) {
      const row = given.map(answered)
      if (!budget.takes(row)) return rows
      rows.push(row)
    }
  }
}

function answered(value: DuckDBValue): Answered {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return value
  if (typeof value === 'number') return value
  if (typeof value === 'bigint') return wholeNumber(value)
  if (value instanceof DuckDBDecimalValue) return decimalText(value.value, value.scale)
  if (value instanceof DuckDBListValue) return value.items.filter(one => one !== null).map(String)
  if (value instanceof DuckDBTimeValue) return timeText(value.micros)
  // Dates that no calendar of a page has are said as the engine says them.
  return isoOf(value) ?? String(value)
}

const DAY_MS = 86_400_000
/** Beyond this many milliseconds from 1970 a page knows no date. */
const MOST_MS = 8.64e15

function isoOf(value: DuckDBValue): string | null {
  if (value instanceof DuckDBDateValue) {
    const ms = value.days * DAY_MS
    return Math.abs(ms) > MOST_MS ? null : new Date(ms).toISOString().split('T')[0]
  }
  const micros = microsOf(value)
  return micros === null || Math.abs(Number(micros)) / 1000 > MOST_MS ? null : momentText(micros)
}

function microsOf(value: DuckDBValue): bigint | null {
  if (value instanceof DuckDBTimestampValue || value instanceof DuckDBTimestampTZValue) return value.micros
  if (value instanceof DuckDBTimestampSecondsValue) return value.seconds * 1_000_000n
  if (value instanceof DuckDBTimestampMillisecondsValue) return value.millis * 1000n
  return value instanceof DuckDBTimestampNanosecondsValue ? value.nanos / 1000n : null
}

const wholeNumber = (value: bigint): number | string =>
  value >= -(2n ** 53n) && value <= 2n ** 53n ? Number(value) : String(value)

/** A number where a double says the same digits, else the digits. */
function decimalText(value: bigint, scale: number): number | string {
  const digits = String(value < 0n ? -value : value).padStart(scale + 1, '0')
  const text = `${value < 0n ? '-' : ''}${digits.slice(0, digits.length - scale)}${scale > 0 ? `.${digits.slice(-scale)}` : ''}`
  return digits.length <= 15 ? Number(text) : text
}

/** In UTC, with no more digits behind the second than there are. */
function momentText(micros: bigint): string {
  const ms = Number(micros >= 0n ? micros / 1000n : (micros - 999n) / 1000n)
  const rest = Number(micros - BigInt(ms) * 1000n)
  const iso = new Date(ms).toISOString()
  const fraction = `${iso.slice(-4, -1)}${String(rest).padStart(3, '0')}`.replace(/0+$/, '')
  return `${iso.slice(0, -5)}${fraction === '' ? '' : `.${fraction}`}Z`
}

const timeText = (micros: bigint): string => momentText(micros).slice(11, -1)
