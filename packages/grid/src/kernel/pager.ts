import { NO_LINE, pageSpan, asLine } from '@vast-meadow/engine/client'
import type { LineIndex, LineReader, PageSpan, RowId } from '@vast-meadow/engine'
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
  private open: OpenedLines | null = null

  /**
   * `size`: lines on a page; null: there are no pages. A page beyond the last is the last. `opened`: rows that are
   * open, in the order of their lines.
   */
  take(all: LineReader, size: number | null, page: number, opened: readonly Opened[] = []): void {
    const { lineCount } = all
    this.span = pageSpan(lineCount, size ?? Math.max(1, lineCount), size === null ? 0 : page)
    const { from, to } = this.span
    const window = size === null ? null : new LineWindow(all, from, to)
    this.above = window?.above ?? 0
    this.complete = window?.complete ?? true
    const here = opened.filter(({ line }) => line >= from && line < to)
    const inner = here.map(({ line }) => line - from + this.above)
    this.open = here.length === 0 ? null : new OpenedLines(window ?? all, inner)
    this.details = here.map(({ row }, nth) => ({ line: asPageLine(inner[nth] + nth + 1), row }))
    this.detailsBefore = opened.filter(({ line }) => line < from).length
    this.lines = this.open ?? window ?? all
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
    return asPageLine(this.open?.outside(inner) ?? inner)
  }

  /** The line of the view that a line of the page is; of what an open row shows, the row’s. */
  ofView(line: PageLine): LineIndex {
    if (line < 0) return NO_LINE
    const inner = this.open?.inside(line) ?? line
    return asLine(Math.max(inner - this.above, 0) + this.span.from)
  }

  /** Past the last line of the view that stands before a line of the page. */
  endOfView(line: PageLine): LineIndex {
    return line <= 0 ? asLine(this.span.from) : asLine(this.ofView(asPageLine(line - 1)) + 1)
  }
}
