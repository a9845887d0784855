import { elementOf, focusedBeside, make, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'

const DELAY_MS = 350

/**
 * Shows the whole text of a cell that is cut off: after a moment under the pointer, at once when the cell has the
 * focus. It lies over the cell itself, so that no other is covered without need, and lets the pointer through: who
 * points at it points at the cell. Escape takes it away.
 */
export class WholeText {
  private readonly popup: Popup
  private readonly box: HTMLElement
  private timer = 0
  private shownFor: HTMLElement | null = null

  constructor(frame: HTMLElement, view: HTMLElement, disposal: Disposal) {
    this.box = make('div', 'whole', frame)
    this.box.setAttribute('role', 'tooltip')
    this.box.setAttribute('part', 'whole-text')
    this.popup = new Popup(this.box, { place: 'over', scrolled: () => this.scrolled() }, disposal)
    disposal.listen(frame, 'pointerover', event => this.later(cellOf(event.target)))
    disposal.listen(frame, 'pointerleave', () => this.hide())
    disposal.listen(view, 'focusin', event => this.show(cellOf(event.target)))
    disposal.listen(view, 'focusout', () => this.hide())
    disposal.listen(view, 'keydown', event => {
      if (event.key === 'Escape') this.hide()
    })
    disposal.add(() => clearTimeout(this.timer))
  }

  hide(): void {
    clearTimeout(this.timer)
    this.shownFor = null
    this.popup.hide()
  }

  /** What the keyboard is on keeps its text while it is in view; what the pointer is on is another cell now. */
  private scrolled(): void {
    const cell = this.shownFor
    if (cell && focusedBeside(cell) === cell && cell.checkVisibility()) this.popup.place()
    else this.hide()
  }

  private later(cell: HTMLElement | null): void {
    if (cell === this.shownFor) return
    this.hide()
    if (cell) this.timer = window.setTimeout(() => this.show(cell), DELAY_MS)
  }

  private show(cell: HTMLElement | null): void {
    clearTimeout(this.timer)
    const text = cell ? wholeTextOf(cell) : null
    if (!cell || text === null || !cell.isConnected) {
      this.hide()
      return
    }
    this.shownFor = cell
    this.box.textContent = text
    this.popup.show(cell)
  }
}

const cellOf = (target: EventTarget | null): HTMLElement | null =>
  elementOf(target)?.closest<HTMLElement>('.cell, .groupcell') ?? null

/** The text of a cell, or of the part of a header that holds it, where it is wider or higher than it can show. */
function wholeTextOf(cell: HTMLElement): string | null {
  const holder = cell.querySelector<HTMLElement>('.title') ?? cell
  const cut = holder.scrollWidth > holder.clientWidth + 1 || holder.scrollHeight > holder.clientHeight + 1
  return cut ? (holder.textContent ?? '').trim() || null : null
}
