import type { ColumnDefinition, HeadLine, LineReader, RowId } from '@vast-meadow/engine'
import { Band, type BandCell } from '../band/band.ts'
import { SELECT_COLUMN, type Geometry } from '../band/geometry.ts'
import { make } from '../kernel/dom.ts'
import { rowClass } from '../look/definition-sheet.ts'
import type { CellPainter } from '../painter.ts'
import type { Texts } from '../kernel/texts.ts'
import { ABOVE_LINES, type PageLine } from '../kernel/page-line.ts'

interface RowCell extends BandCell {
  readonly text: Text
  painter: CellPainter | null
  painted: unknown
  box: HTMLElement | null
  /** The classes that the band gave the cell. */
  dressed: string
}

/** What a band of the body asks of its grid. */
export interface RowBandHost {
  readonly texts: Texts
  readonly lines: LineReader
  /** The painter that draws a column; null: its text is shown. */
  painterOf(column: string, defined: ColumnDefinition | undefined): CellPainter | null
  /** The style rules, by the column that tells where each holds. */
  readonly rules: readonly string[]
  /** Classes of a column's cells, beside those that all cells have. */
  classesOf(column: string): string
  /** Every other line is shaded. */
  readonly striped: boolean
  /** Rows of the grid before the first line that is shown: those of the head, and the lines of pages before. */
  readonly rowsBefore: number
  isSelected(row: RowId): boolean
  format(count: number): string
}

/** One line of the body: a row's cells, or a group's head across the whole width. */
export class RowBand extends Band<RowCell> {
  /** The line that is shown; −1: none yet. */
  line = ABOVE_LINES
  /** The shown row; null for group heads and lines that are not here yet. */
  row: RowId | null = null
  /** The head of a group is shown. */
  isGroup = false
  private readonly host: RowBandHost
  private groupCell: { element: HTMLElement; mark: HTMLElement; name: Text; count: HTMLElement } | null = null
  private offset = NaN
  private height = NaN
  private odd = false
  private pending = false
  private selected = false
  /** The numbers of the style rules that hold. */
  private ruled = ''

  constructor(host: RowBandHost) {
    super('row')
    this.host = host
  }

  /** The element that takes the focus for a column; a group head has one for all. */
  focusTarget(column: string): HTMLElement | undefined {
    return this.isGroup ? this.groupCell?.element : this.cellOf(column)?.element
  }

  /** Shows a line's content in all cells. */
  show(line: PageLine): void {
    this.line = line
    const rowIndex = String(line + 1 + this.host.rowsBefore)
    if (this.element.ariaRowIndex !== rowIndex) this.element.ariaRowIndex = rowIndex
    const odd = this.host.striped && (line & 1) === 1
    if (odd !== this.odd) this.element.classList.toggle('odd', (this.odd = odd))
    this.refresh()
  }

  /** Reads the line again: its cells may have arrived, or the selection changed. */
  refresh(): void {
    this.hideCells()
    const line = this.host.lines.line(this.line)
    this.row = line?.kind === 'row' ? line.row : null
    if (!line !== this.pending) this.element.classList.toggle('pending', (this.pending = !line))
    if (line?.kind === 'head') {
      this.showGroup(line)
      return
    }
    if (this.isGroup) this.hideGroup()
    this.refreshSelected()
    this.refreshRules()
    for (const cell of this.cells()) this.fill(cell)
  }

  refreshSelected(): void {
    if (this.isGroup) return
    const selected = this.row !== null && this.host.isSelected(this.row)
    if (selected === this.selected && this.element.ariaSelected !== null) return
    this.selected = selected
    this.element.classList.toggle('selected', selected)
    this.element.ariaSelected = String(selected)
    for (const cell of this.cells()) if (cell.box) cell.box.ariaChecked = String(selected)
  }

  /** Shows which style rules hold in the row. */
  private refreshRules(): void {
    const { rules, lines } = this.host
    if (rules.length === 0 && this.ruled === '') return
    let holding = ''
    if (this.row !== null)
      for (let i = 0; i < rules.length; i++)
        if (lines.value(this.line, this.row, rules[i]) === true) holding += `${i} `
    if (holding === this.ruled) return
    for (const rule of words(this.ruled)) this.element.classList.remove(rowClass(Number(rule)))
    for (const rule of words(holding)) this.element.classList.add(rowClass(Number(rule)))
    this.ruled = holding
  }

  /** The height that the wrapping cells ask for, in CSS px; 0 without any. Reads the layout. */
  contentHeight(): number {
    let height = 0
    for (const { element } of this.cells())
      if (element.classList.contains('wrap')) height = Math.max(height, element.offsetHeight)
    return height
  }

  /** Sets the band's height, in CSS px. */
  resize(height: number): void {
    if (height === this.height) return
    this.height = height
    this.element.style.blockSize = `${height}px`
  }

  /** Places the band at an offset from its block's top, in CSS px. */
  moveTo(offset: number): void {
    if (offset === this.offset) return
    this.offset = offset
    this.element.style.transform = `translateY(${offset}px)`
  }

  protected override makeCell(parent: HTMLElement): RowCell {
    const element = make('div', 'cell', parent)
    element.setAttribute('role', 'gridcell')
    const text = document.createTextNode('')
    element.append(text)
    return { element, text, column: '', painter: null, painted: null, box: null, dressed: '' }
  }

  protected override dress(cell: RowCell, geometry: Geometry): void {
    const defined = geometry.column(cell.column)
    const className = `cell to-${defined?.align ?? 'start'}${this.host.classesOf(cell.column)}`
    const painter = this.host.painterOf(cell.column, defined)
    if (painter !== cell.painter) this.drop(cell)
    if (cell.dressed !== className) cell.element.className = cell.dressed = className
    if (painter !== cell.painter) {
      cell.painter = painter
      if (painter) {
        cell.text.remove()
        cell.painted = painter.create(cell.element)
      }
    }
    if ((cell.column === SELECT_COLUMN) !== (cell.box !== null)) this.dressBox(cell)
    if (this.line >= 0 && !this.isGroup) this.fill(cell)
  }

  protected override drop(cell: RowCell): void {
    if (!cell.painter) return
    cell.painter.release?.(cell.painted)
    cell.element.replaceChildren(cell.text)
    // Painters may have left classes of their own.
    cell.dressed = ''
    cell.painter = cell.painted = null
  }

  private dressBox(cell: RowCell): void {
    if (cell.box) {
      cell.box.remove()
      cell.box = null
      return
    }
    cell.text.nodeValue = ''
    cell.box = make('span', 'box', cell.element)
    cell.box.setAttribute('role', 'checkbox')
    cell.box.ariaLabel = this.host.texts.selectRow
    cell.box.ariaChecked = this.element.ariaSelected ?? 'false'
  }

  private fill(cell: RowCell): void {
    const { column } = cell
    if (cell.box) return
    const { lines } = this.host
    if (cell.painter) {
      if (this.row !== null) this.paint(cell, cell.painter, this.row)
      return
    }
    const text = this.row === null ? '' : (lines.text(this.line, this.row, column) ?? '')
    if (cell.text.nodeValue !== text) cell.text.nodeValue = text
  }

  private paint(cell: RowCell, painter: CellPainter, row: RowId): void {
    const { lines } = this.host
    const { line } = this
    painter.update(cell.painted, {
      column: cell.column,
      row,
      value: lines.value(line, row, cell.column) ?? null,
      text: lines.text(line, row, cell.column) ?? '',
      valueOf: column => lines.value(line, row, column) ?? null,
    })
  }

  private showGroup(line: HeadLine): void {
    const { texts } = this.host
    if (!this.groupCell) {
      const element = make('div', 'groupcell', this.element)
      element.setAttribute('role', 'gridcell')
      const mark = make('i', '', element)
      mark.ariaHidden = 'true'
      const name = document.createTextNode('')
      element.append(name)
      this.groupCell = { element, mark, name, count: make('small', '', element) }
    }
    const { mark, name, count } = this.groupCell
    this.groupCell.element.hidden = false
    this.isGroup = true
    this.element.classList.add('group')
    this.selected = false
    this.element.classList.remove('selected')
    this.element.ariaSelected = null
    this.element.ariaExpanded = String(line.open)
    this.element.ariaLevel = String(line.level + 1)
    mark.textContent = line.open ? '▾' : '▸'
    name.nodeValue = line.value === null ? texts.missing : line.shown
    count.textContent = texts.groupCount(this.host.format(line.count), line.count)
  }

  private hideGroup(): void {
    this.isGroup = false
    this.element.classList.remove('group')
    this.element.ariaExpanded = null
    this.element.ariaLevel = null
    if (this.groupCell) this.groupCell.element.hidden = true
  }
}

const words = (text: string): string[] => text.split(' ').filter(Boolean)
