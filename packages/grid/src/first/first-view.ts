import { columnsBetween, runWidth } from '@vast-meadow/engine/first'
import type { CellDefinition, ColumnRun, Look, RowId } from '@vast-meadow/engine'
import { geometryOf, isOwnColumn, SELECT_COLUMN, type Geometry } from '../band/geometry.ts'
import { cellPainter, type CellHost } from '../cell/cell-painters.ts'
import { mapWidth } from '../features/travel/map-width.ts'
import { SharedHeadings } from '../header/shared-headings.ts'
import { characterWidth } from '../kernel/character-width.ts'
import { make } from '../kernel/dom.ts'
import type { ArrangementStorage, MeadowOptions } from '../kernel/options.ts'
import { mediaQuery } from '../kernel/simulated-dom.ts'
import { lookProperties } from '../look/definition-sheet.ts'
import { HEADER_HEIGHT, ROW_HEIGHTS, STRIP_HEIGHT, TOUCH_HEIGHT } from '../look/heights.ts'
import { areaStyles, cellStyles, frameStyles, headStyles, rowStyles } from '../look/plain-styles.ts'
import { sharedSheet } from '../look/sheets.ts'
import { firstRowsOf, type FirstRows } from './first-rows.ts'

const styles = [frameStyles, rowStyles, cellStyles, headStyles, areaStyles].join('\n')
/** It lies over the grid until that has drawn its own rows. */
const OVER = { position: 'absolute', inset: '0', zIndex: '3' }
/** As a definition may have it, CSS px. */
const LEAST_ROW_HEIGHT = 20
/** No element is higher. */
const MOST_HEIGHT = 4_000_000

/** What cells ask of a grid, where there is none yet. */
const NO_GRID: CellHost = { actionState: () => null, extent: () => null, noPicture: () => '' }

/** The first rows of a grid that is still to come, where it will draw them; the frame alone, as long as they are not known. */
export class FirstView {
  private readonly host: HTMLElement
  private readonly root: ShadowRoot
  private readonly frame: HTMLElement
  private readonly search: HTMLElement
  private readonly area: HTMLElement
  private look: Look | null = null
  private scroller: HTMLElement | null = null
  private isOver = false
  private isRemoved = false

  constructor(host: HTMLElement, options: MeadowOptions) {
    this.host = host
    this.root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    this.root.adoptedStyleSheets = [sharedSheet(host.ownerDocument, styles)]
    this.frame = make('div', 'meadow')
    this.root.replaceChildren(this.frame)
    // Nothing can be done with it, and it is read out when it is whole.
    this.frame.inert = true
    this.frame.ariaHidden = 'true'
    host.ariaBusy = 'true'
    this.search = make('input', 'search', make('div', 'bar', this.frame))
    this.area = make('div', 'middle-area', this.frame)
    make('span', 'count', make('div', 'foot', this.frame))
    const { storage, unsaved, ...bare } = options
    if (!storage && !unsaved) this.draw(bare)
    else void this.drawWhereNothingIsKept(bare, [storage, unsaved])
  }

  /** What a reader kept may decide on the rows: then they are for the grid to show. */
  private async drawWhereNothingIsKept(
    options: MeadowOptions,
    kept: readonly (Pick<ArrangementStorage, 'load'> | undefined)[],
  ): Promise<void> {
    const loaded = await Promise.all(kept.map(async store => await store?.load())).catch(() => [{}])
    if (!this.isOver && loaded.every(one => one === null || one === undefined)) this.draw(options)
  }

  private draw(options: MeadowOptions): void {
    const { host, frame, area } = this
    // Of an element that nothing is seen of, and where pages are only simulated, there is nothing to draw.
    const { clientWidth: width, clientHeight: height } = area
    const most = Math.ceil(height / LEAST_ROW_HEIGHT) + 1
    const rows = width > 0 ? known(() => firstRowsOf(options, most, () => characterWidth(frame))) : null
    if (!rows) return
    const { look, searchable, fit } = rows.definition
    this.look = look
    known(() => dress(frame, look))
    this.search.hidden = !searchable
    frame.classList.toggle('striped', look.stripes)
    frame.dataset.rules = look.rules
    if (fit.kind === 'fixed') frame.style.blockSize = `${fit.height}px`
    host.toggleAttribute('data-own-height', fit.kind !== 'fill')
    this.scroller = known(() => drawScroller(area, rows))
    if (!this.scroller) area.replaceChildren()
  }

  /** The grid stands in the same element now, and draws its rows under what is shown here. */
  handOver(): void {
    const { frame, look, root, scroller } = this
    this.isOver = true
    const under = root.querySelector('.middle-area')
    if (scroller && look && under) {
      Object.assign(scroller.style, OVER)
      scroller.inert = true
      scroller.ariaHidden = 'true'
      dress(scroller, look)
      under.append(scroller)
    }
    frame.remove()
  }

  readonly remove = (): void => {
    // Another one may stand in its place by now.
    if (this.isRemoved) return
    this.isOver = this.isRemoved = true
    this.frame.remove()
    this.scroller?.remove()
    this.host.ariaBusy = null
  }
}

/** The grid has a sheet that says it. Unchecked as it is here, a look may name values and no more. */
function dress({ style }: HTMLElement, look: Look): void {
  for (const [name, value] of lookProperties(look)) style.setProperty(name, value)
  style.fontSize = 'var(--_font-size)'
}

/** Nothing is checked yet: what is wrong with a definition or with rows is told by the grid itself. */
function known<T>(tell: () => T): T | null {
  try {
    return tell()
  } catch {
    return null
  }
}

function drawScroller(area: HTMLElement, rows: FirstRows): HTMLElement {
  const { definition, arrangement, total } = rows
  const touched = mediaQuery('(pointer: coarse)').matches
  const { density, rowHeight: given } = definition
  const least = typeof given === 'number' ? given : ROW_HEIGHTS[density]
  const rowHeight = touched ? Math.max(least, TOUCH_HEIGHT) : least
  const titleHeight = touched ? TOUCH_HEIGHT : HEADER_HEIGHT
  const layOut = (width: number): Geometry => geometryOf(definition, arrangement, width, touched)

  const scroller = make('div', 'scroller', area)
  const track = make('div', '', scroller)
  const view = make('div', 'view', track)
  const { headingLevels } = layOut(scroller.clientWidth)
  const sharedHeight = headingLevels * titleHeight
  const stripHeight = definition.strip ? (touched ? TOUCH_HEIGHT : STRIP_HEIGHT) : 0
  const headHeight = sharedHeight + titleHeight + stripHeight
  const beside = definition.map
    ? mapWidth(total * rowHeight, Math.max(0, scroller.clientHeight - headHeight), touched)
    : 0
  scroller.style.marginInlineEnd = `${beside}px`
  track.style.blockSize = `${Math.min(MOST_HEIGHT, headHeight + rows.onPage * rowHeight)}px`
  // What is shared is so by the room that the scrollbar leaves.
  const geometry = layOut(scroller.clientWidth)
  track.style.inlineSize = `${geometry.width}px`
  const { clientWidth: width, clientHeight: height } = scroller
  view.style.inlineSize = `${width}px`
  view.style.blockSize = `${height}px`

  const head = make('div', 'head', view)
  head.style.blockSize = `${headHeight}px`
  head.style.setProperty('--_row-height', `${titleHeight - 1}px`)
  drawRow(head, geometry, width, sharedHeight, titleHeight, (cell, key) => drawTitle(cell, geometry, key))
  const room = middleRoom(geometry, width)
  new SharedHeadings(head).layOut(
    geometry,
    titleHeight,
    columnsBetween(geometry.middle, 0, room),
    { from: 0, to: room },
    false,
  )
  const body = make('div', 'body', view)
  body.style.insetBlockStart = `${headHeight}px`
  body.style.insetBlockEnd = '0'
  body.style.setProperty('--_row-height', `${rowHeight - 1}px`)
  // What a rounded height leaves over shows the edge of one more.
  const inView = Math.min(rows.count, Math.ceil(Math.max(0, height - headHeight) / rowHeight) + 1)
  for (let row = 0; row < inView; row++) {
    const line = drawRow(body, geometry, width, row * rowHeight, rowHeight, (cell, key) =>
      drawCell(cell, rows, row, key, geometry.column(key)?.cell),
    )
    if (definition.look.stripes && row % 2 === 1) line.classList.add('odd')
  }
  return scroller
}

const middleRoom = (geometry: Geometry, width: number): number =>
  Math.max(0, width - runWidth(geometry.start) - runWidth(geometry.end))

/** A row of cells: its columns at the start, those in view of the middle, and those at the end. */
function drawRow(
  parent: HTMLElement,
  geometry: Geometry,
  width: number,
  top: number,
  height: number,
  draw: (cell: HTMLElement, key: string) => void,
): HTMLElement {
  const row = make('div', 'row', parent)
  row.style.insetBlockStart = `${top}px`
  row.style.blockSize = `${height}px`
  const inView = columnsBetween(geometry.middle, 0, middleRoom(geometry, width))
  const drawPart = (name: 'start' | 'middle' | 'end', run: ColumnRun, first: number, end: number): void => {
    const edged = name !== 'middle' && run.keys.some(key => !isOwnColumn(key))
    const part = make('div', `part ${name}${edged ? ' edged' : ''}`, row)
    part.hidden = run.keys.length === 0
    part.style.inlineSize = `${runWidth(run)}px`
    if (name === 'middle') part.style.insetInlineStart = `${runWidth(geometry.start)}px`
    for (let c = first; c < end; c++) {
      const key = run.keys[c]
      const cell = make('div', `cell to-${geometry.column(key)?.align ?? 'start'}`, part)
      cell.style.insetInlineStart = `${run.offsets[c]}px`
      cell.style.inlineSize = `${run.offsets[c + 1] - run.offsets[c]}px`
      draw(cell, key)
    }
  }
  drawPart('start', geometry.start, 0, geometry.start.keys.length)
  drawPart('middle', geometry.middle, inView.first, inView.end)
  drawPart('end', geometry.end, 0, geometry.end.keys.length)
  return row
}

function drawTitle(cell: HTMLElement, geometry: Geometry, key: string): void {
  if (key === SELECT_COLUMN) make('span', 'box', cell)
  else if (!isOwnColumn(key)) make('span', 'title', cell).textContent = geometry.column(key)?.title || key
}

function drawCell(
  cell: HTMLElement,
  rows: FirstRows,
  row: number,
  key: string,
  drawn: CellDefinition | undefined,
): void {
  if (key === SELECT_COLUMN) make('span', 'box', cell)
  const text = isOwnColumn(key) ? null : rows.text(row, key)
  if (text === null || drawn === undefined) return
  // What can be pressed says by expressions whether it can.
  const painter = drawn.kind === 'actions' ? null : cellPainter(drawn, key, NO_GRID)
  if (!painter) {
    if (drawn.kind === 'text') cell.textContent = text
    return
  }
  painter.update(painter.create(cell), {
    column: key,
    row: row as RowId,
    selected: false,
    value: rows.value(row, key),
    text,
    valueOf: column => rows.value(row, column),
  })
}
