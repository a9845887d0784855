import type { Line, LineReader, RowId, Value } from '@vast-meadow/engine'

/** Some lines of a reader as if they were all: one page of them. Lines are counted from 0 here. */
export class LineWindow implements LineReader {
  private readonly inner: LineReader
  private readonly from: number
  readonly lineCount: number

  constructor(inner: LineReader, from: number, to: number) {
    this.inner = inner
    this.from = from
    this.lineCount = to - from
  }

  line(index: number): Line | undefined {
    return this.inner.line(index + this.from)
  }

  text(index: number, row: RowId, column: string): string | undefined {
    return this.inner.text(index + this.from, row, column)
  }

  value(index: number, row: RowId, column: string): Value | undefined {
    return this.inner.value(index + this.from, row, column)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    this.inner.want(from + this.from, to + this.from, columns)
  }

  onArrive(listener: () => void): () => void {
    return this.inner.onArrive(listener)
  }
}
