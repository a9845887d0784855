import type { ColumnPlace, ColumnRun } from '@vast-meadow/engine'
import { runWidth } from '@vast-meadow/engine/client'
import { isOwnColumn, type Geometry } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Screen } from '../../kernel/screen.ts'

/** Px from the edges of the part that moves sideways within which it is moved. */
const EDGE_PX = 40
/** Px a frame, at the very edge. */
const FASTEST_PX = 18
/** A heading is taken a little above and below the headings too. */
const BEYOND_PX = 14
/** Beside them, the bar for scrolling still counts as their edge. */
const BESIDE_PX = 24

interface Point {
  readonly x: number
  readonly y: number
}

/** Where a heading that is let go would land, told by a line through the whole grid; at the edges the columns move on. */
export class ColumnLanding {
  private readonly screen: Screen
  private readonly line: HTMLElement
  private frame = 0
  private at: Point | null = null

  constructor(screen: Screen) {
    this.screen = screen
    this.line = make('div', 'landing', screen.viewport.view)
    this.line.hidden = true
    this.line.ariaHidden = 'true'
  }

  /** Shows where it would land at a place of the window; null: nowhere. */
  show(at: Point | null): ColumnPlace | null {
    this.at = at
    const found = at && this.find(at)
    this.line.hidden = !found
    if (!found) {
      cancelAnimationFrame(this.frame)
      this.frame = 0
      return null
    }
    this.line.style.insetInlineStart = `${found.offset}px`
    if (this.frame === 0 && this.pull(found.inline) !== 0)
      this.frame = requestAnimationFrame(() => this.moveOn())
    return found.place
  }

  /** Shows that nothing lands here. */
  refuse(on: boolean): void {
    this.line.classList.toggle('refused', on)
  }

  private moveOn(): void {
    this.frame = 0
    const { at, screen } = this
    const found = at && this.find(at)
    if (!found) return
    const by = this.pull(found.inline)
    const { shift } = screen.viewport
    if (by !== 0) screen.viewport.scrollToShift(shift + by)
    // At the end of the way nothing moves any more.
    if (screen.viewport.shift !== shift) this.show(at)
  }

  /** Px by which the columns move on in a frame. */
  private pull(inline: number): number {
    const { geometry, viewport } = this.screen
    const from = runWidth(geometry.start)
    const to = viewport.width - runWidth(geometry.end)
    const near = (away: number): number => FASTEST_PX * Math.min(1, 1 - away / EDGE_PX)
    // Over a pinned part a heading is to be pinned.
    const isPinned = ({ keys }: ColumnRun): boolean => keys.some(key => !isOwnColumn(key))
    if (inline < from + EDGE_PX && (inline > from || !isPinned(geometry.start))) return -near(inline - from)
    if (inline > to - EDGE_PX && (inline < to || !isPinned(geometry.end))) return near(to - inline)
    return 0
  }

  private find({ x, y }: Point): { place: ColumnPlace; offset: number; inline: number } | null {
    const { geometry, viewport, header, head } = this.screen
    const { left, right, bottom } = header.element.getBoundingClientRect()
    // What stands over several columns is a heading too.
    const { top } = head.getBoundingClientRect()
    if (y < top - BEYOND_PX || y > bottom + BEYOND_PX || x < left - BESIDE_PX || x > right + BESIDE_PX)
      return null
    // Where the page scales or zooms the grid, px of the screen are not those of columns.
    const scale = (right - left) / header.element.offsetWidth || 1
    const inline = (viewport.rtl ? right - x : x - left) / scale
    return { ...landing(geometry, inline, viewport.width, viewport.shift), inline }
  }
}

/** The place nearest to an inline offset, and where its line is drawn. */
function landing(
  { start, middle, end }: Geometry,
  inline: number,
  width: number,
  shift: number,
): { place: ColumnPlace; offset: number } {
  const startWidth = runWidth(start)
  const endFrom = width - runWidth(end)
  const in_ = (
    part: ColumnPlace['part'],
    run: ColumnRun,
    from: number,
  ): { place: ColumnPlace; offset: number } => {
    const { keys, offsets } = run
    let at = keys.filter(isOwnColumn).length
    while (at < keys.length && (offsets[at] + offsets[at + 1]) / 2 < inline - from) at++
    return { place: { part, before: keys[at] ?? null }, offset: from + offsets[at] }
  }
  if (inline < startWidth) return in_('start', start, 0)
  if (end.keys.length > 0 && inline >= endFrom) return in_('end', end, endFrom)
  const found = in_('middle', middle, startWidth - shift)
  return { ...found, offset: Math.max(startWidth, Math.min(endFrom, found.offset)) }
}
