import { matchRanges } from '@vast-meadow/engine/client'

/** The highlight that all grids of a page share; style sheets name it. */
const NAME = 'meadow-found'
/** Lines that have not moved for so long are at rest. */
const REST_MS = 120
/** Text this close to a cell's edge is behind its dots. */
const EDGE = 16

/**
 * Marks what a search finds in the cells that are drawn. The browser paints ranges of text without further elements,
 * so that cells stay as cheap as they are; a browser that cannot shows no marks.
 */
export class SearchMarks {
  private ranges: { readonly cell: Element; readonly range: Range }[] = []
  private beyond: Element[] = []
  private timer = 0
  private readonly highlight = sharedHighlight()

  /** Marks words, folded as `searchWords` gives them, in the text of elements. Forgets what was marked before. */
  mark(cells: Iterable<Element>, words: readonly string[]): void {
    this.clear()
    const { highlight } = this
    if (words.length === 0 || !highlight) return
    for (const cell of cells) this.markCell(cell, words, highlight)
    // Where the marks lie is asked once the lines rest: it waits for the browser to have laid them out.
    this.timer = window.setTimeout(() => this.markBeyond(), REST_MS)
  }

  clear(): void {
    clearTimeout(this.timer)
    for (const { range } of this.ranges) this.highlight?.delete(range)
    for (const cell of this.beyond) cell.classList.remove('found-beyond')
    this.ranges = []
    this.beyond = []
  }

  /** Cells that are cut off before what was found in them have a mark at their edge. */
  private markBeyond(): void {
    const outside = this.ranges.filter(({ cell, range }) => isOutside(range, cell))
    this.beyond = outside.map(({ cell }) => cell)
    for (const cell of this.beyond) cell.classList.add('found-beyond')
  }

  private markCell(cell: Element, words: readonly string[], highlight: Highlight): void {
    // Painters may spread a cell's text over several elements; what goes across their borders is not marked.
    const walker = document.createTreeWalker(cell, NodeFilter.SHOW_TEXT)
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const { nodeValue } = node
      if (!nodeValue) continue
      for (const { from, to } of matchRanges(nodeValue, words)) {
        const range = new Range()
        range.setStart(node, from)
        range.setEnd(node, to)
        highlight.add(range)
        this.ranges.push({ cell, range })
      }
    }
  }
}

/** Whether what was found is behind the end of a cell that is cut off. */
function isOutside(range: Range, cell: Element): boolean {
  const tooWide = cell.scrollWidth > cell.clientWidth + 1
  if (!tooWide && cell.scrollHeight <= cell.clientHeight + 1) return false
  const mark = range.getBoundingClientRect()
  const box = cell.getBoundingClientRect()
  const beyond =
    getComputedStyle(cell).direction === 'rtl' ? mark.right <= box.left + EDGE : mark.left >= box.right - EDGE
  return (tooWide && beyond) || mark.top >= box.bottom
}

function sharedHighlight(): Highlight | null {
  if (typeof CSS === 'undefined' || !('highlights' in CSS)) return null
  const known = CSS.highlights.get(NAME)
  if (known) return known
  const made = new Highlight()
  CSS.highlights.set(NAME, made)
  return made
}
