import type { Disposal } from './dom.ts'
import { hostOf } from './dom.ts'
import { hideOver, showOver } from './simulated-dom.ts'

/** Free px kept between a popup and the edges of the window, and between it and its anchor. */
const [EDGE, GAP] = [4, 2]
/** What is to be seen of a popup at least, where the window has no room. */
const LEAST_BLOCK = 120

export interface PopupOptions {
  /** Under its anchor (above it, where there is more room), or over it. */
  readonly place: 'under' | 'over'
  /** The pointer went down outside of the popup and its anchor. */
  outside?(): void
  /** Something scrolled; without this, the popup follows its anchor. */
  scrolled?(): void
}

/**
 * A box beside what it belongs to, in the browser's top layer: no edge of the host's page cuts it off and nothing of
 * the page lies over it. While it is open it stays at its anchor, whatever scrolls. Layout is read when it is placed.
 */
export class Popup {
  readonly element: HTMLElement
  private readonly options: PopupOptions
  private anchor: Element | null = null
  private frame = 0
  private readonly moved = (event: Event): void => {
    if (event.composedPath().includes(this.element)) return
    if (event.type === 'scroll' && this.options.scrolled) this.options.scrolled()
    else if (!this.frame) this.frame = requestAnimationFrame(() => this.place())
  }
  private readonly pressed = (event: Event): void => {
    const path = event.composedPath()
    if (this.anchor && !path.includes(this.element) && !path.includes(this.anchor)) this.options.outside?.()
  }

  constructor(element: HTMLElement, options: PopupOptions, disposal: Disposal) {
    this.element = element
    this.options = options
    element.classList.add('popup')
    element.popover = 'manual'
    element.hidden = true
    disposal.add(() => this.hide())
  }

  private get view(): Window {
    return this.element.ownerDocument.defaultView ?? window
  }

  get open(): boolean {
    return this.anchor !== null
  }

  /** Opens beside an anchor, or moves to another one. */
  show(anchor: Element): void {
    const { element, view } = this
    const opens = !this.anchor
    this.anchor = anchor
    if (opens) {
      element.hidden = false
      showOver(element)
      view.addEventListener('scroll', this.moved, { capture: true, passive: true })
      view.addEventListener('resize', this.moved)
      view.addEventListener('pointerdown', this.pressed, { capture: true })
    }
    this.place()
  }

  hide(): void {
    if (!this.anchor) return
    const { view } = this
    this.anchor = null
    cancelAnimationFrame(this.frame)
    this.frame = 0
    view.removeEventListener('scroll', this.moved, { capture: true })
    view.removeEventListener('resize', this.moved)
    view.removeEventListener('pointerdown', this.pressed, { capture: true })
    hideOver(this.element)
    this.element.hidden = true
  }

  /** Places it anew: its content or what is around it changed. */
  place(): void {
    this.frame = 0
    const { element, anchor } = this
    if (!anchor?.isConnected) return
    const { style } = element
    style.removeProperty('--_room')
    const [at, own] = [anchor.getBoundingClientRect(), element.getBoundingClientRect()]
    const { clientWidth: width, clientHeight: height } = element.ownerDocument.documentElement
    const rtl = getComputedStyle(anchor).direction === 'rtl'
    // Zoom makes the px of styles and of rectangles differ.
    const scale = own.width / element.offsetWidth || 1
    const left = rtl ? at.right - own.width : at.left
    // Along the lines it keeps to the grid's own edges where it fits between them.
    const grid = hostOf(element).getBoundingClientRect()
    const [from, to] = [Math.max(grid.left, 0) + EDGE, Math.min(grid.right, width) - EDGE]
    const [least, most] = to - from >= own.width ? [from, to] : [EDGE, width - EDGE]
    style.left = `${clamp(left, least, most - own.width) / scale}px`
    if (this.options.place === 'over') {
      style.minBlockSize = `${at.height / scale}px`
      style.top = `${clamp(at.top, EDGE, height - own.height - EDGE) / scale}px`
      return
    }
    const [above, below] = [at.top - EDGE - GAP, height - at.bottom - EDGE - GAP]
    const up = own.height > below && above > below
    const room = Math.max(LEAST_BLOCK, up ? above : below)
    const top = up ? at.top - GAP - Math.min(own.height, room) : at.bottom + GAP
    style.setProperty('--_room', `${room / scale}px`)
    style.top = `${clamp(top, EDGE, height - LEAST_BLOCK) / scale}px`
  }
}

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(value, most))
