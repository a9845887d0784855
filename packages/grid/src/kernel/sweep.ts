import type { Disposal } from './dom.ts'
import type { Place } from './feature.ts'
import { nearestCell, type Point } from './nearest-cell.ts'
import type { Screen } from './screen.ts'

/** A pointer that moved less than so many px since it went down has not moved. */
const STILL_PX = 4
/** Of how far the pointer is beyond the cells, they move on by this part a frame. */
const PULL = 0.35
/** Every so many milliseconds at the edge it goes twice as fast: a million rows are not crossed at one speed. */
const DOUBLES_MS = 900
const FASTEST_PX = 4000

export interface SweepHost {
  /** The pointer is over another cell, or over the first for the first time; false: that is nothing to it yet. */
  over(at: Place): boolean
  /** It was let go, or, with `keep` false, given up. Not told where it came to nothing: then a click may follow. */
  end(keep: boolean): void
}

/**
 * A pointer that went down on a cell and moves over others while it is held; beyond the cells they move on, the faster
 * the longer. Escape gives it up. One at a time.
 */
export class Sweep {
  private readonly screen: Screen
  private pressed: { readonly host: SweepHost; readonly from: Point; readonly pointer: number } | null = null
  private at: Point = { x: 0, y: 0 }
  private last: Place | null = null
  private moves = false
  private acts = false
  /** A finger that has not taken hold yet: it scrolls where it moves. */
  private waits = false
  private frame = 0
  private edgeSince = 0

  constructor(screen: Screen, disposal: Disposal) {
    this.screen = screen
    const window = screen.area.ownerDocument.defaultView
    const listen = <Name extends keyof WindowEventMap>(
      name: Name,
      heard: (event: WindowEventMap[Name]) => void,
    ): void => {
      window?.addEventListener(name, heard, { capture: true })
      disposal.add(() => window?.removeEventListener(name, heard, { capture: true }))
    }
    listen('pointermove', event => this.move(event))
    listen('pointerup', event => this.stop(event, true))
    listen('pointercancel', event => this.stop(event, false))
    listen('keydown', event => {
      if (event.key !== 'Escape' || !this.acts) return
      event.preventDefault()
      event.stopPropagation()
      this.finish(false)
    })
    // The click that follows a sweep means nothing.
    listen('click', event => {
      if (!this.justEnded) return
      this.justEnded = false
      event.preventDefault()
      event.stopPropagation()
    })
    disposal.add(() => cancelAnimationFrame(this.frame))
  }

  private justEnded = false

  /** A pointer went down on a cell. A finger scrolls, unless it stays until `hold`. */
  begin(
    { clientX: x, clientY: y, pointerId: pointer, pointerType, button }: PointerEvent,
    host: SweepHost,
  ): void {
    if (button !== 0) return
    this.waits = pointerType === 'touch'
    this.pressed = { host, from: { x, y }, pointer }
    this.at = { x, y }
    this.last = null
    this.moves = this.acts = false
    this.justEnded = false
  }

  /** The finger that is down has taken hold: where it moves now, it sweeps. */
  hold(): void {
    this.waits = false
  }

  private move(event: PointerEvent): void {
    const { pressed } = this
    if (!pressed || event.pointerId !== pressed.pointer || this.waits) return
    this.at = { x: event.clientX, y: event.clientY }
    if (!this.moves && Math.hypot(this.at.x - pressed.from.x, this.at.y - pressed.from.y) < STILL_PX) return
    this.moves = true
    event.preventDefault()
    this.look()
  }

  private look(): void {
    const { pressed, screen } = this
    const near = pressed && nearestCell(screen, this.at)
    if (!near) return
    const { line, column, beyondLines, beyondColumns } = near
    if (line !== this.last?.line || column !== this.last.column) {
      this.last = { line, column }
      this.acts = pressed.host.over(this.last) || this.acts
    }
    if (beyondLines === 0 && beyondColumns === 0) this.edgeSince = 0
    else this.frame ||= requestAnimationFrame(now => this.moveOn(now, beyondLines, beyondColumns))
  }

  private moveOn(now: number, beyondLines: number, beyondColumns: number): void {
    this.frame = 0
    if (!this.pressed) return
    this.edgeSince ||= now
    const faster = 2 ** ((now - this.edgeSince) / DOUBLES_MS)
    const { viewport } = this.screen
    const { offset, shift } = viewport
    const by = Math.sign(beyondLines) * Math.min(FASTEST_PX, Math.abs(beyondLines) * PULL * faster + 1)
    if (beyondLines !== 0) viewport.scrollToOffset(offset + by)
    if (beyondColumns !== 0) viewport.scrollToShift(shift + beyondColumns * PULL)
    this.look()
  }

  private stop(event: PointerEvent, keep: boolean): void {
    if (event.pointerId === this.pressed?.pointer) this.finish(keep)
  }

  private finish(keep: boolean): void {
    const { pressed, acts } = this
    this.pressed = null
    this.moves = this.acts = false
    this.edgeSince = 0
    cancelAnimationFrame(this.frame)
    this.frame = 0
    if (!pressed || !acts) return
    this.justEnded = true
    setTimeout(() => (this.justEnded = false), 0)
    pressed.host.end(keep)
  }
}
