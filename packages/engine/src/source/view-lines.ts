import type { Value } from '../table/column.ts'
import { lineCountOf, type Line, type ViewReader } from '../flow/view.ts'
import type { LineReader } from './row-source.ts'
import type { CellBlock } from './tile-reader.ts'

/** Reads lines where the table itself can be read: in this page, or in memory shared with a worker. */
export class ViewLines implements LineReader {
  readonly lineCount: number
  private readonly reader: ViewReader

  constructor(reader: ViewReader) {
    this.reader = reader
    this.lineCount = lineCountOf(reader.view)
  }

  line(index: number): Line {
    return this.reader.line(index)
  }

  text(_index: number, row: number, column: string): string {
    return this.reader.text(row, column)
  }

  value(_index: number, row: number, column: string): Value {
    return this.reader.value(row, column)
  }

  want(): void {}

  onArrive(): () => void {
    return () => {}
  }
}

/** The cells of a range of lines, for a page that cannot read the table itself. */
export function cellBlock(
  reader: ViewReader,
  from: number,
  to: number,
  columns: readonly string[],
): CellBlock {
  const lines: Line[] = []
  const texts: string[] = []
  const values: Value[] = []
  for (let index = from; index < to; index++) {
    const line = reader.line(index)
    lines.push(line)
    for (const column of columns) {
      texts.push(line.kind === 'row' ? reader.text(line.row, column) : '')
      values.push(line.kind === 'row' ? reader.value(line.row, column) : null)
    }
  }
  return { lines, texts, values }
}
