import { columnsBetween, runWidth, ScrollMap, sure } from '@vast-meadow/engine/client'
import type { ColumnWindow } from '../band/band.ts'
import type { Geometry } from '../band/geometry.ts'
import { make, type Disposal } from './dom.ts'
import { hasLayout, sizeObserver } from './simulated-dom.ts'

/** After the last movement, the native position is set back to where the true offset belongs, and order is made. */
const REST_MS = 140

/** Room in CSS px. */
interface Room {
  readonly width: number
  readonly height: number
}

export interface ViewportHost {
  /** Draws the body for the present offsets; called in the scroll event itself. */
  moved(): void
  /** There is more or less room. */
  resized(widthDiffers: boolean): void
  rested(): void
}

/** Where nothing is laid out, a window's worth is drawn. */
function sizesOf(
  scroller: HTMLElement,
): Pick<HTMLElement, 'offsetWidth' | 'offsetHeight' | 'clientWidth' | 'clientHeight'> {
  if (scroller.offsetWidth > 0 || hasLayout(scroller.ownerDocument)) return scroller
  const { innerWidth: width, innerHeight: height } = window
  return { offsetWidth: width, offsetHeight: height, clientWidth: width, clientHeight: height }
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
  private contentWidth = 0
  private headHeight = 0
  /** The scroller with its scrollbars, as it was last read. */
  private outer: Room = { width: 0, height: 0 }
  /** What a scrollbar takes; 0 where they lie over the content. */
  private barThickness = 0
  /** The native position as it was last read or written: reading it after a write makes the browser lay out. */
  private top = 0
  private left = 0
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
    const observer = sizeObserver(() => this.read())
    observer.observe(this.scroller)
    disposal.add(() => observer.disconnect())
    disposal.add(() => clearTimeout(this.restTimer))
  }

  get pixelRatio(): number {
    return window.devicePixelRatio || 1
  }

  /** Room that the scrollbar at the lower edge takes, in CSS px. */
  get scrollbarHeight(): number {
    return this.outer.height - this.height
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
    return Math.round(Math.abs(this.left) * this.pixelRatio) / this.pixelRatio
  }

  /**
   * Reads all that an update needs of the page's layout; to be called before anything is written. Tells the host when
   * there is more or less room than was reckoned with.
   */
  read(): void {
    const { scroller } = this
    this.rtl = getComputedStyle(scroller).direction === 'rtl'
    const { offsetWidth: width, offsetHeight: height, clientWidth, clientHeight } = sizesOf(scroller)
    if (this.outer.width === 0) this.barThickness = this.probeBar()
    this.outer = { width, height }
    this.catchUp()
    this.left = scroller.scrollLeft
    const widthDiffers = clientWidth !== this.width
    if (this.takeRoom({ width: clientWidth, height: clientHeight })) this.host.resized(widthDiffers)
  }

  /** Takes over how far was scrolled since the browser last told of it, which it does once a frame. */
  catchUp(): void {
    const { scrollTop } = this.scroller
    if (scrollTop === this.top) return
    this.top = scrollTop
    this.map.scrolled(scrollTop)
  }

  /** What a scrollbar takes here, in CSS px; none may be there yet to be measured. */
  private probeBar(): number {
    const probe = make('div', 'scroller probe', sure(this.scroller.parentElement))
    const thickness = probe.offsetWidth - probe.clientWidth
    probe.remove()
    return thickness
  }

  /**
   * Sets what there is to scroll over. Reads nothing: what scrollbars will take is reckoned. Tells whether that leaves
   * more or less room than before.
   */
  setBody(contentHeight: number, headHeight: number, contentWidth: number): boolean {
    this.contentHeight = contentHeight
    this.headHeight = headHeight
    this.contentWidth = contentWidth
    this.track.style.inlineSize = `${contentWidth}px`
    if (this.takeRoom(this.reckonRoom())) return true
    this.resizeTrack()
    return false
  }

  /** What scrollbars leave: each is there where its axis overflows, and takes room that the other axis may then miss. */
  private reckonRoom(): Room {
    const { outer, barThickness } = this
    const room = { ...outer }
    for (let bar = 0; bar < 2; bar++) {
      if (this.contentWidth > room.width) room.height = outer.height - barThickness
      if (this.headHeight + this.contentHeight > room.height) room.width = outer.width - barThickness
    }
    return room
  }

  private takeRoom({ width, height }: Room): boolean {
    if (width === this.width && height === this.height) return false
    this.width = width
    this.height = height
    this.view.style.inlineSize = `${width}px`
    this.view.style.blockSize = `${height}px`
    this.resizeTrack()
    return true
  }

  private resizeTrack(): void {
    this.sizeTrack()
    this.anchor()
  }

  private sizeTrack(): void {
    const height = this.map.resize(this.contentHeight, this.bodyHeight, this.pixelRatio)
    this.track.style.blockSize = `${Math.max(height, 0) + this.headHeight}px`
  }

  /** The columns of the middle run that are in view. */
  columnWindow(geometry: Geometry): ColumnWindow {
    const room = this.width - runWidth(geometry.start) - runWidth(geometry.end)
    return columnsBetween(geometry.middle, this.shift, this.shift + Math.max(0, room))
  }

  /** Lines above grew or shrank: the offset goes with those in view. Draws nothing. */
  adjust(contentHeight: number, by: number): void {
    this.contentHeight = contentHeight
    this.sizeTrack()
    if (by !== 0) this.writeTop(this.map.moveTo(this.map.offset + by))
  }

  scrollToOffset(offset: number): void {
    this.writeTop(this.map.moveTo(offset))
    this.host.moved()
    this.restLater()
  }

  scrollToShift(shift: number): void {
    this.scroller.scrollLeft = this.rtl ? -shift : shift
    this.left = this.scroller.scrollLeft
    this.host.moved()
    this.restLater()
  }

  private scrolled(): void {
    this.catchUp()
    this.left = this.scroller.scrollLeft
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
    if (Math.abs(top - this.top) > 1) this.writeTop(top)
    else this.map.wrote(this.top)
  }

  private writeTop(top: number): void {
    this.scroller.scrollTop = top
    this.top = this.scroller.scrollTop
    this.map.wrote(this.top)
  }
}
