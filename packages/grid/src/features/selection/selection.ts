import type { HeadLine, RowId, RowRecord, Rows } from '@vast-meadow/engine'
import { SELECT_COLUMN } from '../../band/geometry.ts'
import { elementOf, make } from '../../kernel/dom.ts'
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

  /** The box of all rows says how many of those that pass there are. */
  function showAll(): void {
    const count = selector.rows.size
    const passing = kernel.report?.passing ?? Infinity
    screen.header.setAllSelected(count === 0 ? 'false' : count >= passing ? 'true' : 'mixed')
  }

  /** How many rows were told of; rows that come again are no other selection. */
  let told = 0
  function changed(acted = true): void {
    const count = selector.rows.size
    states.clear()
    screen.body.refreshSelected()
    showAll()
    readout.textContent = count > 0 ? texts.selected(format(count)) : ''
    if (!acted && count === told) return
    told = count
    if (count > 0) announcer.say(texts.selected(format(count)))
    emitter.emit('selection', { count })
  }

  /** The rows of groups in view, by their paths: asked for while anything is selected. */
  const groupRows = new Map<string, Rows | null>()
  const states = new Map<string, 'true' | 'false' | 'mixed'>()
  const rowsOf = async ({ path }: HeadLine): Promise<Rows | undefined> =>
    kernel.view ? await model.ask('rowsOfGroup', { view: kernel.view.id, path }) : undefined

  /** Whether the rows of a group are selected; not known before its rows are, and then told. */
  function stateOf(head: HeadLine): 'true' | 'false' | 'mixed' {
    if (selector.rows.size === 0 || !model.canTell('rowsOfGroup')) return 'false'
    const name = JSON.stringify(head.path)
    const known = states.get(name)
    if (known) return known
    const rows = groupRows.get(name)
    if (rows) {
      const state = selector.stateOf(rows)
      states.set(name, state)
      return state
    }
    if (rows === undefined) {
      groupRows.set(name, null)
      rowsOf(head).then(told => {
        if (!told || !groupRows.has(name)) return
        groupRows.set(name, told)
        screen.body.refreshSelected()
      }, kernel.failed)
    }
    return 'false'
  }

  async function toggleGroup(head: HeadLine): Promise<void> {
    const rows = await rowsOf(head)
    if (rows) selector.toggleRows(rows)
  }
  const headAt = (line: PageLine): HeadLine | null => {
    const at = line >= 0 ? kernel.lines.line(line) : undefined
    return at?.kind === 'head' ? at : null
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
    toggleRow(row) {
      selector.toggleRow(row)
      return true
    },
    selects: row => selector.rows.has(row),
    selectsGroup: stateOf,
    ticked: () => selector.rows.packed(),
    held: () => ({ kind: 'list', rows: [...selector.rows] }),
    holdAgain(rows) {
      selector.hold(rows)
      changed(false)
    },
    gone: rows => selector.drop(rows),
    viewed() {
      groupRows.clear()
      states.clear()
      selector.forgetAnchor()
      showAll()
    },
    arranged(_, change) {
      if ('page' in change || 'pageSize' in change) selector.forgetAnchor()
    },
    key(event, { line, column }) {
      if (event.key === ' ') {
        if (line === -1) return column === SELECT_COLUMN ? toggleAll() : true
        const head = headAt(line)
        if (head) void toggleGroup(head).catch(kernel.failed)
        else if (event.shiftKey) extend(line, true)
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
      const target = elementOf(event.target)
      const head = (target && screen.body.stuckAt(target)) ?? headAt(line)
      if (head) {
        if (target?.closest('.box')) void toggleGroup(head).catch(kernel.failed)
        return true
      }
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
