import { shownColumns } from '@vast-meadow/engine/client'
import type { DetailDefinition, KeyValue, RowId } from '@vast-meadow/engine'
import { DETAIL_COLUMN, type Geometry } from '../../band/geometry.ts'
import { elementOf, isInDetail } from '../../kernel/dom.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { PageLine } from '../../kernel/page-line.ts'
import type { DetailPainter } from '../../painter.ts'
import { ColumnList, type ListedColumn } from './column-list.ts'
import { DetailContents, type DetailDrawing } from './detail-contents.ts'
import type { DetailsHandle } from './details-handle.ts'
import { firstFocusable } from './first-focusable.ts'

/** Rows that open, by a button or by Enter, and show more of themselves in a line below. */
export function details(kernel: Kernel): Feature {
  const { model, texts, screen, navigator, announcer, emitter, options, format, disposal } = kernel
  /** In the order in which they were opened. */
  let open = new Set<RowId>()
  /** Painters that threw. */
  const broken = new Set<string>()
  let drawnBy: string | null = null
  /** The columns that found no room, as they were listed last. */
  let laidOut: Geometry | null = null
  let givenWay = ''
  const host = kernel.rowBandHost()

  const rules = (): DetailDefinition | undefined => model.definition?.detail
  const contents = new DetailContents(
    {
      draw: (row, place) => draw(row, place),
      resized: () => screen.askFrame(),
      failed: kernel.failed,
    },
    disposal,
  )

  // ── What a row shows ─────────────────────────────────────────────────────────────────────────────────────────

  function draw(row: RowId, place: HTMLElement): DetailDrawing {
    const name = rules()?.painter
    const painter = name === undefined || broken.has(name) ? undefined : options.parts?.details?.[name]
    if (name !== undefined && !painter && !broken.has(name)) {
      broken.add(name)
      kernel.tell({ code: 'no-such-painter', message: texts.noDetailPainter(name) })
    }
    return name !== undefined && painter ? byPainter(row, place, name, painter) : byColumns(row, place)
  }

  /** The host's own painter; once it throws, columns are listed in its place. */
  function byPainter(row: RowId, place: HTMLElement, name: string, painter: DetailPainter): DetailDrawing {
    let list: DetailDrawing | null = null
    let state: unknown
    let made = false
    const guarded = async (draw: () => void): Promise<void> => {
      try {
        draw()
      } catch (error) {
        console.error(error)
        broken.add(name)
        kernel.tell({ code: 'painter-failed', message: texts.detailFailed(name, String(error)) })
        place.replaceChildren()
        list = byColumns(row, place)
        await list.load()
      }
    }
    return {
      async load() {
        if (list) {
          await list.load()
          return
        }
        const [record] = (await model.ask('records', { rows: [row], binding: model.binding })) ?? []
        const key = (await keysOf([row])).at(0) ?? null
        if (!record) return
        await guarded(() => {
          if (!made) state = painter.create(place)
          made = true
          painter.update(state, { key, record, close: () => void change([row], false, true) })
        })
      },
      release() {
        list?.release()
        if (made && !broken.has(name)) painter.release?.(state)
      },
    }
  }

  function byColumns(row: RowId, place: HTMLElement): DetailDrawing {
    const list = new ColumnList(place, texts.missing)
    return {
      async load() {
        const columns = listed()
        const read = [...new Set([...columns.map(({ key }) => key), ...screen.besideColumns])]
        const cells = await model.ask('rowCells', { rows: [row], columns: read, binding: model.binding })
        if (cells) list.show(row, columns, read, cells)
        place.classList.toggle('empty', columns.length === 0)
        place.dataset.empty = columns.length === 0 ? texts.allShown : ''
      },
      release: () => list.release(),
    }
  }

  /** The columns that a row lists: those that were named, else those that are not among its cells. */
  function listed(): ListedColumn[] {
    const { definition, arrangement } = model
    const shown = new Set(Object.values(shownColumns(arrangement)).flat())
    const { givenWay } = screen.geometry
    const own = rules()?.columns
    const known = definition?.columns ?? []
    const columns =
      own?.flatMap(key => known.find(column => column.key === key) ?? []) ??
      known.filter(({ key }) => !shown.has(key) || givenWay.has(key))
    return columns.map(defined => ({
      key: defined.key,
      title: model.titleOf(defined.key),
      defined,
      painter: host.painterOf(defined.key, defined),
    }))
  }

  // ── Rows open and close ──────────────────────────────────────────────────────────────────────────────────────

  const keysOf = async (rows: readonly RowId[]): Promise<KeyValue[]> =>
    rows.length === 0
      ? []
      : ((await model.ask('keysOf', { keyFields: model.keyFields, rows: { kind: 'list', rows } })) ?? [])

  /** Whether the host lets a reader open a row, or close it. */
  async function allowed(row: RowId, on: boolean): Promise<boolean> {
    const { allow } = kernel
    if (!allow.open) return true
    return await allow.open({ key: (await keysOf([row])).at(0) ?? null, open: on })
  }

  /** Opens rows or closes them; answers when they are shown so. */
  async function change(rows: readonly RowId[], on: boolean, byReader = false): Promise<void> {
    if (on && !rules()) return
    if (byReader && rows.length === 1 && !(await allowed(rows[0], on))) return
    const before = open
    open = on && rules()?.several === false ? new Set(rows.slice(-1)) : new Set(before)
    for (const row of rows)
      if (on) open.add(row)
      else open.delete(row)
    if (rules()?.several === false) open = new Set([...open].slice(-1))
    await became(before)
    if (!byReader || rows.length !== 1) return
    announcer.say(on ? texts.rowOpened : texts.rowClosed)
    if (on) screen.revealDetail(rows[0])
  }

  async function became(before: ReadonlySet<RowId>): Promise<void> {
    const opened = [...open].filter(row => !before.has(row))
    const closed = [...before].filter(row => !open.has(row))
    if (opened.length + closed.length === 0) return
    const keysClosed = await keysOf(closed)
    const left = closed.find(row => contents.holdsFocus(row))
    await kernel.showOpened()
    // What had the focus goes: it is on the row then.
    if (left !== undefined) await kernel.focusRow(left)
    for (const row of closed) contents.drop(row)
    emitter.emit('opened', { count: open.size, opened: await keysOf(opened), closed: keysClosed })
  }

  const toggle = (row: RowId): boolean => {
    if (!rules()) return false
    void change([row], !open.has(row), true).catch(kernel.failed)
    return true
  }

  const shownAt = (line: PageLine): { readonly row: RowId; readonly isDetail: boolean } | null => {
    const shown = line >= 0 ? kernel.lines.line(line) : undefined
    return shown?.kind === 'row' || shown?.kind === 'detail'
      ? { row: shown.row, isDetail: shown.kind === 'detail' }
      : null
  }

  // ── The keyboard in a detail ─────────────────────────────────────────────────────────────────────────────────

  // Out of what is used in a detail, back to its line.
  disposal.listen(screen.viewport.view, 'keydown', event => {
    if (event.key !== 'Escape' || event.defaultPrevented || !isInDetail(event, true)) return
    const cell = event.composedPath().find(target => elementOf(target)?.classList.contains('detailcell'))
    elementOf(cell ?? null)?.focus({ preventScroll: true })
    event.preventDefault()
    event.stopPropagation()
  })

  /** Into what can be used in a detail; false where there is nothing. */
  function enter(line: PageLine): boolean {
    const cell = screen.cellElement(line, navigator.column)
    const inner = cell && firstFocusable(cell)
    inner?.focus()
    return inner !== undefined
  }

  async function ofKeys(keys: readonly KeyValue[]): Promise<RowId[]> {
    const rows = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
    return rows.filter(row => row !== null)
  }

  const handle: DetailsHandle = {
    get openedCount() {
      return open.size
    },
    openedKeys: () => keysOf([...open]),
    async openRows(keys, on = true) {
      const rows = await ofKeys(keys)
      await change(rows, on)
      return rows.length
    },
    closeRows: () => void change([...open], false).catch(kernel.failed),
  }

  return {
    name: 'details',
    handle,
    defined({ detail }) {
      const by = JSON.stringify(detail ?? null)
      if (by !== drawnBy) contents.clear()
      drawnBy = by
      if (!detail && open.size > 0) handle.closeRows()
    },
    // Which columns have no room, and what rows hold, may be otherwise.
    viewed: () => contents.outdate(),
    arranged(_, made) {
      if ('hidden' in made) contents.outdate()
    },
    drawn() {
      if (open.size === 0 || screen.geometry === laidOut) return
      laidOut = screen.geometry
      const without = [...laidOut.givenWay].join('\0')
      if (without !== givenWay) contents.outdate()
      givenWay = without
    },
    openRows: () => [...open],
    isOpen: row => open.has(row),
    openAgain(rows) {
      contents.clear()
      open = new Set(rows)
    },
    gone(rows) {
      const before = open
      open = new Set([...before].filter(row => !rows.includes(row)))
      for (const row of rows) contents.drop(row)
    },
    detailOf: row => (open.has(row) ? contents.elementOf(row) : null),
    detailHeightOf: row => contents.heightOf(row),
    toggleOpen: toggle,
    click(event, { line, column }) {
      const at = shownAt(line)
      const opener = elementOf(event.target)?.closest('.opener')
      if (!at || at.isDetail) return at?.isDetail === true
      return (opener !== null || column === DETAIL_COLUMN) && toggle(at.row)
    },
    key({ key }, { line, column }) {
      const at = shownAt(line)
      if (!at) return false
      if (at.isDetail && key === 'Enter') return enter(line)
      const closes = key === 'Escape' && open.has(at.row)
      if (at.isDetail || column === DETAIL_COLUMN)
        return (closes || (key === ' ' && !at.isDetail)) && toggle(at.row)
      return false
    },
    cellMenu({ row }): MenuEntry[] {
      if (!rules() || !screen.columns.includes(DETAIL_COLUMN)) return []
      const entry = { text: open.has(row) ? texts.closeRow : texts.openRow, act: () => void toggle(row) }
      if (open.size < 2) return [entry]
      return [entry, { text: texts.closeRows(format(open.size), open.size), act: () => handle.closeRows() }]
    },
  }
}
