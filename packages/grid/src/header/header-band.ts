import type { Arrangement } from '@vast-meadow/engine'
import { Band, type BandCell } from '../band/band.ts'
import { isOwnColumn, SELECT_COLUMN, type Geometry } from '../band/geometry.ts'
import { make } from '../kernel/dom.ts'
import type { Texts } from '../kernel/texts.ts'

interface HeaderCell extends BandCell {
  readonly title: HTMLElement
  readonly rank: HTMLElement
  /** Says that there is help on the column. */
  readonly mark: HTMLElement
  /** Opens the column's card; says that there is a condition. */
  readonly more: HTMLElement
  readonly grip: HTMLElement
  readonly box: HTMLElement
}

/** The row of headers: titles, order ranks, grips for widths, and the box that selects all. */
export class HeaderBand extends Band<HeaderCell> {
  private readonly texts: Texts
  private order: Arrangement['order'] = []
  private orderable = true
  private asked: ReadonlySet<string> = new Set()
  private allSelected: 'true' | 'false' | 'mixed' | null = 'false'

  constructor(texts: Texts) {
    super('row')
    this.texts = texts
    this.element.ariaRowIndex = '1'
    this.element.setAttribute('part', 'header')
  }

  protected override makeCell(parent: HTMLElement): HeaderCell {
    const element = make('div', 'cell', parent)
    element.setAttribute('role', 'columnheader')
    element.tabIndex = -1
    const box = make('span', 'box', element)
    const title = make('span', 'title', element)
    const rank = make('span', 'rank', element)
    rank.ariaHidden = 'true'
    const mark = make('span', 'help', element)
    mark.ariaHidden = 'true'
    const more = make('span', 'more-of', element)
    more.ariaHidden = 'true'
    const grip = make('span', 'grip', element)
    grip.ariaHidden = 'true'
    return { element, title, rank, mark, more, grip, box, column: '' }
  }

  protected override dress(cell: HeaderCell, geometry: Geometry): void {
    const { element, title, rank, mark, more, grip, box } = cell
    const selects = cell.column === SELECT_COLUMN
    const own = isOwnColumn(cell.column)
    const column = geometry.column(cell.column)
    element.dataset.column = own ? '' : cell.column
    box.hidden = !selects
    grip.hidden = more.hidden = own
    title.hidden = selects
    // The column of buttons has a name for those who hear it.
    title.classList.toggle('quiet', own && !selects)
    mark.hidden = true
    mark.textContent = ''
    if (own) {
      element.className = 'cell'
      element.ariaSort = element.ariaHasPopup = null
      title.textContent = selects ? '' : this.texts.details
      rank.textContent = ''
    }
    if (selects) {
      box.setAttribute('role', 'checkbox')
      box.ariaLabel = this.texts.selectAll
      this.dressBox(cell)
      return
    }
    box.removeAttribute('role')
    if (own) return
    const text = column?.title || cell.column
    if (title.textContent !== text) title.textContent = text
    // What is cut off is shown by the grid itself; a help sentence is no part of the name.
    const help = column?.help ?? ''
    if (element.title !== help) element.title = help
    if ((element.ariaDescription ?? '') !== help) element.ariaDescription = help || null
    mark.textContent = help && '?'
    mark.hidden = help === ''
    const orderable = this.orderable && (column?.orderable ?? false)
    element.className = `cell to-${column?.align ?? 'start'}${orderable ? ' orderable' : ''}`
    element.ariaHasPopup = 'dialog'
    this.dressRank(cell)
    this.dressAsked(cell)
  }

  protected override drop(): void {}

  /** Shows ranks and directions. */
  setOrder(order: Arrangement['order'], able: boolean): void {
    this.order = order
    this.orderable = able
    for (const cell of this.cells()) if (!isOwnColumn(cell.column)) this.dressRank(cell)
  }

  /** Shows which columns have a condition. */
  setAsked(columns: ReadonlySet<string>): void {
    this.asked = columns
    for (const cell of this.cells()) if (!isOwnColumn(cell.column)) this.dressAsked(cell)
  }

  /** null: all cannot be selected. */
  setAllSelected(state: 'true' | 'false' | 'mixed' | null): void {
    this.allSelected = state
    for (const cell of this.cells()) if (cell.column === SELECT_COLUMN) this.dressBox(cell)
  }

  private dressBox({ box }: HeaderCell): void {
    box.hidden = this.allSelected === null
    if (this.allSelected !== null) box.ariaChecked = this.allSelected
  }

  private dressAsked({ element, column }: HeaderCell): void {
    element.classList.toggle('asks', this.asked.has(column))
  }

  private dressRank({ element, rank, column }: HeaderCell): void {
    const at = this.order.findIndex(key => key.column === column)
    const direction = this.order[at]?.direction
    const arrow = direction === 'descending' ? '↓' : '↑'
    const text = direction ? (this.order.length > 1 ? `${at + 1} ${arrow}` : arrow) : ''
    if (rank.textContent !== text) rank.textContent = text
    // Only the first key is announced as the column's sort; the others say their rank in the live region.
    if (direction && at === 0) element.ariaSort = direction
    else element.ariaSort = direction ? 'other' : null
  }
}
