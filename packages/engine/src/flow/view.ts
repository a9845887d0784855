import { valueAt, type ColumnIndex, type Table, type Value } from '../table/column.ts'
import { emptyBits, hasBit, setBit, type Bits } from '../table/bits.ts'
import { idOfRow, rowOfId, type RowId } from '../table/row-id.ts'
import type { Show } from '../table/shown-text.ts'
import { lastStartAt } from '../layout/group-lines.ts'
import type { Rows } from '../table/row-id.ts'
import { NO_LINE, type Line, type LineIndex, asLine } from './line.ts'

/** What the flow came to: typed arrays only, so that it can lie in shared memory. */
export interface FlowView {
  /** Row numbers in the arranged order; null: all rows as they stand in the table. */
  readonly rows: Uint32Array | null
  readonly rowCount: number
  readonly groups: GroupedView | null
}

interface GroupedView {
  /** The column's place in the table. */
  readonly column: ColumnIndex
  /** Group `g` is `rows[starts[g]]` up to `rows[starts[g + 1]]`. */
  readonly starts: Uint32Array
  readonly open: Bits
  /** See `headLines`. */
  readonly heads: Uint32Array
}

export const lineCountOf = (view: FlowView): number =>
  view.groups ? view.groups.heads[view.groups.heads.length - 1] : view.rowCount

/** Reads lines and cells of a view straight from its table. */
export class ViewReader {
  readonly view: FlowView
  readonly table: Table
  private readonly shows: readonly Show[]
  private readonly columnIndexes: ReadonlyMap<string, ColumnIndex>
  /** By row of the table: its position among the arranged, when first asked for. */
  private positions: { readonly of: Uint32Array; readonly passing: Bits } | null = null

  constructor(
    table: Table,
    shows: readonly Show[],
    places: ReadonlyMap<string, ColumnIndex>,
    view: FlowView,
  ) {
    this.table = table
    this.shows = shows
    this.columnIndexes = places
    this.view = view
  }

  get lineCount(): number {
    return lineCountOf(this.view)
  }

  line(index: number): Line {
    const { groups } = this.view
    if (!groups) return { kind: 'row', level: 0, row: this.idAt(index) }
    const group = lastStartAt(groups.heads, groups.heads.length - 1, index)
    const into = index - groups.heads[group]
    if (into > 0) return { kind: 'row', level: 1, row: this.idAt(groups.starts[group] + into - 1) }
    const first = groups.starts[group]
    const value = valueAt(this.table.columns[groups.column], this.rowAt(first))
    return {
      kind: 'head',
      level: 0,
      column: this.table.fields[groups.column].key,
      value,
      shown: this.shows[groups.column](value),
      count: groups.starts[group + 1] - first,
      open: hasBit(groups.open, group),
    }
  }

  /** The shown text of a row's cell; empty for a column or row that the table does not have. */
  text(row: RowId, column: string): string {
    const place = this.columnIndexes.get(column)
    const at = rowOfId(this.table, row)
    return place === undefined || at < 0 ? '' : this.shows[place](valueAt(this.table.columns[place], at))
  }

  value(row: RowId, column: string): Value {
    const place = this.columnIndexes.get(column)
    const at = rowOfId(this.table, row)
    return place === undefined || at < 0 ? null : valueAt(this.table.columns[place], at)
  }

  /** The rows on lines `from` up to `to`, group heads left out. */
  rowsBetween(from: LineIndex, to: LineIndex): Rows {
    const { groups } = this.view
    const start = Math.max(0, from)
    const end = Math.max(start, Math.min(to, this.lineCount))
    if (!groups) return this.idsBetween(start, end)
    const out: number[] = []
    for (let index = start; index < end; index++) {
      const line = this.line(index)
      if (line.kind === 'row') out.push(Number(line.row))
    }
    return { kind: 'list', rows: Uint32Array.from(out) }
  }

  /** All rows that pass, in their order, also those of closed groups. */
  passingRows(): Rows {
    return this.idsBetween(0, this.view.rowCount)
  }

  /**
   * The line that shows a row: the row's own, or its closed group's head; −1 where it is held back. Where rows are
   * ordered or held back, the positions of all are listed once, at the first asking; after that it is one look, and with
   * groups one more by halving.
   */
  lineOf(id: RowId): LineIndex {
    const { groups } = this.view
    const row = rowOfId(this.table, id)
    const position = row < 0 ? -1 : this.positionOf(row)
    if (position < 0) return NO_LINE
    if (!groups) return asLine(position)
    const group = lastStartAt(groups.starts, groups.starts.length - 1, position)
    const head = groups.heads[group]
    const line = hasBit(groups.open, group) ? head + 1 + position - groups.starts[group] : head
    return asLine(line)
  }

  private positionOf(row: number): number {
    const { rows, rowCount } = this.view
    if (!rows) return row < rowCount ? row : -1
    if (!this.positions) {
      const positions = new Uint32Array(this.table.rows)
      const passing = emptyBits(this.table.rows)
      for (let at = 0; at < rows.length; at++) {
        positions[rows[at]] = at
        setBit(passing, rows[at])
      }
      this.positions = { of: positions, passing }
    }
    return hasBit(this.positions.passing, row) ? this.positions.of[row] : -1
  }

  private idsBetween(from: number, to: number): Rows {
    const { rows } = this.view
    const { ids } = this.table
    if (!rows && !ids) return { kind: 'run', from, to }
    const list = rows ? rows.slice(from, to) : Uint32Array.from({ length: to - from }, (_, i) => from + i)
    return { kind: 'list', rows: ids ? list.map(row => Number(idOfRow(this.table, row))) : list }
  }

  private idAt(position: number): RowId {
    return idOfRow(this.table, this.rowAt(position))
  }

  private rowAt(position: number): number {
    return this.view.rows ? this.view.rows[position] : position
  }
}
