/**
 * The cells of a text as sheets put it on the clipboard: tabs between cells, lines between rows, and double quotes
 * around cells that hold either, doubled within. What ends in a line break has no further row behind it.
 */
export function cellsOfText(text: string): string[][] {
  const rows: string[][] = [[]]
  let at = 0
  const newCell = /\t|\r\n|\n|\r/g
  for (;;) {
    const quoted = text[at] === '"' ? quotedCell(text, at) : null
    if (quoted) {
      rows[rows.length - 1].push(quoted.cell)
      at = quoted.end
    }
    newCell.lastIndex = at
    const next = newCell.exec(text)
    if (!quoted) rows[rows.length - 1].push(text.slice(at, next?.index ?? text.length))
    if (!next) break
    at = newCell.lastIndex
    if (next[0] === '\t') continue
    if (at === text.length) break
    rows.push([])
  }
  return rows
}

/** A cell in quotes that ends where a cell can end; null: the quote is a part of it. */
function quotedCell(text: string, from: number): { readonly cell: string; readonly end: number } | null {
  for (let at = from + 1; ; at++) {
    at = text.indexOf('"', at)
    if (at < 0) return null
    if (text[at + 1] === '"') {
      at++
      continue
    }
    const isEnd = at + 1 === text.length || '\t\r\n'.includes(text[at + 1])
    return isEnd ? { cell: text.slice(from + 1, at).replaceAll('""', '"'), end: at + 1 } : null
  }
}
