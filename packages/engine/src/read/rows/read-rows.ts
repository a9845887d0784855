import { privateMemory, settle, type Allocate } from '../../table/allocate.ts'
import { DAY_MS } from '../../table/calendar.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import type { Column, Field, FieldType, Table } from '../../table/column.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import type { Work } from '../../work/work.ts'
import { DATE, INSTANT, parsed, parseField, WALL_TIME } from '../parse-field.ts'

/** A row as a page holds it: a plain object. Objects and lists inside become their JSON text. */
export type RowObject = Readonly<Record<string, unknown>>

/** Rows looked at between two pauses; under a millisecond a column. */
const BATCH = 4096

/** Turns row objects into typed columns, in slices. Fields are all keys that occur, in the order of first sight. */
export function* tableFromRows(rows: readonly RowObject[], allocate: Allocate = privateMemory): Work<Table> {
  const keys = yield* collectKeys(rows)
  const fields: Field[] = []
  const columns: Column[] = []
  for (const key of keys) {
    const field = yield* inferField(rows, key)
    fields.push(field)
    columns.push(yield* buildColumn(rows, field, allocate))
  }
  return { rows: rows.length, fields, columns }
}

function* collectKeys(rows: readonly RowObject[]): Work<string[]> {
  const keys = new Set<string>()
  for (let i = 0; i < rows.length; i++) {
    for (const key in rows[i]) keys.add(key)
    if (i % BATCH === BATCH - 1) yield
  }
  return [...keys]
}

const isAbsent = (value: unknown): boolean =>
  value === null || value === undefined || value === '' || (typeof value === 'number' && Number.isNaN(value))

function* inferField(rows: readonly RowObject[], key: string): Work<Field> {
  const kinds = new Set<FieldType | 'instant'>()
  let decimals = 0
  for (let i = 0; i < rows.length; i++) {
    const value = rows[i][key]
    if (!isAbsent(value)) {
      kinds.add(kindOf(value))
      if (typeof value === 'number' && !Number.isInteger(value) && decimals < 15) {
        decimals = Math.max(decimals, decimalsOf(value))
      }
    }
    if (i % BATCH === BATCH - 1) yield
  }
  if (kinds.has('number')) kinds.delete('integer')
  if (kinds.size !== 1) return { key, type: 'text' }
  const [kind] = kinds
  if (kind === 'instant') return { key, type: 'datetime', zoned: true }
  return kind === 'number' ? { key, type: kind, decimals } : { key, type: kind }
}

function kindOf(value: unknown): FieldType | 'instant' {
  switch (typeof value) {
    case 'number':
      return Number.isInteger(value) && !Object.is(value, -0) ? 'integer' : 'number'
    case 'boolean':
      return 'boolean'
    case 'string': {
      const time = timeOf(value)
      return time === DATE ? 'date' : time === WALL_TIME ? 'datetime' : time === INSTANT ? 'instant' : 'text'
    }
    default:
      return value instanceof Date && !Number.isNaN(value.getTime()) ? 'instant' : 'text'
  }
}

const encoder = new TextEncoder()
const scratch = new Uint8Array(96)

/** Texts that are ISO dates or times are taken as such; numbers written as text stay text. */
function timeOf(text: string): number {
  const first = text.charCodeAt(0)
  if (text.length < 10 || text.length > 32 || first < 48 || first > 57) return 0
  return parseField(scratch, 0, encoder.encodeInto(text, scratch).written)
}

function decimalsOf(value: number): number {
  const text = String(value)
  const exponent = text.indexOf('e')
  if (exponent >= 0) return Math.min(15, Math.max(0, -Number(text.slice(exponent + 1))))
  const point = text.indexOf('.')
  return point < 0 ? 0 : Math.min(15, text.length - point - 1)
}

function textOfValue(value: unknown): string {
  if (typeof value === 'string') return value
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? 'Invalid Date' : value.toISOString()
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}

function numberOf(value: unknown, type: FieldType): number {
  if (typeof value === 'number') return value
  if (value instanceof Date) return type === 'date' ? Math.floor(value.getTime() / DAY_MS) : value.getTime()
  timeOf(value as string)
  return parsed.value
}

function* buildColumn(rows: readonly RowObject[], field: Field, allocate: Allocate): Work<Column> {
  const { key, type } = field
  if (type === 'text') {
    const builder = new TextBuilder()
    for (let i = 0; i < rows.length; i++) {
      const value = rows[i][key]
      if (isAbsent(value)) builder.addMissing()
      else builder.addText(textOfValue(value))
      if (i % BATCH === BATCH - 1) yield
    }
    return builder.finish(allocate)
  }
  const missing = emptyBits(rows.length)
  let anyMissing = false
  const bits = type === 'boolean' ? emptyBits(rows.length) : null
  const numbers = bits ? null : new Float64Array(rows.length)
  let small = type === 'integer' || type === 'date'
  for (let i = 0; i < rows.length; i++) {
    const value = rows[i][key]
    if (isAbsent(value)) {
      setBit(missing, i)
      anyMissing = true
    } else if (bits) {
      if (value) setBit(bits, i)
    } else {
      const number = numberOf(value, type)
      numbers![i] = number
      if (small && number !== (number | 0)) small = false
    }
    if (i % BATCH === BATCH - 1) yield
  }
  const settled = anyMissing ? settle(missing, allocate) : null
  if (bits) return { kind: 'boolean', values: settle(bits, allocate), missing: settled }
  const values = small ? settle(Int32Array.from(numbers!), allocate) : settle(numbers!, allocate)
  return { kind: 'number', values, missing: settled }
}
