import { asLine } from '@vast-meadow/engine/client'
import type { HeadLine, Line, LineReader, RowId, Value } from '@vast-meadow/engine'

/**
 * The lines of a reader, and below each row that is open one more: its detail. Where these lie is all that is kept, so
 * a row opens without anything being asked; every line is found in the logarithm of the open rows.
 */
export class OpenedLines implements LineReader {
  readonly lineCount: number
  private readonly inner: LineReader
  /** Lines of the inner reader below which there is a detail, ascending. */
  private readonly opened: readonly number[]

  constructor(inner: LineReader, opened: readonly number[]) {
    this.inner = inner
    this.opened = opened
    this.lineCount = inner.lineCount + opened.length
  }

  /** The line of the inner reader that a line is, or to which a detail belongs. */
  inside(index: number): number {
    return index - this.before(index)
  }

  /** Where a line of the inner reader stands. */
  outside(inner: number): number {
    return inner + countBelow(this.opened, inner)
  }

  line(index: number): Line | undefined {
    const line = this.inner.line(this.inside(index))
    if (line?.kind === 'head') return this.here(line)
    return line?.kind === 'row' && this.isDetail(index) ? { ...line, kind: 'detail' } : line
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    return this.inner.groupsAt ? this.inner.groupsAt(this.inside(index))?.map(head => this.here(head)) : []
  }

  text(index: number, row: RowId, column: string): string | undefined {
    return this.inner.text(this.inside(index), row, column)
  }

  value(index: number, row: RowId, column: string): Value | undefined {
    return this.inner.value(this.inside(index), row, column)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    this.inner.want(this.inside(from), to > from ? this.inside(to - 1) + 1 : this.inside(from), columns)
  }

  onArrive(listener: () => void): () => void {
    return this.inner.onArrive(listener)
  }

  private isDetail(index: number): boolean {
    const before = this.before(index)
    return before > 0 && this.opened[before - 1] + before === index
  }

  /** How many details stand on lines up to one, that one included. */
  private before(index: number): number {
    let [low, high] = [0, this.opened.length]
    while (low < high) {
      const middle = (low + high) >>> 1
      if (this.opened[middle] + middle + 1 <= index) low = middle + 1
      else high = middle
    }
    return low
  }

  private here(head: HeadLine): HeadLine {
    return { ...head, line: asLine(this.outside(head.line)), end: asLine(this.outside(head.end)) }
  }
}

/** How many of ascending numbers are below one. */
function countBelow(ascending: readonly number[], limit: number): number {
  let [low, high] = [0, ascending.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (ascending[middle] < limit) low = middle + 1
    else high = middle
  }
  return low
}
