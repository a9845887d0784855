import { partOf, placeBeside } from '@vast-meadow/engine/client'
import type { ArrangementChange, ColumnPlace } from '@vast-meadow/engine'
import { SELECT_COLUMN } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import { ColumnLanding } from './column-landing.ts'
import { columnPart } from './column-part.ts'
import { fittingWidths, roomWidths } from './fit-width.ts'
import { enableResizing } from './column-resizing.ts'
import { ColumnsMenu, inParts } from './columns-menu.ts'

const RESIZE_STEP_PX = 8
/** The parts of an arrangement that say where columns stand. */
const PARTS = ['columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd'] as const

/** Of the grid's handle: where columns stand, and how wide they are. */
export interface ColumnsHandle {
  /** Puts a column into a part, before another column of it or, by null, behind all that are shown there. */
  moveColumn(column: string, place: ColumnPlace): void
  /** Makes columns as wide as what they hold over all rows; default: all that are shown. */
  fitColumns(columns?: readonly string[]): Promise<void>
  /** Makes the shown columns fill the room, each in proportion to what it was and within its limits. */
  fitToRoom(): void
  /** Columns stand, and are shown, pinned and as wide, as the grid starts. */
  columnsAsAtStart(): void
}

/** Columns are made wider, put elsewhere, hidden, shown and pinned: at their edges, by drag and key, in a list of all. */
export function columns(kernel: Kernel): Feature {
  const { model, texts, screen, bar, announcer, navigator, headingDrag, disposal } = kernel
  const button = make('button', 'button')
  button.type = 'button'
  button.textContent = texts.columns
  button.ariaExpanded = 'false'
  bar.addAtEnd(button)
  const atStart = (): ArrangementChange => Object.fromEntries(PARTS.map(part => [part, model.start[part]]))
  const isAtStart = (): boolean =>
    PARTS.every(part => JSON.stringify(model.start[part]) === JSON.stringify(model.arrangement[part]))

  const handle: ColumnsHandle = {
    moveColumn: (column, place) => model.moveColumn(column, place),
    async fitColumns(keys = shownKeys()) {
      model.setWidths(await fittingWidths(keys, kernel))
    },
    fitToRoom: () => model.setWidths(roomWidths(shownKeys(), kernel)),
    columnsAsAtStart: () => void model.apply(atStart(), 'reader'),
  }
  const fit = (keys?: readonly string[]): void => void handle.fitColumns(keys).catch(kernel.failed)

  function shownKeys(): string[] {
    return screen.columns.filter(key => key !== SELECT_COLUMN)
  }

  const menuHost = {
    columns: () => {
      const { columns, pinnedStart, pinnedEnd, hidden } = model.arrangement
      const loose = columns.filter(key => partOf(model.arrangement, key) === 'middle')
      const listed = [...pinnedStart, ...loose, ...pinnedEnd].map(key => ({
        key,
        title: model.titleOf(key),
        shown: !hidden.includes(key),
        part: partOf(model.arrangement, key),
        movable: model.canMove(key),
        noRoom: screen.geometry.givenWay.has(key),
      }))
      return inParts(listed)
    },
    asAtStart: isAtStart,
    canFit: () => model.canTell('longestTexts'),
    show: (key: string, shown: boolean) => model.showColumn(key, shown),
    move: (key: string, place: ColumnPlace) => {
      model.moveColumn(key, place)
      tellPlace(key)
    },
    backToStart: () => handle.columnsAsAtStart(),
    fitAll: () => fit(),
    fitToRoom: () => handle.fitToRoom(),
  }
  const menu = new ColumnsMenu(bar.element, button, texts, menuHost, disposal)
  disposal.listen(button, 'click', () => menu.toggle())
  enableResizing(
    screen.head,
    {
      widthOf: column => screen.widthOf(column),
      within: (column, width) => model.widthWithin(column, width),
      preview: (column, width) => screen.previewWidth(column, width),
      keep: (column, width) => model.setWidth(column, width),
      fit: column => fit([column]),
      rtl: () => screen.viewport.rtl,
    },
    disposal,
  )
  const landing = new ColumnLanding(screen)
  /** Says where a column stands now. */
  function tellPlace(column: string): void {
    const { geometry } = screen
    const others = geometry.indexOf(SELECT_COLUMN)
    const place = geometry.indexOf(column) - others
    if (place > 0) announcer.say(texts.movedTo(model.titleOf(column), place, geometry.count - others))
  }
  function move(column: string, step: 1 | -1): void {
    const place = model.canMove(column) ? placeBeside(model.arrangement, column, step) : null
    if (!place) {
      announcer.say(texts.cannotMove(model.titleOf(column)))
      return
    }
    model.moveColumn(column, place)
    tellPlace(column)
  }
  return {
    name: 'columns',
    handle,
    refresh: () => menu.update(),
    cardPart: (column, close) => columnPart(column, kernel, { move, fit: key => fit([key]) }, close),
    headingDragged: column => {
      if (column === null) landing.show(null)
    },
    headingOver(column, at) {
      if (headingDrag.fromTrail) return false
      // A column that stays where it is says so, where others would land.
      if (!model.canMove(column)) {
        headingDrag.refuse(landing.isOver(at) ? texts.cannotMove(model.titleOf(column)) : null)
        return false
      }
      return landing.show(at) !== null
    },
    headingDropped(column, at) {
      const place = model.canMove(column) && !headingDrag.fromTrail ? landing.show(at) : null
      if (!place) return false
      landing.show(null)
      model.moveColumn(column, place)
      tellPlace(column)
      return true
    },
    key({ key, shiftKey, ctrlKey, metaKey }, { line, column }) {
      const sideways = key === 'ArrowRight' || key === 'ArrowLeft'
      if (line !== -1 || !shiftKey || !sideways || column === SELECT_COLUMN) return false
      const wider = (key === 'ArrowRight') !== screen.viewport.rtl
      if (ctrlKey || metaKey) {
        move(column, wider ? 1 : -1)
        navigator.go(ABOVE_LINES, column)
        return true
      }
      model.setWidth(column, screen.widthOf(column) + (wider ? RESIZE_STEP_PX : -RESIZE_STEP_PX))
      return true
    },
  }
}
