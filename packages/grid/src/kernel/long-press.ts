import { elementOf, type Disposal } from './dom.ts'

/** A finger that stays so long has pressed for the menu, as the systems have it. */
const HOLD_MS = 500
/** A finger is never quite still, in CSS px. */
const STILL_PX = 10

export interface LongPressHost {
  /** Opens the menu of what an element shows; false where it has none. */
  menu(target: Element | null): boolean
  /** A finger has taken hold of an element, which shows it: what it does next may be a sweep. */
  held(target: Element | null): void
}

/**
 * A finger that stays where it went down takes hold of it: lifted there it asks for the menu, moved it sweeps over cells;
 * one that moves before scrolls. Not all browsers make of a long press what a secondary click is, so the time is taken
 * here. Headings have their own: what a finger holds there is dragged.
 */
export class LongPress {
  private readonly frame: HTMLElement
  private target: Element | null = null
  private timer = 0
  private from = { x: 0, y: 0 }
  private holds = false
  private moved = false
  /** The menu was opened by the finger that is lifted. */
  private opened = false

  constructor(frame: HTMLElement, view: HTMLElement, host: LongPressHost, disposal: Disposal) {
    this.frame = frame
    disposal.listen(view, 'pointerdown', event => {
      this.forget()
      this.opened = false
      if (event.pointerType !== 'touch' || !event.isPrimary) return
      const target = elementOf(event.target)
      if (target?.closest('a[href], input:not(.box), .detailcell, .head')) return
      this.target = target
      this.from = { x: event.clientX, y: event.clientY }
      this.timer = window.setTimeout(() => {
        this.holds = true
        frame.classList.add('holding')
        host.held(target)
      }, HOLD_MS)
    })
    disposal.listen(view, 'pointermove', ({ clientX, clientY }) => {
      if (Math.hypot(clientX - this.from.x, clientY - this.from.y) <= STILL_PX) return
      if (this.holds) this.moved = true
      else this.forget()
    })
    disposal.listen(view, 'pointerup', () => {
      const { target } = this
      const asks = this.holds && !this.moved && !target?.closest('.box')
      this.forget()
      if (asks) this.opened = host.menu(target)
    })
    for (const name of ['pointercancel', 'pointerleave'] as const)
      disposal.listen(view, name, () => this.forget())
    // What a finger holds does not scroll.
    disposal.listen(view, 'touchmove', event => this.holds && event.preventDefault(), { passive: false })
    // The click of the finger that was lifted means nothing any more.
    disposal.listen(
      view,
      'click',
      event => {
        if (!this.opened) return
        this.opened = false
        event.preventDefault()
        event.stopPropagation()
      },
      { capture: true },
    )
    disposal.add(() => this.forget())
  }

  /** Whether a finger is down that may yet ask for a menu, so that the browser need not. */
  get isDown(): boolean {
    return this.timer !== 0
  }

  private forget(): void {
    clearTimeout(this.timer)
    this.timer = 0
    this.holds = this.moved = false
    this.frame.classList.remove('holding')
  }
}
