import { isOwnColumn } from '../band/geometry.ts'
import { elementOf, focusedBeside, isInDetail, type Disposal } from './dom.ts'
import type { Place } from './feature.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from './page-line.ts'
import { isVisible } from './simulated-dom.ts'

export interface NavigatorHost {
  readonly lineCount: number
  readonly pageLines: number
  readonly rtl: boolean
  columns(): readonly string[]
  /** Scrolls so that the cell is whole in view, and draws. Line −1 is the header. */
  reveal(line: PageLine, column: string): void
  element(line: PageLine, column: string): HTMLElement | undefined
  /** The line (−1: header) and column an element belongs to. */
  cellAt(element: Element | null): Place | null
  /** What a key means beside moving; true where it was for something. */
  key(event: KeyboardEvent, at: Place): boolean
  /** Opens the menu of a place, or its card; false where it has none. */
  menu(at: Place): boolean
  card(at: Place): boolean
}

/**
 * The keyboard on the grid, as the W3C grid pattern has it: one tab stop, arrows from cell to cell, the header as
 * its first row.
 */
export class Navigator {
  line = ABOVE_LINES
  column = ''
  /** Whether a reader has been to any cell yet. */
  placed = false
  private readonly view: HTMLElement
  private readonly host: NavigatorHost

  constructor(view: HTMLElement, host: NavigatorHost, disposal: Disposal) {
    this.view = view
    this.host = host
    view.tabIndex = 0
    disposal.listen(view, 'focusin', event => {
      if (event.target === view) this.focus()
      else {
        view.tabIndex = -1
        // Assistive technology may put the focus on a cell by itself.
        const place = host.cellAt(elementOf(event.target))
        if (place) this.stand(place.line, place.column)
      }
    })
    disposal.listen(view, 'focusout', event => {
      if (!view.contains(elementOf(event.relatedTarget))) view.tabIndex = 0
    })
    disposal.listen(view, 'keydown', event => this.key(event))
    disposal.listen(view, 'pointerdown', event => this.pointer(event))
  }

  /** Moves the focus to a cell, scrolled into view. */
  go(line: PageLine, column: string): void {
    this.placed = true
    this.line = asPageLine(Math.max(-1, Math.min(line, this.host.lineCount - 1)))
    this.column = column
    this.host.reveal(this.line, column)
    this.focus()
  }

  /** The keyboard is on a cell, wherever the focus is. */
  stand(line: PageLine, column: string): void {
    this.placed = true
    this.line = line
    this.column = column
  }

  /** The row that the focus is on stands on another line now. */
  follow(line: PageLine): void {
    this.line = line
  }

  /** After lines or columns moved: the focus goes to what stands in the cell's place, if that is in view. */
  restore(hadFocus: boolean): void {
    this.line = asPageLine(Math.min(this.line, this.host.lineCount - 1))
    const columns = this.host.columns()
    if (!columns.includes(this.column))
      this.column = columns.find(column => !isOwnColumn(column)) ?? columns[0] ?? ''
    if (!hadFocus) return
    const target = this.host.element(this.line, this.column)
    if (target) this.focusElement(target)
    else this.view.focus({ preventScroll: true })
  }

  /**
   * Lines have come: where the focus waits on the view for its cell, it goes there; where it waits on a cell of a line that
   * turned out to be the head of a group, or an open row's detail, it goes to what is shown of that.
   */
  settle(): void {
    const focused = focusedBeside(this.view)
    if (focused === this.view) this.focus()
    const place = focused && this.host.cellAt(focused)
    const target = place && this.host.element(place.line, place.column)
    if (target && !target.contains(focused)) this.focusElement(target)
  }

  /** Whether a cell has the focus; what is typed in the asking strip is no cell's. */
  get hasFocus(): boolean {
    const activeElement = focusedBeside(this.view)
    return activeElement !== null && this.view.contains(activeElement) && !activeElement.closest('.strip')
  }

  /** Goes to what can be pressed in the focused cell: presses it where it is the only one. False where there is none. */
  enterCell(): boolean {
    const widgets = this.widgets()
    if (widgets.length === 0) return false
    if (widgets.length === 1) widgets[0].click()
    else widgets[0].focus()
    return true
  }

  /** Links and buttons of the focused cell. */
  private widgets(): HTMLElement[] {
    const cell = this.host.element(this.line, this.column)
    const all = [...(cell?.querySelectorAll<HTMLElement>('a[href], button:not(:disabled)') ?? [])]
    return all.filter(isVisible)
  }

  /** Keys while one of several links or buttons of a cell has the focus; false: they mean what they always do. */
  private moveAmongWidgets(event: KeyboardEvent): boolean {
    const widgets = this.widgets()
    const at = widgets.findIndex(widget => widget === event.target)
    if (at < 0) return false
    if (event.key === 'Escape') this.focus()
    else if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      const step = (event.key === 'ArrowRight') !== this.host.rtl ? 1 : -1
      widgets[(at + step + widgets.length) % widgets.length].focus()
    } else return event.key === 'Enter' || event.key === ' '
    event.preventDefault()
    return true
  }

  private focus(): void {
    if (!this.column) this.restore(false)
    const target = this.host.element(this.line, this.column)
    if (target) this.focusElement(target)
  }

  private focusElement(element: HTMLElement): void {
    if (!element.hasAttribute('tabindex')) element.tabIndex = -1
    element.focus({ preventScroll: true })
  }

  private pointer(event: PointerEvent): void {
    this.view.classList.remove('by-keys')
    const place = this.host.cellAt(elementOf(event.target))
    if (!place || event.button !== 0) return
    this.stand(place.line, place.column)
    // What stands in a detail is read, marked and used as anywhere in the page.
    if (isInDetail(event)) return
    const target = this.host.element(place.line, place.column)
    if (!target || elementOf(event.target)?.closest('button, a[href]')) return
    // The browser would focus the scrolling layer instead, and scroll it.
    event.preventDefault()
    this.focusElement(target)
  }

  private key(event: KeyboardEvent): void {
    if (event.defaultPrevented || isInDetail(event, true)) return
    const asksMenu = event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)
    const asksCard = event.key === 'ArrowDown' && event.altKey
    const opened = (asksCard && this.host.card(this)) || ((asksMenu || asksCard) && this.host.menu(this))
    if (opened) {
      event.preventDefault()
      event.stopPropagation()
      return
    }
    if (event.altKey) return
    // Browsers do not take every key, pressed with others, for a sign that the focus must be seen.
    this.view.classList.add('by-keys')
    if (this.moveAmongWidgets(event)) {
      event.stopPropagation()
      return
    }
    const handled = this.host.key(event, this) || this.move(event)
    if (!handled) return
    event.preventDefault()
    event.stopPropagation()
  }

  private move(event: KeyboardEvent): boolean {
    const { host, line } = this
    const columns = host.columns()
    const at = Math.max(0, columns.indexOf(this.column))
    const all = event.ctrlKey || event.metaKey
    const last = host.lineCount - 1
    const to = (nextLine: number, place: number): boolean => {
      this.go(asPageLine(nextLine), columns[Math.max(0, Math.min(place, columns.length - 1))])
      return true
    }
    switch (event.key) {
      case 'ArrowDown':
        return to(line + 1, at)
      case 'ArrowUp':
        return to(line - 1, at)
      case 'ArrowRight':
      case 'ArrowLeft':
        if (all || event.shiftKey) return false
        return to(line, at + ((event.key === 'ArrowRight') !== host.rtl ? 1 : -1))
      case 'PageDown':
        return to(Math.min(last, line + Math.max(1, host.pageLines - 1)), at)
      case 'PageUp':
        return to(Math.max(0, line - Math.max(1, host.pageLines - 1)), at)
      case 'Home':
        return all ? to(0, 0) : to(line, 0)
      case 'End':
        return all ? to(last, columns.length - 1) : to(line, columns.length - 1)
      default:
        return false
    }
  }
}
