import { elementOf, type Disposal } from '../../kernel/dom.ts'

export interface ResizingHost {
  widthOf(column: string): number
  /** The nearest width that the column may have. */
  within(column: string, width: number): number
  /** Shows a width while the drag goes on; nothing is kept yet. */
  preview(column: string, width: number | null): void
  keep(column: string, width: number): void
  /** Makes the column as wide as what it holds. */
  fit(column: string): void
  rtl(): boolean
}

/** Px from an edge within which a press takes the edge; a quarter of the heading at most. */
const TAKEN_PX = 6
/** Px from an edge within which a drag orders nothing, be it that it took the edge or missed it. */
const SPARED_PX = 12
/** A press that moved less is a click. */
const CLICK_PX = 3

/** What in a heading is pressed for its own sake. */
const BUTTONS = '.more-of, .box, button, a[href], input'

interface Edge {
  /** The heading that ends there; null: none that can be resized. */
  readonly heading: HTMLElement | null
  readonly away: number
}

/** The edge nearest to a place in a heading: its own end, or its start, where the one before it ends. */
function edgeNear(heading: HTMLElement, x: number, rtl: boolean): Edge {
  const endOf = (cell: HTMLElement): number => {
    const { left, right } = cell.getBoundingClientRect()
    return rtl ? left : right
  }
  const { left, right } = heading.getBoundingClientRect()
  // Without a size it has no edges.
  if (left === right) return { heading, away: Infinity }
  const [start, end] = rtl ? [right, left] : [left, right]
  if (Math.abs(x - end) <= Math.abs(x - start)) return { heading, away: Math.abs(x - end) }
  const headings = heading.closest('.row')?.querySelectorAll<HTMLElement>('.cell[data-column]') ?? []
  const before = [...headings].find(
    cell =>
      cell !== heading && cell.dataset.column && cell.checkVisibility() && Math.abs(endOf(cell) - start) < 2,
  )
  return { heading: before ?? null, away: Math.abs(x - start) }
}

/**
 * Drags of header edges. The pointer is captured, so the drag goes on wherever it moves; the width follows from the
 * distance to where the pointer went down, so the edge stays under it; and the click that ends it orders nothing.
 */
export function enableResizing(head: HTMLElement, host: ResizingHost, disposal: Disposal): void {
  let drag: {
    grip: HTMLElement
    column: string
    from: number
    width: number
    now: number
    pointer: number
  } | null = null

  /** Where the pointer went down: near an edge, or on it. */
  let pressed: { readonly x: number; readonly edge: boolean; readonly near: boolean } | null = null

  const end = (keep: boolean): void => {
    if (!drag) return
    const { grip, column, now, width, pointer } = drag
    drag = null
    grip.classList.remove('held')
    if (grip.hasPointerCapture(pointer)) grip.releasePointerCapture(pointer)
    host.preview(column, null)
    if (keep && now !== width) host.keep(column, now)
  }

  disposal.listen(head, 'pointerdown', event => {
    const target = elementOf(event.target)
    pressed = null
    const heading = target?.closest<HTMLElement>('.row:not(.strip) .cell')
    if (event.button !== 0 || !heading || target?.closest(BUTTONS)) return
    const edge = edgeNear(heading, event.clientX, host.rtl())
    const taken = edge.away <= Math.min(TAKEN_PX, heading.getBoundingClientRect().width / 4)
    pressed = { x: event.clientX, edge: taken, near: edge.away <= SPARED_PX }
    const own = target?.closest<HTMLElement>('.grip')
    const grip = own ?? (taken ? edge.heading?.querySelector<HTMLElement>('.grip') : null)
    const column = grip?.closest<HTMLElement>('.cell')?.dataset.column
    if (!grip || !column) return
    event.preventDefault()
    grip.setPointerCapture(event.pointerId)
    grip.classList.add('held')
    const width = host.widthOf(column)
    drag = { grip, column, from: event.clientX, width, now: width, pointer: event.pointerId }
  })
  disposal.listen(head, 'dblclick', event => {
    const target = elementOf(event.target)
    const heading = target?.closest<HTMLElement>('.row:not(.strip) .cell')
    if (!heading || target?.closest(BUTTONS)) return
    const edge = edgeNear(heading, event.clientX, host.rtl())
    const taken = edge.away <= Math.min(TAKEN_PX, heading.getBoundingClientRect().width / 4)
    const column = (target?.closest('.grip') ? heading : taken ? edge.heading : null)?.dataset.column
    if (column) host.fit(column)
  })
  disposal.listen(head, 'pointermove', event => {
    if (!drag || event.pointerId !== drag.pointer) return
    // Where the page scales or zooms the grid, px of the screen are not those of widths.
    const scale = head.getBoundingClientRect().width / head.offsetWidth || 1
    const moved = ((event.clientX - drag.from) / scale) * (host.rtl() ? -1 : 1)
    drag.now = host.within(drag.column, Math.round(drag.width + moved))
    host.preview(drag.column, drag.now)
  })
  disposal.listen(head, 'pointerup', event => {
    if (drag?.pointer === event.pointerId) end(true)
  })
  disposal.listen(head, 'pointercancel', () => end(false))
  disposal.listen(
    head,
    'click',
    event => {
      const button = elementOf(event.target)?.closest(BUTTONS)
      const dragged = pressed !== null && Math.abs(event.clientX - pressed.x) > CLICK_PX
      const spared = pressed !== null && (dragged ? pressed.near : pressed.edge)
      if (elementOf(event.target)?.closest('.grip') || (spared && !button)) event.stopPropagation()
    },
    { capture: true },
  )
  disposal.listen(head, 'keydown', event => {
    if (event.key === 'Escape' && drag) {
      event.stopPropagation()
      end(false)
    }
  })
  disposal.add(() => end(false))
}
