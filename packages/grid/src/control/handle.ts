import type {
  Arrangement,
  ArrangementChange,
  Definition,
  DefinitionInput,
  FlowReport,
  FlowRequest,
  RowRecord,
  RowSource,
  SourceDescription,
  Transaction,
  Value,
  Why,
} from '@vast-meadow/engine'
import type { Listener, MeadowEvents, Measures } from './events.ts'
import type { MeadowOptions } from './options.ts'

/** What `mountMeadow` returns: everything that the interface does, from code. */
export interface MeadowHandle {
  /** Resolves when the first rows are on screen; rejects when they cannot be had. */
  readonly ready: Promise<void>
  readonly arrangement: Arrangement
  readonly definition: Definition | null
  readonly description: SourceDescription | null
  /** The newest report of the flow. */
  readonly report: FlowReport | null
  readonly measures: Measures
  /** The source that answers now; for facets and records. */
  readonly source: RowSource | null
  /** Changes the arrangement as one transaction; before rows are there too. */
  arrange(change: ArrangementChange, why?: Why): Transaction | null
  /** Replaces the rows. What was shown stays until the new ones are there, and when they cannot be had. */
  setRows(rows: MeadowOptions['rows'] | NonNullable<MeadowOptions['source']>): Promise<void>
  /** Rejects with a `TypeError` that says what is wrong and where. */
  setDefinition(definition: DefinitionInput): Promise<void>
  /** Ends the loading that is under way; what was shown before stays. */
  cancelLoading(): void
  /** Brings the row with the key into view and the keyboard onto it; false when it is held back or not there. */
  scrollTo(key: Value): Promise<boolean>
  /** The present request to the flow, as `source.facets` takes it. */
  request(): FlowRequest
  readonly selectedCount: number
  /** The selected rows as plain objects, at most `limit`; default 10,000. */
  selectedRecords(limit?: number): Promise<RowRecord[]>
  clearSelection(): void
  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name>): () => void
  unmount(): void
}
