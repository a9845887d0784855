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
export type Line = RowLine | HeadLine | FootLine | DetailLine

export interface RowLine {
  readonly kind: 'row'
  readonly level: number
  readonly row: RowId
}

interface OfGroup {
  readonly level: number
  /** The column by whose value the group is one. */
  readonly column: string
  readonly value: Value
  readonly shown: string
}

/** The head of a group. */
export interface HeadLine extends OfGroup {
  readonly kind: 'head'
  /** Rows in the group. */
  readonly count: number
  readonly open: boolean
}

/** What stands below a group's rows. */
interface FootLine extends OfGroup {
  readonly kind: 'foot'
}

/** What a row shows of itself when it is opened. */
interface DetailLine {
  readonly kind: 'detail'
  readonly level: number
  readonly row: RowId
}

/** What a line is, wherever it stands: equal for the same line of another view. */
export function lineKey(line: Line): string {
  return line.kind === 'row' || line.kind === 'detail'
    ? `${line.kind} ${typeof line.row} ${line.row}`
    : JSON.stringify([line.kind, line.level, line.column, line.value])
}
