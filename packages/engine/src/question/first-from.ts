import { asLine, type LineIndex } from '../flow/line.ts'
import type { ViewReader } from '../flow/view.ts'
import type { LineRun } from '../layout/nested-lines.ts'
import { isMissing, type Column, isDigitColumn, textOf } from '../table/column.ts'
import { idOfRow, type RowId } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'
import { plainNumber, compareDigits } from '../table/digits.ts'

export interface FirstFrom {
  /** The line that shows the row, or the head of the closed group that it is in. */
  readonly line: LineIndex
  readonly row: RowId
}

/**
 * The first row of a view at or beyond a value of the column that its rows are ordered by, in the order's direction. A
 * text is compared as far as it was typed, without regard to case and accents: “m” finds the first row that begins so,
 * or the one that comes next. Rows without a value are passed over. Halving: twenty looks at a million rows, as many
 * again for each group.
 */
export const firstFrom: Question<
  {
    readonly view: ViewId
    readonly column: string
    readonly from: number | string
    readonly descending: boolean
    /** Whether digits within texts count as the numbers they say. */
    readonly natural: boolean
  },
  FirstFrom | null
> = {
  *answer(asked, { view, column, from, descending, natural }) {
    const reader = asked.view(view)
    const values = reader.columnOf(column)
    if (!values) return null
    const reached =
      typeof from === 'number'
        ? numberReached(values, from, descending)
        : textReached(reader, column, from, descending, asked.flow.locale, natural)
    let looked = 0
    for (const run of reader.lineRuns()) {
      const at = firstIn(reader, values, run, reached)
      if (at >= 0)
        return {
          line: asLine(run.line + (at - run.from) * run.step),
          row: idOfRow(reader.table, reader.rowAt(at)),
        }
      if (++looked % 1024 === 0) yield
    }
    return null
  },
}

/** Whether a row lies at or beyond what is looked for. */
type Reached = (row: number) => boolean

function numberReached(column: Column, from: number, descending: boolean): Reached | null {
  if (isDigitColumn(column)) {
    const wanted = plainNumber(String(from)) ?? '0'
    const compared = (row: number): number => compareDigits(textOf(column, row), wanted)
    return descending ? row => compared(row) <= 0 : row => compared(row) >= 0
  }
  if (column.kind !== 'number' && column.kind !== 'wide') return null
  const { values } = column
  return descending ? row => Number(values[row]) <= from : row => Number(values[row]) >= from
}

function textReached(
  reader: ViewReader,
  column: string,
  from: string,
  descending: boolean,
  locale: string | undefined,
  natural: boolean,
): Reached {
  const collator = new Intl.Collator(locale, { sensitivity: 'base', numeric: natural })
  const wanted = from.normalize('NFC')
  const length = wanted.length
  return row => {
    const text = reader.text(idOfRow(reader.table, row), column).normalize('NFC')
    const compared = collator.compare(text.slice(0, length), wanted)
    return descending ? compared <= 0 : compared >= 0
  }
}

/** The position of the first row of a run that is reached; −1: none is. Rows without a value stand at one end. */
function firstIn(reader: ViewReader, column: Column, { from, to }: LineRun, reached: Reached | null): number {
  if (!reached || to <= from) return -1
  const isThere = (at: number): boolean => !isMissing(column, reader.rowAt(at))
  let [first, end] = [from, to]
  if (isThere(from)) end = firstWhere(from, to, at => !isThere(at))
  else first = firstWhere(from, to, isThere)
  const at = firstWhere(first, end, one => reached(reader.rowAt(one)))
  return at < end ? at : -1
}

/** The first of `from` up to `to` for which something holds that goes on holding from there; `to`: none. */
function firstWhere(from: number, to: number, holds: (at: number) => boolean): number {
  let [low, high] = [from, to]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (holds(middle)) high = middle
    else low = middle + 1
  }
  return low
}
