import { EvenHeights, lineKey, MeasuredHeights, runWidth, keepNewest, sure } from '@vast-meadow/engine/client'
import type { ColumnRun, LineHeights, LineReader, RowId } from '@vast-meadow/engine'
import type { Band, BandCell, ColumnWindow } from '../band/band.ts'
import { columnsInOrder, geometryOf, isOwnColumn, type Geometry } from '../band/geometry.ts'
import { BodyView, linesBetween } from '../body/body-view.ts'
import type { RowBand, RowBandHost } from '../body/row-band.ts'
import { mostStuck } from '../body/stuck-heads.ts'
import { Viewport } from './viewport.ts'
import { HEADER_HEIGHT, ROW_HEIGHTS, STRIP_HEIGHT, TOTALS_HEIGHT, TOUCH_HEIGHT } from '../look/heights.ts'
import { focusedBeside, elementOf, make, type Disposal, hostOf } from './dom.ts'
import { HeaderBand } from '../header/header-band.ts'
import { SharedHeadings, type Seen } from '../header/shared-headings.ts'
import type { Texts } from './texts.ts'
import type { Measures } from './events.ts'
import { FrameMeter, type FrameTimes } from './frame-meter.ts'
import type { GridModel } from './grid-model.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from './page-line.ts'
import type { OpenedLine } from './pager.ts'
import { mediaQuery } from './simulated-dom.ts'

/** Lines that are measured may bring others into view, which are measured too; it ends after so many rounds. */
const MEASURE_ROUNDS = 5
/** Lines whose measured height is remembered; some hundred bytes each. */
const REMEMBERED_LINES = 20_000
/** Height of an open row's detail until it is measured, in CSS px. */
const DETAIL_HEIGHT = 120
/** Elements are counted at most so often. */
const COUNT_EVERY_MS = 250
/** The offset cannot be set more exactly where it is squeezed. */
const EPSILON_PX = 0.5

/** A group's name has at least so many CSS px, or that part of the width. */
const LEAST_NAME = 220
const MOST_NAME = 0.5

/** Where columns begin while nothing is scrolled sideways, in CSS px. */
function placesOf({ start, middle, end }: Geometry, width: number): Map<string, number> {
  const run = ({ keys, offsets }: ColumnRun, from: number): [string, number][] =>
    keys.map((key, i) => [key, from + offsets[i]])
  const middleFrom = runWidth(start)
  return new Map([...run(start, 0), ...run(middle, middleFrom), ...run(end, width - runWidth(end))])
}

/** The column whose value an element of a detail shows; null: none. */
const detailColumnOf = (element: Element): string | null =>
  element.closest<HTMLElement>('[data-detail-column]')?.dataset.detailColumn ?? null

/** A row of cells between titles and body. */
type HeadBand = Band<BandCell>

export interface ScreenHost {
  readonly lines: LineReader
  /** The lines that show details, ascending, and of which rows. */
  readonly details: readonly OpenedLine[]
  /** How high the detail of a row that is drawn wants to be, in CSS px; null: that is not known yet. */
  detailHeightOf(row: RowId): number | null
  /** Columns that are read beside those that are shown: of style rules, and what cells look up. */
  readBeside(): readonly string[]
  /** The height at which nothing has to be scrolled, header included, in CSS px. */
  wants(height: number): void
  /** Columns that come to something in groups and in all rows. */
  summarised(): readonly string[]
  /** There are more or fewer rows above the body. */
  headRowsDiffer(): void
  /** The view was drawn, while it moves or at rest; other parts may show what it shows. */
  drawn(moving: boolean): void
  measured(measures: Measures): void
}

/** Everything that scrolls: header and body in their viewport, drawn from model and lines. */
export class Screen {
  /** What all of it stands in. */
  readonly area: HTMLElement
  readonly viewport: Viewport
  readonly header: HeaderBand
  readonly shared: SharedHeadings
  readonly body: BodyView
  readonly head: HTMLElement
  private readonly model: GridModel
  private readonly host: ScreenHost
  private readonly meter: FrameMeter
  private strip: HeadBand | null = null
  /** The room for lines when they were last drawn, in CSS px. */
  private drawnHeight = 0
  private totals: { readonly bands: readonly HeadBand[]; readonly at: 'head' | 'foot' } = {
    bands: [],
    at: 'foot',
  }
  private pinned: { readonly head: readonly HeadBand[]; readonly foot: readonly HeadBand[] } = {
    head: [],
    foot: [],
  }
  private readonly foot: HTMLElement
  /** Columns whose summaries stand beside the group's name, which covers their place. */
  coveredColumns: readonly string[] = []
  /** Groups' names say other summaries now. */
  private namesDiffer = false
  private laidOut: Geometry | null = null
  private kept: LineHeights | null = null
  /** What lines measured, by what they are: it holds wherever they stand, until columns have other widths. */
  private readonly remembered = new Map<string, number>()
  /** What details measured, by their rows. */
  private readonly detailHeights = new Map<RowId, number>()
  private readonly coarse = mediaQuery('(pointer: coarse)')
  private touched = this.coarse.matches
  private preview: { readonly column: string; readonly width: number } | null = null
  /** Where the last scroll went. */
  private movesUp = false
  private lastOffset = 0
  private columnsDrawn = 0
  private frame = 0
  private changeStarted = 0
  private countedAt = -Infinity
  private closed = false
  private latest: Measures = { frameMs: 0, scriptMs: 0, elements: 0, lines: 0, columns: 0, changeMs: 0 }

  constructor(
    area: HTMLElement,
    model: GridModel,
    texts: Texts,
    bandHost: RowBandHost,
    host: ScreenHost,
    disposal: Disposal,
  ) {
    this.model = model
    this.host = host
    this.area = area
    this.viewport = new Viewport(
      area,
      {
        moved: () => this.scrolled(),
        resized: widthDiffers => this.resized(widthDiffers),
        rested: () => this.rested(),
      },
      disposal,
    )
    const { view } = this.viewport
    view.setAttribute('role', 'grid')
    view.setAttribute('part', 'view')
    view.ariaMultiSelectable = 'true'
    this.head = make('div', 'head', view)
    this.head.setAttribute('role', 'rowgroup')
    const retouch = (): void => {
      this.touched = this.coarse.matches
      this.relay()
    }
    this.coarse.addEventListener('change', retouch)
    disposal.add(() => this.coarse.removeEventListener('change', retouch))
    this.header = new HeaderBand(texts)
    this.head.append(this.header.element)
    this.shared = new SharedHeadings(this.head)
    // A cell that was kept for its focus goes when the focus does, also long after the scroll came to rest; not when
    // only the window loses it.
    disposal.listen(this.head, 'focusout', ({ relatedTarget }) => {
      if (this.head.ownerDocument.hasFocus())
        queueMicrotask(() => this.releaseHeads(elementOf(relatedTarget)))
    })
    this.body = new BodyView(bandHost)
    view.append(this.body.element)
    this.foot = make('div', 'pinned-foot', view)
    this.foot.setAttribute('role', 'rowgroup')
    this.meter = new FrameMeter(times => this.painted(times))
    disposal.add(() => this.dispose())
  }

  get measures(): Measures {
    return this.latest
  }

  /** Height of a row, in CSS px; of rows as high as their content, the least. */
  get rowHeight(): number {
    const { density = 'normal', rowHeight } = this.model.definition ?? {}
    const height = typeof rowHeight === 'number' ? rowHeight : ROW_HEIGHTS[density]
    return this.touched ? Math.max(height, TOUCH_HEIGHT) : height
  }

  /** Height of all that stands above the body: titles, what stands over them, and the asking strip where there is one. */
  get headHeight(): number {
    const { sharedHeight, titleHeight, stripHeight } = this
    return sharedHeight + titleHeight + stripHeight + this.totalsAt('head') + this.pinnedAt('head')
  }

  /** Px that what stands beside the scrollbar takes. */
  besideWidth = 0

  /** Whether fingers must hit what is pressed. */
  get isTouched(): boolean {
    return this.touched
  }

  /** Height of what stands below the body. */
  get footHeight(): number {
    return this.totalsAt('foot') + this.pinnedAt('foot')
  }

  private totalsAt(at: 'head' | 'foot'): number {
    return this.totals.at === at ? this.totals.bands.length * this.totalsHeight : 0
  }

  private pinnedAt(at: 'head' | 'foot'): number {
    return this.pinned[at].length * this.rowHeight
  }

  /** Each summary stands under its name. */
  private get totalsHeight(): number {
    return Math.max(this.rowHeight, TOTALS_HEIGHT)
  }

  private get titleHeight(): number {
    return this.touched ? TOUCH_HEIGHT : HEADER_HEIGHT
  }

  /** Levels of headings over several columns. */
  private headingLevels = 0

  private get sharedHeight(): number {
    return this.headingLevels * this.titleHeight
  }

  private get stripHeight(): number {
    return this.strip ? (this.touched ? TOUCH_HEIGHT : STRIP_HEIGHT) : 0
  }

  /** Puts a band between titles and body, or takes it away. */
  setStrip(strip: HeadBand | null): void {
    if (strip === this.strip) return
    this.strip?.element.remove()
    this.strip = strip
    if (strip) {
      this.head.append(strip.element)
      strip.element.ariaRowIndex = String(this.headingLevels + 2)
    }
    this.relay()
  }

  /** Puts the lines of what columns come to before the first row or behind the last; none: takes them away. */
  setTotals(bands: readonly HeadBand[], at: 'head' | 'foot'): void {
    const { totals } = this
    if (
      bands.length === totals.bands.length &&
      at === totals.at &&
      bands.every((band, nth) => band === totals.bands[nth])
    )
      return
    for (const { element } of totals.bands) element.remove()
    const differ = bands.length !== totals.bands.length || at !== totals.at
    this.totals = { bands, at }
    for (const { element } of bands) (at === 'head' ? this.head : this.viewport.view).append(element)
    if (differ) this.host.headRowsDiffer()
    this.relay()
  }

  /** Puts rows between the head and the body, and between the body and the line of all rows. */
  setPinned(pinned: Screen['pinned']): void {
    for (const at of ['head', 'foot'] as const) {
      for (const band of this.pinned[at]) if (!pinned[at].includes(band)) band.element.remove()
      for (const band of pinned[at]) (at === 'head' ? this.head : this.foot).append(band.element)
    }
    this.pinned = pinned
    this.host.headRowsDiffer()
    this.relay()
  }

  /** Rows below the body, as assistive technology counts them. */
  get footRows(): number {
    return this.pinned.foot.length
  }

  /** Rows above the body, as assistive technology counts them. */
  get headRows(): number {
    const { headingLevels, strip, totals, pinned } = this
    return (
      headingLevels +
      1 +
      (strip ? 1 : 0) +
      (totals.at === 'head' ? totals.bands.length : 0) +
      pinned.head.length
    )
  }

  get byContent(): boolean {
    return this.model.definition?.rowHeight === 'content'
  }

  /** Where the lines lie. */
  get heights(): LineHeights {
    return (this.kept ??= this.expectHeights())
  }

  private expectHeights(): LineHeights {
    const { details, lines } = this.host
    if (!this.byContent && details.length === 0) return new EvenHeights(lines.lineCount, this.rowHeight)
    const heights = new MeasuredHeights(lines.lineCount, this.rowHeight)
    for (const { line, row } of details) heights.expect(line, this.detailHeights.get(row) ?? DETAIL_HEIGHT)
    return heights
  }

  get geometry(): Geometry {
    return (this.laidOut ??= this.layOut())
  }

  /** Columns that are read beside those that are shown. */
  get besideColumns(): readonly string[] {
    return this.host.readBeside()
  }

  /** Shown columns from start to end, the column of boxes first. */
  get columns(): readonly string[] {
    return this.model.definition ? columnsInOrder(this.geometry) : []
  }

  /** The first column that shows a field; empty: none is shown. */
  get firstColumn(): string {
    return this.columns.find(column => !isOwnColumn(column)) ?? ''
  }

  /** How wide a shown column is, in CSS px. */
  widthOf(column: string): number {
    for (const { keys, offsets } of [this.geometry.start, this.geometry.middle, this.geometry.end]) {
      const at = keys.indexOf(column)
      if (at >= 0) return offsets[at + 1] - offsets[at]
    }
    return this.model.widthOf(column)
  }

  get pageLines(): number {
    return Math.floor(this.viewport.bodyHeight / this.rowHeight)
  }

  /** A change begins whose way to the screen is measured. */
  changeBegins(): void {
    this.changeStarted = performance.now()
  }

  /** Columns lie elsewhere, or the room changed: all is laid out anew with the next frame. */
  relay(): void {
    this.laidOut = null
    this.remembered.clear()
    this.forgetHeights()
    this.askFrame()
  }

  /** There is more or less room. Columns mostly keep their widths and lines with them their heights. */
  private resized(widthDiffers: boolean): void {
    const isShared = this.model.definition?.columns.some(({ share }) => share !== undefined) ?? false
    if (widthDiffers && isShared && this.byContent) this.relay()
    if (widthDiffers) this.laidOut = null
    this.askFrame()
  }

  /** Lines may have other heights now; the one at the top stays there. */
  private forgetHeights(): void {
    const { heights: before } = this
    const { offset } = this.viewport
    const line = before.lineAt(offset)
    const into = offset - before.topOf(line)
    this.kept = null
    if (before.count === 0) return
    const by = this.heights.topOf(line) + Math.min(into, this.heights.heightOf(line) - 1) - offset
    if (by !== 0) this.viewport.adjust(this.heights.total, by)
  }

  /** Shows a width while its column's edge is dragged; null: as arranged. */
  previewWidth(column: string, width: number | null): void {
    this.preview = width === null ? null : { column, width }
    this.laidOut = null
    this.draw()
  }

  /** Other lines stand there now. `to`: the line that shall be at the top, and the px of it out of view. */
  linesChanged(to: { readonly line: PageLine; readonly into: number } | null): void {
    this.viewport.read()
    this.body.forget()
    this.kept = null
    this.movesUp = false
    if (this.laidOut && this.sizeBody(this.laidOut)) this.laidOut = null
    if (to) this.viewport.scrollToOffset(this.heights.topOf(to.line) + to.into)
    this.drawNow()
  }

  /** Cells have come. */
  arrived(): void {
    this.body.refresh()
    if (this.byContent || this.model.arrangement.groups.length > 0) this.draw()
    else this.host.drawn(false)
  }

  askFrame(): void {
    if (this.frame !== 0) return
    this.frame = requestAnimationFrame(() => {
      this.viewport.read()
      this.drawNow()
    })
  }

  /** Draws all that was asked for. */
  private drawNow(): void {
    cancelAnimationFrame(this.frame)
    this.frame = 0
    this.keepFocusedInView()
    this.draw()
    this.time()
  }

  /** Where there is less room than before, the line of the keyboard is not lost below it. */
  private keepFocusedInView(): void {
    const { viewport, heights, drawnHeight: before } = this
    const { bodyHeight, offset } = viewport
    this.drawnHeight = bodyHeight
    const place = bodyHeight < before && this.focused ? this.cellAt(this.focused) : null
    if (!place || place.line < 0) return
    const line = asPageLine(place.line)
    const top = heights.topOf(line)
    const isBelowTop = top - this.stuckAbove(line) >= offset - EPSILON_PX
    if (isBelowTop && top + heights.heightOf(line) <= offset + before + EPSILON_PX) this.revealLine(line)
  }

  /** Scrolls so that a cell is whole in view; line −1 is the header. */
  reveal(line: PageLine, column: string): void {
    const { viewport, geometry } = this
    if (line >= 0) this.revealLine(line)
    const at = geometry.middle.keys.indexOf(column)
    if (at < 0) return
    const from = geometry.middle.offsets[at]
    const to = geometry.middle.offsets[at + 1]
    const room = viewport.width - runWidth(geometry.start) - runWidth(geometry.end)
    if (from < viewport.shift) viewport.scrollToShift(from)
    else if (to > viewport.shift + room) viewport.scrollToShift(Math.min(from, to - room))
  }

  /** Lines that come into view on the way may grow and push this one out again. */
  private revealLine(line: PageLine): void {
    const { viewport } = this
    const stuck = this.stuckAbove(line)
    for (let round = 0; round <= MEASURE_ROUNDS; round++) {
      const { heights } = this
      const { offset, bodyHeight } = viewport
      const top = heights.topOf(line)
      const end = top + Math.min(heights.heightOf(line), bodyHeight)
      if (top - stuck < offset - EPSILON_PX) viewport.scrollToOffset(top - stuck)
      else if (end > offset + bodyHeight + EPSILON_PX) viewport.scrollToOffset(end - bodyHeight)
      else return
    }
  }

  /** Scrolls as far as the detail of a row needs to be seen, and its row with it. */
  revealDetail(row: RowId): void {
    const detail = this.host.details.find(one => one.row === row)
    if (!detail) return
    const { viewport, heights } = this
    const { offset, bodyHeight } = viewport
    const top = heights.topOf(detail.line)
    if (top + this.rowHeight <= offset + bodyHeight) return
    const rowTop = heights.topOf(detail.line - 1) - this.stuckAbove(detail.line)
    viewport.scrollToOffset(Math.min(rowTop, top + heights.heightOf(detail.line) - bodyHeight))
  }

  /** Room that the heads of the groups around a line take at the top, in CSS px. */
  private stuckAbove(line: PageLine): number {
    const at = this.host.lines.line(line)
    return Math.min(at?.level ?? 0, mostStuck(this.viewport.bodyHeight, this.rowHeight)) * this.rowHeight
  }

  /** Summaries have come: the heads in view show them. */
  summarised(): void {
    this.body.refresh()
    this.askFrame()
  }

  /** The line that stays where it is when others come or go below it, and how far it stands below the top, in CSS px. */
  heldLine(): { readonly line: PageLine; readonly top: number } {
    const { heights, viewport } = this
    const { offset } = viewport
    let line = heights.lineAt(offset)
    while (
      line + 1 < heights.count &&
      (heights.topOf(line) < offset - EPSILON_PX || this.host.lines.line(line)?.kind === 'detail')
    ) {
      if (heights.topOf(line + 1) >= offset + viewport.bodyHeight) break
      line++
    }
    return { line: asPageLine(line), top: heights.topOf(line) - offset }
  }

  /** Scrolls so that a line stands at the top, under so many heads of groups. */
  scrollTo(line: PageLine, heads: number): void {
    this.viewport.scrollToOffset(this.heights.topOf(line) - heads * this.rowHeight)
  }

  /** Scrolls so that a line stands in the middle. */
  centre(line: PageLine): void {
    const { viewport, heights } = this
    viewport.scrollToOffset(heights.topOf(line) - (viewport.bodyHeight - heights.heightOf(line)) / 2)
  }

  /** The element of a cell that is drawn now. */
  cellElement(line: PageLine, column: string): HTMLElement | undefined {
    if (line === -1) return this.header.cellOf(column)?.element
    return this.body.bandAt(line)?.focusTarget(column)
  }

  /** The line (−1: header) and column that an element stands for; a group's head has no column. */
  cellAt(element: Element): { line: PageLine; column: string | null } | null {
    if (this.head.contains(element)) {
      for (const cell of this.header.cells()) {
        if (cell.element.contains(element)) return { line: ABOVE_LINES, column: cell.column }
      }
      return null
    }
    const stuck = this.body.stuckAt(element)
    if (stuck) return { line: asPageLine(stuck.line), column: null }
    const band = this.body.bandOf(element)
    if (!band || band.line < 0) return null
    if (band.isGroup) return { line: band.line, column: null }
    if (band.detailed !== null) return { line: band.line, column: detailColumnOf(element) }
    for (const cell of band.cells()) {
      if (cell.element.contains(element)) return { line: band.line, column: cell.column }
    }
    return null
  }

  /** Draws at once: in the scroll event the frame is not yet painted, a frame later it would be. */
  private scrolled(): void {
    const started = performance.now()
    const { offset } = this.viewport
    if (offset !== this.lastOffset) this.movesUp = offset < this.lastOffset
    this.lastOffset = offset
    this.draw(true)
    this.latest = { ...this.latest, scriptMs: performance.now() - started }
    this.meter.begin('scroll', started)
  }

  private rested(): void {
    const { focused } = this
    this.body.sort(focused)
    for (const band of this.headBands) {
      band.hideCells()
      band.sortCells(focused)
    }
    this.releaseHeads(focused)
  }

  private releaseHeads(focused: Element | null): void {
    for (const band of this.headBands) band.releaseKept(focused)
  }

  private draw(moving = false): void {
    if (this.closed || !this.model.definition) return
    const { viewport, geometry, focused } = this
    const columns = viewport.columnWindow(geometry)
    this.columnsDrawn = geometry.start.keys.length + geometry.end.keys.length + columns.end - columns.first
    for (const band of this.headBands) {
      band.showColumns(columns, focused, moving)
      band.moveMiddle(viewport.shift, viewport.rtl)
    }
    if (this.headingLevels > 0) this.shared.show(columns, this.seen(geometry), viewport.rtl)
    if (this.namesDiffer) this.body.refresh()
    this.namesDiffer = false
    this.drawBody(columns, moving)
    for (let round = 0; this.measureLines() && round < MEASURE_ROUNDS; round++) this.drawBody(columns, moving)
    this.host.drawn(moving)
  }

  /** What is in view of the columns that are moved sideways. */
  private seen({ start, end }: Geometry): Seen {
    const { shift, width } = this.viewport
    return { from: shift, to: shift + Math.max(0, width - runWidth(start) - runWidth(end)) }
  }

  private get headBands(): readonly (HeaderBand | HeadBand)[] {
    const bands: (HeaderBand | HeadBand)[] = [this.header]
    if (this.strip) bands.push(this.strip)
    bands.push(...this.totals.bands)
    bands.push(...this.pinned.head, ...this.pinned.foot)
    return bands
  }

  private drawBody(columns: ColumnWindow, moving: boolean): void {
    const { viewport, geometry, heights, rowHeight: leastHeight, focused } = this
    const { shift, rtl, offset, bodyHeight: height, pixelRatio } = viewport
    const { first, end } = linesBetween(heights, offset, offset + height)
    this.host.lines.want(first, end, [...this.shownKeys(columns), ...this.host.readBeside()])
    if (heights instanceof MeasuredHeights) this.recallHeights(heights, first, end)
    this.body.draw({
      offset,
      height,
      heights,
      leastHeight,
      geometry,
      columns,
      shift,
      rtl,
      pixelRatio,
      focused,
      moving,
    })
  }

  /** Lines that were measured at another place have their height here too. */
  private recallHeights(heights: MeasuredHeights, first: number, end: number): void {
    let moved = false
    for (let index = first; index < end && this.remembered.size > 0; index++) {
      const line = heights.isMeasured(index) ? undefined : this.host.lines.line(index)
      const height = line && this.remembered.get(lineKey(line))
      if (height !== undefined) moved = heights.measured(index, height) || moved
    }
    if (!moved) return
    this.viewport.adjust(heights.total, 0)
    this.tellWanted()
  }

  private remember(index: number, height: number): void {
    const line = this.host.lines.line(index)
    if (!line) return
    this.remembered.set(lineKey(line), height)
    keepNewest(this.remembered, REMEMBERED_LINES)
  }

  private shownKeys({ first, end }: ColumnWindow): readonly string[] {
    const { start, middle, end: last } = this.geometry
    return [...start.keys.filter(key => !isOwnColumn(key)), ...middle.keys.slice(first, end), ...last.keys]
  }

  /**
   * Reads how high the lines in view want to be. A line grows as far as any of its cells asks while it is in view, and
   * the topmost line that was measured before stays where it stands. Tells whether any line grew.
   */
  private measureLines(): boolean {
    const { heights, viewport } = this
    if (!(heights instanceof MeasuredHeights)) return false
    const bands = [...this.body.shownBands()]
    // All reads before the first write.
    const wanted = bands.map(band => this.wantedHeight(band, heights))
    const { offset } = viewport
    // What is partly above the view grows upwards, so that what is read below it stays where it is.
    const stays = bands.findIndex(
      ({ line, row }, i) =>
        wanted[i] === null ||
        (heights.isMeasured(line) && (row !== null || heights.topOf(line) >= offset - EPSILON_PX)),
    )
    // Moving upwards, what comes into view grows away from what was read already.
    const lastMoved = this.movesUp ? wanted.findLastIndex(height => height !== null) : -1
    const held =
      (bands.at(lastMoved >= 0 ? lastMoved : Math.max(stays, 0))?.line ?? 0) + (lastMoved >= 0 ? 1 : 0)
    const heldTop = heights.topOf(held)
    let moved = false
    bands.forEach(({ line, detailed }, i) => {
      const height = wanted[i]
      if (height === null) return
      if (detailed === null) this.remember(line, height)
      else keepNewest(this.detailHeights.set(detailed, height), REMEMBERED_LINES)
      moved = heights.measured(line, height) || moved
    })
    if (!moved) return false
    viewport.adjust(heights.total, heights.topOf(held) - heldTop)
    this.lastOffset = viewport.offset
    this.tellWanted()
    return true
  }

  /** How high a line is to be from now on; null: as it is. Rows only grow, details follow what they show. */
  private wantedHeight(band: RowBand, heights: MeasuredHeights): number | null {
    const { line, row, detailed } = band
    const height = heights.isMeasured(line) ? heights.heightOf(line) : null
    if (detailed !== null) {
      const wanted = this.host.detailHeightOf(detailed)
      return wanted === null || (height !== null && Math.abs(wanted - height) < EPSILON_PX) ? null : wanted
    }
    if (row === null || !this.byContent) return null
    const wanted = Math.max(this.rowHeight, band.contentHeight() + 1)
    return height !== null && wanted <= height ? null : wanted
  }

  private layOut(): Geometry {
    const { viewport, preview, model } = this
    const { arrangement } = model
    const widths = preview ? { ...arrangement.widths, [preview.column]: preview.width } : arrangement.widths
    const make = (): Geometry =>
      geometryOf(sure(model.definition), { ...arrangement, widths }, viewport.width, this.touched)
    const first = make()
    this.setHeadingLevels(first)
    const { headHeight, titleHeight, sharedHeight, stripHeight, rowHeight } = this
    this.head.style.blockSize = `${headHeight}px`
    this.header.element.style.insetBlockStart = `${sharedHeight}px`
    this.header.element.style.blockSize = `${titleHeight}px`
    this.head.style.setProperty('--_row-height', `${titleHeight - 1}px`)
    if (this.strip) {
      this.strip.element.style.insetBlockStart = `${sharedHeight + titleHeight}px`
      this.strip.element.style.blockSize = `${stripHeight}px`
    }
    this.body.element.style.insetBlockStart = `${headHeight}px`
    this.body.element.style.insetBlockEnd = `${this.footHeight}px`
    this.placePinned()
    this.placeTotals()
    this.body.element.style.setProperty('--_row-height', `${rowHeight - 1}px`)
    this.body.element.classList.toggle('by-content', this.byContent)
    // New widths may bring or take a scrollbar, and with it room.
    const geometry = this.sizeBody(first) ? make() : first
    this.makeRoomForNames(geometry)
    for (const band of this.headBands) band.layOut(geometry, viewport.columnWindow(geometry), this.focused)
    const seen = this.seen(geometry)
    this.shared.layOut(geometry, titleHeight, viewport.columnWindow(geometry), seen, viewport.rtl)
    viewport.view.ariaColCount = String(geometry.count)
    return geometry
  }

  private placeTotals(): void {
    const { totalsHeight, headHeight } = this
    const { bands, at } = this.totals
    const above = headHeight - this.pinnedAt('head') - bands.length * totalsHeight
    for (const [nth, { element }] of bands.entries()) {
      const { style } = element
      style.insetBlockStart = at === 'head' ? `${above + nth * totalsHeight}px` : 'auto'
      style.insetBlockEnd = at === 'head' ? 'auto' : `${(bands.length - 1 - nth) * totalsHeight}px`
      style.blockSize = `${totalsHeight}px`
      style.setProperty('--_row-height', `${totalsHeight - 1}px`)
    }
  }

  private placePinned(): void {
    const { headHeight, rowHeight } = this
    const place = (band: HeadBand, start: number): void => {
      const { style } = band.element
      style.insetBlockStart = `${start}px`
      style.blockSize = `${rowHeight}px`
      style.setProperty('--_row-height', `${rowHeight - 1}px`)
    }
    const from = headHeight - this.pinnedAt('head')
    this.pinned.head.forEach((band, nth) => place(band, from + nth * rowHeight))
    this.pinned.foot.forEach((band, nth) => place(band, nth * rowHeight))
    this.foot.hidden = this.pinned.foot.length === 0
    this.foot.style.insetBlockEnd = `${this.totalsAt('foot')}px`
    this.foot.style.blockSize = `${this.pinnedAt('foot')}px`
  }

  /** Rows of shared headings come and go with the columns that are shown. */
  private setHeadingLevels({ headingLevels }: Geometry): void {
    if (headingLevels === this.headingLevels) return
    this.headingLevels = headingLevels
    this.header.element.ariaRowIndex = String(headingLevels + 1)
    if (this.strip) this.strip.element.ariaRowIndex = String(headingLevels + 2)
    this.host.headRowsDiffer()
  }

  /** A group's name stands before the first summary that leaves it room; those before that stand beside the name. */
  private makeRoomForNames(geometry: Geometry): void {
    const { width } = this.viewport
    const least = Math.min(LEAST_NAME, width * MOST_NAME)
    const places = placesOf(geometry, width)
    const summarised = new Set(this.host.summarised())
    const columns = columnsInOrder(geometry).filter(column => summarised.has(column))
    const after = columns.filter(column => (places.get(column) ?? 0) >= least)
    const room = Math.min(...after.map(column => places.get(column) ?? 0), width)
    const covered = columns.filter(column => (places.get(column) ?? 0) < room)
    if (covered.join('\0') !== this.coveredColumns.join('\0')) this.namesDiffer = true
    this.coveredColumns = covered
    const boxes = geometry.ownWidth
    const { style } = this.viewport.view
    style.setProperty('--_boxes', `${boxes}px`)
    style.setProperty('--_name-room', `${room - boxes}px`)
  }

  private sizeBody(geometry: Geometry): boolean {
    const around = this.headHeight + this.footHeight
    const differs = this.viewport.setBody(this.heights.total, around, geometry.width)
    this.tellWanted()
    return differs
  }

  private tellWanted(): void {
    this.host.wants(this.headHeight + this.footHeight + this.heights.total + this.viewport.scrollbarHeight)
  }

  /** The element in the view that has the focus. */
  private get focused(): Element | null {
    const { view } = this.viewport
    const activeElement = focusedBeside(view)
    return activeElement && view.contains(activeElement) ? activeElement : null
  }

  /** What was drawn is timed: from the change on that led to it, where one did. */
  private time(): void {
    if (this.changeStarted) this.meter.begin('change', this.changeStarted)
    else this.meter.begin('other')
    this.changeStarted = 0
  }

  /** Only frames that move tell what a frame takes. */
  private painted({ scroll, change }: FrameTimes): void {
    if (this.closed) return
    this.latest = {
      ...this.latest,
      frameMs: scroll ?? this.latest.frameMs,
      changeMs: change ?? this.latest.changeMs,
      elements: this.countElements(),
      lines: this.body.end - this.body.first,
      columns: this.columnsDrawn,
    }
    this.host.measured(this.latest)
  }

  /** Elements in the grid, counted anew only where time since has passed: it takes a tenth of a millisecond. */
  private countElements(): number {
    const now = performance.now()
    if (now - this.countedAt < COUNT_EVERY_MS) return this.latest.elements
    this.countedAt = now
    return hostOf(this.head).shadowRoot?.querySelectorAll('*').length ?? 0
  }

  private dispose(): void {
    this.closed = true
    cancelAnimationFrame(this.frame)
    this.body.dispose()
    this.header.dispose()
    this.strip?.dispose()
    for (const band of this.totals.bands) band.dispose()
    for (const band of [...this.pinned.head, ...this.pinned.foot]) band.dispose()
    this.meter.dispose()
  }
}
