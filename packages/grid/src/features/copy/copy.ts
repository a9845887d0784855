import { SELECT_COLUMN } from '../../band/geometry.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { type PageLine } from '../../kernel/page-line.ts'

/** The cell that the keyboard is on is copied, unless text of the page is selected. */
export function copy(kernel: Kernel): Feature {
  const { screen, navigator, announcer, texts, disposal } = kernel

  const shownText = (line: PageLine, column: string): string | undefined => {
    const shown = line < 0 || column === SELECT_COLUMN ? undefined : kernel.lines.line(line)
    if (!shown || shown.kind === 'detail') return undefined
    return shown.kind === 'row' ? kernel.lines.text(line, shown.row, column) : shown.shown
  }

  disposal.listen(screen.viewport.view, 'copy', event => {
    const selection = kernel.root.ownerDocument.getSelection()
    if (selection && !selection.isCollapsed) return
    const text = shownText(navigator.line, navigator.column)
    if (text === undefined) return
    event.clipboardData?.setData('text/plain', text)
    event.preventDefault()
    announcer.say(texts.copied(text))
  })
  return { name: 'copy' }
}
