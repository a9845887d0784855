import { runWidth } from '@vast-meadow/engine/client'
import type { ColumnRun } from '@vast-meadow/engine'
import type { Geometry } from '../band/geometry.ts'
import type { Place } from './feature.ts'
import { asPageLine } from './page-line.ts'
import type { Screen } from './screen.ts'

/** A cell in view, and how far a pointer is beyond the cells, in CSS px: before them less than 0. */
export interface NearestCell extends Place {
  readonly beyondLines: number
  readonly beyondColumns: number
}

/** A place of the window. */
export interface Point {
  readonly x: number
  readonly y: number
}

/** The cell in view that is nearest to a place of the window; null: there is none. */
export function nearestCell(screen: Screen, { x, y }: Point): NearestCell | null {
  const { viewport, geometry, heights, body } = screen
  if (heights.count === 0 || geometry.count === 0) return null
  const { left, right, top, bottom } = body.element.getBoundingClientRect()
  // Where the page scales or zooms the grid, px of the screen are not those of cells.
  const scale = (right - left) / body.element.offsetWidth || 1
  const beyond = (at: number, from: number, to: number): number =>
    (at < from ? at - from : at > to ? at - to : 0) / scale
  const within = (at: number, room: number): number => Math.max(0, Math.min(at, room - 1))
  const down = within((y - top) / scale, (bottom - top) / scale)
  const along = within((viewport.rtl ? right - x : x - left) / scale, viewport.width)
  const line = heights.lineAt(Math.min(viewport.offset + down, heights.total - 1))
  return {
    line: asPageLine(Math.max(0, Math.min(line, heights.count - 1))),
    column: columnAt(geometry, along, viewport.width, viewport.shift),
    beyondLines: beyond(y, top, bottom),
    beyondColumns: beyond(x, left, right) * (viewport.rtl ? -1 : 1),
  }
}

/** The column that lies at an inline offset of the view; behind the last of a part the last one. */
function columnAt({ start, middle, end }: Geometry, along: number, width: number, shift: number): string {
  const inRun = ({ keys, offsets }: ColumnRun, offset: number): string => {
    let at = 0
    while (at < keys.length - 1 && offsets[at + 1] <= offset) at++
    return keys[at]
  }
  const [none, others] = [middle.keys.length === 0, end.keys.length === 0]
  if (start.keys.length > 0 && (along < runWidth(start) || (none && others))) return inRun(start, along)
  const to = width - runWidth(end)
  if (!others && (along >= to || none)) return inRun(end, along - to)
  return inRun(middle, along - runWidth(start) + shift)
}
