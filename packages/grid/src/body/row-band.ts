import type { Line, LineReader } from '@vast-meadow/engine'
import { Band, type BandCell } from '../band/band.ts'
import { SELECT_COLUMN, type Geometry } from '../band/geometry.ts'
import { make } from '../dom.ts'
import type { CellPainter } from '../painter.ts'
import type { Texts } from '../texts.ts'

interface RowCell extends BandCell {
  readonly text: Text
  painter: CellPainter | null
  painted: unknown
  box: HTMLElement | null
}

/** What a band of the body asks of its grid. */
export interface RowBandHost {
  readonly texts: Texts
  readonly lines: LineReader
  /** `named`: the painter that the column's definition asks for, if any. */
  painterOf(column: string, named: string | undefined): CellPainter | undefined
  isSelected(row: number): boolean
  format(count: number): string
}

/** One line of the body: a row's cells, or a group's head across the whole width. */
export class RowBand extends Band<RowCell> {
  /** The line that is shown; −1: none yet. */
  line = -1
  /** The shown row's number in its source; −1 for group heads and lines that are not here yet. */
  row = -1
  private readonly host: RowBandHost
  private groupCell: { element: HTMLElement; mark: HTMLElement; name: Text; count: HTMLElement } | null = null
  private offset = NaN

  constructor(host: RowBandHost) {
    super('row')
    this.host = host
  }

  /** The element that takes the focus for a column; a group head has one for all. */
  focusTarget(column: string): HTMLElement | undefined {
    return this.isGroup ? this.groupCell?.element : this.cellOf(column)?.element
  }

  get isGroup(): boolean {
    return this.element.classList.contains('group')
  }

  /** Shows a line's content in all cells. */
  show(line: number): void {
    this.line = line
    const rowIndex = String(line + 2)
    if (this.element.ariaRowIndex !== rowIndex) this.element.ariaRowIndex = rowIndex
    this.refresh()
  }

  /** Reads the line again: its cells may have arrived, or the selection changed. */
  refresh(): void {
    const line = this.host.lines.line(this.line)
    this.row = line?.kind === 'row' ? line.row : -1
    this.element.classList.toggle('pending', !line)
    if (line?.kind === 'group') {
      this.showGroup(line)
      return
    }
    if (this.isGroup) this.hideGroup()
    this.refreshSelected()
    for (const cell of this.cells()) this.fill(cell)
  }

  refreshSelected(): void {
    if (this.isGroup) return
    const selected = this.row >= 0 && this.host.isSelected(this.row)
    if (this.element.classList.contains('selected') !== selected)
      this.element.classList.toggle('selected', selected)
    const state = String(selected)
    if (this.element.ariaSelected !== state) {
      this.element.ariaSelected = state
      for (const cell of this.cells()) if (cell.box) cell.box.ariaChecked = state
    }
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
    return { element, text, column: '', painter: null, painted: null, box: null }
  }

  protected override dress(cell: RowCell, geometry: Geometry): void {
    const defined = geometry.column(cell.column)
    const className = `cell to-${defined?.align ?? 'start'}`
    if (cell.element.className !== className) cell.element.className = className
    const painter = this.host.painterOf(cell.column, defined?.painter) ?? null
    if (painter !== cell.painter) {
      this.drop(cell)
      cell.painter = painter
      if (painter) {
        cell.text.nodeValue = ''
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
      if (this.row >= 0) this.paint(cell, cell.painter)
      return
    }
    const text = this.row < 0 ? '' : (lines.text(this.line, this.row, column) ?? '')
    if (cell.text.nodeValue !== text) cell.text.nodeValue = text
  }

  private paint(cell: RowCell, painter: CellPainter): void {
    const { lines } = this.host
    const { line, row } = this
    painter.update(cell.painted, {
      column: cell.column,
      row,
      value: lines.value(line, row, cell.column) ?? null,
      text: lines.text(line, row, cell.column) ?? '',
      valueOf: column => lines.value(line, row, column) ?? null,
    })
  }

  private showGroup(line: Extract<Line, { kind: 'group' }>): void {
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
    this.element.classList.add('group')
    this.element.classList.remove('selected')
    this.element.ariaSelected = null
    this.element.ariaExpanded = String(line.open)
    this.element.ariaLevel = '1'
    mark.textContent = line.open ? '▾' : '▸'
    name.nodeValue = line.value === null ? texts.missing : line.shown
    count.textContent = texts.groupCount(this.host.format(line.count), line.count)
  }

  private hideGroup(): void {
    this.element.classList.remove('group')
    this.element.ariaExpanded = null
    this.element.ariaLevel = null
    this.groupCell!.element.hidden = true
  }
}
