import type { Brand } from '../table/brand.ts'
import type { Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'

/**
 * A line of a whole view, from 0; `NO_LINE` stands for none. What a page counts as its lines are plain numbers: the
 * grid's pager turns one into the other.
 */
export type LineIndex = Brand<number, 'LineIndex'>
export const asLine = (index: number): LineIndex => index as LineIndex

export const NO_LINE = asLine(-1)

/**
 * One horizontal band of the body. `level`: how many groups it stands in, 0 for none; a head and a foot stand in the
 * groups around theirs.
 */
export type Line = RowLine | HeadLine | FootLine | DetailLine | NewLine

export interface RowLine {
  readonly kind: 'row'
  readonly level: number
  readonly row: RowId
}

/** What names a group within the group that it is in: its value or the key of its bucket; what is left is one together. */
export type GroupKey = Value | { readonly rest: true }

/** Names a group: the keys of the groups that it is in, outermost first, and its own. */
export type GroupPath = readonly GroupKey[]

interface OfGroup {
  readonly level: number
  /** Its number on its level, in the order of the groups. */
  readonly group: number
  /** The column by which the group is one. */
  readonly column: string
  readonly path: GroupPath
  /** The value, or what its bucket is named by; null: of rows without a value, and of the rest. */
  readonly value: Value
  readonly shown: string
  /** What is left of its level, put together. */
  readonly rest: boolean
  /** Rows in the group. */
  readonly count: number
  /** Groups of the next level in it; 0 on the lowest. */
  readonly groups: number
}

/** The head of a group. */
export interface HeadLine extends OfGroup {
  readonly kind: 'head'
  readonly open: boolean
  /** Its line, and the one past the last line of the group; `NO_LINE` within a closed group. */
  readonly line: LineIndex
  readonly end: LineIndex
  /** Its place among the groups that it stands with, counted from 1, and how many these are. */
  readonly nth: number
  readonly of: number
}

/** What stands below a group's rows. */
export interface FootLine extends OfGroup {
  readonly kind: 'foot'
}

/** What a row shows of itself when it is opened. */
interface DetailLine {
  readonly kind: 'detail'
  readonly level: number
  readonly row: RowId
}

/** A row that is new and not saved: it stands beside all others, whatever is arranged. Its id is below 0 and names it alone. */
interface NewLine {
  readonly kind: 'new'
  readonly level: number
  readonly row: RowId
}

/** What a line is, wherever it stands: equal for the same line of another view. */
export function lineKey(line: Line): string {
  return line.kind === 'row' || line.kind === 'detail' || line.kind === 'new'
    ? `${line.kind} ${typeof line.row} ${line.row}`
    : JSON.stringify([line.kind, line.column, line.path])
}
