import { elementOf } from '../../kernel/dom.ts'
import type { Disposal } from '../../kernel/dom.ts'

export interface ResizingHost {
  widthOf(column: string): number
  /** The nearest width that the column may have. */
  within(column: string, width: number): number
  /** Shows a width while the drag goes on; nothing is kept yet. */
  preview(column: string, width: number | null): void
  keep(column: string, width: number): void
  rtl(): boolean
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
    const grip = elementOf(event.target)?.closest<HTMLElement>('.grip')
    const column = grip?.closest<HTMLElement>('.cell')?.dataset.column
    if (!grip || !column || event.button !== 0) return
    event.preventDefault()
    grip.setPointerCapture(event.pointerId)
    grip.classList.add('held')
    const width = host.widthOf(column)
    drag = { grip, column, from: event.clientX, width, now: width, pointer: event.pointerId }
  })
  disposal.listen(head, 'pointermove', event => {
    if (!drag || event.pointerId !== drag.pointer) return
    const moved = (event.clientX - drag.from) * (host.rtl() ? -1 : 1)
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
      if (elementOf(event.target)?.closest('.grip')) event.stopPropagation()
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
