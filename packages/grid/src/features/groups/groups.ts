import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { type PageLine } from '../../kernel/page-line.ts'

/** Heads of groups open and close them, by click or by key; the grouping itself is a chip. */
export function groups(kernel: Kernel): Feature {
  const { model, texts, screen } = kernel
  /** Opens or closes the group whose head is on a line; false where none is, or it is so already. */
  const toggle = (line: PageLine, open: boolean | null = null): boolean => {
    const head = line >= 0 ? kernel.lines.line(line) : undefined
    if (head?.kind !== 'head' || head.open === open) return false
    model.toggleGroup(head.value)
    return true
  }
  return {
    name: 'groups',
    key({ key, ctrlKey, metaKey, shiftKey }, { line }) {
      if (line < 0 || kernel.lines.line(line)?.kind !== 'head') return false
      if (key === 'Enter' || key === ' ') return toggle(line)
      if ((key !== 'ArrowRight' && key !== 'ArrowLeft') || ctrlKey || metaKey || shiftKey) return false
      toggle(line, (key === 'ArrowRight') !== screen.viewport.rtl)
      return true
    },
    click: (_, { line }) => toggle(line),
    chips() {
      const { group } = model.arrangement
      if (group === null) return []
      const lift = (): void => void model.apply({ group: null }, 'reader')
      return [{ before: texts.groupedBy, name: model.titleOf(group), after: '', lift }]
    },
  }
}
