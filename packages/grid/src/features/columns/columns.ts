import { partOf, placeBeside } from '@vast-meadow/engine/client'
import { SELECT_COLUMN } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import { ColumnLanding } from './column-landing.ts'
import { columnPart } from './column-part.ts'
import { fittingWidth } from './fit-width.ts'
import { enableResizing } from './column-resizing.ts'
import { ColumnsMenu } from './columns-menu.ts'

const RESIZE_STEP_PX = 8

/** Columns are made wider, hidden, shown and pinned: at their edges, by key, and in a list of all. */
export function columns(kernel: Kernel): Feature {
  const { model, texts, screen, bar, announcer, navigator, disposal } = kernel
  const button = make('button', 'button')
  button.type = 'button'
  button.textContent = texts.columns
  button.ariaExpanded = 'false'
  bar.addAtEnd(button)
  const menuHost = {
    columns: () =>
      model.arrangement.columns.map(key => ({
        key,
        title: model.titleOf(key),
        shown: !model.arrangement.hidden.includes(key),
        pinned: partOf(model.arrangement, key) !== 'middle',
        noRoom: screen.geometry.givenWay.has(key),
      })),
    show: (key: string, shown: boolean) => model.showColumn(key, shown),
    pin: (key: string, pinned: boolean) =>
      model.moveColumn(key, { part: pinned ? 'start' : 'middle', before: null }),
  }
  const menu = new ColumnsMenu(bar.element, button, texts, menuHost, disposal)
  disposal.listen(button, 'click', () => menu.toggle())
  /** Makes a column as wide as what it holds over all rows. */
  async function fit(column: string): Promise<void> {
    try {
      const width = await fittingWidth(column, kernel)
      if (width !== null) model.setWidth(column, width)
    } catch (error) {
      kernel.failed(error)
    }
  }
  enableResizing(
    screen.head,
    {
      widthOf: column => screen.widthOf(column),
      within: (column, width) => model.widthWithin(column, width),
      preview: (column, width) => screen.previewWidth(column, width),
      keep: (column, width) => model.setWidth(column, width),
      fit: column => void fit(column),
      rtl: () => screen.viewport.rtl,
    },
    disposal,
  )
  const landing = new ColumnLanding(screen)
  /** Says where a column stands now. */
  const tellPlace = (column: string): void => {
    const { geometry } = screen
    const others = geometry.indexOf(SELECT_COLUMN)
    announcer.say(
      texts.movedTo(model.titleOf(column), geometry.indexOf(column) - others, geometry.count - others),
    )
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
    refresh: () => menu.update(),
    cardPart: (column, close) => columnPart(column, kernel, { move, fit }, close),
    headingDragged: column => {
      if (column === null) landing.show(null)
    },
    headingOver: (column, at) =>
      landing.show(model.canMove(column) && !kernel.headingDrag.fromTrail ? at : null) !== null,
    headingDropped(column, at) {
      const place = model.canMove(column) && !kernel.headingDrag.fromTrail ? landing.show(at) : null
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
