import type { RowId, RowRecord } from '@vast-meadow/engine'
import { SELECT_COLUMN } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { Selector } from './selector.ts'
import { type PageLine } from '../../kernel/page-line.ts'

/** Of the grid's handle: what is selected. */
export interface SelectionHandle {
  readonly selectedCount: number
  /** The selected rows as plain objects, at most `limit`; default 10,000. */
  selectedRecords(limit?: number): Promise<RowRecord[]>
  clearSelection(): void
}

/** Rows are picked by box, click, Shift and key, and stay picked whatever is arranged. */
export function selection(kernel: Kernel): Feature {
  const { model, texts, screen, announcer, emitter, foot, format } = kernel
  const readout = make('span', 'selected')
  foot.addAtStart(readout)

  const selector: Selector = new Selector({
    get lineCount() {
      return kernel.lines.lineCount
    },
    async passingRows() {
      return kernel.view ? await model.ask('passingRows', { view: kernel.view.id }) : undefined
    },
    async rowsBetween(from, to) {
      const { pager } = kernel
      if (!kernel.view) return undefined
      return await model.ask('rowsBetween', {
        view: kernel.view.id,
        from: pager.ofView(from),
        to: pager.ofView(to),
      })
    },
    rowAt(line) {
      const shown = kernel.lines.line(line)
      return shown?.kind === 'row' ? shown.row : null
    },
    changed: () => changed(),
  })

  /** How many rows were told of; rows that come again are no other selection. */
  let told = 0
  function changed(acted = true): void {
    const count = selector.rows.size
    const passing = kernel.report?.passing ?? 0
    screen.body.refreshSelected()
    screen.header.setAllSelected(count === 0 ? 'false' : count >= passing ? 'true' : 'mixed')
    readout.textContent = count > 0 ? texts.selected(format(count)) : ''
    if (!acted && count === told) return
    told = count
    if (count > 0) announcer.say(texts.selected(format(count)))
    emitter.emit('selection', { count })
  }

  /** All rows that pass, or none where they are selected already. */
  const toggleAll = (): boolean => {
    void selector.toggleAll(selector.rows.size >= (kernel.report?.passing ?? 0)).catch(kernel.failed)
    return true
  }
  const extend = (line: PageLine, adding: boolean): void =>
    void selector.extend(line, adding).catch(kernel.failed)

  const handle: SelectionHandle = {
    get selectedCount() {
      return selector.rows.size
    },
    async selectedRecords(limit = 10_000) {
      const rows: RowId[] = []
      for (const row of selector.rows) {
        if (rows.length >= limit) break
        rows.push(row)
      }
      return (await model.ask('records', { rows, binding: model.binding })) ?? []
    },
    clearSelection: () => selector.set({ kind: 'run', from: 0, to: 0 }),
  }

  return {
    name: 'selection',
    handle,
    selects: row => selector.rows.has(row),
    held: () => ({ kind: 'list', rows: [...selector.rows] }),
    holdAgain(rows) {
      selector.hold(rows)
      changed(false)
    },
    gone: rows => selector.drop(rows),
    viewed: () => selector.forgetAnchor(),
    arranged(_, change) {
      if ('page' in change || 'pageSize' in change) selector.forgetAnchor()
    },
    key(event, { line, column }) {
      if (event.key === ' ') {
        if (line === -1) return column === SELECT_COLUMN ? toggleAll() : true
        if (event.shiftKey) extend(line, true)
        else selector.toggle(line)
        return true
      }
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'a') return false
      void selector.toggleAll(false).catch(kernel.failed)
      return true
    },
    click(event, { line, column }) {
      const box = column === SELECT_COLUMN
      if (line === -1) return box && toggleAll()
      const adding = event.ctrlKey || event.metaKey
      if (event.shiftKey) extend(line, box || adding)
      else if (box || adding) selector.toggle(line)
      else {
        selector.from(line)
        return false
      }
      return true
    },
  }
}
