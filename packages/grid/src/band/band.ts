import { runWidth, sure } from '@vast-meadow/engine/client'
import type { ColumnRun } from '@vast-meadow/engine'
import { make } from '../kernel/dom.ts'
import { isOwnColumn, type Geometry } from './geometry.ts'

/** One cell element and the column it stands for now. */
export interface BandCell {
  readonly element: HTMLElement
  /** Empty while the cell stands for none. */
  column: string
}

export interface ColumnWindow {
  readonly first: number
  readonly end: number
}

/**
 * A horizontal band of cells: a start part, a middle part that is moved sideways, and an end part, in one element, so
 * that header and body cannot fall out of step and assistive technology reads a row whole. Middle cells are recycled
 * by column number modulo their count: a step of one column rewrites one cell.
 */
export abstract class Band<Cell extends BandCell> {
  readonly element: HTMLElement
  private readonly parts: Record<'start' | 'middle' | 'end', HTMLElement>
  private readonly pinned: Record<'start' | 'end', Cell[]> = { start: [], end: [] }
  private slots: Cell[] = []
  /** The cell that has the focus while its column is out of view. */
  private kept: Cell | null = null
  private geometry: Geometry | null = null
  /** Stands over the first columns, as the name of a group does. */
  private name: HTMLElement | null = null
  private shownWindow: ColumnWindow = { first: 0, end: 0 }
  private shift = NaN

  constructor(className: string) {
    this.element = make('div', className)
    this.element.setAttribute('role', 'row')
    this.parts = {
      start: make('div', 'part start', this.element),
      middle: make('div', 'part middle', this.element),
      end: make('div', 'part end', this.element),
    }
  }

  protected abstract makeCell(parent: HTMLElement): Cell
  /** Gives the cell's looks and content for its column; called when the column or its geometry changed. */
  protected abstract dress(cell: Cell, geometry: Geometry): void
  protected abstract drop(cell: Cell): void

  /** Lays all cells out anew. `focused`: the element that has the focus, if any. */
  layOut(geometry: Geometry, columns: ColumnWindow, focused: Element | null): void {
    this.geometry = geometry
    this.placeName()
    this.layPinned('start', geometry.start)
    this.layPinned('end', geometry.end)
    const { middle } = this.parts
    middle.style.insetInlineStart = `${runWidth(geometry.start)}px`
    middle.style.inlineSize = `${runWidth(geometry.middle)}px`
    for (const cell of this.slots.splice(geometry.middleSlots)) this.remove(cell)
    while (this.slots.length < geometry.middleSlots) this.slots.push(this.makeCell(middle))
    for (const cell of this.slots) cell.column = ''
    if (this.kept) this.remove(this.kept)
    this.kept = null
    this.shownWindow = { first: 0, end: 0 }
    this.showColumns(columns, focused)
  }

  /**
   * Shows the columns of the middle run's window; cells whose column stays are not touched. While `moving`, cells that
   * lie out of view stay until `hideCells`: to hide and show one costs its layout.
   */
  showColumns(columns: ColumnWindow, focused: Element | null, moving = false): void {
    const { geometry, slots } = this
    if (!geometry || slots.length === 0) return
    const { first, end } = columns
    if (
      first === this.shownWindow.first &&
      end === this.shownWindow.end &&
      slots[first % slots.length].column
    )
      return
    this.shownWindow = columns
    for (let c = first; c < end; c++) this.showColumn(c, geometry, focused)
    if (!moving) this.hideCells()
  }

  /** Hides the cells beyond the window, so that they are not read out. */
  hideCells(): void {
    const { slots } = this
    const { first, end } = this.shownWindow
    for (let i = 0; i < slots.length; i++) {
      const c = first + ((((i - first) % slots.length) + slots.length) % slots.length)
      if (c < end || slots[i].element.hidden) continue
      slots[i].element.hidden = true
      // What it shows is not kept up to date from here on.
      slots[i].column = ''
    }
  }

  /** A cell for the band's name. */
  protected makeName(role: 'gridcell' | 'rowheader'): HTMLElement {
    const name = make('div', 'groupcell')
    name.setAttribute('role', role)
    this.name = name
    this.showName(true)
    return name
  }

  /** The name is read before what the columns show; where there is none, nobody comes upon it. */
  protected showName(isShown: boolean): void {
    const { name } = this
    if (!name) return
    name.hidden = !isShown
    if (isShown) this.parts.start.after(name)
    else this.element.append(name)
    this.placeName()
  }

  private placeName(): void {
    const { name, geometry } = this
    if (name && geometry) name.ariaColIndex = name.hidden ? null : String(geometry.ownCount + 1)
  }

  private showColumn(c: number, geometry: Geometry, focused: Element | null): void {
    const i = c % this.slots.length
    const key = geometry.middle.keys[c]
    if (this.slots[i].column === key) return
    if (this.kept?.column === key) {
      this.remove(this.slots[i])
      this.slots[i] = this.kept
      this.kept = null
      this.slots[i].element.hidden = false
      return
    }
    if (this.slots[i].element.contains(focused) && this.slots[i].column) {
      this.kept = this.slots[i]
      this.slots[i] = this.makeCell(this.parts.middle)
    }
    const cell = this.slots[i]
    cell.column = key
    if (cell.element.hidden) cell.element.hidden = false
    this.place(cell, geometry.middle, c, geometry)
  }

  private layPinned(side: 'start' | 'end', run: ColumnRun): void {
    const part = this.parts[side]
    const cells = this.pinned[side]
    part.hidden = run.keys.length === 0
    part.style.inlineSize = `${runWidth(run)}px`
    part.classList.toggle(
      'edged',
      run.keys.some(key => !isOwnColumn(key)),
    )
    for (const cell of cells.splice(run.keys.length)) this.remove(cell)
    run.keys.forEach((key, i) => {
      const cell = (cells[i] ??= this.makeCell(part))
      cell.column = key
      this.place(cell, run, i, sure(this.geometry))
    })
  }

  private place(cell: Cell, run: ColumnRun, index: number, geometry: Geometry): void {
    const { style } = cell.element
    style.insetInlineStart = `${run.offsets[index]}px`
    style.inlineSize = `${run.offsets[index + 1] - run.offsets[index]}px`
    const place = String(geometry.indexOf(cell.column))
    if (cell.element.ariaColIndex !== place) cell.element.ariaColIndex = place
    this.dress(cell, geometry)
  }

  /** Moves the middle part by whole device px; `shift` is in the inline direction. */
  moveMiddle(shift: number, rtl: boolean): void {
    const x = rtl ? shift : -shift
    if (x === this.shift) return
    this.shift = x
    this.parts.middle.style.transform = `translateX(${x}px)`
  }

  /** The cells that stand for a column now. */
  *cells(): Iterable<Cell> {
    yield* this.pinned.start
    for (const cell of this.slots) if (cell.column && !cell.element.hidden) yield cell
    if (this.kept) yield this.kept
    yield* this.pinned.end
  }

  cellOf(column: string): Cell | undefined {
    for (const cell of this.cells()) if (cell.column === column) return cell
    return undefined
  }

  /** Brings the cells' order in the document in line with the columns'. The focused cell stays where it is. */
  sortCells(focused: Element | null): void {
    const { geometry, slots } = this
    if (!geometry || slots.length === 0) return
    const { first, end } = this.shownWindow
    const wanted: Element[] = []
    for (let c = first; c < end; c++) wanted.push(slots[c % slots.length].element)
    putInOrder(this.parts.middle, wanted, slots.find(cell => cell.element.contains(focused))?.element ?? null)
  }

  /** Gives the focus-kept cell up once the focus has left it. */
  releaseKept(focused: Element | null): void {
    if (this.kept && !this.kept.element.contains(focused)) {
      this.remove(this.kept)
      this.kept = null
    }
  }

  dispose(): void {
    for (const cell of [...this.pinned.start, ...this.slots, ...this.pinned.end]) this.drop(cell)
    if (this.kept) this.drop(this.kept)
    this.element.remove()
  }

  private remove(cell: Cell): void {
    this.drop(cell)
    cell.element.remove()
  }
}

/**
 * Moves elements so that they follow one another as in `wanted`, moving few and never `fixed`: an element that is
 * put elsewhere loses its focus.
 */
export function putInOrder(parent: Element, wanted: readonly Element[], fixed: Element | null): void {
  const at = fixed ? wanted.indexOf(fixed) : -1
  const before = at < 0 ? [] : wanted.slice(0, at)
  const after = at < 0 ? wanted : wanted.slice(at + 1)
  let next: Element | null = fixed
  for (const element of [...before].reverse()) {
    if (element.nextElementSibling !== next) parent.insertBefore(element, next)
    next = element
  }
  let previous: Element | null = at < 0 ? null : fixed
  for (const element of after) {
    const follows = previous ? previous.nextElementSibling : parent.firstElementChild
    if (follows !== element) parent.insertBefore(element, follows)
    previous = element
  }
}
