import type { Table, Value } from '../table/column.ts'
import type { Facets, FlowReport, FlowRequest, Formats } from '../flow/request.ts'
import type { FlowView } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'
import type { Progress, RowRecord, SourceDescription, SourceProblem } from '../source/row-source.ts'
import type { RowsInput } from '../source/rows-input.ts'
import type { CellBlock } from '../source/tile-reader.ts'

/** Everything a page may ask of its engine's worker, and what is answered. */
export interface Calls {
  /** `newest`: a shared word that holds the newest arrangement version; null without shared memory. */
  open: {
    args: { input: RowsInput; newest: Int32Array | null }
    answer: { description: SourceDescription; table: Table | null }
  }
  bind: { args: { formats: Formats }; answer: null }
  arrange: {
    args: { version: number; request: FlowRequest }
    answer: { report: FlowReport; lineCount: number; view: FlowView | null }
  }
  facets: { args: { request: FlowRequest; column: string; limit: number }; answer: Facets }
  findRow: { args: { field: string | null; key: Value }; answer: number }
  lineOfRow: { args: { row: number }; answer: number }
  passingRows: { args: object; answer: Rows }
  rowsBetween: { args: { from: number; to: number }; answer: Rows }
  records: { args: { rows: readonly number[] }; answer: RowRecord[] }
  cells: {
    args: { version: number; from: number; to: number; columns: readonly string[] }
    answer: CellBlock
  }
}

export type CallName = keyof Calls

export type ToWorker =
  | {
      [Name in CallName]: { readonly id: number; readonly call: Name; readonly args: Calls[Name]['args'] }
    }[CallName]
  | { readonly id: number; readonly call: 'cancel' }

export type FromWorker =
  | { readonly id: 0; readonly ready: true }
  | { readonly id: number; readonly progress: Progress }
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly cancelled: true }
  | { readonly id: number; readonly problem: SourceProblem }
