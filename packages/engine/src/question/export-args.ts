import type { WrittenColumn } from '../export/written-column.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Summary } from '../summary/summary.ts'
import type { Table } from '../table/column.ts'
import type { PackedRows } from '../table/row-id.ts'
import type { Show } from '../table/shown-text.ts'
import type { ViewId } from './question.ts'
import type { ColumnSummary } from './summarize.ts'

/** Which rows are written, in which order. */
export type ExportedRows =
  /** Those that pass, in their order, of closed groups too; `among`: of these alone. */
  | { readonly kind: 'passing'; readonly among?: PackedRows }
  /** Those among some that do not pass, as they came. */
  | { readonly kind: 'held-back'; readonly among: PackedRows }
  /** All, as they came. */
  | { readonly kind: 'all' }

export interface ExportedColumn {
  readonly key: string
  readonly title: string
}

/** What columns come to in groups, beside the rows that pass. */
export interface ExportedGroups {
  /** As lines of their own before the rows of each group, or as further columns of every row. */
  readonly as: 'lines' | 'columns'
  /** By level: what names the column that says in which group a row is. */
  readonly levels: readonly ExportedColumn[]
  /** What names the column that says how many rows a group has; of lines alone. */
  readonly count: ExportedColumn
  /** Stands for the groups that are put together as what is left. */
  readonly rest: string
  readonly of: readonly {
    readonly column: string
    readonly summary: Summary
    /** By level: what names the column of it; of columns alone. */
    readonly levels: readonly ExportedColumn[]
  }[]
  /** The groups of the part, where another has put them together; else those of the request. */
  readonly given?: GivenGroups
}

/** The groups that the rows of a part stand in, in their order. */
export interface GivenGroups {
  readonly levels: readonly {
    /** Where they begin among the rows of the part; past the last, how many rows there are. */
    readonly starts: readonly number[]
    /** Null: of what is missing. */
    readonly names: readonly (string | null)[]
    /** Rows of each, of other parts too. */
    readonly counts: readonly number[]
  }[]
  /** What columns come to in them. */
  readonly told: readonly ColumnSummary[]
}

export interface ExportArgs {
  readonly view: ViewId
  readonly rows: ExportedRows
  /** The places that are looked at, from 0: those of passing rows, else of all rows. */
  readonly from: number
  readonly to: number
  readonly columns: readonly ExportedColumn[]
  /** Only of rows that pass, with the request of the view. */
  readonly groups?: ExportedGroups
  readonly request?: ViewRequest
}

/** A part of what is written. */
export interface ExportedPart {
  /** By line: a row of the table, or `HEAD_LINE`. */
  readonly lines: readonly number[]
  /** By line: in how many groups it stands; empty: in none. */
  readonly levels: readonly number[]
  readonly columns: readonly WrittenColumn[]
  readonly table: Table
  readonly shows: readonly Show[]
  /** Whether columns are those of the table, and so the same for the next part. */
  readonly lasting: boolean
  /** Rows among the lines. */
  readonly rows: number
  /** Places there are: `to` of the last part. */
  readonly places: number
}
