import type { Line, LineReader, RowCells, RowId, Value } from '@vast-meadow/engine'

/** Rows that are read one by one, wherever they stand, as lines of their own. */
export class PinnedLines implements LineReader {
  /** The rows, each at the number of its line. */
  rows: readonly RowId[] = []
  private columns: ReadonlyMap<string, number> = new Map()
  private cells: RowCells = { texts: [], values: [] }

  /** Takes the rows and what they show: rows × columns. */
  take(rows: readonly RowId[], columns: readonly string[], cells: RowCells): void {
    this.rows = rows
    this.columns = new Map(columns.map((column, nth) => [column, nth]))
    this.cells = cells
  }

  get lineCount(): number {
    return this.rows.length
  }

  line(index: number): Line | undefined {
    const row = this.rows.at(index)
    return row === undefined ? undefined : { kind: 'row', level: 0, row }
  }

  text(index: number, _row: RowId, column: string): string | undefined {
    const at = this.placeOf(index, column)
    return at === null ? undefined : this.cells.texts[at]
  }

  value(index: number, _row: RowId, column: string): Value | undefined {
    const at = this.placeOf(index, column)
    return at === null ? undefined : this.cells.values[at]
  }

  want(): void {}

  onArrive(): () => void {
    return () => {}
  }

  /** The columns in which the rows do not all show the same. */
  differing(): string[] {
    const shown = (column: string): Set<string | undefined> =>
      new Set(this.rows.map((row, index) => this.text(index, row, column)))
    return [...this.columns.keys()].filter(column => shown(column).size > 1)
  }

  private placeOf(index: number, column: string): number | null {
    const nth = this.columns.get(column)
    return nth === undefined || index < 0 || index >= this.rows.length
      ? null
      : index * this.columns.size + nth
  }
}
