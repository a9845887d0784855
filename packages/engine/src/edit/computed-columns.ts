import { privateMemory, type Allocate } from '../table/allocate.ts'
import { valueAt, type Column, type Table, type Value } from '../table/column.ts'
import { computeColumn } from '../expression/compute-column.ts'
import {
  bindColumns,
  type BoundColumn,
  type ComputedColumn,
  type ComputedProblem,
  type ParsedColumns,
} from '../expression/expressions.ts'
import { placesOf } from '../expression/typed.ts'
import type { Work } from '../work/work.ts'
import { fitting } from './editable-table.ts'
import type { TableEdit } from './table-edit.ts'
import { pickRows } from './gather-rows.ts'
import { TextLookup } from './text-lookup.ts'
import { writeColumn } from './write-column.ts'

const NOTHING: ParsedColumns = { trees: [], problems: [], pattern: null, formulas: [] }

interface Made {
  readonly bound: BoundColumn
  column: Column
  /** Its memory may be written to. */
  own: boolean
  lookup: TextLookup | null
}

/** The computed columns behind a table's own: made once, and kept in step with every change of what they read. */
export class ComputedColumns {
  private readonly allocate: Allocate
  private parsed = NOTHING
  private made: readonly Made[] = []
  private found: readonly ComputedProblem[] = []

  constructor(allocate: Allocate = privateMemory) {
    this.allocate = allocate
  }

  /** What is wrong with those that are not there. */
  get problems(): readonly ComputedProblem[] {
    return this.found
  }

  /** The table with the computed columns behind its own. */
  behind(table: Table): Table {
    if (this.made.length === 0) return table
    return {
      ...table,
      fields: [...table.fields, ...this.made.map(({ bound }) => bound.field)],
      columns: [...table.columns, ...this.made.map(({ column }) => column)],
    }
  }

  /** Makes the columns over a table. Those whose expression and table did not change are kept. */
  *make(parsed: ParsedColumns, table: Table, sameTable: boolean): Work<void> {
    const { bound, problems } = bindColumns(parsed, table.fields)
    const made: Made[] = []
    const kept = new Set<Column>(sameTable ? table.columns : [])
    let inner = table
    for (const each of bound) {
      const old = this.made.find(({ bound: { column } }) => sameColumn(column, each.column))
      const reads = [...placesOf(each.typed)]
      const stays = old && sameTable && reads.every(place => kept.has(inner.columns[place]))
      const column = stays ? old.column : yield* computeColumn(each.typed, inner, this.allocate)
      if (stays) kept.add(column)
      made.push({ own: false, lookup: null, ...(stays ? old : {}), bound: each, column })
      inner = { ...inner, fields: [...inner.fields, each.field], columns: [...inner.columns, column] }
    }
    this.parsed = parsed
    this.made = made
    this.found = problems
  }

  /** Makes them all again, over a table of other rows or fields. */
  *remake(table: Table): Work<void> {
    yield* this.make(this.parsed, table, false)
  }

  /** Works out again what a change of the table's own columns touched; the edit, with the computed columns in it. */
  *follow(edit: TableEdit): Work<TableEdit> {
    if (this.made.length === 0) return edit
    const touched = new Map(edit.touched)
    let joined = edit.table
    for (const entry of this.made) {
      const rows = rowsTouched(entry.bound, touched, edit.appendedFrom, joined.rows)
      if (rows.length > 0) {
        const part = yield* computeColumn(entry.bound.typed, pickRows(joined, rows), privateMemory, rows)
        this.write(entry, part, rows, edit)
        const before = rows.filter(row => row < edit.appendedFrom)
        if (before.length > 0) touched.set(joined.columns.length, before)
      }
      joined = {
        ...joined,
        fields: [...joined.fields, entry.bound.field],
        columns: [...joined.columns, entry.column],
      }
    }
    return { ...edit, table: joined, touched }
  }

  private write(entry: Made, part: Column, rows: Uint32Array, edit: TableEdit): void {
    const valueOf = (nth: number): Value => valueAt(part, nth)
    const cells = new Map(Array.from(rows, (row, nth) => [row, valueOf(nth)]))
    const ready = fitting(entry.column, cells)
    entry.column = writeColumn(
      ready,
      { rows, valueOf },
      {
        from: edit.appendedFrom,
        to: edit.table.rows,
        allocate: this.allocate,
        own: entry.own && ready === entry.column,
        lookup: texts => {
          if (entry.lookup?.texts !== texts) entry.lookup = new TextLookup(texts, this.allocate)
          return entry.lookup
        },
      },
    )
    entry.own = true
  }
}

const sameColumn = (a: ComputedColumn, b: ComputedColumn): boolean =>
  a.key === b.key && a.expression === b.expression && JSON.stringify(a.given) === JSON.stringify(b.given)

function rowsTouched(
  { typed }: BoundColumn,
  touched: ReadonlyMap<number, Uint32Array>,
  appendedFrom: number,
  rows: number,
): Uint32Array {
  const all = new Set<number>()
  for (const place of placesOf(typed)) for (const row of touched.get(place) ?? []) all.add(row)
  for (let row = appendedFrom; row < rows; row++) all.add(row)
  return Uint32Array.from(all).sort()
}
