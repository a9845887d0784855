import { NO_LINE, pageSpan, asLine } from '@vast-meadow/engine/client'
import type { LineIndex, LineReader, PageSpan } from '@vast-meadow/engine'
import { LineWindow } from './line-window.ts'
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

/** The lines that can be scrolled over: all that are arranged, or those of one page. */
export class Pager {
  lines: LineReader = NOTHING
  /** Heads at the top of the page that are repeated from pages before. */
  above = 0
  /** Whether it is known which these are. */
  complete = true
  span: PageSpan = { page: 0, pages: 1, from: 0, to: 0 }

  /** `size`: lines on a page; null: there are no pages. A page beyond the last is the last. */
  take(all: LineReader, size: number | null, page: number): void {
    const { lineCount } = all
    this.span = pageSpan(lineCount, size ?? Math.max(1, lineCount), size === null ? 0 : page)
    const window = size === null ? null : new LineWindow(all, this.span.from, this.span.to)
    this.lines = window ?? all
    this.above = window?.above ?? 0
    this.complete = window?.complete ?? true
  }

  /** There are no lines. */
  clear(): void {
    this.take(NOTHING, null, 0)
  }

  /** Where a line of the view stands on the page; −1: on another. */
  onPage(line: LineIndex): PageLine {
    const { from, to } = this.span
    return line >= from && line < to ? asPageLine(line - from + this.above) : ABOVE_LINES
  }

  /** The line of the view that a line of the page is. */
  ofView(line: PageLine): LineIndex {
    return line < 0 ? NO_LINE : asLine(Math.max(line - this.above, 0) + this.span.from)
  }
}
