import { NO_LINE, pageSpan, asLine } from '@vast-meadow/engine/client'
import type { LineIndex, LineReader, PageSpan } from '@vast-meadow/engine'
import { LineWindow } from './line-window.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from './page-line.ts'

const NOTHING: LineReader = {
  lineCount: 0,
  line: () => undefined,
  text: () => undefined,
  value: () => undefined,
  want: () => {},
  onArrive: () => () => {},
}

/** The lines that can be scrolled over: all that are arranged, or those of one page. */
export class Pager {
  lines: LineReader = NOTHING
  span: PageSpan = { page: 0, pages: 1, from: 0, to: 0 }

  /** `size`: lines on a page; null: there are no pages. A page beyond the last is the last. */
  take(all: LineReader, size: number | null, page: number): void {
    const { lineCount } = all
    this.span = pageSpan(lineCount, size ?? Math.max(1, lineCount), size === null ? 0 : page)
    this.lines = size === null ? all : new LineWindow(all, this.span.from, this.span.to)
  }

  /** There are no lines. */
  clear(): void {
    this.take(NOTHING, null, 0)
  }

  /** Where a line of the view stands on the page; −1: on another. */
  onPage(line: LineIndex): PageLine {
    const { from, to } = this.span
    return line >= from && line < to ? asPageLine(line - from) : ABOVE_LINES
  }

  /** The line of the view that a line of the page is. */
  ofView(line: PageLine): LineIndex {
    return line < 0 ? NO_LINE : asLine(line + this.span.from)
  }
}
