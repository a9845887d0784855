import { runWidth, sure } from '@vast-meadow/engine/client'
import type { ColumnRun, HeadingDefinition, HeadingSpan } from '@vast-meadow/engine'
import type { ColumnWindow } from '../band/band.ts'
import type { Geometry } from '../band/geometry.ts'
import { make } from '../kernel/dom.ts'

/** A heading's title has at least so much room, as far as its columns leave it, in CSS px. */
const LEAST_TITLE = 60

/** The part of the columns that are moved sideways which is in view, in CSS px. */
export interface Seen {
  readonly from: number
  readonly to: number
}

interface HeadingCell {
  readonly element: HTMLElement
  readonly title: HTMLElement
  readonly mark: HTMLElement
  /** What it shows now, as `from end heading`; empty: nothing. */
  shown: string
  span: HeadingSpan | null
  /** Px at the start and the end of it that are out of view, as `start end`. */
  insets: string
}

type PartName = 'start' | 'middle' | 'end'
const PARTS: readonly PartName[] = ['start', 'middle', 'end']

interface Level {
  readonly row: HTMLElement
  readonly parts: Readonly<Record<PartName, HTMLElement>>
  readonly cells: Readonly<Record<PartName, HeadingCell[]>>
}

/** The rows of headings over several columns, above the titles of columns; only those in view are there. */
export class SharedHeadings {
  private readonly parent: HTMLElement
  private levels: Level[] = []
  private geometry: Geometry | null = null

  constructor(parent: HTMLElement) {
    this.parent = parent
  }

  /** Lays all out anew, each level as high as the titles. */
  layOut(geometry: Geometry, height: number, columns: ColumnWindow, seen: Seen, rtl: boolean): void {
    this.geometry = geometry
    const count = geometry.headingLevels
    for (const { row } of this.levels.splice(count)) row.remove()
    while (this.levels.length < count) this.levels.push(this.makeLevel(this.levels.length))
    this.levels.forEach(({ row, parts }, level) => {
      row.style.insetBlockStart = `${level * height}px`
      row.style.blockSize = `${height}px`
      parts.start.style.inlineSize = `${runWidth(geometry.start)}px`
      parts.middle.style.insetInlineStart = `${runWidth(geometry.start)}px`
      parts.middle.style.inlineSize = `${runWidth(geometry.middle)}px`
      parts.end.style.inlineSize = `${runWidth(geometry.end)}px`
      parts.end.hidden = geometry.end.keys.length === 0
      parts.start.classList.toggle('edged', geometry.start.keys.length > geometry.ownCount)
      parts.end.classList.toggle('edged', geometry.end.keys.length > 0)
    })
    this.show(columns, seen, rtl)
  }

  /** Shows the headings over the columns in view; their titles stand in the middle of what is seen of them. */
  show({ first, end }: ColumnWindow, seen: Seen, rtl: boolean): void {
    const { geometry } = this
    if (!geometry) return
    this.levels.forEach((level, nth) => {
      for (const part of PARTS) {
        const spans = geometry.headings[part][nth] ?? []
        const shown = part === 'middle' ? spans.filter(span => span.end > first && span.first < end) : spans
        this.fill(level, part, shown, part === 'middle' ? seen : { from: 0, to: Infinity })
      }
      level.parts.middle.style.transform = `translateX(${rtl ? seen.from : -seen.from}px)`
    })
  }

  /** The heading that an element shows, and the columns under it there; null: it shows none. */
  headingAt(
    element: Element,
  ): { readonly heading: HeadingDefinition; readonly columns: readonly string[] } | null {
    const { geometry } = this
    if (!geometry) return null
    for (const { cells } of this.levels)
      for (const part of PARTS) {
        const span = cells[part].find(cell => cell.element.contains(element))?.span
        const heading = span && geometry.heading(span.heading)
        if (heading) return { heading, columns: geometry[part].keys.slice(span.first, span.end) }
      }
    return null
  }

  private makeLevel(nth: number): Level {
    const row = make('div', 'row shared')
    row.setAttribute('role', 'row')
    row.ariaRowIndex = String(nth + 1)
    this.parent.insertBefore(row, this.parent.children.item(nth))
    const parts = {
      start: make('div', 'part start', row),
      middle: make('div', 'part middle', row),
      end: make('div', 'part end', row),
    }
    return { row, parts, cells: { start: [], middle: [], end: [] } }
  }

  private fill(level: Level, part: PartName, spans: readonly HeadingSpan[], seen: Seen): void {
    const geometry = sure(this.geometry)
    const run = geometry[part]
    const cells = level.cells[part]
    while (cells.length < spans.length) cells.push(makeCell(level.parts[part]))
    cells.forEach((cell, i) => {
      const span = spans.at(i)
      const isShown = i < spans.length && span !== undefined
      if (cell.element.hidden === isShown) cell.element.hidden = !isShown
      if (isShown) dress(cell, span, run, geometry, seen)
      else cell.span = null
    })
  }
}

function makeCell(parent: HTMLElement): HeadingCell {
  const element = make('div', 'cell', parent)
  element.setAttribute('role', 'columnheader')
  const title = make('span', 'title', element)
  const mark = make('span', 'help', element)
  mark.ariaHidden = 'true'
  const grip = make('span', 'grip', element)
  grip.ariaHidden = 'true'
  return { element, title, mark, shown: '', span: null, insets: '' }
}

function dress(cell: HeadingCell, span: HeadingSpan, run: ColumnRun, geometry: Geometry, seen: Seen): void {
  const { element, title, mark } = cell
  const [from, to] = [run.offsets[span.first], run.offsets[span.end]]
  const heading = geometry.heading(span.heading)
  const index = String(geometry.indexOf(run.keys[span.first]))
  const shown = JSON.stringify([from, to, span, heading, index, run.keys[span.end - 1]])
  cell.span = span
  if (shown !== cell.shown) {
    cell.shown = shown
    element.style.insetInlineStart = `${from}px`
    element.style.inlineSize = `${to - from}px`
    element.ariaColIndex = index
    element.setAttribute('aria-colspan', String(span.end - span.first))
    // Its end is the end of the last column under it.
    element.dataset.column = run.keys[span.end - 1]
    const help = heading?.help ?? ''
    title.textContent = heading?.title ?? ''
    element.title = help || (heading?.title ?? '')
    element.ariaDescription = help || null
    mark.textContent = help && '?'
    mark.hidden = help === ''
  }
  const room = Math.max(0, to - from - LEAST_TITLE)
  const start = Math.round(Math.max(0, Math.min(seen.from - from, room)))
  const end = Math.round(Math.max(0, Math.min(to - seen.to, room - start)))
  const insets = `${start} ${end}`
  if (insets === cell.insets) return
  cell.insets = insets
  title.style.marginInlineStart = start > 0 ? `${start}px` : ''
  title.style.marginInlineEnd = end > 0 ? `${end}px` : ''
}
