import type { LineHeights } from '@vast-meadow/engine'
import type { ColumnWindow } from '../band/band.ts'
import type { Geometry } from '../band/geometry.ts'

/** What the body is drawn from. */
export interface BodyFrame {
  /** Offset of the body's visible top, CSS px; a double. */
  readonly offset: number
  readonly height: number
  readonly heights: LineHeights
  /** No line is lower than this, in CSS px. */
  readonly leastHeight: number
  readonly geometry: Geometry
  readonly columns: ColumnWindow
  readonly shift: number
  readonly rtl: boolean
  readonly pixelRatio: number
  /** The element that has the focus, if any. */
  readonly focused: Element | null
  /** Drawn for a scroll, after which more may follow. */
  readonly moving: boolean
}
