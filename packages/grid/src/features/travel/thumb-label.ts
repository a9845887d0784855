import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { placeLabelOf } from './place-label.ts'

/** The thumb's release is not always told of: after so long without a step it was let go. */
const LET_GO_MS = 700

/** While the thumb is dragged: what stands where it is, its group or the value that rows are ordered by. */
export function thumbLabel(kernel: Kernel): Feature {
  const { screen, disposal } = kernel
  const { scroller } = screen.viewport
  const label = placeLabelOf(kernel)
  let dragged = false
  let timer = 0
  const letGo = (): void => {
    dragged = false
    label.hide()
  }
  const hold = (): void => {
    clearTimeout(timer)
    timer = window.setTimeout(letGo, LET_GO_MS)
  }
  disposal.listen(scroller, 'pointerdown', event => {
    const { left, right } = scroller.getBoundingClientRect()
    const across = screen.viewport.rtl ? event.clientX - left : right - event.clientX
    // What scrolls lies in front of everything but its scrollbar.
    if (event.target !== scroller || across < 0 || across > scroller.offsetWidth - scroller.clientWidth)
      return
    dragged = true
    hold()
  })
  disposal.listen(scroller, 'pointerup', letGo)
  disposal.add(() => clearTimeout(timer))

  return {
    name: 'thumb label',
    drawn() {
      if (!dragged) return
      hold()
      const { viewport, heights, headHeight } = screen
      const room = Math.max(1, heights.total - viewport.bodyHeight)
      const at = headHeight + (viewport.offset / room) * viewport.bodyHeight
      label.show(at, scroller.offsetWidth - scroller.clientWidth + screen.besideWidth + 6)
    },
  }
}
