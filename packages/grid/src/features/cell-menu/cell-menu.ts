import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { CellMenu } from './menu-view.ts'

/** What can be done from a cell, by the context menu or its key; other features say what. */
export function cellMenu(kernel: Kernel): Feature {
  const { frame, texts, screen, features, disposal } = kernel
  const menu = new CellMenu(frame, texts, disposal)
  return {
    name: 'cell menu',
    openMenu(entries, anchor) {
      menu.open(entries, anchor)
      return true
    },
    menu({ line, column }) {
      const { lines } = kernel
      const shown = line >= 0 ? lines.line(line) : undefined
      const anchor = shown && screen.cellElement(line, column)
      if (anchor && shown.kind === 'head') {
        menu.open(features.all(feature => feature.headMenu?.(shown) ?? []).flat(), anchor)
        return true
      }
      if (!anchor || shown?.kind !== 'row') return false
      const value = lines.value(line, shown.row, column) ?? null
      const cell = { line, column, row: shown.row, value }
      menu.open(features.all(feature => feature.cellMenu?.(cell) ?? []).flat(), anchor)
      return true
    },
  }
}
