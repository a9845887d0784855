/** Rows of cells as other programs take them from the clipboard. */

/** Cells of more than one line, and those with a tab, stand in quotes, as spreadsheets read and write them. */
const cell = (text: string): string => (/[\t\n\r]|^"/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)

/** Tabs between cells, a line a row. */
export const tabbedText = (rows: readonly (readonly string[])[]): string =>
  rows.map(row => row.map(cell).join('\t')).join('\r\n')

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\n', '<br>')

/** A table; `headings`: so many of the first rows are of headings. */
export function htmlTable(rows: readonly (readonly string[])[], headings: number): string {
  const line = (row: readonly string[], tag: string): string =>
    `<tr>${row.map(text => `<${tag}>${escaped(text)}</${tag}>`).join('')}</tr>`
  const head = rows.slice(0, headings).map(row => line(row, 'th'))
  const body = rows.slice(headings).map(row => line(row, 'td'))
  return `<table>${head.length > 0 ? `<thead>${head.join('')}</thead>` : ''}<tbody>${body.join('')}</tbody></table>`
}
