import { RowSet, rowsIn } from '@vast-meadow/engine/client'
import type { RowId, Rows } from '@vast-meadow/engine'
import { ABOVE_LINES, asPageLine, type PageLine } from '../../kernel/page-line.ts'

export interface SelectorHost {
  /** All rows that pass, those of closed groups too. */
  passingRows(): Promise<Rows | undefined>
  /** The rows on lines `from` up to `to`. */
  rowsBetween(from: PageLine, to: PageLine): Promise<Rows | undefined>
  readonly lineCount: number
  /** Null: the line is no row, or not here yet. */
  rowAt(line: PageLine): RowId | null
  changed(): void
}

/** Which rows are selected, and how clicks and keys change that. Rows stay selected whatever is arranged. */
export class Selector {
  readonly rows = new RowSet()
  /** The line that a range starts from. */
  private anchor = ABOVE_LINES
  private readonly host: SelectorHost

  constructor(host: SelectorHost) {
    this.host = host
  }

  /** Where a range of rows begins that Shift ticks. */
  from(line: PageLine): void {
    this.anchor = line
  }

  toggle(line: PageLine): void {
    const row = this.host.rowAt(line)
    if (row === null) return
    this.anchor = line
    this.toggleRow(row)
  }

  /** A row wherever it stands. */
  toggleRow(row: RowId): void {
    if (this.rows.has(row)) this.rows.delete(row)
    else this.rows.add(row)
    this.host.changed()
  }

  /** From the line that was chosen last up to this one, both included; `adding` keeps what was selected. */
  async extend(line: PageLine, adding: boolean): Promise<void> {
    if (this.anchor < 0 || this.anchor >= this.host.lineCount) {
      this.toggle(line)
      return
    }
    const from = asPageLine(Math.min(this.anchor, line))
    const rows = await this.host.rowsBetween(from, asPageLine(Math.max(this.anchor, line) + 1))
    if (!rows) return
    if (!adding) this.rows.clear()
    this.rows.addAll(rows)
    this.host.changed()
  }

  /** All rows that pass, those of closed groups too; where all of them are selected already, none. */
  async toggleAll(allSelected: boolean): Promise<void> {
    const rows = await this.host.passingRows()
    if (!rows) return
    if (allSelected) this.rows.deleteAll(rows)
    else this.rows.addAll(rows)
    this.host.changed()
  }

  /** Whether some rows are selected: all, some or none. Ends at the first that differs. */
  stateOf(rows: Rows): 'true' | 'false' | 'mixed' {
    let first: boolean | null = null
    for (const row of rowsIn(rows)) {
      const selected = this.rows.has(row)
      first ??= selected
      if (selected !== first) return 'mixed'
    }
    return first ? 'true' : 'false'
  }

  /** Some rows as well; where all of them are selected already, none of them. */
  toggleRows(rows: Rows): void {
    if (this.stateOf(rows) === 'true') this.rows.deleteAll(rows)
    else this.rows.addAll(rows)
    this.host.changed()
  }

  /** What is given is selected, nothing else. */
  set(rows: Rows): void {
    this.hold(rows)
    this.host.changed()
  }

  /** The same selection in rows that came anew. */
  hold(rows: Rows): void {
    this.rows.clear()
    this.rows.addAll(rows)
    this.anchor = ABOVE_LINES
  }

  /** Rows that are no longer there. */
  drop(rows: Iterable<RowId>): void {
    const before = this.rows.size
    for (const row of rows) this.rows.delete(row)
    if (this.rows.size !== before) this.host.changed()
  }

  /** Lines stand elsewhere now, so ranges start anew. */
  forgetAnchor(): void {
    this.anchor = ABOVE_LINES
  }
}
