import type { HeadLine, KeyValue, RowId, Rows, Ticked } from '@vast-meadow/engine'
import { RowSet } from '@vast-meadow/engine/client'
import { SELECT_COLUMN } from '../../band/geometry.ts'
import { elementOf } from '../../kernel/dom.ts'
import type { SelectionChange } from '../../kernel/events.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../../kernel/page-line.ts'
import type { AskedRows } from '../../kernel/selected-rows.ts'
import { MOST_KEYS, keysOf, selectionChange } from './selection-change.ts'
import type { SelectionHandle } from './selection-handle.ts'
import { SelectedCounts, stateOf } from './selected-counts.ts'
import { SelectedSums } from './selected-sums.ts'
import { SelectedFoot } from './selected-foot.ts'
import { Selector, type TickedNow } from './selector.ts'

/** Rules that speak of how many are selected are asked when ticks have rested so long. */
const COUNT_REST_MS = 60
const NO_ROWS: Rows = { kind: 'run', from: 0, to: 0 }
type TickedAllBut = Extract<Ticked<AskedRows>, { kind: 'all-but' }>
/** What decides which rows are on a page. */
const MOVES_PAGE = ['page', 'pageSize', 'order', 'conditions', 'where', 'search', 'groups'] as const

/** Rows are ticked by box, click, sweep, Shift and key, and stay so whatever is arranged. */
export function selection(kernel: Kernel): Feature {
  const { model, texts, screen, announcer, emitter, foot, format, sweep, disposal } = kernel
  const passing = (): number => kernel.report?.passing ?? 0
  const packed = () => selector.ticked.known?.packed() ?? null

  const selector: Selector = new Selector({
    get most() {
      return model.selectionRules.rows
    },
    get lineCount() {
      return kernel.lines.lineCount
    },
    async rowsBetween(from, to) {
      const { pager, view } = kernel
      if (!view) return undefined
      return await model.ask('rowsBetween', {
        view: view.id,
        from: pager.ofView(from),
        to: pager.endOfView(to),
      })
    },
    rowAt(line) {
      const shown = kernel.lines.line(line)
      return shown?.kind === 'row' ? shown.row : null
    },
    allows(before, after) {
      return kernel.allow.select?.(selectionChange(model, before, after, passing())) ?? true
    },
    changed: before => changed(before),
    redraw: () => redraw(),
  })
  const counts: SelectedCounts = new SelectedCounts(kernel, packed, () => {
    screen.body.refreshSelected()
    show()
  })
  const sums = new SelectedSums(kernel)
  const readout = new SelectedFoot(
    texts,
    { only: () => void onlyThese(), next: () => void goToNext().catch(kernel.failed), clear: () => clear() },
    disposal,
  )
  foot.addAtStart(readout.element)

  const count = (): number => selector.ticked.size(passing())

  function show(): void {
    const { ticked } = selector
    const { passing: told } = counts
    const held = told && ticked.known ? ticked.known.size - told.selected : null
    readout.show(count(), held, ticked.known !== null, format)
    const { rows, within } = model.selectionRules
    const ofPage = within === 'page' && model.pageSize !== null ? pageState() : null
    const ofAll = ticked.known ? (told ? stateOf(told) : null) : ticked.size(passing()) > 0 ? 'true' : 'false'
    screen.header.setAllSelected(rows === 'several' ? (ofPage ?? ofAll ?? guess()) : null)
  }

  /** Before anybody has counted. */
  const guess = (): 'true' | 'false' | 'mixed' =>
    count() === 0 ? 'false' : count() >= passing() ? 'true' : 'mixed'

  /** Of the rows on the page. */
  function pageState(): 'true' | 'false' | 'mixed' {
    let [rows, selected] = [0, 0]
    for (let line = 0; line < kernel.lines.lineCount; line++) {
      const at = kernel.lines.line(line)
      if (at?.kind !== 'row') continue
      rows++
      if (selector.ticked.has(at.row)) selected++
    }
    return stateOf({ rows, selected })
  }

  /** How many rows were told of; rows that come again are no other selection. */
  let told = 0
  function redraw(): void {
    counts.ask()
    screen.body.refreshSelected()
    show()
    sums.later(packed(), count())
  }
  function changed(before: TickedNow): void {
    redraw()
    const change = selectionChange(model, before, selector.ticked, passing())
    // Taking away what was not there is no act.
    if (count() !== told || change.added > 0 || change.removed > 0) tell(change)
  }
  function tell(change: SelectionChange): void {
    told = change.count
    clearTimeout(countTimer)
    countTimer = window.setTimeout(() => kernel.selectedNow(count()), COUNT_REST_MS)
    announcer.say(told > 0 ? texts.selected(format(told), told) : texts.noneSelected)
    emitter.emit('selection', change)
  }
  let sweeping = false
  let countTimer = 0
  disposal.add(() => clearTimeout(countTimer))

  // ── All, by group, by page ───────────────────────────────────────────────────────────────────────────────────

  /** What decides which rows pass; null where some alone are shown, which no request tells. */
  function asked(): AskedRows | null {
    const { conditions, where, search } = model.arrangement
    return model.among ? null : { conditions, where, search }
  }

  async function tickAll(): Promise<void> {
    const { view } = kernel
    if (!view) return
    const { within } = model.selectionRules
    if (within === 'page' && model.pageSize !== null) {
      const rows = await pageRows()
      if (rows) selector.put(rows, true)
      return
    }
    const can = model.canTell('passingRows')
    const rows = can ? ((await model.ask('passingRows', { view: view.id, anyOrder: true })) ?? null) : null
    if (rows || !can) selector.tickAll(asked(), rows)
  }

  const pageRows = async (): Promise<Rows | undefined> => {
    const { view, pager } = kernel
    const last = asPageLine(kernel.lines.lineCount - 1)
    if (!view || last < 0) return undefined
    const from = pager.ofView(asPageLine(pager.above))
    const to = pager.ofView(last)
    return await model.ask('rowsBetween', { view: view.id, from, to: (to + 1) as typeof to })
  }

  /** All rows that pass, or none of them where they are ticked already. */
  async function toggleAll(): Promise<void> {
    const { ticked } = selector
    if (model.selectionRules.rows !== 'several') return
    if (!ticked.known) {
      clear()
      return
    }
    const ofPage = model.selectionRules.within === 'page' && model.pageSize !== null
    const all = ofPage
      ? pageState()
      : stateOf((await counts.ofAll()) ?? { rows: passing(), selected: count() })
    if (all !== 'true') {
      await tickAll()
      return
    }
    const { view } = kernel
    const rows = ofPage
      ? await pageRows()
      : view && (await model.ask('passingRows', { view: view.id, anyOrder: true }))
    if (rows) selector.put(rows, false)
  }

  async function toggleGroup({ path }: HeadLine): Promise<void> {
    const { view } = kernel
    if (!view || model.selectionRules.rows !== 'several') return
    const rows = await model.ask('rowsOfGroup', { view: view.id, path })
    const state = await counts.of(path)
    if (rows) selector.put(rows, !state || stateOf(state) !== 'true')
  }
  const headAt = (line: PageLine): HeadLine | null => {
    const at = line >= 0 ? kernel.lines.line(line) : undefined
    return at?.kind === 'head' ? at : null
  }
  const extend = (line: PageLine, adding: boolean): void =>
    void selector.extend(line, adding).catch(kernel.failed)
  const clear = (): void => selector.set(NO_ROWS)

  // ── Only these, and the next of them ─────────────────────────────────────────────────────────────────────────

  let shown = 0
  /** Of the rows that alone are shown: how many they were. */
  let onlyCount = 0
  function onlyThese(): boolean {
    const { known } = selector.ticked
    if (!known || known.size === 0) {
      announcer.say(texts.nothingTicked)
      return false
    }
    onlyCount = known.size
    kernel.showAmong({ name: `ticked ${++shown}`, rows: known.packed() })
    announcer.say(texts.onlyTicked(format(onlyCount), onlyCount))
    return true
  }
  const liftOnly = (): void => {
    if (model.among) kernel.showAmong(null)
  }

  async function goToNext(): Promise<boolean> {
    const { navigator, pager, view } = kernel
    const selected = packed()
    if (!selected || !view || !model.canTell('nextSelected')) return false
    const from = navigator.placed ? navigator.line : asPageLine(screen.body.first - 1)
    const after = from < 0 ? (-1 as ReturnType<typeof pager.ofView>) : pager.ofView(from)
    const next = await model.ask('nextSelected', { view: view.id, selected, after })
    if (next && (await kernel.goToRow(next.row))) return true
    announcer.say(texts.noneTickedPasses)
    return false
  }

  /** Where the rule is so: what does not pass any more is not ticked any more. */
  async function dropNotPassing(): Promise<void> {
    const { view } = kernel
    const { ticked } = selector
    if (!view || ticked.isEmpty || model.selectionRules.notPassing !== 'drop') return
    const selected = packed()
    if (!selected) return
    const left = await model.ask('passingAmong', { view: view.id, selected })
    if (!left || view !== kernel.view || selector.ticked !== ticked) return
    const gone = RowSet.of(selected).minus(RowSet.of(left))
    if (gone.size > 0) selector.put({ kind: 'set', ...gone.packed() }, false)
  }

  // ── From code ────────────────────────────────────────────────────────────────────────────────────────────────

  async function rowsOf(keys: readonly KeyValue[]): Promise<RowId[]> {
    const rows = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
    return rows.filter(row => row !== null)
  }
  /** Whether all but some are still what is ticked: rows may have come or changed since. */
  async function stillAll({ request, except }: TickedAllBut, known: RowSet): Promise<boolean> {
    const { source } = model
    if (!source || !model.canTell('selectedIn')) return false
    const view = await source.view(model.requestOfRows(request))
    try {
      const passing = async (rows: RowSet): Promise<number> => {
        const asked = { view: view.id, selected: rows.packed(), paths: [] }
        return (await source.ask('selectedIn', asked)).passing.selected
      }
      const [ticked, others] = [await passing(known), await passing(except)]
      return (
        ticked === known.size && others === except.size && view.report.passing === known.size + except.size
      )
    } finally {
      view.close()
    }
  }
  const firstRows = (limit: number): RowId[] => {
    const rows: RowId[] = []
    for (const row of selector.ticked.known ?? []) {
      if (rows.length >= limit) break
      rows.push(row)
    }
    return rows
  }

  const handle: SelectionHandle = {
    get selectedCount() {
      return count()
    },
    async isSelected(key) {
      const [row] = await rowsOf([key])
      return row !== undefined && selector.ticked.has(row)
    },
    async selectedRows() {
      const { told, known } = selector.ticked
      if (told.kind === 'rows' || (known && !(await stillAll(told, known))))
        return { kind: 'keys', keys: await keysOf(model, known ?? new RowSet(), Infinity) }
      return { ...told, except: await keysOf(model, told.except, Infinity) }
    },
    selectedKeys: (limit = MOST_KEYS) => keysOf(model, selector.ticked.known ?? new RowSet(), limit),
    async selectedRecords(limit = MOST_KEYS) {
      return (await model.ask('records', { rows: firstRows(limit), binding: model.binding })) ?? []
    },
    async selectRows(keys, adding = false) {
      const found = await rowsOf(keys)
      const { rows } = model.selectionRules
      const list: Rows = {
        kind: 'list',
        rows: rows === 'none' ? [] : rows === 'one' ? found.slice(-1) : found,
      }
      if (adding && rows !== 'one') selector.put(list, true)
      else selector.set(list)
      return list.rows.length
    },
    async unselectRows(keys) {
      selector.put({ kind: 'list', rows: await rowsOf(keys) }, false)
    },
    selectAll: tickAll,
    clearSelection: clear,
    showOnlySelected: onlyThese,
    showAllAgain: liftOnly,
    get showsOnlySelected() {
      return model.among !== null
    },
    goToNextSelected: goToNext,
  }

  const boxAt = (event: Event): HTMLElement | null =>
    elementOf(event.target)?.closest<HTMLElement>('.box') ?? null
  disposal.listen(screen.viewport.view, 'pointerdown', event => {
    const box = boxAt(event)
    const at = box && kernel.cellAt(box)
    if (!at || at.line < 0 || headAt(at.line) || model.selectionRules.rows !== 'several') return
    const { line: from } = at
    sweep.begin(event, {
      over({ line }) {
        // A press that slipped within its box is a press.
        if (!sweeping && line === from) return false
        sweeping = true
        void selector.sweep(from, line).catch(kernel.failed)
        return true
      },
      end(keep) {
        sweeping = false
        selector.endSweep(keep)
      },
    })
  })

  return {
    name: 'selection',
    handle,
    toggleRow(row) {
      selector.toggleRow(row)
      return true
    },
    selects: row => selector.ticked.has(row),
    selectsGroup: head => (selector.ticked.isEmpty ? 'false' : counts.stateOf(head)),
    ticked: packed,
    selectedRows: () => handle.selectedRows(),
    selectedRecords: limit => handle.selectedRecords(limit),
    held: () => ({ kind: 'set', ...(packed() ?? new RowSet().packed()) }),
    holdAgain(rows) {
      selector.hold(rows)
      const { known } = selector.ticked
      // Rows that came anew have other ids.
      if (model.among) model.among = known?.size ? { name: `ticked ${++shown}`, rows: known.packed() } : null
      redraw()
      if (count() !== told) tell(selectionChange(model, selector.ticked, selector.ticked, passing()))
    },
    gone: rows => selector.drop(rows),
    defined({ selection: rules }) {
      screen.viewport.view.ariaMultiSelectable = String(rules.rows === 'several' || rules.cells)
      // What was ticked by other rules may not be.
      if (rules.rows === 'none' || (rules.rows === 'one' && count() > 1)) clear()
      show()
    },
    headMenu: head =>
      model.selectionRules.rows === 'several'
        ? [{ text: texts.selectGroup, act: () => void toggleGroup(head).catch(kernel.failed) }]
        : [],
    viewed() {
      counts.forget()
      selector.forgetAnchor()
      show()
      sums.later(packed(), count())
      void dropNotPassing().catch(kernel.failed)
    },
    arranged(_, change) {
      if (change.summaries) sums.later(packed(), count())
      if ('page' in change || 'pageSize' in change) selector.forgetAnchor()
      const { within } = model.selectionRules
      const moves = MOVES_PAGE.some(part => part in change)
      if (within === 'page' && model.pageSize !== null && moves && !selector.ticked.isEmpty) clear()
      // All that pass are others now, and nobody knows which of them were ticked.
      else if (!selector.ticked.known && ['conditions', 'where', 'search'].some(part => part in change)) {
        clear()
        announcer.say(texts.allEnded)
      }
    },
    chips: () =>
      model.among
        ? [{ before: '', name: texts.onlyTicked(format(onlyCount), onlyCount), after: '', lift: liftOnly }]
        : [],
    hindrances: () =>
      model.among
        ? [{ what: texts.onlyTicked(format(onlyCount), onlyCount), count: '', lift: liftOnly, instead: null }]
        : [],
    liftAll: liftOnly,
    summaryLines: () => sums.lines(),
    key(event, { line, column }) {
      if (model.selectionRules.rows === 'none') return false
      if (event.key === ' ') {
        if (event.ctrlKey || event.metaKey) return false
        if (line === ABOVE_LINES) {
          if (column === SELECT_COLUMN) void toggleAll().catch(kernel.failed)
          return true
        }
        const head = headAt(line)
        if (head) void toggleGroup(head).catch(kernel.failed)
        else if (event.shiftKey) extend(line, true)
        else selector.toggle(line)
        return true
      }
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'a') return false
      void tickAll().catch(kernel.failed)
      return true
    },
    click(event, { line, column }) {
      const { rows, by } = model.selectionRules
      if (rows === 'none') return false
      const box = column === SELECT_COLUMN
      if (line === ABOVE_LINES) {
        if (box) void toggleAll().catch(kernel.failed)
        return box
      }
      const target = elementOf(event.target)
      const head = (target && screen.body.stuckAt(target)) ?? headAt(line)
      if (head) {
        if (target?.closest('.box')) void toggleGroup(head).catch(kernel.failed)
        return true
      }
      const adding = event.ctrlKey || event.metaKey
      if (event.shiftKey && (box || by === 'row')) extend(line, box || adding)
      else if (box || adding) selector.toggle(line)
      else if (by === 'row' && !target?.closest('button, a[href]')) selector.choose(line)
      else {
        selector.from(line)
        return false
      }
      return true
    },
  }
}
