import { SELECT_COLUMN } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { enableResizing } from './column-resizing.ts'
import { ColumnsMenu } from './columns-menu.ts'

const RESIZE_STEP_PX = 8

/** Columns are made wider, hidden, shown and pinned: at their edges, by key, and in a list of all. */
export function columns({ model, texts, screen, bar, disposal }: Kernel): Feature {
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
        pinned: model.arrangement.pinnedStart.includes(key),
        noRoom: screen.geometry.givenWay.has(key),
      })),
    show: (key: string, shown: boolean) => model.showColumn(key, shown),
    pin: (key: string, pinned: boolean) => model.pinColumn(key, pinned),
  }
  const menu = new ColumnsMenu(bar.element, button, texts, menuHost, disposal)
  disposal.listen(button, 'click', () => menu.toggle())
  enableResizing(
    screen.head,
    {
      widthOf: column => model.widthOf(column),
      within: (column, width) => model.widthWithin(column, width),
      preview: (column, width) => screen.previewWidth(column, width),
      keep: (column, width) => model.setWidth(column, width),
      rtl: () => screen.viewport.rtl,
    },
    disposal,
  )
  return {
    name: 'columns',
    refresh: () => menu.update(),
    key({ key, shiftKey }, { line, column }) {
      const sideways = key === 'ArrowRight' || key === 'ArrowLeft'
      if (line !== -1 || !shiftKey || !sideways || column === SELECT_COLUMN) return false
      const wider = (key === 'ArrowRight') !== screen.viewport.rtl
      model.setWidth(column, model.widthOf(column) + (wider ? RESIZE_STEP_PX : -RESIZE_STEP_PX))
      return true
    },
  }
}
