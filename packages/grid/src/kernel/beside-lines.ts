import { asLine } from '@vast-meadow/engine/client'
import type { GroupPath, HeadLine, Line, LineIndex, LineReader, RowId, Value } from '@vast-meadow/engine'

/** Rows that stand beside those of the view, whatever is arranged. */
export interface BesideRows {
  /** Where they stand on a page. */
  readonly at: 'head' | 'foot'
  readonly rows: readonly RowId[]
  /** The group below whose head a row stands instead, where that is on the page; null: none. */
  groupOf(row: RowId): GroupPath | null
  text(row: RowId, column: string): string
  value(row: RowId, column: string): Value
}

/** Where the heads of groups stand in the view, by `groupName`; null: there is no such group. */
export type GroupLines = ReadonlyMap<string, LineIndex | null>
export const groupName = (path: GroupPath): string => JSON.stringify(path)

/** A row and the line of the inner reader before which it stands. */
export interface BesideRow {
  readonly row: RowId
  readonly cut: number
  /** Levels of groups that it stands in: it stands below the head of the innermost. */
  readonly level: number
}

/** The lines of a reader with new rows between them. */
export class BesideLines implements LineReader {
  readonly lineCount: number
  private readonly inner: LineReader
  private readonly beside: BesideRows
  /** In the order of their lines. */
  private readonly rows: readonly BesideRow[]

  constructor(inner: LineReader, beside: BesideRows, rows: readonly BesideRow[]) {
    this.inner = inner
    this.beside = beside
    this.rows = rows
      .map((row, nth) => ({ row, nth }))
      .sort((a, b) => a.row.cut - b.row.cut || a.nth - b.nth)
      .map(({ row }) => row)
    this.lineCount = inner.lineCount + rows.length
  }

  /** The line of the inner reader that a line is; of a new row, the one before which it stands. */
  inside(index: number): number {
    return index - this.countBefore(index)
  }

  /** Where a line of the inner reader stands. */
  outside(inner: number): number {
    return inner + this.countWhere(({ cut }) => cut <= inner)
  }

  isNew(index: number): boolean {
    return this.besideAt(index) !== undefined
  }

  line(index: number): Line | undefined {
    const beside = this.besideAt(index)
    if (beside) return { kind: 'new', level: beside.level, row: beside.row }
    const line = this.inner.line(this.inside(index))
    return line?.kind === 'head' ? this.here(line) : line
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    const beside = this.besideAt(index)
    if (beside?.level === 0) return []
    const inner = beside ? beside.cut - 1 : this.inside(index)
    return this.inner.groupsAt?.(inner)?.map(head => this.here(head))
  }

  text(index: number, row: RowId, column: string): string | undefined {
    return this.isNew(index)
      ? this.beside.text(row, column)
      : this.inner.text(this.inside(index), row, column)
  }

  value(index: number, row: RowId, column: string): Value | undefined {
    return this.isNew(index)
      ? this.beside.value(row, column)
      : this.inner.value(this.inside(index), row, column)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    const within = (index: number): number => Math.min(this.inside(index), this.inner.lineCount)
    this.inner.want(within(from), within(to), columns)
  }

  onArrive(listener: () => void): () => void {
    return this.inner.onArrive(listener)
  }

  /** How many new rows stand on lines before one. */
  private countBefore(index: number): number {
    return this.countWhere(({ cut }, nth) => cut + nth < index)
  }

  private besideAt(index: number): BesideRow | undefined {
    const count = this.countBefore(index)
    if (count === this.rows.length) return undefined
    const next = this.rows[count]
    return next.cut + count === index ? next : undefined
  }

  /** How many of the first rows something holds for, which holds for none behind them. */
  private countWhere(holds: (row: BesideRow, nth: number) => boolean): number {
    let [low, high] = [0, this.rows.length]
    while (low < high) {
      const middle = (low + high) >>> 1
      if (holds(this.rows[middle], middle)) low = middle + 1
      else high = middle
    }
    return low
  }

  private here(head: HeadLine): HeadLine {
    // New rows below the head are its group's, also where that is closed; those behind its last line are not.
    const isShut = head.end === head.line + 1
    const within = this.countWhere(
      ({ cut, level }) => cut < head.end || (cut === head.end && isShut && level > 0),
    )
    return { ...head, line: asLine(this.outside(head.line)), end: asLine(head.end + within) }
  }
}
