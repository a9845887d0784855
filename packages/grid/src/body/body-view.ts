import type { HeadLine, LineHeights } from '@vast-meadow/engine'
import { make } from '../kernel/dom.ts'
import { putInOrder } from '../band/band.ts'
import type { Geometry } from '../band/geometry.ts'
import type { BodyFrame } from './body-frame.ts'
import { RowBand, type RowBandHost } from './row-band.ts'
import { StuckHeads } from './stuck-heads.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../kernel/page-line.ts'

/** Bands are placed relative to a base; it follows once they would stand further than this from it, in CSS px. */
const REBASE_PX = 100_000

/**
 * The bands of the lines in view. Band `line mod n` shows a line, so that a step of three lines rewrites three bands.
 * The band that has the focus is not given to another line: it is kept aside until it is wanted again or loses it.
 */
export class BodyView {
  readonly element: HTMLElement
  private readonly block: HTMLElement
  private readonly stuck: StuckHeads
  private readonly host: RowBandHost
  private bands: RowBand[] = []
  private kept: RowBand | null = null
  /** Bands are placed from this offset of the body. */
  private base = 0
  private firstLine = 0
  private endLine = 0
  private laidOut: Geometry | null = null
  private blockOffset = NaN

  constructor(host: RowBandHost) {
    this.host = host
    this.element = make('div', 'body')
    this.element.setAttribute('role', 'rowgroup')
    this.block = make('div', 'block', this.element)
    this.block.setAttribute('role', 'presentation')
    this.stuck = new StuckHeads(this.element, host)
  }

  get first(): number {
    return this.firstLine
  }

  /** Past the last line in view. */
  get end(): number {
    return this.endLine
  }

  /** All shown content is out of date: lines stand elsewhere now. */
  forget(): void {
    this.stuck.forget()
    for (const band of this.allBands()) band.line = ABOVE_LINES
  }

  /** Reads the lines in view again, after cells have arrived. */
  refresh(): void {
    this.stuck.forget()
    for (const band of this.allBands()) if (band.line >= 0) band.refresh()
  }

  /** The head at the top that an element shows, of a group whose rows are in view; undefined: none. */
  stuckAt(element: Element): HeadLine | undefined {
    return this.stuck.headAt(element)
  }

  refreshRanges(): void {
    for (const band of this.allBands()) if (band.line >= 0) band.refreshRanges()
  }

  refreshSelected(): void {
    this.stuck.refreshSelected()
    for (const band of this.allBands()) if (band.line >= 0) band.refreshSelected()
  }

  draw(frame: BodyFrame): void {
    const { offset, height, heights } = frame
    const { first, end } = linesBetween(heights, offset, offset + height)
    this.firstLine = first
    this.endLine = end
    this.size(Math.floor(height / frame.leastHeight) + 2, frame.focused)
    if (this.laidOut !== frame.geometry) this.layOut(frame)
    const top = heights.topOf(first)
    if (Math.abs(top - this.base) > REBASE_PX) this.base = top
    for (let line = first; line < end; line++) this.drawLine(asPageLine(line), frame)
    this.hideBands(frame)
    this.moveKept(frame)
    const blockOffset = Math.round((this.base - offset) * frame.pixelRatio) / frame.pixelRatio
    if (blockOffset !== this.blockOffset) {
      this.blockOffset = blockOffset
      this.block.style.transform = `translateY(${blockOffset}px)`
    }
    this.stuck.draw(frame)
  }

  /**
   * Hides the bands whose line is not in view. To hide and show one costs the layout of all its cells, so while moving
   * a band stays that lies just out of view: the next step wants it.
   */
  private hideBands({ heights, moving }: BodyFrame): void {
    for (const band of this.bands) {
      const outside = band.line < this.firstLine || band.line >= this.endLine
      const waits = outside && moving && band.line >= 0 && band.line < heights.count
      if (waits) band.moveTo(heights.topOf(band.line) - this.base)
      const hidden = outside && !waits
      if (band.element.hidden !== hidden) band.element.hidden = hidden
    }
  }

  /** The bands that show lines now. */
  *shownBands(): Iterable<RowBand> {
    for (let line = this.firstLine; line < this.endLine; line++) yield this.bands[line % this.bands.length]
  }

  bandAt(line: PageLine): RowBand | undefined {
    for (const band of this.allBands()) if (band.line === line && !band.element.hidden) return band
    return undefined
  }

  bandOf(element: Element): RowBand | undefined {
    for (const band of this.allBands()) if (band.element.contains(element)) return band
    return undefined
  }

  /** At rest: the document's order becomes the visual one. */
  sort(focused: Element | null): void {
    const wanted: Element[] = []
    for (const band of this.bands)
      if (!band.element.hidden && (band.line < this.firstLine || band.line >= this.endLine))
        band.element.hidden = true
    for (let line = this.firstLine; line < this.endLine; line++) {
      const band = this.bands[line % this.bands.length]
      wanted.push(band.element)
      band.hideCells()
      band.sortCells(focused)
      band.releaseKept(focused)
    }
    const fixed = this.bands.find(band => band.element.contains(focused))?.element ?? null
    putInOrder(this.block, wanted, focused && fixed)
    if (this.kept && !(focused && this.kept.element.contains(focused))) {
      this.kept.dispose()
      this.kept = null
    }
  }

  dispose(): void {
    for (const band of this.allBands()) band.dispose()
    this.stuck.dispose()
    this.bands = []
    this.kept = null
    this.element.remove()
  }

  private *allBands(): Iterable<RowBand> {
    yield* this.bands
    if (this.kept) yield this.kept
  }

  /** So many bands; the one that has the focus stays, for there is no cell to give it to. */
  private size(count: number, focused: Element | null): void {
    if (this.bands.length === count) return
    for (const band of this.bands.splice(0)) {
      if (!focused || band.line < 0 || !band.element.contains(focused)) band.dispose()
      else {
        this.kept?.dispose()
        this.kept = band
      }
    }
    for (let i = 0; i < count; i++) this.bands.push(this.makeBand())
    this.laidOut = null
  }

  private makeBand(): RowBand {
    const band = new RowBand(this.host)
    this.block.append(band.element)
    return band
  }

  private layOut(frame: BodyFrame): void {
    this.laidOut = frame.geometry
    for (const band of this.allBands()) {
      band.layOut(frame.geometry, frame.columns, frame.focused)
    }
  }

  private drawLine(line: PageLine, frame: BodyFrame): void {
    const slot = line % this.bands.length
    if (this.kept?.line === line) {
      this.bands[slot].dispose()
      this.bands[slot] = this.kept
      this.kept = null
    } else if (this.mustKeep(this.bands[slot], line, frame.focused)) {
      this.kept = this.bands[slot]
      this.bands[slot] = this.makeBand()
      this.bands[slot].layOut(frame.geometry, frame.columns, frame.focused)
    }
    const band = this.bands[slot]
    band.moveTo(frame.heights.topOf(line) - this.base)
    band.resize(frame.heights.heightOf(line))
    band.moveMiddle(frame.shift, frame.rtl)
    // A new line fills all cells; else only those whose column came into view.
    if (band.line !== line) {
      band.line = ABOVE_LINES
      band.showColumns(frame.columns, frame.focused, frame.moving)
      band.show(line)
    } else band.showColumns(frame.columns, frame.focused, frame.moving)
  }

  /** The kept band waits just outside the view, on its own side. */
  private moveKept(frame: BodyFrame): void {
    if (!this.kept) return
    const above = this.kept.line < this.firstLine
    const edge = above
      ? frame.offset - 3 * frame.leastHeight
      : frame.offset + frame.height + 3 * frame.leastHeight
    this.kept.moveTo(edge - this.base)
    this.kept.resize(frame.leastHeight)
  }

  private mustKeep(band: RowBand, line: PageLine, focused: Element | null): boolean {
    return focused !== null && band.line !== line && band.line >= 0 && band.element.contains(focused)
  }
}

/** The lines that any part of lies between two offsets. */
export function linesBetween(heights: LineHeights, from: number, to: number): { first: number; end: number } {
  if (heights.count === 0) return { first: 0, end: 0 }
  const first = heights.lineAt(from)
  const last = heights.lineAt(to)
  // A line that only touches the lower edge is not in view.
  return { first, end: heights.topOf(last) < to ? last + 1 : Math.max(first + 1, last) }
}
