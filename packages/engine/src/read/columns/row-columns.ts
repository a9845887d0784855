import type { Allocate } from '../../table/allocate.ts'
import type { Column, Field, Table } from '../../table/column.ts'
import { settleColumn } from '../../table/settle-table.ts'
import type { Work } from '../../work/work.ts'
import type { ColumnReading, ColumnsReadOptions } from '../types/column-reading.ts'
import { plainReading, settleText } from '../types/settle-text.ts'
import type { TextColumn } from '../types/survey-texts.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import { shower } from '../../table/shown-text.ts'
import { valueAt } from '../../table/column.ts'
import { ValueColumn } from './value-column.ts'

/** Objects inside objects are followed so deep; what lies deeper is kept as its JSON text. */
export const MAX_DEPTH = 8
export const MAX_FIELDS = 20_000

/** The keys of one level of row objects; each leads to a column, to a level below, or to both. */
export class KeyNode {
  readonly key: string
  /** Names of all levels, joined by points: the field's key. */
  readonly path: string
  readonly depth: number
  column: ValueColumn | null = null
  /** The keys below, in the order in which they were first seen; rows usually repeat it. */
  readonly children: KeyNode[] = []
  private readonly byKey = new Map<string, KeyNode>()
  /** The key as JSON has it, for comparing bytes. */
  readonly bytes: Uint8Array

  constructor(key: string, path: string, depth: number) {
    this.key = key
    this.path = path
    this.depth = depth
    this.bytes = new TextEncoder().encode(key)
  }

  child(key: string): KeyNode {
    let node = this.byKey.get(key)
    if (!node) {
      node = new KeyNode(key, this.depth === 0 ? key : `${this.path}.${key}`, this.depth + 1)
      this.byKey.set(key, node)
      this.children.push(node)
    }
    return node
  }
}

/** The columns of rows that name their fields: made as keys come up, filled with missing where a row says nothing. */
export class RowColumns {
  readonly root = new KeyNode('', '', 0)
  private readonly columns: { path: string; column: ValueColumn }[] = []
  private readonly byPath = new Map<string, ValueColumn>()
  rows = 0
  /** Rows that named a field twice; the last value holds. */
  doubledKeys = 0

  /** The column of a key, filled up to the present row; it is longer when the row has given it a value already. */
  columnAt(node: KeyNode): ValueColumn {
    const column = (node.column ??= this.newColumn(node.path))
    if (column.rows < this.rows) column.fillTo(this.rows)
    return column
  }

  get fieldCount(): number {
    return this.columns.length
  }

  get bytes(): number {
    return this.columns.reduce((sum, { column }) => sum + column.bytes, 0)
  }

  endRow(): void {
    this.rows++
  }

  /** Types settled, text columns looked through, everything in its memory. */
  *finish(
    asked: ColumnsReadOptions,
    textNumbers: boolean,
    allocate: Allocate,
    keys: readonly string[] = [],
  ): Work<{ table: Table; readings: ColumnReading[] }> {
    // A field that no row has a value of is a column all the same, where the format names it.
    for (const key of keys)
      if (this.root.child(key).children.length === 0) this.columnAt(this.root.child(key))
    const fields: Field[] = []
    const columns: Column[] = []
    const readings: ColumnReading[] = []
    for (const { path, column } of this.columns) {
      column.fillTo(this.rows)
      const settled = yield* settleValues(column.finish(path), this.rows, asked[path], textNumbers, allocate)
      fields.push(settled.field)
      columns.push(settled.column)
      readings.push(settled.reading)
      yield
    }
    return { table: { rows: this.rows, fields, columns }, readings }
  }

  /** `a.b` may be a key of its own and the path of a key in an object: one field. */
  private newColumn(path: string): ValueColumn {
    let column = this.byPath.get(path)
    if (!column) {
      column = new ValueColumn()
      this.byPath.set(path, column)
      this.columns.push({ path, column })
    }
    return column
  }
}

/** A column of values with types of their own, as it is to stay: as asked for, or by its own type. */
function* settleValues(
  { field, column }: { field: Field; column: Column },
  rows: number,
  asked: ColumnsReadOptions[string] | undefined,
  textNumbers: boolean,
  allocate: Allocate,
): Work<{ field: Field; column: Column; reading: ColumnReading }> {
  if (field.type === 'text')
    return yield* settleText(field.key, column as TextColumn, rows, asked, textNumbers, allocate)
  const whole = asked?.type === 'number' && field.type === 'integer' && !field.wide
  if (asked?.type && asked.type !== field.type && !whole) {
    const text = yield* writtenOut(field, column, rows)
    return yield* settleText(field.key, text, rows, asked, textNumbers, allocate)
  }
  return { field, column: settleColumn(column, allocate), reading: plainReading(field) }
}

/** A column written out as text, exactly as its values are shown. */
export function* writtenOut(field: Field, column: Column, rows: number): Work<TextColumn> {
  const show = shower(field)
  const texts = new TextBuilder()
  for (let row = 0; row < rows; row++) {
    const value = valueAt(column, row)
    if (value === null) texts.addMissing()
    else texts.addText(field.type === 'number' ? String(value) : show(value))
    if ((row & 8191) === 8191) yield
  }
  return texts.finish()
}
