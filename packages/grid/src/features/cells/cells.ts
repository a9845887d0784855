import { elementOf } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { WholeText } from './whole-text.ts'
import { type PageLine } from '../../kernel/page-line.ts'

/** What cells do: links and buttons in them are pressed, texts that are cut off shown whole, rows opened. */
export function cells(kernel: Kernel): Feature {
  const { frame, model, emitter, screen, navigator, features, disposal } = kernel
  const wholeText = new WholeText(frame, screen.viewport.view, disposal)

  const rowAt = (line: PageLine) => {
    const shown = line >= 0 ? kernel.lines.line(line) : undefined
    return shown?.kind === 'row' ? shown.row : null
  }
  /** Tells of the row on a line. */
  const tellRow = async (line: PageLine, column: string): Promise<void> => {
    const row = rowAt(line)
    if (row === null) return
    const [record] = (await model.ask('records', { rows: [row], binding: model.binding })) ?? []
    if (record) emitter.emit('row', { record, column })
  }
  const tell = (line: PageLine, column: string): boolean => {
    void tellRow(line, column).catch(kernel.failed)
    return true
  }

  return {
    name: 'cells',
    viewed: () => wholeText.hide(),
    click(event) {
      // What is pressed in a cell does its own work; the row's selection stays.
      return (elementOf(event.target)?.closest('a[href]') ?? null) !== null
    },
    doubleClick: ({ line, column }) => line >= 0 && tell(line, column),
    key({ key }, { line, column }) {
      const row = rowAt(line)
      if (key !== 'Enter' || row === null) return false
      if (navigator.enterCell()) return true
      features.some(feature => feature.toggleOpen?.(row))
      return tell(line, column)
    },
  }
}
