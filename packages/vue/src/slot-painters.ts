import { markRaw, shallowReactive } from 'vue'
import type { CellPainter, PaintedCell } from '@vast-meadow/grid'

/** A cell that Vue draws: an element in the page's own tree, shown in the grid through a slot. */
export interface SlottedCell {
  readonly id: number
  readonly element: HTMLElement
  /** The slot that draws it. */
  readonly name: string
  cell: PaintedCell | null
}

/** The cells that Vue draws now, by their number. */
export type SlottedCells = Map<number, SlottedCell>

let lastId = 0

/**
 * A painter whose cells are filled by a Vue slot. Each cell of the grid holds a `<slot>`; its content stands in the
 * host's light tree, so that the page's styles reach it, and is teleported there by the component.
 */
export function slotPainter(
  host: () => HTMLElement | null,
  name: string,
  cells: SlottedCells,
): CellPainter<SlottedCell> {
  return {
    create(cell) {
      const id = ++lastId
      const slot = document.createElement('slot')
      slot.name = `meadow-cell-${id}`
      cell.append(slot)
      const element = markRaw(document.createElement('div'))
      element.slot = slot.name
      element.style.display = 'contents'
      host()?.append(element)
      const slotted = shallowReactive<SlottedCell>({ id, element, name, cell: null })
      cells.set(id, slotted)
      return slotted
    },
    update(slotted, cell) {
      slotted.cell = cell
    },
    release(slotted) {
      cells.delete(slotted.id)
      slotted.element.remove()
    },
  }
}
