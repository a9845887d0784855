import { hasLayout } from '../../kernel/simulated-dom.ts'
import type { LengthMap } from '@vast-meadow/engine'

/** What a map is drawn in, as the page resolves it now. */
export interface MapColours {
  readonly border: string
  readonly selected: string
  readonly changed: string
  readonly found: string
  readonly course: string
  /** By style rule. */
  readonly marks: readonly string[]
}

/** A mark is never lower than this, in CSS px. */
const LEAST_TICK = 2
/** Group borders that lie closer than this on average tell nothing any more. */
const LEAST_BETWEEN = 3
/** What lies in so many of the steps lies everywhere. */
const EVERYWHERE = 0.4
/** So many times the mean is more than elsewhere. */
const MORE_THAN_ELSEWHERE = 1.4
const NEIGHBOURS = 4
/** Free px at both sides. */
const MARGIN = 2

/** Draws a map into a canvas of `width` × `height` CSS px; inline start is left unless `rtl`. */
export function drawMap(
  canvas: HTMLCanvasElement,
  map: LengthMap | null,
  colours: MapColours,
  { width, height, ratio, rtl }: { width: number; height: number; ratio: number; rtl: boolean },
): void {
  if (!hasLayout(canvas.ownerDocument)) return
  canvas.width = Math.round(width * ratio)
  canvas.height = Math.round(height * ratio)
  const context = canvas.getContext('2d')
  if (!context || !map || map.steps === 0) return
  context.setTransform(rtl ? -ratio : ratio, 0, 0, ratio, rtl ? width * ratio : 0, 0)
  const step = height / map.steps
  const inner = width - 2 * MARGIN
  const ticks = (shares: Uint8Array, colour: string, from: number, to: number): void => {
    context.fillStyle = colour
    // Few are seen wherever they are; of what lies everywhere, where most of it is.
    const steps = shares.reduce((count, share) => count + (share > 0 ? 1 : 0), 0)
    const least = steps > shares.length * EVERYWHERE ? 0.1 : 0.5
    shares.forEach((share, i) => {
      if (share === 0) return
      context.globalAlpha = least + ((1 - least) * share) / 255
      const x = MARGIN + from * inner
      context.fillRect(x, i * step, (to - from) * inner, Math.max(LEAST_TICK, step))
    })
    context.globalAlpha = 1
  }
  drawMatches(context, map, colours.found, step, width)
  drawBorders(context, map, colours.border, step, width)
  drawCourse(context, map, colours.course, step, inner)
  map.marked.forEach((shares, rule) => ticks(shares, colours.marks[rule] ?? colours.border, 0.5, 1))
  ticks(map.changed, colours.changed, 0.25, 0.75)
  ticks(map.selected, colours.selected, 0, 0.5)
}

/** Where more of what is searched stands than elsewhere; what is found everywhere alike is not told. */
function drawMatches(
  context: CanvasRenderingContext2D,
  { matches }: LengthMap,
  colour: string,
  step: number,
  width: number,
): void {
  if (!matches) return
  const smooth = smoothed(matches)
  const mean = smooth.reduce((sum, share) => sum + share, 0) / smooth.length
  const most = smooth.reduce((greatest, share) => Math.max(greatest, share), 0)
  const from = mean * MORE_THAN_ELSEWHERE
  if (most <= from) return
  context.fillStyle = colour
  smooth.forEach((share, i) => {
    if (share <= from) return
    context.globalAlpha = 0.3 + (0.7 * (share - from)) / (most - from)
    context.fillRect(0, i * step, width, Math.max(1, step))
  })
  context.globalAlpha = 1
}

/** Few rows of each step are looked at: what its neighbours found tells as much of it. */
function smoothed(shares: Uint8Array): number[] {
  return Array.from(shares, (_, i) => {
    const near = shares.subarray(Math.max(0, i - NEIGHBOURS), i + NEIGHBOURS + 1)
    return near.reduce((sum, share) => sum + share, 0) / near.length
  })
}

/** The outermost level that still can be told apart, and those above it, the deeper the shorter. */
function drawBorders(
  context: CanvasRenderingContext2D,
  { groups, steps }: LengthMap,
  colour: string,
  step: number,
  width: number,
): void {
  context.fillStyle = colour
  for (let level = 1; ; level++) {
    const heads = groups.reduce((count, at) => count + (at > 0 && at <= level ? 1 : 0), 0)
    const there = groups.some(at => at === level)
    if (!there || heads * LEAST_BETWEEN > steps * Math.max(1, step)) return
    groups.forEach((at, i) => {
      if (at === level) context.fillRect(0, i * step, width / level, 1)
    })
  }
}

/** The course of what rows are ordered by, as a line from the least at the start to the greatest at the end. */
function drawCourse(
  context: CanvasRenderingContext2D,
  { course }: LengthMap,
  colour: string,
  step: number,
  inner: number,
): void {
  if (!course) return
  context.strokeStyle = colour
  context.lineWidth = 1.2
  context.beginPath()
  let drawing = false
  course.forEach((value, i) => {
    const isThere = !Number.isNaN(value)
    const [x, y] = [MARGIN + value * inner, (i + 0.5) * step]
    if (isThere && drawing) context.lineTo(x, y)
    else if (isThere) context.moveTo(x, y)
    drawing = isThere
  })
  context.stroke()
}
