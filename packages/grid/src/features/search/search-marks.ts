import { matchRanges } from '@vast-meadow/engine/client'

/** The highlight that all grids of a page share; style sheets name it. */
const NAME = 'meadow-found'

/**
 * Marks what a search finds in the cells that are drawn. The browser paints ranges of text without further elements,
 * so that cells stay as cheap as they are; a browser that cannot shows no marks.
 */
export class SearchMarks {
  private ranges: Range[] = []
  private readonly highlight = sharedHighlight()

  /** Marks words, folded as `searchWords` gives them, in the text of elements. Forgets what was marked before. */
  mark(cells: Iterable<Element>, words: readonly string[]): void {
    this.clear()
    const { highlight } = this
    if (words.length === 0 || !highlight) return
    for (const cell of cells) this.markCell(cell, words, highlight)
  }

  clear(): void {
    for (const range of this.ranges) this.highlight?.delete(range)
    this.ranges = []
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
        this.ranges.push(range)
      }
    }
  }
}

function sharedHighlight(): Highlight | null {
  if (typeof CSS === 'undefined' || !('highlights' in CSS)) return null
  const known = CSS.highlights.get(NAME)
  if (known) return known
  const made = new Highlight()
  CSS.highlights.set(NAME, made)
  return made
}
