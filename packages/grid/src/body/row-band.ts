import { flash } from '../kernel/simulated-dom.ts'
import type { ColumnDefinition, FootLine, HeadLine, LineReader, RowId, Value } from '@vast-meadow/engine'
import { Band, type BandCell } from '../band/band.ts'
import { DETAIL_COLUMN, SELECT_COLUMN, type Geometry } from '../band/geometry.ts'
import { make } from '../kernel/dom.ts'
import { rowClass } from '../look/definition-sheet.ts'
import type { CellPainter } from '../painter.ts'
import type { Texts } from '../kernel/texts.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../kernel/page-line.ts'

interface RowCell extends BandCell {
  readonly text: Text
  painter: CellPainter | null
  painted: unknown
  box: HTMLElement | null
  /** What opens the row and closes it. */
  opener: HTMLButtonElement | null
  /** The classes that the band gave the cell. */
  dressed: string
  differs: boolean
  /** How it is marked as changed. */
  marks: string
  /** On which sides its range ends; empty: it is in none. */
  sides: string
  /** The row that it shows, of which column and in which words. */
  shownRow: RowId | null
  shownColumn: string
  shownText: string
}

/** What a band of the body asks of its grid. */
export interface RowBandHost {
  readonly texts: Texts
  readonly lines: LineReader
  /** The painter that draws a column; null: its text is shown. */
  painterOf(column: string, defined: ColumnDefinition | undefined): CellPainter | null
  /** The style rules, by the column that tells where each holds; in selected rows that may be another. */
  readonly rules: readonly string[]
  readonly selectedRules: readonly string[]
  /** Whether cells look otherwise in selected rows, beside what all grids do. */
  readonly goesBySelection: boolean
  /** Classes of a column's cells, beside those that all cells have. */
  classesOf(column: string): string
  /** Whether a line is one of the every other that are shaded. */
  isShaded(line: PageLine): boolean
  /** Rows of the grid before the first line that is shown: those of the head, and the lines of pages before. */
  readonly rowsBefore: number
  isSelected(row: RowId): boolean
  /** Whether rows open and show more of themselves. */
  readonly opensRows: boolean
  isOpen(row: RowId): boolean
  /** What an open row shows, to be put into its line; null: nothing, for the row is being closed. */
  detailOf(row: RowId): HTMLElement | null
  /** Whether the rows of a group are selected: all, some or none. */
  groupState(line: HeadLine): 'true' | 'false' | 'mixed'
  /** What a column comes to in a group, as it is shown; empty: nothing, or not yet known. */
  summaryOf(line: HeadLine | FootLine, column: string): string
  /** Columns whose summaries have no room of their own, because the group's name stands there. */
  readonly coveredColumns: readonly string[]
  /** What was changed and is not saved, by row and column; null: nothing is. Asked of every cell that is drawn. */
  readonly edits: EditMarks | null
  /** Whether cells show that they have changed by themselves. */
  readonly flashes: boolean
  /** On which sides of a cell a range of picked cells ends, with `i` before them; null: none are picked. */
  readonly sidesOf: ((line: PageLine, column: string) => string) | null
  /** Whether a cell is marked as different from what it is compared with. */
  differs(text: string, line: PageLine, row: RowId, column: string): boolean
  titleOf(column: string): string
  format(count: number): string
}

/** How cells and rows look that were changed and are not saved. */
export interface EditMarks {
  /** What a cell shows instead, and the marks that it has; null: it is as it is saved. */
  ofCell(row: RowId, column: string): CellMark | null
  /** The marks of a row, with a space before each; empty: none. */
  ofRow(row: RowId): string
  /** The rows that are there and are changed. */
  changedRows(): readonly RowId[]
}

export interface CellMark {
  readonly text: string
  readonly value: Value
  /** `changed`, `wrong`, `conflict`, `new-value`: several with spaces between. */
  readonly marks: string
  /** What is said of it, besides what it shows. */
  readonly says: string
}

const FLASH: Keyframe[] = [{ backgroundColor: 'var(--_found)' }, { backgroundColor: 'transparent' }]
const FLASH_MS = 900

/** What tells of a group: its mark, its name, and how many rows it has. */
interface GroupLabel {
  readonly element: HTMLElement
  readonly mark: HTMLElement
  readonly title: HTMLElement
  readonly name: Text
  readonly count: HTMLElement
}

/** One line of the body: a row's cells, or a group's name and what columns come to in it. */
export class RowBand extends Band<RowCell> {
  /** The line that is shown; −1: none yet. */
  line = ABOVE_LINES
  /** The shown row; null for group heads and lines that are not here yet. */
  row: RowId | null = null
  /** The row is new and not saved. */
  isNew = false
  /** The marks of a row that was changed. */
  private marked = ''
  /** The head of a group is shown. */
  isGroup = false
  private group: HeadLine | FootLine | null = null
  /** The open row whose detail is shown; null: it is another line. */
  detailed: RowId | null = null
  private detail: HTMLElement | null = null
  private readonly host: RowBandHost
  private label: GroupLabel | null = null
  private level = -1
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
    if (this.detailed !== null) return this.detail ?? undefined
    return this.isGroup ? this.label?.element : this.cellOf(column)?.element
  }

  /** Shows a line's content in all cells. */
  show(line: PageLine): void {
    this.line = line
    const rowIndex = String(line + 1 + this.host.rowsBefore)
    if (this.element.ariaRowIndex !== rowIndex) this.element.ariaRowIndex = rowIndex
    const odd = this.host.isShaded(line)
    if (odd !== this.odd) this.element.classList.toggle('odd', (this.odd = odd))
    this.refresh()
  }

  /** Reads the line again: its cells may have arrived, or the selection changed. */
  refresh(): void {
    this.hideCells()
    const line = this.host.lines.line(this.line)
    this.row = line?.kind === 'row' || line?.kind === 'new' ? line.row : null
    this.isNew = line?.kind === 'new'
    if (!line !== this.pending) this.element.classList.toggle('pending', (this.pending = !line))
    if (line?.kind !== 'detail') this.hideDetail()
    if (line?.kind === 'head' || line?.kind === 'foot') {
      this.showGroup(line)
      return
    }
    if (this.isGroup) this.hideGroup()
    this.showLevel(line ? line.level : 0)
    if (line?.kind === 'detail') {
      this.showDetail(line.row)
      return
    }
    this.refreshSelected()
    this.refreshOpen()
    this.refreshRules()
    this.refreshMarks()
    for (const cell of this.cells()) this.fill(cell)
  }

  /** Shows how the row is marked as changed. */
  private refreshMarks(): void {
    const { edits } = this.host
    const marked = edits && this.row !== null ? edits.ofRow(this.row) : ''
    if (marked === this.marked) return
    for (const mark of words(this.marked)) this.element.classList.remove(mark)
    for (const mark of words(marked)) this.element.classList.add(mark)
    this.marked = marked
  }

  /** Shows whether the row is open. */
  private refreshOpen(): void {
    const { opensRows, texts } = this.host
    const expanded = opensRows && this.row !== null && !this.isNew ? String(this.host.isOpen(this.row)) : null
    if (expanded === this.element.ariaExpanded) return
    this.element.ariaExpanded = expanded
    for (const { opener } of this.cells())
      if (opener) opener.ariaLabel = expanded === 'true' ? texts.closeRow : texts.openRow
  }

  private showDetail(row: RowId): void {
    const cell = (this.detail ??= this.makeDetail())
    const content = this.host.detailOf(row)
    if (content && content.parentElement !== cell) cell.replaceChildren(content)
    if (this.detailed === row) return
    if (this.selected) this.element.classList.remove('selected')
    this.selected = false
    this.element.ariaSelected = this.element.ariaExpanded = null
    this.refreshRules()
    this.detailed = row
    this.element.classList.add('detail')
    cell.hidden = false
    this.element.ariaLevel = String(this.level + 2)
  }

  private hideDetail(): void {
    if (this.detailed === null || !this.detail) return
    this.detailed = null
    this.level = -1
    this.element.classList.remove('detail')
    this.detail.hidden = true
    this.detail.replaceChildren()
  }

  private makeDetail(): HTMLElement {
    const cell = make('div', 'detailcell', this.element)
    cell.setAttribute('role', 'gridcell')
    cell.setAttribute('part', 'detail')
    cell.tabIndex = -1
    cell.ariaLabel = this.host.texts.details
    return cell
  }

  refreshSelected(): void {
    if (this.detailed !== null) return
    if (this.isGroup) {
      if (this.group?.kind === 'head') this.checkBox(this.group)
      return
    }
    const selected = this.row !== null && !this.isNew && this.host.isSelected(this.row)
    if (selected === this.selected && this.element.ariaSelected !== null) return
    this.selected = selected
    this.element.classList.toggle('selected', selected)
    this.element.ariaSelected = String(selected)
    for (const cell of this.cells()) if (cell.box) cell.box.ariaChecked = String(selected)
    if (this.host.goesBySelection) {
      this.refreshRules()
      for (const cell of this.cells()) if (cell.painter) this.fill(cell)
    }
  }

  /** Shows which style rules hold in the row. */
  private refreshRules(): void {
    const { lines } = this.host
    const rules = this.selected ? this.host.selectedRules : this.host.rules
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
    return {
      element,
      text,
      column: '',
      painter: null,
      painted: null,
      box: null,
      opener: null,
      dressed: '',
      differs: false,
      marks: '',
      sides: '',
      shownRow: null,
      shownColumn: '',
      shownText: '',
    }
  }

  protected override dress(cell: RowCell, geometry: Geometry): void {
    const defined = geometry.column(cell.column)
    const className = `cell to-${defined?.align ?? 'start'}${this.host.classesOf(cell.column)}`
    const painter = this.host.painterOf(cell.column, defined)
    if (painter !== cell.painter) this.drop(cell)
    if (cell.dressed !== className) {
      cell.element.className = cell.dressed = className
      cell.differs = false
      if (cell.marks) this.mark(cell, null)
    }
    if (painter !== cell.painter) {
      cell.painter = painter
      if (painter) {
        cell.text.remove()
        cell.painted = painter.create(cell.element)
      }
    }
    if ((cell.column === SELECT_COLUMN) !== (cell.box !== null)) this.dressBox(cell)
    if ((cell.column === DETAIL_COLUMN) !== (cell.opener !== null)) this.dressOpener(cell)
    if (this.line >= 0 && !this.isGroup && this.detailed === null) this.fill(cell)
    else if (this.group) this.fillSummary(cell, this.group)
  }

  protected override drop(cell: RowCell): void {
    if (!cell.painter) return
    cell.painter.release?.(cell.painted)
    cell.element.replaceChildren(cell.text)
    // Painters may have left classes of their own.
    cell.dressed = ''
    cell.differs = false
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

  private dressOpener(cell: RowCell): void {
    if (cell.opener) {
      cell.opener.remove()
      cell.opener = null
      return
    }
    cell.text.nodeValue = ''
    cell.opener = make('button', 'opener', cell.element)
    cell.opener.type = 'button'
    cell.opener.tabIndex = -1
    const { texts } = this.host
    cell.opener.ariaLabel = this.element.ariaExpanded === 'true' ? texts.closeRow : texts.openRow
  }

  /** Other cells are picked. */
  refreshRanges(): void {
    for (const cell of this.cells()) this.showSides(cell)
  }

  private showSides(cell: RowCell): void {
    const { sidesOf } = this.host
    const sides = !sidesOf || cell.box || cell.opener || this.line < 0 ? '' : sidesOf(this.line, cell.column)
    if (sides === cell.sides) return
    cell.sides = sides
    const { element } = cell
    if (sides) element.dataset.range = sides
    else delete element.dataset.range
    element.ariaSelected = sides ? 'true' : null
  }

  private fill(cell: RowCell): void {
    const { column } = cell
    this.showSides(cell)
    if (cell.box || cell.opener) return
    const { lines, edits } = this.host
    const edited = edits && this.row !== null ? edits.ofCell(this.row, column) : null
    if ((edited?.marks ?? '') !== cell.marks) this.mark(cell, edited)
    const text = edited?.text ?? (this.row === null ? '' : (lines.text(this.line, this.row, column) ?? ''))
    this.flash(cell, text, edited !== null)
    const differs = this.row !== null && this.host.differs(text, this.line, this.row, column)
    if (differs !== cell.differs) cell.element.classList.toggle('differs', (cell.differs = differs))
    if (cell.painter) {
      if (this.row !== null) this.paint(cell, cell.painter, this.row, edited)
      return
    }
    if (cell.text.nodeValue !== text) cell.text.nodeValue = text
  }

  /** A cell of the same row that says something else now was changed by somebody else. */
  private flash(cell: RowCell, text: string, isEdited: boolean): void {
    const { row } = this
    const { column } = cell
    const isSame = row !== null && cell.shownRow === row && cell.shownColumn === column
    if (isSame && cell.shownText !== text && !isEdited && this.host.flashes)
      flash(cell.element, FLASH, FLASH_MS)
    cell.shownRow = row
    cell.shownColumn = column
    cell.shownText = text
  }

  /** Marks a cell as changed, or no more. */
  private mark(cell: RowCell, edited: CellMark | null): void {
    for (const mark of words(cell.marks)) cell.element.classList.remove(mark)
    cell.marks = edited?.marks ?? ''
    for (const mark of words(cell.marks)) cell.element.classList.add(mark)
    cell.element.ariaInvalid = cell.marks.includes('wrong') ? 'true' : null
    if (edited?.says) {
      cell.element.ariaDescription = cell.element.title = edited.says
    } else {
      cell.element.removeAttribute('aria-description')
      cell.element.removeAttribute('title')
    }
  }

  private paint(cell: RowCell, painter: CellPainter, row: RowId, edited: CellMark | null): void {
    const { lines, edits } = this.host
    const { line } = this
    painter.update(cell.painted, {
      column: cell.column,
      row,
      selected: this.selected,
      value: edited ? edited.value : (lines.value(line, row, cell.column) ?? null),
      text: edited?.text ?? lines.text(line, row, cell.column) ?? '',
      valueOf: column => {
        const other = edits?.ofCell(row, column)
        return other ? other.value : (lines.value(line, row, column) ?? null)
      },
    })
  }

  /** Shows the head of a group that stands somewhere else: it stays in view while its rows are. */
  showStuck(head: HeadLine): void {
    this.line = asPageLine(head.line)
    this.hideCells()
    this.showGroup(head)
  }

  private showGroup(line: HeadLine | FootLine): void {
    const label = (this.label ??= this.makeLabel())
    this.group = line
    this.row = null
    if (!this.isGroup) {
      this.isGroup = true
      this.showName(true)
      this.element.classList.add('group')
      if (this.selected) this.element.classList.remove('selected')
      this.selected = false
      this.element.ariaSelected = null
    }
    this.showLevel(line.level)
    const isFoot = line.kind === 'foot'
    this.element.classList.toggle('group-foot', isFoot)
    this.element.ariaExpanded = isFoot ? null : String(line.open)
    this.element.ariaPosInSet = isFoot ? null : String(line.nth)
    this.element.ariaSetSize = isFoot ? null : String(line.of)
    this.labelWith(label, line)
    for (const cell of this.cells()) this.fillSummary(cell, line)
    if (line.kind === 'head') this.checkBox(line)
  }

  private checkBox(line: HeadLine): void {
    const state = this.host.groupState(line)
    for (const { box } of this.cells()) {
      if (!box) continue
      if (box.ariaChecked !== state) box.ariaChecked = state
      box.ariaLabel = this.host.texts.selectGroup
    }
  }

  private labelWith({ mark, title, name, count }: GroupLabel, line: HeadLine | FootLine): void {
    const { texts, coveredColumns } = this.host
    const isFoot = line.kind === 'foot'
    const shown = line.rest ? texts.restOfGroups : line.value === null ? texts.missing : line.shown
    write(mark, isFoot ? '' : line.open ? '▾' : '▸')
    write(title, texts.groupTitle(this.host.titleOf(line.column)))
    const called = isFoot ? texts.groupFoot(shown) : shown
    if (name.nodeValue !== called) name.nodeValue = called
    const rows = isFoot ? '' : texts.groupCount(this.host.format(line.count), line.count)
    const covered = coveredColumns.map(column => this.host.summaryOf(line, column))
    write(count, [rows, ...covered].filter(Boolean).join(texts.parted))
  }

  private makeLabel(): GroupLabel {
    const element = this.makeName('gridcell')
    const mark = make('i', '', element)
    mark.ariaHidden = 'true'
    const title = make('span', 'of', element)
    const name = document.createTextNode('')
    make('b', '', element).append(name)
    return { element, mark, title, name, count: make('small', '', element) }
  }

  /** What a column comes to stands in its cell. */
  private fillSummary(cell: RowCell, line: HeadLine | FootLine): void {
    this.showSides(cell)
    if (cell.box || cell.opener) return
    const { coveredColumns } = this.host
    const text = coveredColumns.includes(cell.column) ? '' : this.host.summaryOf(line, cell.column)
    if (cell.painter && !cell.text.isConnected) cell.element.append(cell.text)
    if (cell.text.nodeValue !== text) cell.text.nodeValue = text
    cell.element.classList.toggle('summary', text !== '')
  }

  private showLevel(level: number): void {
    if (level === this.level) return
    this.level = level
    this.element.ariaLevel = this.isGroup || level > 0 || this.host.opensRows ? String(level + 1) : null
    this.element.style.setProperty('--_level', String(level))
  }

  private hideGroup(): void {
    this.isGroup = false
    this.group = null
    this.level = -1
    this.element.classList.remove('group', 'group-foot')
    this.element.ariaExpanded = null
    this.element.ariaPosInSet = this.element.ariaSetSize = null
    this.showName(false)
    for (const { element, painter, text, box } of this.cells()) {
      element.classList.remove('summary')
      if (box) box.ariaLabel = this.host.texts.selectRow
      if (painter) text.remove()
    }
  }
}

function write(element: HTMLElement, text: string): void {
  if (element.textContent !== text) element.textContent = text
}

const words = (text: string): string[] => text.split(' ').filter(Boolean)
