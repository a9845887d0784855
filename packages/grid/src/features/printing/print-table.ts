import type { Texts } from '../../kernel/texts.ts'
import type { Printed, PrintedLine } from './printed-lines.ts'

/** A group of so many lines goes on one page as a whole; a longer one begins where the one before ends. */
const MOST_TOGETHER = 30
/** How far a level of groups is indented, in em. */
const INDENT_EM = 1.2

/** The table that is printed, in a document of its own: headings again on every page, groups together where they fit. */
export function printTable(to: Document, printed: Printed, texts: Texts): HTMLTableElement {
  const table = to.createElement('table')
  const total = printed.columns.reduce((sum, { width }) => sum + width, 0)
  const columns = to.createElement('colgroup')
  for (const { width } of printed.columns) {
    const column = to.createElement('col')
    column.style.width = `${(width / Math.max(1, total)) * 100}%`
    columns.append(column)
  }
  const head = table.createTHead().insertRow()
  for (const { title, end } of printed.columns) {
    const cell = to.createElement('th')
    cell.scope = 'col'
    cell.textContent = title
    if (end) cell.className = 'end'
    head.append(cell)
  }
  table.prepend(columns)
  for (const part of partsOf(printed.lines)) {
    const body = table.createTBody()
    if (part.length <= MOST_TOGETHER && part[0].kind === 'head') body.className = 'together'
    for (const line of part) addLine(body.insertRow(), line, printed, texts)
  }
  if (printed.totals) {
    const row = table.createTBody().insertRow()
    row.className = 'totals'
    addNamed(row, texts.allRows(String(printed.passing), printed.passing), printed.totals, printed, 0, texts)
  }
  return table
}

/** Lines that go on a page together: an innermost group with the heads that stand right before it. */
function partsOf(lines: readonly PrintedLine[]): PrintedLine[][] {
  const parts: PrintedLine[][] = []
  let before: PrintedLine | null = null
  for (const line of lines) {
    const begins = line.kind === 'head' ? before?.kind !== 'head' || before.lines === 0 : before === null
    if (begins || parts.length === 0) parts.push([])
    parts[parts.length - 1].push(line)
    before = line
  }
  return parts
}

function addLine(row: HTMLTableRowElement, line: PrintedLine, printed: Printed, texts: Texts): void {
  if (line.kind !== 'row') {
    row.className = line.kind
    addNamed(row, line.name, line.cells, printed, line.level, texts)
    return
  }
  line.cells.forEach((text, nth) => addCell(row, text, printed.columns[nth].end))
  const first = row.cells.item(0)
  if (first && line.level > 0) first.style.paddingInlineStart = `${line.level * INDENT_EM + 0.5}em`
}

/** A name over the columns before the first that comes to something, and what the others come to. */
function addNamed(
  row: HTMLTableRowElement,
  name: string,
  cells: readonly string[],
  { columns }: Printed,
  level: number,
  { parted }: Texts,
): void {
  const first = cells.findIndex((text, nth) => nth > 0 && text !== '')
  const span = first < 0 ? cells.length : first
  const cell = addCell(row, cells[0] ? `${name}${parted}${cells[0]}` : name, false)
  cell.colSpan = Math.max(1, span)
  cell.style.paddingInlineStart = `${level * INDENT_EM + 0.5}em`
  for (let nth = span; nth < cells.length; nth++) addCell(row, cells[nth], columns[nth].end)
}

function addCell(row: HTMLTableRowElement, text: string, end: boolean): HTMLTableCellElement {
  const cell = row.insertCell()
  cell.textContent = text
  if (end) cell.className = 'end'
  return cell
}
