import type { HeadLine, LineReader } from '@vast-meadow/engine'
import { make } from '../kernel/dom.ts'
import type { BodyFrame } from './body-frame.ts'
import { RowBand, type RowBandHost } from './row-band.ts'

/** Heads leave at least this share of the body to the rows. */
const MOST_OF_BODY = 0.4

interface Stuck {
  readonly head: HeadLine
  readonly top: number
  readonly height: number
}

/**
 * The heads of the groups that the rows in view are in: they stay at the top, one level under the other, until their group ends. Copies of
 * lines that stand further up, so assistive technology is not told of them.
 */
export class StuckHeads {
  private readonly element: HTMLElement
  private readonly host: RowBandHost
  private bands: RowBand[] = []
  private laidOut: BodyFrame['geometry'] | null = null
  private shown: readonly Stuck[] = []

  constructor(parent: HTMLElement, host: RowBandHost) {
    this.host = host
    this.element = make('div', 'stuck', parent)
    this.element.ariaHidden = 'true'
  }

  /** What is shown is out of date. */
  forget(): void {
    this.shown = []
  }

  draw(frame: BodyFrame): void {
    const stack = stackOf(this.host.lines, frame)
    // Lines that are not here yet: what stands there stays until they are.
    if (!stack) return
    if (stack.length === 0 && this.bands.length === 0) return
    while (this.bands.length < stack.length) this.addBand(frame)
    if (this.laidOut !== frame.geometry) {
      this.laidOut = frame.geometry
      for (const band of this.bands) band.layOut(frame.geometry, frame.columns, null)
      this.shown = []
    }
    for (const [level, band] of this.bands.entries()) {
      const stuck = stack.at(level)
      if (band.element.hidden !== level >= stack.length) band.element.hidden = level >= stack.length
      if (!stuck || level >= stack.length) continue
      band.moveTo(snapped(stuck.top, frame.pixelRatio))
      band.resize(stuck.height)
      band.moveMiddle(frame.shift, frame.rtl)
      band.showColumns(frame.columns, null, frame.moving)
      if (!isSame(this.shown.at(level)?.head, stuck.head) || this.shown.length <= level)
        band.showStuck(stuck.head)
    }
    this.shown = stack
  }

  /** The head that an element shows here; undefined: none. */
  headAt(element: Element): HeadLine | undefined {
    const level = this.bands.findIndex(band => band.element.contains(element))
    return level < 0 ? undefined : this.shown[level]?.head
  }

  refreshSelected(): void {
    for (const band of this.bands) if (!band.element.hidden) band.refreshSelected()
  }

  dispose(): void {
    for (const band of this.bands) band.dispose()
    this.bands = []
  }

  private addBand(frame: BodyFrame): void {
    const band = new RowBand(this.host)
    band.element.style.zIndex = String(20 - this.bands.length)
    band.layOut(frame.geometry, frame.columns, null)
    this.bands.push(band)
    this.element.append(band.element)
  }
}

const snapped = (px: number, ratio: number): number => Math.round(px * ratio) / ratio

const isSame = (a: HeadLine | undefined, b: HeadLine): boolean =>
  a !== undefined && a.level === b.level && a.group === b.group && a.count === b.count && a.open === b.open

/** So many levels of heads stay in view. */
export const mostStuck = (bodyHeight: number, rowHeight: number): number =>
  Math.floor((bodyHeight * MOST_OF_BODY) / rowHeight)

/** Which heads stay at the top, and where; null: that is not known yet. */
function stackOf(lines: LineReader, { offset, height, heights, leastHeight }: BodyFrame): Stuck[] | null {
  const stack: Stuck[] = []
  if (heights.count === 0) return stack
  const most = mostStuck(height, leastHeight)
  let top = 0
  for (let level = 0; level < most; level++) {
    if (!lines.groupsAt) break
    const groups = lines.groupsAt(heights.lineAt(offset + top))
    if (!groups) return null
    const head = groups.at(level)
    if (!head) break
    // On the page before, or above what is in view.
    const own = head.line < 0 ? -Infinity : heights.topOf(head.line) - offset
    if (own >= top) break
    const end = (head.end >= heights.count ? heights.total : heights.topOf(head.end)) - offset
    const size = head.line < 0 ? leastHeight : heights.heightOf(head.line)
    stack.push({ head, top: Math.min(top, end - size), height: size })
    top += size
  }
  return stack
}
