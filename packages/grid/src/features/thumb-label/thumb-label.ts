import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { asPageLine } from '../../kernel/page-line.ts'

/** The thumb's release is not always told of: after so long without a step it was let go. */
const LET_GO_MS = 700

/** While the thumb is dragged: what stands where it is, its group or the value that rows are ordered by. */
export function thumbLabel(kernel: Kernel): Feature {
  const { model, texts, screen, disposal, format } = kernel
  const { scroller } = screen.viewport
  const label = make('div', 'thumb-label', screen.area)
  label.hidden = true
  label.ariaHidden = 'true'
  let dragged = false
  let timer = 0
  const letGo = (): void => {
    dragged = false
    label.hidden = true
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

  /** What is said of the line at the top; empty: nothing. */
  function said(): string {
    const { lines } = kernel
    const index = asPageLine(screen.body.first)
    const groups = lines.groupsAt?.(index) ?? []
    if (groups.length > 0)
      return groups
        .map(({ rest, value, shown }) => (rest ? texts.restOfGroups : value === null ? texts.missing : shown))
        .join(' › ')
    const line = lines.line(index)
    const column = model.arrangement.order.at(0)?.column
    if (line?.kind === 'row' && column !== undefined) {
      const text = lines.text(index, line.row, column)
      if (text !== undefined) return text === '' ? texts.missing : text
    }
    return format(kernel.pager.ofView(index) + 1)
  }

  return {
    name: 'thumb label',
    drawn() {
      if (!dragged) return
      hold()
      const text = said()
      label.hidden = text === ''
      if (label.textContent !== text) label.textContent = text
      const { viewport, heights, headHeight } = screen
      const room = Math.max(1, heights.total - viewport.bodyHeight)
      const at = headHeight + (viewport.offset / room) * viewport.bodyHeight
      label.style.insetBlockStart = `${Math.round(at)}px`
      label.style.insetInlineEnd = `${scroller.offsetWidth - scroller.clientWidth + 6}px`
    },
  }
}
