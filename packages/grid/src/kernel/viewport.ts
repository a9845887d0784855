import { columnsBetween, runWidth, ScrollMap } from '@vast-meadow/engine/client'
import type { ColumnWindow } from '../band/band.ts'
import type { Geometry } from '../band/geometry.ts'
import { make, type Disposal } from './dom.ts'

/** After the last movement, the native position is set back to where the true offset belongs, and order is made. */
const REST_MS = 140

export interface ViewportHost {
  /** Draws the body for the present offsets; called in the scroll event itself. */
  moved(): void
  resized(): void
  rested(): void
}

/**
 * The native scroller and the one viewport-sized layer in it that holds everything drawn. The layer sticks to the
 * scroller, so a late frame shows an older picture but never a blank or torn one.
 */
export class Viewport {
  readonly scroller: HTMLElement
  readonly view: HTMLElement
  private readonly track: HTMLElement
  private readonly map = new ScrollMap()
  private readonly host: ViewportHost
  private restTimer = 0
  private contentHeight = 0
  private headHeight = 0
  width = 0
  height = 0
  rtl = false

  constructor(parent: HTMLElement, host: ViewportHost, disposal: Disposal) {
    this.host = host
    this.scroller = make('div', 'scroller', parent)
    this.scroller.tabIndex = -1
    this.track = make('div', '', this.scroller)
    this.view = make('div', 'view', this.track)
    disposal.listen(this.scroller, 'scroll', () => this.scrolled(), { passive: true })
    const observer = new ResizeObserver(() => this.measure())
    observer.observe(this.scroller)
    disposal.add(() => observer.disconnect())
    disposal.add(() => clearTimeout(this.restTimer))
  }

  get pixelRatio(): number {
    return window.devicePixelRatio || 1
  }

  /** Room that the scrollbar at the lower edge takes, in CSS px. */
  get scrollbarHeight(): number {
    return this.scroller.offsetHeight - this.scroller.clientHeight
  }

  /** Offset of the body's visible top, in CSS px. */
  get offset(): number {
    return this.map.offset
  }

  /** Height of the body that is in view: the layer without the header. */
  get bodyHeight(): number {
    return Math.max(0, this.height - this.headHeight)
  }

  /** How far the middle columns are moved, in the inline direction, whole device px. */
  get shift(): number {
    return Math.round(Math.abs(this.scroller.scrollLeft) * this.pixelRatio) / this.pixelRatio
  }

  /** Reads the scroller's size; scrollbars may have come or gone. */
  measure(): void {
    this.rtl = getComputedStyle(this.scroller).direction === 'rtl'
    const { clientWidth, clientHeight } = this.scroller
    if (clientWidth === this.width && clientHeight === this.height) return
    this.width = clientWidth
    this.height = clientHeight
    this.view.style.inlineSize = `${clientWidth}px`
    this.view.style.blockSize = `${clientHeight}px`
    this.resizeTrack()
    this.host.resized()
  }

  /** Sets what there is to scroll over. */
  setBody(contentHeight: number, headHeight: number, contentWidth: number): void {
    this.contentHeight = contentHeight
    this.headHeight = headHeight
    this.track.style.inlineSize = `${contentWidth}px`
    this.resizeTrack()
    // New scrollbars take room that must be known before anything is drawn.
    this.measure()
  }

  private resizeTrack(): void {
    const height = this.map.resize(this.contentHeight, this.bodyHeight, this.pixelRatio)
    this.track.style.blockSize = `${Math.max(height, 0) + this.headHeight}px`
    this.anchor()
  }

  /** The columns of the middle run that are in view. */
  columnWindow(geometry: Geometry): ColumnWindow {
    const room = this.width - runWidth(geometry.start) - runWidth(geometry.end)
    return columnsBetween(geometry.middle, this.shift, this.shift + Math.max(0, room))
  }

  /** Lines above grew or shrank: the offset goes with those in view. Draws nothing. */
  adjust(contentHeight: number, by: number): void {
    this.contentHeight = contentHeight
    const height = this.map.resize(contentHeight, this.bodyHeight, this.pixelRatio)
    this.track.style.blockSize = `${Math.max(height, 0) + this.headHeight}px`
    if (by !== 0) this.writeTop(this.map.moveTo(this.map.offset + by))
  }

  scrollToOffset(offset: number): void {
    this.writeTop(this.map.moveTo(offset))
    this.host.moved()
    this.restLater()
  }

  scrollToShift(shift: number): void {
    this.scroller.scrollLeft = this.rtl ? -shift : shift
    this.host.moved()
    this.restLater()
  }

  private scrolled(): void {
    this.map.scrolled(this.scroller.scrollTop)
    this.host.moved()
    this.restLater()
  }

  private restLater(): void {
    clearTimeout(this.restTimer)
    this.restTimer = window.setTimeout(() => {
      this.anchor()
      this.host.rested()
    }, REST_MS)
  }

  /** Sets the native position to the one that stands for the true offset, which gives the wheel room both ways. */
  private anchor(): void {
    const top = this.map.anchor()
    if (Math.abs(top - this.scroller.scrollTop) > 1) this.writeTop(top)
    else this.map.wrote(this.scroller.scrollTop)
  }

  private writeTop(top: number): void {
    this.scroller.scrollTop = top
    this.map.wrote(this.scroller.scrollTop)
  }
}
