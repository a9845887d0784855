import { elementOf, type Disposal } from './dom.ts'

/** A finger that stays so long has pressed for the menu, as the systems have it. */
const HOLD_MS = 500
/** A finger is never quite still, in CSS px. */
const STILL_PX = 10

/**
 * A finger that stays where it went down asks for the menu of the place; one that moves scrolls or drags. Not all browsers
 * make of it what a secondary click is, so both are heard, and whichever comes first opens the menu. Headings have their
 * own: what a finger holds there may yet be dragged.
 */
export class LongPress {
  /** A menu was opened and the finger is still down. */
  opened = false
  private timer = 0
  private from = { x: 0, y: 0 }

  /** `press`: opens the menu of what an element shows; false where it has none. */
  constructor(view: HTMLElement, press: (target: Element | null) => boolean, disposal: Disposal) {
    disposal.listen(view, 'pointerdown', event => {
      this.forget()
      this.opened = false
      if (event.pointerType !== 'touch' || !event.isPrimary) return
      const target = elementOf(event.target)
      if (target?.closest('a[href], input, .detailcell, .head')) return
      this.from = { x: event.clientX, y: event.clientY }
      this.timer = window.setTimeout(() => (this.opened = press(target)), HOLD_MS)
    })
    disposal.listen(view, 'pointermove', ({ clientX, clientY }) => {
      if (Math.hypot(clientX - this.from.x, clientY - this.from.y) > STILL_PX) this.forget()
    })
    for (const name of ['pointerup', 'pointercancel', 'pointerleave'] as const)
      disposal.listen(view, name, () => this.forget())
    // The click of the finger that is lifted means nothing any more.
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

  /** It was no press for the menu, or the menu is there. */
  forget(): void {
    clearTimeout(this.timer)
    this.timer = 0
  }
}
