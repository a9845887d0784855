import { hasBit, type Bits } from '../table/bits.ts'
import type { Table, Value } from '../table/column.ts'
import { valueAt } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import { lastStartAt } from '../layout/group-lines.ts'

/** What the flow came to: typed arrays only, so that it can lie in shared memory. */
export interface FlowView {
  /** Row numbers in the arranged order; null: all rows as they stand in the table. */
  readonly rows: Uint32Array | null
  readonly rowCount: number
  readonly groups: GroupedView | null
}

export interface GroupedView {
  /** The column's place in the table. */
  readonly column: number
  /** Group `g` is `rows[starts[g]]` up to `rows[starts[g + 1]]`. */
  readonly starts: Uint32Array
  readonly open: Bits
  /** See `headLines`. */
  readonly heads: Uint32Array
}

/** One horizontal band of the body. */
export type Line =
  | { readonly kind: 'row'; readonly row: number }
  | {
      readonly kind: 'group'
      readonly column: string
      readonly value: Value
      readonly shown: string
      readonly count: number
      readonly open: boolean
    }

export const lineCountOf = (view: FlowView): number =>
  view.groups ? view.groups.heads[view.groups.heads.length - 1] : view.rowCount

/** Reads lines and cells of a view straight from its table. */
export class ViewReader {
  readonly view: FlowView
  readonly table: Table
  private readonly shows: readonly Show[]
  private readonly places: ReadonlyMap<string, number>

  constructor(table: Table, shows: readonly Show[], places: ReadonlyMap<string, number>, view: FlowView) {
    this.table = table
    this.shows = shows
    this.places = places
    this.view = view
  }

  line(index: number): Line {
    const { groups } = this.view
    if (!groups) return { kind: 'row', row: this.rowAt(index) }
    const group = lastStartAt(groups.heads, groups.heads.length - 1, index)
    const into = index - groups.heads[group]
    if (into > 0) return { kind: 'row', row: this.rowAt(groups.starts[group] + into - 1) }
    const first = groups.starts[group]
    const value = valueAt(this.table.columns[groups.column], this.rowAt(first))
    return {
      kind: 'group',
      column: this.table.fields[groups.column].key,
      value,
      shown: this.shows[groups.column](value),
      count: groups.starts[group + 1] - first,
      open: hasBit(groups.open, group),
    }
  }

  /** The shown text of a row's cell; empty for a column that the table does not have. */
  text(row: number, column: string): string {
    const place = this.places.get(column)
    return place === undefined ? '' : this.shows[place](valueAt(this.table.columns[place], row))
  }

  value(row: number, column: string): Value {
    const place = this.places.get(column)
    return place === undefined ? null : valueAt(this.table.columns[place], row)
  }

  private rowAt(position: number): number {
    return this.view.rows ? this.view.rows[position] : position
  }

  /** The row numbers on lines `from` up to `to`, group heads left out. */
  rowsBetween(from: number, to: number): Uint32Array {
    const out: number[] = []
    for (let index = from; index < to; index++) {
      const line = this.line(index)
      if (line.kind === 'row') out.push(line.row)
    }
    return Uint32Array.from(out)
  }

  /** The line that shows a row: the row's own, or its closed group's head; −1 when it is held back. Linear. */
  lineOfRow(row: number): number {
    const { rows, rowCount, groups } = this.view
    const position = rows ? rows.indexOf(row) : row < rowCount ? row : -1
    if (position < 0 || !groups) return position
    const group = lastStartAt(groups.starts, groups.starts.length - 1, position)
    const head = groups.heads[group]
    return hasBit(groups.open, group) ? head + 1 + position - groups.starts[group] : head
  }
}
