import { type LineIndex, asLine } from '../flow/line.ts'
import { fold, searchWords } from '../search/fold.ts'
import type { RowId } from '../table/row-id.ts'
import type { Work } from '../work/work.ts'
import type { ViewReader } from '../flow/view.ts'
import type { Question, ViewId } from './question.ts'

/** A cell by its line and its column. */
export interface CellPlace {
  readonly line: LineIndex
  readonly column: string
}

/** Lines looked at between two pauses. */
const LINES_A_SLICE = 1 << 10

/**
 * The next cell, or the one before, that a search marks: in the given columns from start to end, line by line, round
 * the end of the lines. `from` itself comes last. Null where no cell is marked.
 */
export const findMatch: Question<
  {
    readonly view: ViewId
    readonly search: string
    readonly columns: readonly string[]
    readonly from: CellPlace
    readonly step: 1 | -1
  },
  CellPlace | null
> = {
  answer: (asked, { view, search, columns, from, step }) =>
    findFrom(asked.view(view), search, columns, from, step),
}

function* findFrom(
  reader: ViewReader,
  search: string,
  columns: readonly string[],
  from: CellPlace,
  step: 1 | -1,
): Work<CellPlace | null> {
  const words = searchWords(search)
  const lines = reader.lineCount
  if (words.length === 0 || columns.length === 0 || lines === 0) return null
  const isMarked = (row: RowId, column: string): boolean => {
    const text = fold(reader.text(row, column)).replaceAll('\n', ' ')
    return words.some(word => text.includes(word))
  }
  const cells = columns.length
  const start = Math.max(0, columns.indexOf(from.column))
  let place = Math.min(Math.max(from.line, 0), lines - 1) * cells + start
  // A start before the first cell or behind the last looks at that one first.
  if (from.line < 0 && step === 1) place = -1
  for (let looked = 0; looked < lines * cells; looked++) {
    place = (place + step + lines * cells) % (lines * cells)
    const index = Math.floor(place / cells)
    const line = reader.line(index)
    if (line.kind === 'row' && isMarked(line.row, columns[place % cells]))
      return { line: asLine(index), column: columns[place % cells] }
    if (looked % LINES_A_SLICE === LINES_A_SLICE - 1) yield
  }
  return null
}
