import { privateMemory, type Allocate } from '../../table/allocate.ts'
import type { Table } from '../../table/column.ts'
import type { Work } from '../../work/work.ts'
import { RowColumns, type KeyNode } from '../columns/row-columns.ts'
import { MAX_DEPTH } from '../columns/nesting.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import type { ReadReport } from '../read-report.ts'
import type { ColumnReading, ColumnsReadOptions } from '../types/column-reading.ts'

/** A row as a page holds it: a plain object. Objects inside become fields by their path, lists of texts become tags. */
export type RowObject = Readonly<Record<string, unknown>>

/** Rows of a type of the host's own: an interface does not say that it has fields by name, though every object has. */
export const asRows = (rows: readonly object[]): readonly RowObject[] => rows as readonly RowObject[]

/** Rows taken between two pauses. */
const BATCH = 512

export interface RowsRead {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
}

/** Turns row objects into typed columns, in slices. Fields are all keys that occur, in the order of first sight. */
export function* tableFromRows(rows: readonly RowObject[], allocate: Allocate = privateMemory): Work<Table> {
  return (yield* readRows(rows, {}, allocate)).table
}

export function* readRows(
  rows: readonly RowObject[],
  asked: ColumnsReadOptions = {},
  allocate: Allocate = privateMemory,
): Work<RowsRead> {
  const columns = new RowColumns()
  for (let i = 0; i < rows.length; i++) {
    addRow(columns, rows[i])
    if (i % BATCH === BATCH - 1) yield
  }
  return yield* columns.finish(asked, false, allocate)
}

/** What is told of rows that were never a file. */
export const rowsReport = (columns: readonly ColumnReading[]): ReadReport => ({
  format: 'rows',
  gzip: false,
  encoding: null,
  byteOrderMark: false,
  notUtf8Line: null,
  csv: null,
  json: null,
  faults: [],
  columns,
})

/** Adds one row to columns. */
function addRow(columns: RowColumns, row: RowObject): void {
  addMembers(columns, columns.root, row)
  columns.endRow()
}

function addMembers(columns: RowColumns, node: KeyNode, row: RowObject): void {
  let nth = 0
  for (const key in row) {
    const expected = node.children[nth++]
    addValue(columns, expected?.key === key ? expected : node.child(key), row[key])
  }
}

/** Adds what a row holds under a key. */
function addValue(columns: RowColumns, node: KeyNode, value: unknown): void {
  if (isPlainObject(value) && node.depth < MAX_DEPTH) {
    addMembers(columns, node, value)
    return
  }
  const column = columns.columnAt(node)
  // `a.b` beside `{ a: { b } }`: the first value holds.
  if (column.rows === columns.rows) addScalar(column, value)
}

function addScalar(column: ValueColumn, value: unknown): void {
  switch (typeof value) {
    case 'number':
      column.addDouble(value)
      return
    case 'string':
      if (value === '') column.addMissing()
      else column.addText(value)
      return
    case 'boolean':
      column.addBoolean(value)
      return
    case 'bigint':
      column.addBig(value)
      return
    case 'object':
      addObject(column, value)
      return
    case 'undefined':
      column.addMissing()
      return
    default:
      column.addText(String(value))
  }
}

function addObject(column: ValueColumn, value: object | null): void {
  if (value === null) column.addMissing()
  else if (value instanceof Date) {
    if (Number.isNaN(value.getTime())) column.addText('Invalid Date')
    else column.addTime(value.getTime(), 'instant')
  } else if (Array.isArray(value) && value.every(entry => typeof entry === 'string')) {
    if (value.length > 0) column.addTags(value)
    else column.addMissing()
  } else column.addText(jsonOf(value))
}

/** Objects that refer to themselves, or hold what JSON does not know, are told by their kind. */
function jsonOf(value: object): string {
  try {
    return JSON.stringify(value)
  } catch {
    return Object.prototype.toString.call(value)
  }
}

function isPlainObject(value: unknown): value is RowObject {
  if (typeof value !== 'object' || value === null) return false
  const prototype: unknown = Object.getPrototypeOf(value)
  return prototype === Object.prototype || prototype === null
}
