import type { Bits } from '../table/bits.ts'
import type { Allocate } from '../table/allocate.ts'
import { valueAt, type Table, type Value } from '../table/column.ts'
import { idOfRow, rowOfId, type RowId } from '../table/row-id.ts'
import type { ChangeProblem, ChangeSet, Committed } from '../edit/change-set.ts'
import { EditableTable, needsKey, type CellValues } from '../edit/editable-table.ts'
import type { TableEdit } from '../edit/table-edit.ts'
import { joinEdits } from '../edit/table-edit.ts'
import type { KeyValue } from '../key/key-value.ts'
import { asRows } from '../read/rows/read-rows.ts'
import type { Work } from '../work/work.ts'
import { sure } from '../work/checked.ts'

/** What was typed into one cell and is not saved. */
export interface PendingCell {
  readonly field: string
  /** The saved value; null also where the row is gone. */
  readonly before: Value
  readonly after: Value
}

export interface PendingRow {
  readonly row: RowId
  /** The saved rows no longer have it; what was typed is kept. */
  readonly gone: boolean
  readonly cells: readonly PendingCell[]
}

/**
 * What was typed and is not saved, between the saved rows and the flow. The saved table is never written: columns with
 * pending cells are copies laid over it, made at the first change of each, so that a further one costs what it changes.
 */
export class PendingChanges {
  private readonly saved: EditableTable
  private readonly allocate: Allocate
  private readonly typed = new Map<RowId, Map<string, Value>>()
  /** The saved table with the pending cells in place of their own; null while there are none. */
  private over: EditableTable | null = null

  constructor(saved: EditableTable, allocate: Allocate) {
    this.saved = saved
    this.allocate = allocate
  }

  /** The rows as they are shown. */
  get table(): Table {
    return (this.over ?? this.saved).table
  }

  get absent(): Bits | null {
    return this.saved.absent
  }

  /** All pending changes, in the order in which their rows were first changed. */
  list(): PendingRow[] {
    const { fields, columns } = this.saved.table
    return Array.from(this.typed, ([id, cells]) => {
      const row = this.rowOf(id)
      return {
        row: id,
        gone: row < 0,
        cells: Array.from(cells, ([field, after]) => {
          const column = columns[fields.findIndex(({ key }) => key === field)]
          return { field, before: row < 0 ? null : valueAt(column, row), after }
        }),
      }
    })
  }

  /** Changes saved rows and pending ones; the edit is that of the rows as they are shown. */
  *commit(changes: ChangeSet, keyFields: readonly string[]): Work<{ edit: TableEdit; committed: Committed }> {
    const { pending, save, giveBack } = changes
    if (pending ?? save ?? giveBack) needsKey(keyFields)
    const { edit, committed } = yield* this.saved.commit(changes, keyFields)
    yield* this.follow(edit)
    const problems: ChangeProblem[] = [...committed.problems]
    let all = this.shown(edit)
    let updated = 0
    if (pending) {
      const typed = yield* this.type(pending, keyFields, problems)
      updated = typed.rows
      all = joinEdits(all, this.shownEdit(typed.touched))
    }
    if (save) all = joinEdits(all, yield* this.save(yield* this.rowsNamed(save, keyFields)))
    if (giveBack) all = joinEdits(all, yield* this.giveBack(yield* this.rowsNamed(giveBack, keyFields)))
    return { edit: all, committed: { ...committed, updated: committed.updated + updated, problems } }
  }

  /** Lays the pending cells over the saved rows anew, after these stand elsewhere. */
  *layOver(): Work<void> {
    this.over = null
    if (this.typed.size === 0) return
    this.over = new EditableTable(this.saved.table, this.allocate)
    yield* this.over.setCells(
      this.cellsOf(this.typed.keys(), (_, field, id) => this.typed.get(id)?.get(field) ?? null),
    )
  }

  /** The saved rows changed. */
  private *follow(edit: TableEdit): Work<void> {
    if (!this.over) return
    const pending = this.pendingPlaces()
    const apart =
      edit.appendedFrom === edit.table.rows && ![...edit.touched.keys()].some(place => pending.has(place))
    if (apart && !edit.reshaped) this.over.takeColumns(edit.table, pending)
    else yield* this.layOver()
  }

  private *type(
    rows: ChangeSet['pending'] & {},
    keyFields: readonly string[],
    problems: ChangeProblem[],
  ): Work<{ rows: number; touched: Map<number, Uint32Array> }> {
    const { table } = this.saved
    const read = yield* this.saved.readCells(asRows(rows), keyFields, problem => problems.push(problem))
    this.over ??= new EditableTable(table, this.allocate)
    for (const [place, values] of read.cells) {
      const { key } = table.fields[place]
      for (const [row, value] of values) {
        const id = idOfRow(table, row)
        const cells = this.typed.get(id) ?? new Map<string, Value>()
        if (valueAt(table.columns[place], row) === value) cells.delete(key)
        else cells.set(key, value)
        if (cells.size > 0) this.typed.set(id, cells)
        else this.typed.delete(id)
      }
    }
    const touched = yield* this.over.setCells(read.cells)
    this.dropIfNone()
    return { rows: read.rows, touched }
  }

  private *save(rows: readonly RowId[]): Work<TableEdit> {
    const cells = this.cellsOf(rows, (_, field, id) => this.typed.get(id)?.get(field) ?? null)
    const touched = yield* this.saved.setCells(cells)
    // What is shown stays as it is; the columns are those of the saved rows where nothing else is pending.
    this.forget(rows)
    this.over?.takeColumns(this.saved.table, this.pendingPlaces())
    return this.shownEdit(touched)
  }

  private *giveBack(rows: readonly RowId[]): Work<TableEdit> {
    const { columns } = this.saved.table
    const cells = this.cellsOf(rows, (place, _, id) => valueAt(columns[place], this.rowOf(id)))
    const touched = this.over ? yield* this.over.setCells(cells) : new Map<number, Uint32Array>()
    for (const id of rows) this.typed.delete(id)
    this.over?.takeColumns(this.saved.table, this.pendingPlaces())
    this.dropIfNone()
    return this.shownEdit(touched)
  }

  /** Takes rows out of what is pending, but for those that the saved rows no longer have: they could not be saved. */
  private forget(rows: readonly RowId[]): void {
    for (const id of rows) if (this.rowOf(id) >= 0) this.typed.delete(id)
    this.dropIfNone()
  }

  private dropIfNone(): void {
    if (this.typed.size === 0) this.over = null
  }

  private *rowsNamed(keys: readonly KeyValue[] | 'all', keyFields: readonly string[]): Work<RowId[]> {
    if (keys === 'all') return [...this.typed.keys()]
    const rows = yield* this.saved.find(keyFields, keys)
    const named: RowId[] = []
    for (const row of rows) {
      if (row < 0) continue
      const id = idOfRow(this.saved.table, row)
      if (this.typed.has(id)) named.push(id)
    }
    return named
  }

  /** The pending cells of rows that are there, each with a value. */
  private cellsOf(
    rows: Iterable<RowId>,
    valueOf: (place: number, field: string, id: RowId) => Value,
  ): CellValues {
    const places = new Map(this.saved.table.fields.map(({ key }, place) => [key, place]))
    const cells = new Map<number, Map<number, Value>>()
    for (const id of rows) {
      const row = this.rowOf(id)
      if (row < 0) continue
      for (const field of this.typed.get(id)?.keys() ?? []) {
        const place = sure(places.get(field))
        const inColumn = cells.get(place) ?? new Map<number, Value>()
        cells.set(place, inColumn.set(row, valueOf(place, field, id)))
      }
    }
    return cells
  }

  private pendingPlaces(): Set<number> {
    const fields = new Set([...this.typed.values()].flatMap(cells => [...cells.keys()]))
    return new Set(
      [...this.saved.table.fields.keys()].filter(place => fields.has(this.saved.table.fields[place].key)),
    )
  }

  /** The number of a row that is there; −1 where it is gone. */
  private rowOf(id: RowId): number {
    const row = rowOfId(this.saved.table, id)
    return row >= 0 && !this.saved.isGone(row) ? row : -1
  }

  private shown(edit: TableEdit): TableEdit {
    return { ...edit, table: this.table }
  }

  private shownEdit(touched: ReadonlyMap<number, Uint32Array>): TableEdit {
    const { table, absent } = this
    return { table, absent, touched, appendedFrom: table.rows, reshaped: false }
  }
}
