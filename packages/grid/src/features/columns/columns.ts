import { columnsMoved, partOf, placeBeside } from '@vast-meadow/engine/client'
import type { Arrangement, ArrangementChange, ColumnPlace } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import { ColumnLanding } from './column-landing.ts'
import { columnPart, hideColumn } from './column-part.ts'
import { fittingWidths, roomWidths } from './fit-width.ts'
import { enableResizing } from './column-resizing.ts'

const RESIZE_STEP_PX = 8
/** The parts of an arrangement that say where columns stand. */
const PARTS = ['columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd'] as const

/** Of the grid's handle: where columns stand, and how wide they are. */
export interface ColumnsHandle {
  /** Puts columns, side by side, into a part: before another column of it or, by null, behind all that are shown there. */
  moveColumns(columns: readonly string[], place: ColumnPlace): void
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
    moveColumns: (columns, place) => model.moveColumns(columns, place),
    async fitColumns(keys = shownKeys()) {
      model.setWidths(await fittingWidths(keys, kernel))
    },
    fitToRoom: () => model.setWidths(roomWidths(shownKeys(), kernel)),
    columnsAsAtStart: () => void model.apply(atStart(), 'reader'),
  }
  const fit = (keys?: readonly string[]): void => void handle.fitColumns(keys).catch(kernel.failed)

  function shownKeys(): string[] {
    return screen.columns.filter(key => !isOwnColumn(key))
  }

  const headingTitle = (key: string): string => {
    const under = model.columnOf(key)?.under
    return model.definition?.headings.find(one => one.key === under)?.title ?? ''
  }

  const menuHost = {
    columns: () => {
      const { columns, pinnedStart, pinnedEnd, hidden } = model.arrangement
      const loose = columns.filter(key => partOf(model.arrangement, key) === 'middle')
      const listed = [...pinnedStart, ...loose, ...pinnedEnd].map(key => ({
        key,
        title: model.titleOf(key),
        shown: !hidden.includes(key),
        under: headingTitle(key),
        part: partOf(model.arrangement, key),
        movable: model.canMove(key),
        noRoom: screen.geometry.givenWay.has(key),
      }))
      return listed
    },
    asAtStart: isAtStart,
    canFit: () => model.canTell('longestTexts'),
    show: (key: string, shown: boolean) => model.showColumn(key, shown),
    move: (key: string, place: ColumnPlace) => void put([key], place),
    backToStart: () => handle.columnsAsAtStart(),
    fitAll: () => fit(),
    fitToRoom: () => handle.fitToRoom(),
  }
  const menu = kernel.whenUsed.add(
    () => import('./columns-menu.ts'),
    ({ ColumnsMenu }) => new ColumnsMenu(bar.element, button, texts, menuHost, disposal),
  )
  disposal.listen(button, 'click', () => menu.use(one => one.toggle()))
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
    const others = geometry.ownCount
    const place = geometry.indexOf(column) - others
    if (place > 0) announcer.say(texts.movedTo(model.titleOf(column), place, geometry.count - others))
  }
  /** Why columns cannot be put to a place; null: they can. */
  function whyNot(columns: readonly string[], place: ColumnPlace | null): string | null {
    const fixed = columns.find(column => !model.canMove(column))
    if (fixed !== undefined) return texts.cannotMove(model.titleOf(fixed))
    const parted = place && model.headingParted(columns, place)
    return parted === null ? null : texts.staysTogether(parted)
  }

  /** Puts columns elsewhere, or says why they stay. */
  function put(columns: readonly string[], place: ColumnPlace | null): boolean {
    const reason = whyNot(columns, place)
    if (reason !== null || !place) {
      announcer.say(reason ?? texts.cannotMove(model.titleOf(columns[0])))
      return false
    }
    model.moveColumns(columns, place)
    tellPlace(columns[0])
    return true
  }

  /** Puts columns a step on; those that stay together are passed over as one. */
  function move(columns: readonly string[], step: 1 | -1): void {
    const next = (arrangement: Arrangement): ColumnPlace | null =>
      placeBeside(arrangement, step === -1 ? columns[0] : columns[columns.length - 1], step)
    let { arrangement } = model
    const first = next(arrangement)
    for (let place = first; place; place = next(arrangement)) {
      if (whyNot(columns, place) === null) {
        put(columns, place)
        return
      }
      arrangement = { ...arrangement, ...columnsMoved(arrangement, columns, place) }
    }
    put(columns, first)
  }
  function headingMenu(column: string): MenuEntry[] {
    const part = partOf(model.arrangement, column)
    const moves = (['start', 'end', 'middle'] as const).filter(side => side !== part)
    return [
      ...(model.canMove(column)
        ? moves.map(side => ({
            text: texts.pinHeading[side],
            act: () => void put([column], { part: side, before: null }),
          }))
        : []),
      ...(model.canTell('longestTexts') ? [{ text: texts.fitHeading, act: () => fit([column]) }] : []),
      { text: texts.hide, act: () => hideColumn(column, kernel) },
    ]
  }
  return {
    name: 'columns',
    handle,
    headingMenu,
    refresh: () => menu.made?.update(),
    cardPart: (column, close) => columnPart(column, kernel, { move, put, fit: key => fit([key]) }, close),
    headingDragged: column => {
      if (column === null) landing.show(null)
    },
    headingOver(_, at) {
      if (headingDrag.fromTrail) return false
      const place = landing.show(at)
      // What stays where it is says so, where others would land.
      const reason = place && whyNot(headingDrag.columns, place)
      landing.refuse(reason !== null)
      headingDrag.refuse(reason)
      return place !== null && reason === null
    },
    headingDropped(_, at) {
      const place = headingDrag.fromTrail ? null : landing.show(at)
      landing.show(null)
      return place !== null && put(headingDrag.columns, place)
    },
    key({ key, shiftKey, ctrlKey, metaKey }, { line, column }) {
      const sideways = key === 'ArrowRight' || key === 'ArrowLeft'
      if (line !== -1 || !shiftKey || !sideways || isOwnColumn(column)) return false
      const wider = (key === 'ArrowRight') !== screen.viewport.rtl
      if (ctrlKey || metaKey) {
        move([column], wider ? 1 : -1)
        navigator.go(ABOVE_LINES, column)
        return true
      }
      model.setWidth(column, screen.widthOf(column) + (wider ? RESIZE_STEP_PX : -RESIZE_STEP_PX))
      return true
    },
  }
}
