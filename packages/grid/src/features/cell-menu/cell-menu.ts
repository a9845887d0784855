import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature, MenuEntry, PlacedCell } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import type { MenuPlace } from '../../painter.ts'
import { CellMenu } from './menu-view.ts'

/** What can be done from a cell, by the context menu or its key; other features say what. */
export function cellMenu(kernel: Kernel): Feature {
  const { frame, texts, screen, features, model, options, disposal } = kernel
  const menu = new CellMenu(frame, texts, disposal)

  /** What the host adds to a menu. */
  function hostEntries(place: MenuPlace): MenuEntry[] {
    const entries = options.parts?.menu?.(place) ?? []
    return entries.map(entry => ({
      text: entry.text,
      act: () =>
        void Promise.resolve()
          .then(() => entry.act())
          .catch(kernel.failed),
    }))
  }

  function ofCell({ row, column, value }: PlacedCell): MenuPlace {
    const rows = { kind: 'list' as const, rows: [row] }
    return {
      kind: 'cell',
      column,
      value,
      key: async () => (await model.ask('keysOf', { keyFields: model.keyFields, rows }))?.[0] ?? null,
      async record() {
        const [record] = (await model.ask('records', { rows: [row], binding: model.binding })) ?? []
        if (!record) throw new RangeError('The row is not there any more.')
        return record
      },
    }
  }

  function headingMenu(column: string): boolean {
    const anchor = isOwnColumn(column) ? undefined : screen.cellElement(ABOVE_LINES, column)
    if (!anchor) return false
    const entries = features
      .all(feature => feature.headingMenu?.(column) ?? [])
      .flat()
      .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0))
    menu.open([...entries, ...hostEntries({ kind: 'heading', column })], anchor)
    return true
  }

  return {
    name: 'cell menu',
    openMenu(entries, anchor) {
      menu.open(entries, anchor)
      return true
    },
    menu({ line, column }) {
      const { lines } = kernel
      if (line === ABOVE_LINES) return headingMenu(column)
      const shown = line >= 0 ? lines.line(line) : undefined
      const anchor = shown && screen.cellElement(line, column)
      if (anchor && shown.kind === 'head') {
        const entries = features.all(feature => feature.headMenu?.(shown) ?? []).flat()
        const place = { kind: 'group', column: shown.column, path: shown.path, value: shown.value } as const
        menu.open([...entries, ...hostEntries(place)], anchor)
        return true
      }
      if (!anchor || shown?.kind !== 'row') return false
      const value = lines.value(line, shown.row, column) ?? null
      const cell = { line, column, row: shown.row, value }
      const entries = features.all(feature => feature.cellMenu?.(cell) ?? []).flat()
      menu.open([...entries, ...hostEntries(ofCell(cell))], anchor)
      return true
    },
  }
}
