import type { GroupPath, LineIndex } from '../flow/line.ts'
import { NO_LINE } from '../flow/line.ts'
import type { ViewReader } from '../flow/view.ts'
import { RowSet } from '../selection/row-set.ts'
import { hasBit } from '../table/bits.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow, type PackedRows, type RowId } from '../table/row-id.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Question, ViewId } from './question.ts'

/** How many rows there are, and how many of them are selected. */
export interface SelectedOf {
  readonly rows: number
  readonly selected: number
}

export interface SelectedIn {
  readonly passing: SelectedOf
  /** By the groups that were named; one that is not there has no rows. */
  readonly groups: readonly SelectedOf[]
}

/** How many of some rows pass in a view, and stand in some of its groups: one pass over the rows, and a look a group. */
export const selectedIn: Question<
  { readonly view: ViewId; readonly selected: PackedRows; readonly paths: readonly GroupPath[] },
  SelectedIn
> = {
  *answer(asked, { view, selected, paths }) {
    const reader = asked.view(view)
    const { rowCount } = reader
    const isSelected = selectedAt(reader, selected)
    // So many are selected before each position at which a group may start or end.
    const spans = paths.map(path => {
      const group = reader.findGroup(path)
      return group < 0 ? { from: 0, to: 0 } : reader.spanOfGroup(path.length - 1, group)
    })
    const stops = [...new Set([rowCount, ...spans.flatMap(({ from, to }) => [from, to])])].sort(
      (a, b) => a - b,
    )
    const before = new Map<number, number>()
    let count = 0
    let at = 0
    for (const stop of stops) {
      for (; at < stop; at++) {
        if (isSelected(at)) count++
        if (at % SLICE === SLICE - 1) yield
      }
      before.set(stop, count)
    }
    const between = (from: number, to: number): SelectedOf => ({
      rows: to - from,
      selected: (before.get(to) ?? 0) - (before.get(from) ?? 0),
    })
    before.set(0, 0)
    return { passing: between(0, rowCount), groups: spans.map(({ from, to }) => between(from, to)) }
  },
}

/**
 * The selected row that comes next after a line, or the first of all where none does, and the line that shows it: its
 * own, or the head of a closed group that holds it. null: none passes.
 */
export const nextSelected: Question<
  { readonly view: ViewId; readonly selected: PackedRows; readonly after: LineIndex },
  { readonly row: RowId; readonly line: LineIndex } | null
> = {
  *answer(asked, { view, selected, after }) {
    const reader = asked.view(view)
    const isSelected = selectedAt(reader, selected)
    const first = yield* firstFrom(reader.positionAfter(after), reader.rowCount, isSelected)
    const found = first >= 0 ? first : yield* firstFrom(0, reader.rowCount, isSelected)
    if (found < 0) return null
    const row = idOfRow(reader.table, reader.rowAt(found))
    const line = reader.lineOf(row)
    return line === NO_LINE ? null : { row, line }
  },
}

/** Those of some rows that pass in a view. */
export const passingAmong: Question<{ readonly view: ViewId; readonly selected: PackedRows }, PackedRows> = {
  *answer(asked, { view, selected }) {
    const reader = asked.view(view)
    const isSelected = selectedAt(reader, selected)
    const passing = new RowSet()
    for (let at = 0; at < reader.rowCount; at++) {
      if (isSelected(at)) passing.add(idOfRow(reader.table, reader.rowAt(at)))
      if (at % SLICE === SLICE - 1) yield
    }
    return passing.packed()
  },
}

function* firstFrom(from: number, to: number, isSelected: (at: number) => boolean): Work<number> {
  for (let at = from; at < to; at++) {
    if (isSelected(at)) return at
    if (at % SLICE === SLICE - 1) yield
  }
  return -1
}

/** Whether the row at a position of a view is among some rows. */
function selectedAt(reader: ViewReader, selected: PackedRows): (at: number) => boolean {
  const { rows } = reader.view
  const bits = bitsOfPacked(reader.table, selected)
  return rows ? at => hasBit(bits, rows[at]) : at => hasBit(bits, at)
}
