import { elementOf, type Disposal } from '../../kernel/dom.ts'

/** Px from the edges of the list within which it is scrolled. */
const EDGE_PX = 24
/** Px a frame. */
const SCROLL_PX = 6

/**
 * Drags of the items of a list by their `.move` handles. Items say which they are by `data-nth`; `drop` is told before
 * which one an item was let go, one more than the last for behind all. Escape, and letting go elsewhere, do nothing.
 */
export function enableListDrag(
  list: HTMLElement,
  drop: (from: number, to: number) => void,
  disposal: Disposal,
): void {
  let drag: {
    readonly handle: HTMLElement
    readonly pointer: number
    readonly from: number
    to: number | null
  } | null = null
  let frame = 0

  const items = (): HTMLElement[] => [...list.querySelectorAll<HTMLElement>('li[data-nth]')]

  function mark(to: number | null): void {
    const all = items()
    all.forEach((item, nth) => {
      item.classList.toggle('before', to === nth)
      item.classList.toggle('behind', to === all.length && nth === all.length - 1)
    })
  }

  function placeAt(x: number, y: number): number | null {
    const { left, right, top, bottom } = list.getBoundingClientRect()
    if (x < left || x > right || y < top - EDGE_PX || y > bottom + EDGE_PX) return null
    const all = items()
    const at = all.findIndex(item => {
      const { top, height } = item.getBoundingClientRect()
      return y < top + height / 2
    })
    return at < 0 ? all.length : at
  }

  function scrollOn(y: number): void {
    cancelAnimationFrame(frame)
    const { top, bottom } = list.getBoundingClientRect()
    const by = y < top + EDGE_PX ? -SCROLL_PX : y > bottom - EDGE_PX ? SCROLL_PX : 0
    if (by === 0) return
    frame = requestAnimationFrame(() => {
      if (!drag) return
      list.scrollTop += by
      scrollOn(y)
    })
  }

  function end(keep: boolean): void {
    if (!drag) return
    const { from, to, handle, pointer } = drag
    drag = null
    cancelAnimationFrame(frame)
    mark(null)
    if (handle.hasPointerCapture(pointer)) handle.releasePointerCapture(pointer)
    handle.closest('li')?.classList.remove('dragged')
    if (keep && to !== null) drop(from, to)
  }

  disposal.listen(list, 'pointerdown', event => {
    const handle = elementOf(event.target)?.closest<HTMLElement>('.move:not(:disabled)')
    const item = handle?.closest<HTMLElement>('li[data-nth]')
    if (!handle || !item || event.button !== 0) return
    handle.setPointerCapture(event.pointerId)
    item.classList.add('dragged')
    drag = { handle, pointer: event.pointerId, from: Number(item.dataset.nth), to: null }
  })
  disposal.listen(list, 'pointermove', event => {
    if (event.pointerId !== drag?.pointer) return
    drag.to = placeAt(event.clientX, event.clientY)
    mark(drag.to)
    scrollOn(event.clientY)
  })
  disposal.listen(list, 'pointerup', event => {
    if (event.pointerId === drag?.pointer) end(true)
  })
  disposal.listen(list, 'pointercancel', () => end(false))
  disposal.listen(
    list,
    'keydown',
    event => {
      if (event.key !== 'Escape' || !drag) return
      event.preventDefault()
      event.stopPropagation()
      end(false)
    },
    { capture: true },
  )
  disposal.add(() => end(false))
}
