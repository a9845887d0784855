import type { Value } from '../table/column.ts'
import { hasBit } from '../table/bits.ts'
import { valueAt } from '../table/column.ts'
import { shownAt } from '../table/shown-text.ts'
import type { Condition, ConditionPart } from '../condition/condition.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import { fold, searchWords } from '../search/fold.ts'
import type { Work } from '../work/work.ts'
import type { Flow } from '../flow/flow.ts'
import type { FlowOrderKey, FlowRequest } from '../flow/request.ts'
import type { ViewReader } from '../flow/view.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { rowOfId, type RowId } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** A word of the search, and the columns of the row in whose shown text it stands. */
export interface TracedWord {
  readonly word: string
  readonly columns: readonly string[]
}

/** What a column's condition says of the row, and each of its parts. */
export interface TracedCondition {
  readonly column: string
  readonly condition: Condition
  readonly value: Value
  readonly shown: string
  readonly holds: boolean
  readonly parts: readonly { readonly part: ConditionPart; readonly holds: boolean }[]
  readonly problems: readonly PartProblem[]
}

/** A group that the row is in. */
interface TracedGroup {
  readonly column: string
  readonly value: Value
  readonly shown: string
  readonly rest: boolean
  readonly count: number
  readonly open: boolean
}

/** Why a row is where it is, or is not there: what each stage of the flow says of it. */
export interface Trace {
  readonly row: RowId
  /** Null: nothing is searched. */
  readonly search: { readonly words: readonly TracedWord[]; readonly passes: boolean } | null
  readonly conditions: readonly TracedCondition[]
  /** Whether it is among the rows that alone are asked for; null: any are. */
  readonly among: boolean | null
  readonly passes: boolean
  /** The keys by which it stands where it stands. */
  readonly order: readonly (FlowOrderKey & { readonly shown: string })[]
  /** The groups that it is in, the outermost first; none where it does not pass, or rows are not grouped. */
  readonly groups: readonly TracedGroup[]
  /** It passes, but its group is not kept: the number of the level. */
  readonly heldBackAt: number | null
  /** Counted from 0; that of its group's head where the group is closed; −1 where it does not pass. */
  readonly line: number
}

/**
 * What each stage says of one row, and its line in a view. Looks at that row alone, so it costs the same at any size,
 * but for the line, which is looked for.
 */
export const trace: Question<
  { readonly request: ViewRequest; readonly view: ViewId; readonly row: RowId },
  Trace
> = {
  answer: (asked, { request, view, row }) => traceRow(asked.flow, asked.view(view), request, row),
}

function* traceRow(flow: Flow, reader: ViewReader, request: FlowRequest, id: RowId): Work<Trace> {
  const { table, columnIndexes: places, shows } = flow
  const row = rowOfId(table, id)
  if (row < 0 || (flow.gone && hasBit(flow.gone, row))) throw new RangeError(`There is no row ${id}.`)
  const shown = (key: string): string =>
    shownAt(table.columns[flow.columnIndex(key)], row, shows[flow.columnIndex(key)])
  const value = (key: string): Value => valueAt(table.columns[flow.columnIndex(key)], row)
  const alone = flow.flowOf(Uint32Array.of(row))

  const words = searchWords(request.search).map((word): TracedWord => {
    const columns = request.searchColumns.filter(
      key => places.has(key) && fold(shown(key)).replaceAll('\n', ' ').includes(word),
    )
    return { word, columns }
  })
  const conditions: TracedCondition[] = []
  for (const [column, condition] of Object.entries(request.conditions)) {
    if (!places.has(column)) continue
    const parts: { part: ConditionPart; holds: boolean }[] = []
    const problems: PartProblem[] = []
    for (const part of condition.parts) {
      const met = yield* alone.meetAlone(column, { match: 'all', parts: [part] }, request.clock)
      parts.push({ part, holds: hasBit(met.rows, 0) })
      problems.push(...met.problems)
    }
    const holds = condition.match === 'any' ? parts.some(p => p.holds) : parts.every(p => p.holds)
    conditions.push({ column, condition, value: value(column), shown: shown(column), holds, parts, problems })
  }
  const found = words.every(({ columns }) => columns.length > 0)
  const among = request.among ? hasBit(bitsOfPacked(table, request.among.rows), row) : null
  const passes = found && among !== false && conditions.every(({ holds }) => holds)
  const line = reader.lineOf(id)
  const groups = reader.groupsOf(id)
  const lowest = request.groups.findLastIndex(({ keep }) => keep !== undefined)
  return {
    row: id,
    search: words.length > 0 ? { words, passes: found } : null,
    conditions,
    among,
    passes,
    order: request.order
      .filter(key => places.has(key.column))
      .map(key => ({ ...key, shown: shown(key.column) })),
    groups: groups.map(head => ({
      column: head.column,
      value: head.value,
      shown: head.shown,
      rest: head.rest,
      count: head.count,
      open: head.open,
    })),
    heldBackAt: passes && line < 0 && lowest >= 0 ? lowest : null,
    line,
  }
}
