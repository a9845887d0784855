import { runWidth, type LineReader } from '@vast-meadow/engine'
import { columnsInOrder, geometryOf, type Geometry } from '../band/geometry.ts'
import { BodyView } from '../body/body-view.ts'
import type { RowBandHost } from '../body/row-band.ts'
import { Viewport } from '../body/viewport.ts'
import { make, type Disposal } from '../dom.ts'
import { HeaderBand } from '../header/header-band.ts'
import type { Texts } from '../texts.ts'
import type { Measures } from './events.ts'
import { FrameMeter } from './frame-meter.ts'
import type { GridModel } from './grid-model.ts'

const ROW_HEIGHTS = { compact: 26, normal: 31, roomy: 40 } as const
const HEAD_HEIGHT = 33

export interface ScreenHost {
  readonly lines: LineReader
  /** The view was drawn; other parts may show what it shows. */
  drawn(): void
  measured(measures: Measures): void
}

/** Everything that scrolls: header and body in their viewport, drawn from model and lines. */
export class Screen {
  readonly viewport: Viewport
  readonly header: HeaderBand
  readonly body: BodyView
  readonly head: HTMLElement
  private readonly model: GridModel
  private readonly host: ScreenHost
  private readonly meter: FrameMeter
  private laidOut: Geometry | null = null
  private preview: { readonly column: string; readonly width: number } | null = null
  private columnsDrawn = 0
  private frame = 0
  private changeStarted = 0
  private closed = false
  private latest: Measures = { frameMs: 0, scriptMs: 0, elements: 0, lines: 0, columns: 0, changeMs: 0 }

  constructor(
    parent: HTMLElement,
    model: GridModel,
    texts: Texts,
    bandHost: RowBandHost,
    host: ScreenHost,
    disposal: Disposal,
  ) {
    this.model = model
    this.host = host
    this.viewport = new Viewport(
      parent,
      { moved: () => this.scrolled(), resized: () => this.relay(), rested: () => this.rested() },
      disposal,
    )
    const { view } = this.viewport
    view.setAttribute('role', 'grid')
    view.setAttribute('part', 'view')
    view.ariaMultiSelectable = 'true'
    this.head = make('div', 'head', view)
    this.head.setAttribute('role', 'rowgroup')
    this.head.style.blockSize = `${HEAD_HEIGHT}px`
    this.head.style.setProperty('--_row-height', `${HEAD_HEIGHT - 1}px`)
    this.header = new HeaderBand(texts)
    this.header.element.style.blockSize = `${HEAD_HEIGHT}px`
    this.head.append(this.header.element)
    this.body = new BodyView(bandHost)
    this.body.element.style.insetBlockStart = `${HEAD_HEIGHT}px`
    view.append(this.body.element)
    this.meter = new FrameMeter(ms => this.painted(ms))
    disposal.add(() => this.dispose())
  }

  get measures(): Measures {
    return this.latest
  }

  get rowHeight(): number {
    return ROW_HEIGHTS[this.model.definition?.density ?? 'normal']
  }

  get geometry(): Geometry {
    return (this.laidOut ??= this.layOut())
  }

  /** Shown columns from start to end, the column of boxes first. */
  get columns(): readonly string[] {
    return this.model.definition ? columnsInOrder(this.geometry) : []
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
    this.askFrame()
  }

  /** Shows a width while its column's edge is dragged; null: as arranged. */
  previewWidth(column: string, width: number | null): void {
    this.preview = width === null ? null : { column, width }
    this.laidOut = null
    this.draw()
  }

  /** Other lines stand there now. `to`: the line that shall be at the top, and the px of it out of view. */
  linesChanged(to: { readonly line: number; readonly into: number } | null): void {
    this.body.forget()
    if (this.laidOut) this.sizeBody(this.laidOut)
    if (to) this.viewport.scrollToOffset(to.line * this.rowHeight + to.into)
    this.draw()
    this.meter.begin(this.changeStarted || performance.now())
  }

  askFrame(): void {
    if (this.frame !== 0) return
    this.frame = requestAnimationFrame(() => {
      this.frame = 0
      this.draw()
      if (this.changeStarted) this.meter.begin(this.changeStarted)
    })
  }

  /** Scrolls so that a cell is whole in view; line −1 is the header. */
  reveal(line: number, column: string): void {
    const { viewport, rowHeight, geometry } = this
    if (line >= 0) {
      const top = line * rowHeight
      const { offset, bodyHeight } = viewport
      if (top < offset) viewport.scrollToOffset(top)
      else if (top + rowHeight > offset + bodyHeight) viewport.scrollToOffset(top + rowHeight - bodyHeight)
    }
    const at = geometry.middle.keys.indexOf(column)
    if (at < 0) return
    const from = geometry.middle.offsets[at]
    const to = geometry.middle.offsets[at + 1]
    const room = viewport.width - runWidth(geometry.start) - runWidth(geometry.end)
    if (from < viewport.shift) viewport.scrollToShift(from)
    else if (to > viewport.shift + room) viewport.scrollToShift(Math.min(from, to - room))
  }

  /** Scrolls so that a line stands in the middle. */
  centre(line: number): void {
    const { viewport, rowHeight } = this
    viewport.scrollToOffset(line * rowHeight - (viewport.bodyHeight - rowHeight) / 2)
  }

  /** The element of a cell that is drawn now. */
  cellElement(line: number, column: string): HTMLElement | undefined {
    if (line === -1) return this.header.cellOf(column)?.element
    return this.body.bandAt(line)?.focusTarget(column)
  }

  /** The line (−1: header) and column that an element stands for; a group's head has no column. */
  placeOf(element: Element): { line: number; column: string | null } | null {
    if (this.head.contains(element)) {
      for (const cell of this.header.cells()) {
        if (cell.element.contains(element)) return { line: -1, column: cell.column }
      }
      return null
    }
    const band = this.body.bandOf(element)
    if (!band || band.line < 0) return null
    if (band.isGroup) return { line: band.line, column: null }
    for (const cell of band.cells()) {
      if (cell.element.contains(element)) return { line: band.line, column: cell.column }
    }
    return null
  }

  /** Draws at once: in the scroll event the frame is not yet painted, a frame later it would be. */
  private scrolled(): void {
    const started = performance.now()
    this.draw()
    this.latest = { ...this.latest, scriptMs: performance.now() - started }
    this.meter.begin(started)
  }

  private rested(): void {
    const { focused } = this
    this.body.sort(focused)
    this.header.sortCells(focused)
    this.header.releaseKept(focused)
  }

  private draw(): void {
    if (this.closed || !this.model.definition) return
    const { viewport, rowHeight, geometry, focused } = this
    const { lines } = this.host
    const columns = viewport.columnWindow(geometry)
    const { shift, rtl, offset, bodyHeight: height, pixelRatio } = viewport
    const { lineCount } = lines
    this.columnsDrawn = geometry.start.keys.length + geometry.end.keys.length + columns.end - columns.first
    this.header.showColumns(columns, focused)
    this.header.moveMiddle(shift, rtl)
    const endLine = Math.min(lineCount, Math.ceil((offset + height) / rowHeight))
    lines.want(Math.floor(offset / rowHeight), endLine, [
      ...geometry.start.keys.slice(1),
      ...geometry.middle.keys.slice(columns.first, columns.end),
      ...geometry.end.keys,
    ])
    this.body.draw({
      offset,
      height,
      rowHeight,
      lineCount,
      geometry,
      columns,
      shift,
      rtl,
      pixelRatio,
      focused,
    })
    this.host.drawn()
  }

  private layOut(): Geometry {
    const { viewport, preview, model } = this
    const { arrangement } = model
    const widths = preview ? { ...arrangement.widths, [preview.column]: preview.width } : arrangement.widths
    const make = (): Geometry => geometryOf(model.definition!, { ...arrangement, widths }, viewport.width)
    this.body.element.style.setProperty('--_row-height', `${this.rowHeight - 1}px`)
    // New widths may bring or take a scrollbar, and with it room.
    this.sizeBody(make())
    const geometry = make()
    this.header.layOut(geometry, viewport.columnWindow(geometry), this.focused)
    viewport.view.ariaColCount = String(geometry.count)
    return geometry
  }

  private sizeBody(geometry: Geometry): void {
    this.viewport.setBody(this.host.lines.lineCount, this.rowHeight, HEAD_HEIGHT, geometry.width)
  }

  /** The element in the view that has the focus. */
  private get focused(): Element | null {
    const { view } = this.viewport
    const { activeElement } = view.getRootNode() as ShadowRoot
    return activeElement && view.contains(activeElement) ? activeElement : null
  }

  private painted(ms: number): void {
    if (this.closed) return
    const change = this.changeStarted
    this.changeStarted = 0
    this.latest = {
      ...this.latest,
      ...(change ? { changeMs: ms } : { frameMs: ms }),
      elements: (this.head.getRootNode() as ShadowRoot).querySelectorAll('*').length,
      lines: this.body.end - this.body.first,
      columns: this.columnsDrawn,
    }
    this.host.measured(this.latest)
  }

  private dispose(): void {
    this.closed = true
    cancelAnimationFrame(this.frame)
    this.body.dispose()
    this.header.dispose()
    this.meter.dispose()
  }
}
