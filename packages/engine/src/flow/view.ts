import { valueAt, type Column, type ColumnIndex, type Table, type Value } from '../table/column.ts'
import { emptyBits, hasBit, setBit, type Bits } from '../table/bits.ts'
import { idOfRow, rowOfId, type RowId } from '../table/row-id.ts'
import type { Show } from '../table/shown-text.ts'
import { lastStartAt } from '../layout/last-start.ts'
import { NestedLines, type LineRun } from '../layout/nested-lines.ts'
import { sure } from '../work/checked.ts'
import type { Rows } from '../table/row-id.ts'
import { GroupReader, type GroupedLevel } from './group-reader.ts'
import {
  asLine,
  NO_LINE,
  type FootLine,
  type GroupPath,
  type HeadLine,
  type Line,
  type LineIndex,
} from './line.ts'
import type { Formats } from './request.ts'

/** What the flow came to: typed arrays only, so that it can lie in shared memory. */
export interface FlowView {
  /** Row numbers in the arranged order; null: all rows as they stand in the table. */
  readonly rows: Uint32Array | null
  readonly rowCount: number
  readonly groups: GroupedView | null
}

/** A level of groups, which of them are open, and where their heads stand. */
export interface GroupedViewLevel extends GroupedLevel {
  readonly open: Bits
  readonly heads: Uint32Array
}

interface GroupedView {
  readonly levels: readonly GroupedViewLevel[]
  readonly lineCount: number
}

export const lineCountOf = (view: FlowView): number => view.groups?.lineCount ?? view.rowCount

/** Reads lines and cells of a view straight from its table. */
export class ViewReader {
  readonly view: FlowView
  readonly table: Table
  /** How each column of the table writes its values. */
  readonly shows: readonly Show[]
  private readonly columnIndexes: ReadonlyMap<string, ColumnIndex>
  private readonly nested: NestedLines | null
  private readonly names: GroupReader | null
  /** By row of the table: its position among the arranged, when first asked for. */
  private positions: { readonly of: Uint32Array; readonly passing: Bits } | null = null

  constructor(
    table: Table,
    shows: readonly Show[],
    places: ReadonlyMap<string, ColumnIndex>,
    view: FlowView,
    formats: Formats = {},
  ) {
    const { groups, rows } = view
    const heads = groups?.levels.map(level => level.heads)
    this.nested =
      groups && new NestedLines(groups.levels, { heads: heads ?? [], lineCount: groups.lineCount })
    this.names = groups && new GroupReader(groups.levels, table, rows, shows, formats)
    this.table = table
    this.shows = shows
    this.columnIndexes = places
    this.view = view
  }

  get lineCount(): number {
    return lineCountOf(this.view)
  }

  /** Rows that pass. */
  get rowCount(): number {
    return this.view.rowCount
  }

  line(index: number): Line {
    if (!this.nested || !this.names) return { kind: 'row', level: 0, row: this.idAt(index) }
    const at = this.nested.at(index)
    if (at.kind === 'row') return { kind: 'row', level: at.level, row: this.idAt(at.row) }
    return at.kind === 'head'
      ? this.head(at.level, at.group)
      : { kind: 'foot', ...this.group(at.level, at.group) }
  }

  /** The head of a group of a level, whether it has a line or is in a closed group. */
  head(level: number, group: number): HeadLine {
    const { nested, names } = this
    if (!nested || !names) throw new RangeError('Rows are not grouped.')
    const siblings = level > 0 ? names.levels[level - 1].children : null
    const parent = level > 0 ? names.parent(level, group) : 0
    const first = siblings ? siblings[parent] : 0
    const end = siblings ? siblings[parent + 1] : names.levels[0].keyOf.length
    return {
      kind: 'head',
      ...this.group(level, group),
      open: hasBit(nested.levels[level].open, group),
      line: nested.isShown(level, group) ? asLine(nested.lineOfGroup(level, group)) : NO_LINE,
      end: nested.isShown(level, group) ? asLine(nested.end(level, group)) : NO_LINE,
      nth: group - first + 1,
      of: end - first,
    }
  }

  private group(level: number, group: number): Omit<FootLine, 'kind'> {
    const names = sure(this.names)
    const { column, starts, children } = names.levels[level]
    return {
      level,
      group,
      column: this.table.fields[column].key,
      path: names.path(level, group),
      value: names.value(level, group),
      shown: names.shown(level, group),
      rest: names.isRest(level, group),
      count: starts[group + 1] - starts[group],
      groups: children ? children[group + 1] - children[group] : 0,
    }
  }

  /** The groups that a line stands in, from the outermost; a head's own is the last. */
  groupsAt(index: LineIndex): HeadLine[] {
    const { nested, names } = this
    if (!nested || !names) return []
    const at = nested.at(index)
    const position = at.kind === 'row' ? at.row : names.levels[at.level].starts[at.group]
    return this.groupsAround(position, at.kind === 'row' ? at.level : at.level + 1)
  }

  /** The groups that a row is in, from the outermost; none where it does not pass. */
  groupsOf(id: RowId): HeadLine[] {
    const row = rowOfId(this.table, id)
    const position = row < 0 ? -1 : this.positionOf(row)
    return position < 0 || !this.names ? [] : this.groupsAround(position, this.names.levels.length)
  }

  private groupsAround(position: number, depth: number): HeadLine[] {
    return sure(this.names)
      .levels.slice(0, depth)
      .map(({ starts }, level) => this.head(level, lastStartAt(starts, starts.length - 1, position)))
  }

  /** The line of a group's head, or of the closed group that holds it. */
  lineOfGroup(level: number, group: number): LineIndex {
    return asLine(this.nested?.lineOfGroup(level, group) ?? -1)
  }

  /** The number of the group that a path names, on its level; −1: there is none. */
  findGroup(path: GroupPath): number {
    return this.names && path.length > 0 ? this.names.find(path) : -1
  }

  /** Where the rows stand, run by run, in their order. */
  lineRuns(): Iterable<LineRun> {
    return this.nested?.lineRuns() ?? [{ from: 0, to: this.view.rowCount, line: 0, step: 1 }]
  }

  /** By level: the lines of the groups’ heads; those within closed groups left out. */
  *headLines(): Iterable<{ readonly level: number; readonly line: number }> {
    const { groups } = this.view
    for (const [level, { heads }] of (groups?.levels ?? []).entries())
      for (let group = 0; group < heads.length; group++)
        if (this.nested?.isShown(level, group)) yield { level, line: heads[group] }
  }

  /** The number of a row in the table, by its position among the arranged. */
  rowAt(position: number): number {
    return this.view.rows ? this.view.rows[position] : position
  }

  /** Where the rows of a group lie among the arranged: from a position up to another. */
  spanOfGroup(level: number, group: number): { readonly from: number; readonly to: number } {
    const { starts } = sure(this.names).levels[level]
    return { from: starts[group], to: starts[group + 1] }
  }

  /** The position of the first row that stands behind a line: those of a closed group stand at its head. */
  positionAfter(line: LineIndex): number {
    if (line < 0) return 0
    if (line >= this.lineCount) return this.rowCount
    if (!this.nested) return line + 1
    const at = this.nested.at(line)
    if (at.kind === 'row') return at.row + 1
    const { from, to } = this.spanOfGroup(at.level, at.group)
    return at.kind === 'head' && hasBit(this.nested.levels[at.level].open, at.group) ? from : to
  }

  /** The rows of a group, those of closed groups in it as well. */
  rowsOfGroup(level: number, group: number): Rows {
    const { from, to } = this.spanOfGroup(level, group)
    return this.idsBetween(from, to)
  }

  /** The shown text of a row's cell; empty for a column or row that the table does not have. */
  text(row: RowId, column: string): string {
    const place = this.columnIndexes.get(column)
    const at = rowOfId(this.table, row)
    return place === undefined || at < 0 ? '' : this.shows[place](valueAt(this.table.columns[place], at))
  }

  value(row: RowId, column: string): Value {
    const of = this.columnOf(column)
    return of && this.valueOf(of, row)
  }

  /** A column of the table by its key; null: there is none. */
  columnOf(key: string): Column | null {
    const place = this.columnIndexes.get(key)
    return place === undefined ? null : this.table.columns[place]
  }

  valueOf(column: Column, row: RowId): Value {
    const at = rowOfId(this.table, row)
    return at < 0 ? null : valueAt(column, at)
  }

  /** The rows on lines `from` up to `to`, group heads left out. */
  rowsBetween(from: LineIndex, to: LineIndex): Rows {
    const start = Math.max(0, from)
    const end = Math.max(start, Math.min(to, this.lineCount))
    if (!this.nested) return this.idsBetween(start, end)
    const out: number[] = []
    for (let index = start; index < end; index++) {
      const line = this.nested.at(index)
      if (line.kind === 'row') out.push(Number(this.idAt(line.row)))
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
    const row = rowOfId(this.table, id)
    const position = row < 0 ? -1 : this.positionOf(row)
    if (position < 0) return NO_LINE
    return asLine(this.nested ? this.nested.lineOfRow(position) : position)
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
}
