import { asLine } from '@vast-meadow/engine/client'
import type { HeadLine, Line, LineReader, RowId, Value } from '@vast-meadow/engine'

/** Rows that stand before or behind all lines of a page, whatever is arranged. */
export interface BesideRows {
  readonly at: 'head' | 'foot'
  readonly rows: readonly RowId[]
  text(row: RowId, column: string): string
  value(row: RowId, column: string): Value
}

/** The lines of a reader with new rows before or behind them. */
export class BesideLines implements LineReader {
  readonly lineCount: number
  /** How many lines stand before those of the inner reader. */
  readonly before: number
  private readonly inner: LineReader
  private readonly beside: BesideRows

  constructor(inner: LineReader, beside: BesideRows) {
    this.inner = inner
    this.beside = beside
    this.before = beside.at === 'head' ? beside.rows.length : 0
    this.lineCount = inner.lineCount + beside.rows.length
  }

  line(index: number): Line | undefined {
    const row = this.besideAt(index)
    if (row !== undefined) return { kind: 'new', level: 0, row }
    const line = this.inner.line(index - this.before)
    return line?.kind === 'head' ? this.here(line) : line
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    if (this.besideAt(index) !== undefined) return []
    return this.inner.groupsAt?.(index - this.before)?.map(head => this.here(head))
  }

  text(index: number, row: RowId, column: string): string | undefined {
    return this.besideAt(index) === undefined
      ? this.inner.text(index - this.before, row, column)
      : this.beside.text(row, column)
  }

  value(index: number, row: RowId, column: string): Value | undefined {
    return this.besideAt(index) === undefined
      ? this.inner.value(index - this.before, row, column)
      : this.beside.value(row, column)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    const within = (index: number): number => Math.max(0, Math.min(index - this.before, this.inner.lineCount))
    this.inner.want(within(from), within(to), columns)
  }

  onArrive(listener: () => void): () => void {
    return this.inner.onArrive(listener)
  }

  private besideAt(index: number): RowId | undefined {
    const { at, rows } = this.beside
    const nth = at === 'head' ? index : index - this.inner.lineCount
    return nth < 0 ? undefined : rows.at(nth)
  }

  private here(head: HeadLine): HeadLine {
    return { ...head, line: asLine(head.line + this.before), end: asLine(head.end + this.before) }
  }
}
