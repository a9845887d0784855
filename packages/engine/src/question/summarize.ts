import { ALL_ROWS, type GroupSummaries, type Summarised } from '../group/group-summaries.ts'
import type { Flow } from '../flow/flow.ts'
import type { GroupedRows } from '../flow/group-stage.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Runs } from '../summary/runs.ts'
import type { Summary } from '../summary/summary.ts'
import { clearBit, countBits, emptyBits, hasBit, listBits, setBit } from '../table/bits.ts'
import type { ColumnIndex, Value } from '../table/column.ts'
import { rowOfId, rowsIn, type Rows } from '../table/row-id.ts'
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

/**
 * What columns come to in every group of a request, and in all of its rows. Columns that are not there are left out.
 * `among`: in these rows instead, whether they pass or not; they are in no groups. What asks for the first or last of
 * them goes by the order of those that pass, the others behind.
 */
export const summarize: Question<
  { readonly request: ViewRequest; readonly of: readonly SummaryAsked[]; readonly among?: Rows },
  readonly ColumnSummary[]
> = {
  *answer({ flow }, { request, of, among }) {
    const told: ColumnSummary[] = []
    const some = among && (yield* someRows(flow, request, among))
    for (const asked of of) {
      const place = flow.columnIndexes.get(asked.column)
      if (place === undefined) continue
      const summary = some
        ? yield* amongSome(some, asked, place)
        : yield* inGroups(yield* flow.groupedRows(request), asked, place)
      told.push(summary)
    }
    return told
  },
}

function* inGroups(
  { summaries, order, starts, rows }: GroupedRows,
  asked: SummaryAsked,
  place: ColumnIndex,
): Work<ColumnSummary> {
  const valuesOf = function* (level: number, nodes: Uint32Array | null): Work<Float64Array | Value[]> {
    let inOrder = false
    // As they stand: what asks for a first or last row is told in the order of the groups already.
    const made: Summarised = yield* summaries.of(level, place, asked.summary, function* (): Work<Runs> {
      inOrder = true
      return { rows, starts: level === ALL_ROWS ? Uint32Array.of(0, summaries.tree.rows) : starts[level] }
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

/** Some rows, and the same in the order of the request. */
interface SomeRows {
  readonly summaries: GroupSummaries
  readonly ordered: Uint32Array
}

function* someRows(flow: Flow, request: ViewRequest, among: Rows): Work<SomeRows> {
  const wanted = emptyBits(flow.table.rows)
  for (const id of rowsIn(among)) {
    const row = rowOfId(flow.table, id)
    if (row >= 0 && !(flow.gone && hasBit(flow.gone, row))) setBit(wanted, row)
  }
  const summaries = yield* flow.summariesAmong(wanted)
  const { rows } = yield* flow.groupedRows({ ...request, groups: [] })
  const left = wanted.slice()
  const ordered: number[] = []
  const take = (row: number): void => {
    if (!hasBit(left, row)) return
    ordered.push(row)
    clearBit(left, row)
  }
  for (const row of rows ?? []) take(row)
  for (const row of listBits(left, countBits(left))) ordered.push(row)
  return { summaries, ordered: Uint32Array.from(ordered) }
}

function* amongSome(
  { summaries, ordered }: SomeRows,
  asked: SummaryAsked,
  place: ColumnIndex,
): Work<ColumnSummary> {
  const made = yield* summaries.of(ALL_ROWS, place, asked.summary, function* (): Work<Runs> {
    return { rows: ordered, starts: Uint32Array.of(0, ordered.length) }
  })
  return { ...asked, all: summaries.valueOf(made, place, 0), levels: [] }
}
