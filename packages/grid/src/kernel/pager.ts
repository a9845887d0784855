import { NO_LINE, pageSpan, asLine } from '@vast-meadow/engine/client'
import type { LineIndex, LineReader, PageSpan, RowId } from '@vast-meadow/engine'
import { BesideLines, groupName, type BesideRows, type GroupLines } from './beside-lines.ts'
import { LineWindow } from './line-window.ts'
import { OpenedLines } from './opened-lines.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from './page-line.ts'

const NOTHING: LineReader = {
  lineCount: 0,
  line: () => undefined,
  groupsAt: () => [],
  text: () => undefined,
  value: () => undefined,
  want: () => {},
  onArrive: () => () => {},
}

/** A row that is open, and its line in the view. */
export interface Opened {
  readonly line: LineIndex
  readonly row: RowId
}

/** A line of the page that shows the detail of a row. */
export interface OpenedLine {
  readonly line: PageLine
  readonly row: RowId
}

/** The lines that can be scrolled over: all that are arranged, or those of one page, and what open rows show. */
export class Pager {
  lines: LineReader = NOTHING
  /** Heads at the top of the page that are repeated from pages before. */
  above = 0
  /** Whether it is known which these are. */
  complete = true
  span: PageSpan = { page: 0, pages: 1, from: 0, to: 0 }
  /** The lines on which open rows show more of themselves, ascending. */
  details: readonly OpenedLine[] = []
  /** How many of these there are on pages before. */
  detailsBefore = 0
  /** The lines with new rows between them, where there are any. */
  private joined: BesideLines | null = null
  private open: OpenedLines | null = null

  /**
   * `size`: lines on a page; null: there are no pages. A page beyond the last is the last. `opened`: rows that are
   * open, in the order of their lines. `beside`: rows that stand on every page, some of them below the heads of groups.
   */
  take(
    all: LineReader,
    size: number | null,
    page: number,
    opened: readonly Opened[] = [],
    beside: BesideRows | null = null,
    groups: GroupLines = new Map(),
  ): void {
    const { lineCount } = all
    this.span = pageSpan(lineCount, size ?? Math.max(1, lineCount), size === null ? 0 : page)
    const { from, to } = this.span
    const window = size === null ? null : new LineWindow(all, from, to)
    this.above = window?.above ?? 0
    this.complete = window?.complete ?? true
    const here = opened.filter(({ line }) => line >= from && line < to)
    const inner = here.map(({ line }) => line - from + this.above)
    this.open = here.length === 0 ? null : new OpenedLines(window ?? all, inner)
    const lines = this.open ?? window ?? all
    this.joined = null
    if (beside && beside.rows.length > 0) {
      const usual = beside.at === 'head' ? 0 : lines.lineCount
      const rows = beside.rows.map(row => {
        const path = beside.groupOf(row)
        const head = path && groups.get(groupName(path))
        const at = head === null || head === undefined ? ABOVE_LINES : this.onPage(head)
        return at < 0 ? { row, cut: usual, level: 0 } : { row, cut: at + 1, level: path?.length ?? 0 }
      })
      this.joined = new BesideLines(lines, beside, rows)
    }
    const outside = (line: number): number => this.joined?.outside(line) ?? line
    this.details = here.map(({ row }, nth) => ({ line: asPageLine(outside(inner[nth] + nth + 1)), row }))
    this.detailsBefore = opened.filter(({ line }) => line < from).length
    this.lines = this.joined ?? lines
  }

  /** There are no lines. */
  clear(): void {
    this.take(NOTHING, null, 0)
  }

  /** Where a line of the view stands on the page; −1: on another. */
  onPage(line: LineIndex): PageLine {
    const { from, to } = this.span
    if (!(line >= from && line < to)) return ABOVE_LINES
    const inner = line - from + this.above
    const open = this.open?.outside(inner) ?? inner
    return asPageLine(this.joined?.outside(open) ?? open)
  }

  /** The line of the view that a line of the page is; of what an open row shows, the row’s; none of a new row. */
  ofView(line: PageLine): LineIndex {
    if (line < 0 || line >= this.lines.lineCount || this.joined?.isNew(line)) return NO_LINE
    return this.viewLineOf(this.joined?.inside(line) ?? line)
  }

  /** The line of the view that a line is when new rows are left out. */
  private viewLineOf(at: number): LineIndex {
    const inner = this.open?.inside(at) ?? at
    return asLine(Math.max(inner - this.above, 0) + this.span.from)
  }

  /** Past the last line of the view that stands before a line of the page. */
  endOfView(line: PageLine): LineIndex {
    const before = this.joined?.inside(line) ?? line
    return before <= 0 ? asLine(this.span.from) : asLine(this.viewLineOf(before - 1) + 1)
  }
}
