import { markRaw, shallowReactive } from 'vue'
import type { CellPainter, DetailPainter, PaintedCell, PaintedDetail } from '@vast-meadow/grid'

/** A place that Vue draws: an element in the page's own tree, shown in the grid through a slot. */
export interface Slotted {
  readonly id: number
  readonly element: HTMLElement
  /** The slot that draws it. */
  readonly name: string
  /** What the slot is given; null: nothing yet. */
  painted: PaintedCell | PaintedDetail | null
}

/** The places that Vue draws now, by their number. */
export type SlottedPlaces = Map<number, Slotted>

let lastId = 0

/**
 * A painter whose places are filled by a Vue slot. Each place of the grid holds a `<slot>`; its content stands in the
 * host's light tree, so that the page's styles reach it, and is teleported there by the component.
 */
export function slotPainter(
  host: () => HTMLElement | null,
  name: string,
  places: SlottedPlaces,
): CellPainter<Slotted> & DetailPainter<Slotted> {
  return {
    create(place) {
      const id = ++lastId
      const slot = document.createElement('slot')
      slot.name = `meadow-place-${id}`
      place.append(slot)
      const element = markRaw(document.createElement('div'))
      element.slot = slot.name
      element.style.display = 'contents'
      host()?.append(element)
      const slotted = shallowReactive<Slotted>({ id, element, name, painted: null })
      places.set(id, slotted)
      return slotted
    },
    update(slotted, painted) {
      slotted.painted = painted
    },
    release(slotted) {
      places.delete(slotted.id)
      slotted.element.remove()
    },
  }
}
