import { PendingChanges } from '../../src/pending/pending-changes.ts'
import { privateMemory } from '../../src/table/allocate.ts'
import { EditableTable } from '../../src/edit/editable-table.ts'
import type { Flow } from '../../src/flow/flow.ts'
import { ViewReader } from '../../src/flow/view.ts'
import type { QuestionContext } from '../../src/question/question.ts'

/** What an engine over the flow would lend to a question; every view is the reader's. */
export const askedOf = (flow: Flow, reader = everything(flow)): QuestionContext => ({
  flow,
  edits: new EditableTable(flow.table),
  pending: new PendingChanges(new EditableTable(flow.table), privateMemory),
  view: () => reader,
  describe: () => {
    throw new Error('Nobody describes a flow alone.')
  },
})

const everything = (flow: Flow): ViewReader =>
  new ViewReader(flow.table, flow.shows, flow.columnIndexes, {
    rows: null,
    rowCount: flow.table.rows,
    groups: null,
  })
