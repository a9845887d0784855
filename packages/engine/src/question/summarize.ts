import { ALL_ROWS, type Summarised } from '../group/group-summaries.ts'
import type { Flow } from '../flow/flow.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Runs } from '../summary/runs.ts'
import type { Summary } from '../summary/summary.ts'
import type { Value } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import type { Question } from './question.ts'

/** What columns come to is asked by. */
export interface SummaryAsked {
  readonly column: string
  readonly summary: Summary
}

/** What a column comes to: in all rows, and by level in each group, in the order of the groups. NaN and null: nothing. */
export interface ColumnSummary extends SummaryAsked {
  readonly all: Value
  readonly levels: readonly (Float64Array | readonly Value[])[]
}

/** What columns come to in every group of a request, and in all of its rows. Columns that are not there are left out. */
export const summarize: Question<
  { readonly request: ViewRequest; readonly of: readonly SummaryAsked[] },
  readonly ColumnSummary[]
> = {
  *answer({ flow }, { request, of }) {
    const told: ColumnSummary[] = []
    for (const asked of of) {
      const summary = yield* summaryOf(flow, request, asked)
      if (summary) told.push(summary)
    }
    return told
  },
}

function* summaryOf(flow: Flow, request: ViewRequest, asked: SummaryAsked): Work<ColumnSummary | null> {
  const place = flow.columnIndexes.get(asked.column)
  if (place === undefined) return null
  const { summaries, order, starts, rows } = yield* flow.groupedRows(request)
  const valuesOf = function* (level: number, nodes: Uint32Array | null): Work<Float64Array | Value[]> {
    // As they stand: what asks for a first or last row is told in the order of the groups already.
    const arranged = function* (): Work<Runs> {
      return { rows, starts: level === ALL_ROWS ? Uint32Array.of(0, summaries.tree.rows) : starts[level] }
    }
    let inOrder = false
    const made: Summarised = yield* summaries.of(level, place, asked.summary, function* () {
      inOrder = true
      return yield* arranged()
    })
    const at = (group: number): number => (inOrder || !nodes ? group : nodes[group])
    const size = summaries.sizeOf(level)
    if (made.kind === 'numbers')
      return Float64Array.from({ length: size }, (_, group) => made.numbers[at(group)])
    return Array.from({ length: size }, (_, group) => summaries.valueOf(made, place, at(group)))
  }
  const levels: (Float64Array | Value[])[] = []
  for (const [level, { nodes }] of order.entries()) levels.push(yield* valuesOf(level, nodes))
  const [all] = yield* valuesOf(ALL_ROWS, null)
  return { ...asked, all: typeof all === 'number' && Number.isNaN(all) ? null : all, levels }
}
