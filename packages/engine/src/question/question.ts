import type { EditableTable } from '../edit/editable-table.ts'
import type { PendingChanges } from '../pending/pending-changes.ts'
import type { Flow } from '../flow/flow.ts'
import type { ViewReader } from '../flow/view.ts'
import type { SourceDescription } from './source-description.ts'
import type { Brand } from '../table/brand.ts'
import type { Work } from '../work/work.ts'

/** Names a view of a source for as long as the source keeps it. */
export type ViewId = Brand<number | string, 'ViewId'>

/** What the engine lends to whoever answers a question. */
export interface QuestionContext {
  /** Over the rows with what the question's `request` or `binding` makes of them, else as they were bound last. */
  readonly flow: Flow
  readonly edits: EditableTable
  readonly pending: PendingChanges
  /** A view that was made before; throws `CancelledError` where it is no longer kept. */
  view(id: ViewId): ViewReader
  describe(): SourceDescription
}

/**
 * Something that a source can be asked beside its lines. Arguments and answer are plain data that can be posted.
 * Arguments named `request` or `binding` are seen to before the work begins: the flow is bound so, and what conditions
 * need is loaded.
 */
export interface Question<Args, Answer> {
  /** It reads a view that is there, or saved rows alone, and so needs nothing that follows from the rows as they are now. */
  readonly apart?: true
  /** Loads what the answer needs beyond the engine itself. */
  load?(args: Args): Promise<void>
  answer(asked: QuestionContext, args: Args): Work<Answer>
}
