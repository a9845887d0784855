import { asLine } from '@vast-meadow/engine/client'
import type { HeadLine, Line, LineReader, RowId, Value } from '@vast-meadow/engine'

/**
 * Some lines of a reader as if they were all: one page of them, counted from 0. Heads of groups that began on a page
 * before are repeated at its top.
 */
export class LineWindow implements LineReader {
  private readonly inner: LineReader
  private readonly from: number
  private readonly repeated: readonly HeadLine[]
  readonly lineCount: number
  /** Lines at the top that are repeated. */
  readonly above: number
  /** Whether it is known which heads are to be repeated. */
  readonly complete: boolean

  constructor(inner: LineReader, from: number, to: number) {
    const groups = to > from && inner.groupsAt ? inner.groupsAt(from) : []
    this.inner = inner
    this.from = from
    this.complete = groups !== undefined
    this.repeated = groups?.filter(({ line }) => line < from) ?? []
    this.above = this.repeated.length
    this.lineCount = to - from + this.above
  }

  line(index: number): Line | undefined {
    const line = index < this.above ? this.repeated[index] : this.inner.line(this.inside(index))
    return line?.kind === 'head' ? this.here(line) : line
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    const groups =
      index < this.above ? this.repeated.slice(0, index + 1) : this.inner.groupsAt?.(this.inside(index))
    return groups?.map(head => this.here(head))
  }

  text(index: number, row: RowId, column: string): string | undefined {
    return this.inner.text(this.inside(index), row, column)
  }

  value(index: number, row: RowId, column: string): Value | undefined {
    return this.inner.value(this.inside(index), row, column)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    this.inner.want(Math.max(this.from, this.inside(from)), this.inside(to), columns)
  }

  onArrive(listener: () => void): () => void {
    return this.inner.onArrive(listener)
  }

  private inside(index: number): number {
    return index - this.above + this.from
  }

  private here(head: HeadLine): HeadLine {
    const shift = this.above - this.from
    const line = head.line < this.from ? head.level : head.line + shift
    return { ...head, line: asLine(line), end: asLine(head.end + shift) }
  }
}
