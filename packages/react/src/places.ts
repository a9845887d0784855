import type { CellPainter, DetailPainter, PaintedCell, PaintedDetail } from '@vast-meadow/grid'

/** What can be subscribed to, as React wants it. */
class Told<Value> {
  private value: Value
  private readonly listeners = new Set<() => void>()

  constructor(value: Value) {
    this.value = value
  }

  readonly now = (): Value => this.value

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  tell(value: Value): void {
    this.value = value
    for (const listener of this.listeners) listener()
  }
}

type Painted = PaintedCell | PaintedDetail

/** A place of the grid that React draws: an element in the page's own tree, shown in the grid through a slot. */
export interface Place {
  readonly id: number
  readonly element: HTMLElement
  /** What draws it: `cell:state`, `detail:history`. */
  readonly name: string
  /** What is to be drawn there now; null: nothing yet. */
  readonly painted: Told<Painted | null>
}

let lastId = 0

/** The places that React draws now. */
export class Places extends Told<readonly Place[]> {
  constructor() {
    super([])
  }

  /**
   * A painter whose places are filled by React. Each place of the grid holds a `<slot>`; its content stands in the host's
   * light tree, so that the page's styles reach it, and is drawn there through a portal.
   */
  painter(host: () => HTMLElement | null, name: string): CellPainter<Place> & DetailPainter<Place> {
    return {
      create: cell => {
        const id = ++lastId
        const slot = document.createElement('slot')
        slot.name = `meadow-place-${id}`
        cell.append(slot)
        const element = document.createElement('div')
        element.slot = slot.name
        element.style.display = 'contents'
        host()?.append(element)
        const place: Place = { id, element, name, painted: new Told<Painted | null>(null) }
        this.tell([...this.now(), place])
        return place
      },
      update: (place, painted) => place.painted.tell(painted),
      release: place => {
        this.tell(this.now().filter(one => one !== place))
        place.element.remove()
      },
    }
  }
}
