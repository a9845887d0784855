import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { KeyValue } from '../key/key-value.ts'
import type { KeyCheck } from '../key/propose-keys.ts'
import type { Table } from '../table/column.ts'
import type { Explanation } from '../flow/explain.ts'
import type { FacetsAsked } from '../flow/facets.ts'
import type { CellPlace } from '../flow/find-match.ts'
import type { Trace } from '../flow/trace.ts'
import type { Facets, FlowReport, FlowRequest, Profile } from '../flow/request.ts'
import type { FlowView } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'
import type {
  Binding,
  Bound,
  Progress,
  RowRecord,
  SourceDescription,
  SourceProblem,
} from '../source/row-source.ts'
import type { RowsInput } from '../source/rows-input.ts'
import type { CellBlock } from '../source/tile-reader.ts'

/** Everything a page may ask of its engine's worker, and what is answered. */
export interface Calls {
  /** `newest`: a shared word that holds the newest arrangement version; null without shared memory. */
  open: {
    args: { input: RowsInput; newest: Int32Array | null }
    answer: { description: SourceDescription; table: Table | null }
  }
  describe: { args: object; answer: SourceDescription }
  /** `table`: with the computed columns, where the page reads it itself. */
  bind: { args: { binding: Binding }; answer: { bound: Bound; table: Table | null } }
  arrange: {
    args: { version: number; request: FlowRequest }
    answer: { report: FlowReport; lineCount: number; view: FlowView | null }
  }
  facets: { args: { request: FlowRequest; column: string; asked: FacetsAsked }; answer: Facets }
  explain: { args: { request: FlowRequest }; answer: Explanation }
  trace: { args: { request: FlowRequest; row: number }; answer: Trace }
  findMatch: {
    args: { search: string; columns: readonly string[]; from: CellPlace; step: 1 | -1 }
    answer: CellPlace | null
  }
  profile: { args: { column: string; limit: number }; answer: Profile }
  findRows: { args: { keyFields: readonly string[]; keys: readonly KeyValue[] }; answer: Int32Array }
  keysOf: { args: { keyFields: readonly string[]; rows: Rows }; answer: KeyValue[] }
  checkKey: { args: { keyFields: readonly string[] }; answer: KeyCheck }
  proposeKeys: { args: object; answer: KeyCheck[] }
  /** `table`: the changed table, where the page reads it itself. */
  commit: {
    args: { changes: ChangeSet; keyFields: readonly string[] }
    answer: { committed: Committed; table: Table | null }
  }
  fold: { args: object; answer: { moved: Uint32Array | null; table: Table | null } }
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
  /** The worker helps an engine that runs in another one, and hears of its tasks on a port of their own. */
  | { readonly id: 0; readonly call: 'help'; readonly tasks: MessagePort }

export type FromWorker =
  | { readonly id: 0; readonly ready: true }
  | { readonly id: number; readonly progress: Progress }
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly cancelled: true }
  | { readonly id: number; readonly problem: SourceProblem }
