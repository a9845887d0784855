import type { Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'
import { asLine, type HeadLine, type Line } from '../flow/line.ts'
import type { ViewReader } from '../flow/view.ts'
import type { LineReader } from './row-source.ts'

/** Reads lines where the table itself can be read: in this page, or in memory shared with a worker. */
export class ViewLines implements LineReader {
  readonly lineCount: number
  private readonly reader: ViewReader

  constructor(reader: ViewReader) {
    this.reader = reader
    this.lineCount = reader.lineCount
  }

  line(index: number): Line {
    return this.reader.line(index)
  }

  groupsAt(index: number): readonly HeadLine[] {
    return this.reader.groupsAt(asLine(index))
  }

  text(_index: number, row: RowId, column: string): string {
    return this.reader.text(row, column)
  }

  value(_index: number, row: RowId, column: string): Value {
    return this.reader.value(row, column)
  }

  want(): void {}

  onArrive(): () => void {
    return () => {}
  }
}
