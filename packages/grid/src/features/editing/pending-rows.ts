import { isInConflict, TypedChanges, type TypedCell, type TypedRow } from '@vast-meadow/engine/editing'
import type { GroupPath, RowId, Value } from '@vast-meadow/engine'
import type { CellMark, EditMarks } from '../../body/row-band.ts'
import type { BesideRows } from '../../kernel/beside-lines.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'

/** Ids of new rows are below 0; −1 stands for none. */
const FIRST_NEW = -2

/** Whether an id is that of a new row. */
export const isNewRow = (id: RowId): boolean => Number(id) < 0

/** What was changed and is not saved, as it is drawn: by the ids of rows, and new rows as lines of their own. */
export class PendingRows implements EditMarks, BesideRows {
  readonly typed = new TypedChanges()
  at: 'head' | 'foot' = 'head'
  /** The name of the row that stays where it is until the reader leaves it, though it belongs elsewhere by now. */
  staying: string | null = null
  private readonly names = new Map<RowId, string>()
  private readonly ids = new Map<string, RowId>()
  private readonly texts: EditingTexts
  private readonly showOf: (column: string) => (value: Value) => string
  private nextNew = FIRST_NEW
  /** By the names of new rows: the groups in which they were begun. */
  private readonly groups = new Map<string, GroupPath>()

  constructor(texts: EditingTexts, showOf: (column: string) => (value: Value) => string) {
    this.texts = texts
    this.showOf = showOf
  }

  /** A row is called so: the source knows it by this id. */
  bind(name: string, id: RowId): void {
    const before = this.ids.get(name)
    if (before !== undefined) this.names.delete(before)
    this.ids.set(name, id)
    this.names.set(id, name)
  }

  /** Rows have other ids now. */
  unbindSaved(): void {
    for (const [id, name] of this.names)
      if (!isNewRow(id)) {
        this.names.delete(id)
        this.ids.delete(name)
      }
  }

  nameOf(id: RowId): string | undefined {
    return this.names.get(id)
  }

  idOf(name: string): RowId | undefined {
    return this.ids.get(name)
  }

  /** The id of a new row. */
  idOfNew(name: string): RowId {
    const known = this.ids.get(name)
    if (known !== undefined) return known
    const id = this.nextNew-- as RowId
    this.bind(name, id)
    return id
  }

  rowOf(id: RowId): TypedRow | undefined {
    const name = this.names.get(id)
    return name === undefined ? undefined : this.typed.row(name)
  }

  cellOf(id: RowId, column: string): TypedCell | undefined {
    return this.rowOf(id)?.cells.get(column)
  }

  // ── New rows, as lines ──────────────────────────────────────────────────────────────────────────────────────

  get rows(): readonly RowId[] {
    return this.typed.newRows().map(({ name }) => this.idOfNew(name))
  }

  /** A new row was begun in a group. */
  begunIn(name: string, path: GroupPath): void {
    this.groups.set(name, path)
  }

  groupOf(row: RowId): GroupPath | null {
    return this.groups.get(this.nameOf(row) ?? '') ?? null
  }

  text(row: RowId, column: string): string {
    const cell = this.cellOf(row, column)
    return cell ? this.textOf(cell, column) : ''
  }

  value(row: RowId, column: string): Value {
    return this.cellOf(row, column)?.now.value ?? null
  }

  // ── How they look ───────────────────────────────────────────────────────────────────────────────────────────

  ofRow(id: RowId): string {
    const row = this.rowOf(id)
    if (!row) return ''
    const marks = [row.isNew ? 'new-row' : row.removed ? 'to-go' : 'changed-row']
    if (row.state !== 'typed') marks.push(row.state)
    if (isInConflict(row)) marks.push('in-conflict')
    if (row.problem) marks.push('row-wrong')
    if (row.name === this.staying) marks.push('row-stays')
    return marks.map(mark => ` ${mark}`).join('')
  }

  changedRows(): readonly RowId[] {
    return this.typed.list().flatMap(({ name, isNew }) => {
      const id = isNew ? undefined : this.ids.get(name)
      return id === undefined ? [] : [id]
    })
  }

  ofCell(id: RowId, column: string): CellMark | null {
    const row = this.rowOf(id)
    const cell = row?.cells.get(column)
    if (!row || !cell) return null
    const marks = [row.isNew ? 'new-value' : 'changed']
    if (cell.problem !== null || cell.now.text !== null) marks.push('wrong')
    if (cell.theirs !== undefined) marks.push('conflict')
    return {
      text: this.textOf(cell, column),
      value: cell.now.text === null ? cell.now.value : null,
      marks: marks.join(' '),
      says: this.saysOf(row, cell, column).join(' '),
    }
  }

  /** What is to be said of a cell: what is wrong, what somebody else has saved, and what was there before. */
  saysOf(row: TypedRow, cell: TypedCell, column: string): string[] {
    const { texts } = this
    const show = this.showOf(column)
    return [
      cell.problem && texts.problem(cell.problem),
      cell.theirs !== undefined && texts.savedMeanwhile(show(cell.theirs)),
      !row.isNew && texts.was(show(cell.before)),
    ].filter(said => typeof said === 'string')
  }

  /** The same of a row as a whole. */
  saysOfRow(row: TypedRow): string[] {
    const { texts } = this
    return [
      row.problem && texts.problem(row.problem),
      row.gone && texts.goneMeanwhile,
      row.reason !== null && texts.refused(row.reason),
      row.removed && texts.toBeDeleted,
      row.isNew && texts.newRowMark,
      row.name === this.staying && texts.rowStays,
    ].filter(said => typeof said === 'string')
  }

  private textOf(cell: TypedCell, column: string): string {
    return cell.now.text ?? this.showOf(column)(cell.now.value)
  }
}
