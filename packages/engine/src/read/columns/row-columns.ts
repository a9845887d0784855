import type { Allocate } from '../../table/allocate.ts'
import type { Column, Field, Table } from '../../table/column.ts'
import type { Work } from '../../work/work.ts'
import { askedOf, type ColumnReading, type ColumnsReadOptions } from '../types/column-reading.ts'
import { settleValues } from './settle-values.ts'
import { ValueColumn } from './value-column.ts'
import { refuseUneven } from '../read-call.ts'

export const MAX_FIELDS = 50_000

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
  /** The key in its quotes as JSON has it, for comparing bytes. */
  readonly quoted: Uint8Array
  /** The same with its colon, four bytes each, the last four being in part of those before; of the empty key none. */
  readonly words: Int32Array

  constructor(key: string, path: string, depth: number) {
    this.key = key
    this.path = path
    this.depth = depth
    this.quoted = new TextEncoder().encode(JSON.stringify(key))
    this.words = wordsOf(new TextEncoder().encode(`${JSON.stringify(key)}:`))
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

function wordsOf(bytes: Uint8Array): Int32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length)
  const words = new Int32Array(bytes.length < 4 ? 0 : Math.ceil(bytes.length / 4))
  for (let i = 0; i < words.length; i++) words[i] = view.getInt32(Math.min(i * 4, bytes.length - 4), true)
  return words
}

/** The columns of rows that name their fields: made as keys come up, filled with missing where a row says nothing. */
export class RowColumns {
  readonly root = new KeyNode('', '', 0)
  private readonly columns: { path: string; column: ValueColumn }[] = []
  private readonly byPath = new Map<string, ValueColumn>()
  rows = 0
  /** Text that the rows came from, so far: a table out of all proportion to it is refused. */
  readBytes = Infinity
  /** Values of fields that their row had named before; the first one holds. */
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
  ): Work<{ table: Table; readings: ColumnReading[] }> {
    const fields: Field[] = []
    const columns: Column[] = []
    const readings: ColumnReading[] = []
    for (const { path, column } of this.columns) {
      column.fillTo(this.rows)
      const settled = yield* settleValues(column, path, askedOf(asked, path), textNumbers, allocate)
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
      refuseUneven((this.columns.length + 1) * (this.rows + 1), this.readBytes)
      column = new ValueColumn()
      this.byPath.set(path, column)
      this.columns.push({ path, column })
    }
    return column
  }
}
