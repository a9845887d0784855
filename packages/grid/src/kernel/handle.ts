import type {
  Arrangement,
  ArrangementInput,
  ChangeSet,
  Committed,
  ComputedProblem,
  Definition,
  DefinitionInput,
  FlowReport,
  KeyValue,
  RowSource,
  SourceDescription,
  Transaction,
  ViewId,
  ViewRequest,
  Why,
} from '@vast-meadow/engine'
import type { Listener, MeadowEvents, Measures } from './events.ts'
import type { Allow, RowsGiven } from './options.ts'

/** What the kernel itself adds to the grid's handle. */
export interface KernelHandle<Row extends object = object> {
  /**
   * Resolves when cells can be seen for the first time, be it of rows that came later than those that the grid was
   * mounted with; at once where it has none and none are on their way. Rejects when rows cannot be had and no others are on their way.
   */
  readonly ready: Promise<void>
  readonly arrangement: Arrangement
  readonly definition: Definition | null
  readonly description: SourceDescription | null
  /** The newest report of the flow. */
  readonly report: FlowReport | null
  readonly measures: Measures
  /** What is wrong with expressions of the definition; such columns and styles are not there. */
  readonly expressionProblems: readonly ComputedProblem[]
  /** The source that answers now; it can be asked what no method of this handle tells. */
  readonly source: RowSource | null
  /**
   * Changes the arrangement as one transaction; before rows are there too. Throws an `ArrangementError`, and changes
   * nothing, where the change is not valid or names a column that is not there.
   */
  arrange(change: ArrangementInput, why?: Why): Transaction | null
  /**
   * Replaces the rows, and the definition with them where one is given. What was shown stays until the new ones are
   * there, and when they cannot be had. With a key in the definition, selection, the row at the top and the focused
   * cell stay where their rows live on, and a list of which few rows differ from the one before costs what differs.
   * Resolves when the rows are there, or newer ones that took their place; rejects where they cannot be had.
   */
  setRows(rows: RowsGiven<Row>, definition?: DefinitionInput): Promise<void>
  /** Changes rows by their key; needs a key in the definition, but for `append`. What could not be done is answered. */
  commit(changes: ChangeSet): Promise<Committed>
  /**
   * Looks anew at rows that a service holds, where others may have changed them: what is on screen is asked for again, at
   * its place. Of rows of the page nothing happens. Rejects where the service cannot be reached.
   */
  refresh(): Promise<void>
  /**
   * Sets the definition, before rows are there too; null: it is made from the rows. Rejects with a `DefinitionError`
   * that says what is wrong and where, and the one before stays.
   */
  setDefinition(definition: DefinitionInput | null): Promise<void>
  /** Sets what is asked before something happens, in place of `options.allow`. */
  setAllow(allow: Allow): void
  /** Ends the loading that is under way; what was shown before stays. */
  cancelLoading(): void
  /**
   * Who uses the grid from now on. A `builder` arranges what readers start with: the events say so, what the definition
   * forbids readers is no hindrance, and no history is kept, as the builder's own tool has one. `start`: what readers
   * start with, where that is not what the definition says.
   */
  actAs(worker: 'reader' | 'builder', start?: Arrangement): void
  /** Brings the row with the key into view and the keyboard onto it; false when it is held back or not there. */
  scrollTo(key: KeyValue): Promise<boolean>
  /**
   * Where the reader is: the row at the top, the page, columns moved sideways, the keyboard's cell, and the selection up
   * to 100,000 rows. Plain JSON that only `options.place` reads, for a host to keep while the reader is elsewhere.
   */
  place(): Promise<object | null>
  /** What is asked of the source now; questions take it as their `request`. */
  request(): ViewRequest
  /** Names the view that is shown, in questions about lines; null before there is one. */
  readonly viewId: ViewId | null
  /** The shown texts of the first rows as they are arranged now, by row; rows that are not read yet are left out. */
  textsOfFirstRows(columns: readonly string[], rows: number): Promise<string[][]>
  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name, Row>): () => void
  unmount(): void
}
