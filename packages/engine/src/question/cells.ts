import type { Value } from '../table/column.ts'
import { asLine, type HeadLine, type Line } from '../flow/line.ts'
import type { Question, ViewId } from './question.ts'

/** The cells of some lines and columns. Cells are lines × columns, empty where a line is no row. */
export interface CellBlock {
  readonly lines: readonly Line[]
  /** The groups that the first of the lines stands in. */
  readonly groups: readonly HeadLine[]
  readonly texts: readonly string[]
  readonly values: readonly Value[]
}

/** The lines of a view from `from` up to `to` and their cells, for a page that cannot read the table itself. */
export const cells: Question<
  { readonly view: ViewId; readonly from: number; readonly to: number; readonly columns: readonly string[] },
  CellBlock
> = {
  apart: true,
  *answer(asked, { view, from, to, columns }) {
    const reader = asked.view(view)
    const lines: Line[] = []
    const texts: string[] = []
    const values: Value[] = []
    for (let index = from; index < Math.min(to, reader.lineCount); index++) {
      const line = reader.line(index)
      lines.push(line)
      for (const column of columns) {
        texts.push(line.kind === 'row' ? reader.text(line.row, column) : '')
        values.push(line.kind === 'row' ? reader.value(line.row, column) : null)
      }
    }
    return { lines, groups: lines.length > 0 ? reader.groupsAt(asLine(from)) : [], texts, values }
  },
}
