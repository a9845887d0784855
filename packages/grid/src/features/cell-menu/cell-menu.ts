import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature, MenuEntry, Place, PlacedCell } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import type { MenuPlace } from '../../painter.ts'
import { CellMenu } from './menu-view.ts'

/** What can be done from a cell, by the context menu or its key; other features say what. */
export function cellMenu(kernel: Kernel): Feature {
  const { frame, texts, screen, features, model, navigator, options, disposal } = kernel
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

  /** Opens the menu of a place; rows may move while it is open, and the keyboard goes back to where its row is then. */
  function openAt({ line, column }: Place, entries: readonly MenuEntry[], anchor: HTMLElement): void {
    navigator.stand(line, column)
    menu.open(entries, anchor, () => navigator.restore(true))
  }

  function headingMenu(column: string): boolean {
    const anchor = isOwnColumn(column) ? undefined : screen.cellElement(ABOVE_LINES, column)
    if (!anchor) return false
    const entries = features
      .all(feature => feature.headingMenu?.(column) ?? [])
      .flat()
      .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0))
    openAt({ line: ABOVE_LINES, column }, [...entries, ...hostEntries({ kind: 'heading', column })], anchor)
    return true
  }

  return {
    name: 'cell menu',
    openMenu(entries, anchor) {
      menu.open(entries, anchor, () => {
        // A cell on which the keyboard has not been yet cannot have the focus.
        if (!anchor.hasAttribute('tabindex')) anchor.tabIndex = -1
        anchor.focus({ preventScroll: true })
      })
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
        openAt({ line, column }, [...entries, ...hostEntries(place)], anchor)
        return true
      }
      if (!anchor || shown?.kind !== 'row') return false
      const value = lines.value(line, shown.row, column) ?? null
      const cell = { line, column, row: shown.row, value }
      const entries = features.all(feature => feature.cellMenu?.(cell) ?? []).flat()
      openAt({ line, column }, [...entries, ...hostEntries(ofCell(cell))], anchor)
      return true
    },
  }
}
