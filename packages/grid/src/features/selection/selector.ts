import { TickedRows } from '@vast-meadow/engine/client'
import type { RowId, Rows, SelectionRules } from '@vast-meadow/engine'
import type { AskedRows } from '../../kernel/selected-rows.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../../kernel/page-line.ts'

export type TickedNow = TickedRows<AskedRows>

export interface SelectorHost {
  /** How many rows may be ticked. */
  readonly most: SelectionRules['rows']
  /** The rows on lines `from` up to `to`. */
  rowsBetween(from: PageLine, to: PageLine): Promise<Rows | undefined>
  readonly lineCount: number
  /** Null: the line is no row, or not here yet. */
  rowAt(line: PageLine): RowId | null
  /** Whether a change may be; asked before it is. */
  allows(before: TickedNow, after: TickedNow): boolean | Promise<boolean>
  /** Other rows are ticked than `before`. */
  changed(before: TickedNow): void
  /** What is shown as ticked is to be what is. */
  redraw(): void
}

const listOf = (row: RowId): Rows => ({ kind: 'list', rows: [row] })

/** Which rows are ticked, and how clicks, sweeps and keys change that. Rows stay ticked whatever is arranged. */
export class Selector {
  ticked: TickedNow = new TickedRows()
  /** The line that a range starts from. */
  private anchor = ABOVE_LINES
  private readonly host: SelectorHost
  /** What was ticked when a sweep began; null: none is under way. */
  private swept: TickedNow | null = null
  /** Counts the places that a sweep came to: what is asked late is of one before. */
  private sweeps = 0

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
    this.act(ticked => {
      const has = ticked.has(row)
      if (this.host.most === 'one') ticked.clear()
      if (has) ticked.delete(listOf(row))
      else ticked.add(listOf(row))
    })
  }

  /** The row of a line, and none but it. */
  choose(line: PageLine): void {
    const row = this.host.rowAt(line)
    if (row === null) return
    this.anchor = line
    this.set(listOf(row))
  }

  /** From the line that was chosen last up to this one, both included; `adding` keeps what was ticked. */
  async extend(line: PageLine, adding: boolean): Promise<void> {
    const { anchor, host } = this
    if (host.most === 'one') {
      this.choose(line)
      return
    }
    if (anchor < 0 || anchor >= host.lineCount) {
      this.toggle(line)
      return
    }
    const rows = await this.rowsOfRange(anchor, line)
    if (!rows) return
    this.act(ticked => {
      if (!adding) ticked.clear()
      ticked.add(rows)
    })
  }

  /** Rows as well, or none of them. */
  put(rows: Rows, on: boolean): void {
    this.act(ticked => ticked[on ? 'add' : 'delete'](rows))
  }

  /** All that pass by a request. `rows`: these, where the source can list them. */
  tickAll(request: AskedRows | null, rows: Rows | null): void {
    if (this.host.most === 'several') this.act(ticked => ticked.tickAll(request, rows))
  }

  /** What is given is ticked, nothing else. */
  set(rows: Rows): void {
    this.act(ticked => {
      ticked.clear()
      ticked.add(rows)
    })
  }

  // ── A sweep over boxes ───────────────────────────────────────────────────────────────────────────────────────

  /** From one line to another, both included, all become what the first becomes; shown at once, told when it ends. */
  async sweep(from: PageLine, to: PageLine): Promise<void> {
    const first = this.host.rowAt(from)
    const mine = ++this.sweeps
    const base = (this.swept ??= this.ticked.copy())
    const rows = first === null ? undefined : await this.rowsOfRange(from, to)
    if (!rows || first === null || mine !== this.sweeps || !this.swept) return
    this.ticked = base.copy()
    this.ticked[base.has(first) ? 'delete' : 'add'](rows)
    this.anchor = to
    this.host.redraw()
  }

  endSweep(keep: boolean): void {
    const { swept, ticked } = this
    this.sweeps++
    this.swept = null
    if (!swept) return
    this.ticked = swept
    if (keep) this.become(ticked)
    else this.host.redraw()
  }

  // ── Rows go and come ─────────────────────────────────────────────────────────────────────────────────────────

  /** The same rows ticked, which came anew. */
  hold(rows: Rows): void {
    this.ticked = new TickedRows()
    this.ticked.add(rows)
    this.anchor = ABOVE_LINES
  }

  /** Rows that are no longer there. */
  drop(rows: readonly RowId[]): void {
    const before = this.ticked.copy()
    this.ticked.drop({ kind: 'list', rows })
    if (this.ticked.size(0) !== before.size(0)) this.host.changed(before)
  }

  /** Lines stand elsewhere now, so ranges start anew. */
  forgetAnchor(): void {
    this.anchor = ABOVE_LINES
  }

  private rowsOfRange(a: PageLine, b: PageLine): Promise<Rows | undefined> {
    return this.host.rowsBetween(asPageLine(Math.min(a, b)), asPageLine(Math.max(a, b) + 1))
  }

  private act(change: (ticked: TickedNow) => void): void {
    const next = this.ticked.copy()
    change(next)
    this.become(next)
  }

  /** What comes while the host still thinks about it is lost to what it answers to. */
  private become(next: TickedNow): void {
    const before = this.ticked
    const take = (may: boolean): void => {
      if (may && this.ticked === before) {
        this.ticked = next
        this.host.changed(before)
      } else this.host.redraw()
    }
    const may = this.host.allows(before, next)
    if (typeof may === 'boolean') take(may)
    else void may.then(take, () => take(false))
  }
}
