import { make } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { asPageLine } from '../../kernel/page-line.ts'

const labels = new WeakMap<Kernel, PlaceLabel>()

/** The one label of a grid, by whatever one travels. */
export function placeLabelOf(kernel: Kernel): PlaceLabel {
  const known = labels.get(kernel)
  if (known) return known
  const label = new PlaceLabel(kernel)
  labels.set(kernel, label)
  return label
}

/** Says what stands at the top of the body, beside whatever one travels by: its group, or the value that rows are ordered by. */
class PlaceLabel {
  private readonly kernel: Kernel
  private readonly element: HTMLElement

  constructor(kernel: Kernel) {
    this.kernel = kernel
    this.element = make('div', 'thumb-label', kernel.screen.area)
    this.element.hidden = true
    this.element.ariaHidden = 'true'
  }

  /** Shows it at a height of the body, and so many px from the end edge. */
  show(blockStart: number, inlineEnd: number): void {
    const { element } = this
    const text = this.said()
    element.hidden = text === ''
    if (element.textContent !== text) element.textContent = text
    element.style.insetBlockStart = `${Math.round(blockStart)}px`
    element.style.insetInlineEnd = `${inlineEnd}px`
  }

  hide(): void {
    this.element.hidden = true
  }

  /** What is said of the line at the top; empty: nothing. */
  private said(): string {
    const { lines, screen, texts, model, format, pager } = this.kernel
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
    return format(pager.ofView(index) + 1)
  }
}
