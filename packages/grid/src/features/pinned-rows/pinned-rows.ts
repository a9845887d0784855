import type { KeyValue, RowId } from '@vast-meadow/engine'
import { shownColumns } from '@vast-meadow/engine/client'
import { RowBand } from '../../body/row-band.ts'
import { elementOf, make, makeOption } from '../../kernel/dom.ts'
import type { Chip } from '../../kernel/chips-view.ts'
import type { Feature, MenuEntry, PlacedCell } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { asPageLine } from '../../kernel/page-line.ts'
import { PinnedLines } from './pinned-lines.ts'

/** Rows that can be pinned on each side. */
const MOST = 12
/** Of the room between head and foot, pinned rows take this part at most. */
const MOST_OF_ROOM = 0.5
const SIDES = ['head', 'foot'] as const
type Side = (typeof SIDES)[number]

/** Of the grid's handle: rows that stay in view, and what is compared. */
export interface PinnedRowsHandle {
  /** Pins a row by its key; null: it is pinned no more. */
  pinRow(key: KeyValue, side: 'head' | 'foot' | null): void
  /** The columns in which the pinned rows do not all show the same. */
  readonly differingColumns: readonly string[]
}

/** Rows are pinned at the head or the foot and compared there; two columns are compared where they stand. */
export function pinnedRows(kernel: Kernel): Feature {
  const { model, texts, screen, features, announcer, disposal } = kernel
  const lines = new PinnedLines()
  let differing: ReadonlySet<string> = new Set()
  let bands: Readonly<Record<Side, readonly RowBand[]>> = { head: [], foot: [] }
  /** The ids of the rows that are shown, by the keys that pin them. */
  let found = new Map<string, RowId>()
  let asked = 0
  let shown = ''

  const inner = kernel.rowBandHost()
  const host = Object.create(inner, {
    lines: { get: () => lines },
    rowsBefore: { get: () => screen.headRows - bands.head.length },
    isShaded: { value: () => false },
    opensRows: { value: false },
    sidesOf: { value: null },
    differs: {
      value: (_text: string, _line: number, _row: RowId, column: string) => differing.has(column),
    },
  }) as typeof inner

  const nameOf = (key: KeyValue): string => JSON.stringify(key)
  function pinRow(key: KeyValue, side: Side | null): void {
    const without = (list: readonly KeyValue[]): KeyValue[] =>
      list.filter(one => nameOf(one) !== nameOf(key)).slice(0, MOST)
    const { head, foot } = model.arrangement.pinnedRows as Readonly<Record<Side, readonly KeyValue[]>>
    const next = { head: without(head), foot: without(foot) }
    if (side) next[side] = [...next[side].slice(0, MOST - 1), key]
    model.apply({ pinnedRows: next as typeof model.arrangement.pinnedRows }, 'reader')
    announcer.say(side ? texts.rowPinned[side] : texts.rowUnpinned)
  }

  /** Finds the rows of the keys and reads what they show. */
  async function load(): Promise<void> {
    const mine = ++asked
    const { head, foot } = model.arrangement.pinnedRows as Readonly<Record<Side, readonly KeyValue[]>>
    const keys = [...head, ...foot]
    if (keys.length === 0 || !model.canTell('rowCells') || !model.source) {
      found = new Map()
      show([], [])
      return
    }
    const columns = everyColumn()
    const rows = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
    const there = keys.flatMap((key, nth) => {
      const row = rows[nth] ?? null
      return row === null
        ? []
        : [{ key, row, side: nth < head.length ? ('head' as const) : ('foot' as const) }]
    })
    const ids = there.map(({ row }) => row)
    const cells = await model.ask('rowCells', { rows: ids, columns, binding: model.binding })
    if (mine !== asked || !cells) return
    found = new Map(there.map(({ key, row }) => [nameOf(key), row]))
    lines.take(ids, columns, cells)
    const visible = new Set(visibleColumns())
    differing = new Set(ids.length > 1 ? lines.differing().filter(column => visible.has(column)) : [])
    show(
      there.filter(({ side }) => side === 'head').map((_, nth) => nth),
      there
        .filter(({ side }) => side === 'foot')
        .map((_, nth) => nth + there.filter(({ side }) => side === 'head').length),
    )
  }

  const visibleColumns = (): string[] => Object.values(shownColumns(model.arrangement)).flat()
  /** Also those that styles and painters look up. */
  const everyColumn = (): string[] => [...new Set([...visibleColumns(), ...screen.besideColumns])]

  /** Shows so many bands on each side as there is room for, each with its line of `lines`. */
  function show(head: readonly number[], foot: readonly number[]): void {
    const room = Math.floor((screen.viewport.height * MOST_OF_ROOM) / screen.rowHeight)
    const take = {
      head: head.slice(0, Math.max(1, room - Math.min(foot.length, 1))),
      foot: foot.slice(0, Math.max(1, room - head.length)),
    }
    const of = (side: Side): RowBand[] =>
      take[side].map((_, nth) => {
        const band = bands[side].at(nth) ?? new RowBand(host)
        band.element.classList.add('pinned')
        band.element.ariaDescription = texts.pinnedRow
        return band
      })
    const next = { head: of('head'), foot: of('foot') }
    const differs = next.head.length !== bands.head.length || next.foot.length !== bands.foot.length
    for (const side of SIDES) for (const band of bands[side].slice(next[side].length)) band.dispose()
    bands = next
    if (differs) screen.setPinned(bands)
    for (const side of SIDES)
      bands[side].forEach((band, nth) => {
        band.element.classList.toggle('last', side === 'head' && nth === bands.head.length - 1)
        band.element.classList.toggle('first', side === 'foot' && nth === 0)
        band.show(asPageLine(take[side][nth]))
        // Those at the foot come behind all lines.
        const { rows } = kernel.view?.counts.lines ?? { rows: 0 }
        if (side === 'foot') band.element.ariaRowIndex = String(screen.headRows + rows + nth + 1)
      })
    kernel.showChips()
  }

  async function keyOf(row: RowId): Promise<KeyValue | null> {
    const asking = { keyFields: model.keyFields, rows: { kind: 'list' as const, rows: [row] } }
    return (await model.ask('keysOf', asking))?.[0] ?? null
  }

  const pin = (row: RowId, side: Side | null): void =>
    void keyOf(row).then(key => {
      if (key !== null) pinRow(key, side)
    }, kernel.failed)
  const isPinned = (row: RowId): boolean => [...found.values()].includes(row)
  const mayPin = (): boolean => (model.definition?.pinRows ?? false) && model.canTell('rowCells')

  function entriesOf(row: RowId): MenuEntry[] {
    if (!mayPin()) return []
    if (isPinned(row)) return [{ text: texts.unpinRow, act: () => pin(row, null) }]
    return SIDES.map(side => ({ text: texts.pinRow[side], act: () => pin(row, side) }))
  }

  /** What can be done with each pinned row, for who does not point at it. */
  function entriesOfAll(): MenuEntry[] {
    const [naming] = visibleColumns()
    return lines.rows.flatMap((row, nth) => {
      const name = lines.text(nth, row, naming) || texts.noValueName
      return [
        { text: texts.toNamedRow(name), act: () => void kernel.goToRow(row).catch(kernel.failed) },
        { text: texts.unpinNamedRow(name), act: () => pin(row, null) },
      ]
    })
  }

  function bandAt(element: Element | null): RowBand | null {
    if (!element) return null
    return [...bands.head, ...bands.foot].find(band => band.element.contains(element)) ?? null
  }

  disposal.listen(screen.viewport.view, 'click', event => {
    const target = elementOf(event.target)
    const row = bandAt(target)?.row ?? null
    if (row !== null && target?.closest('.box')) features.some(feature => feature.toggleRow?.(row))
  })
  disposal.listen(screen.viewport.view, 'contextmenu', event => {
    const target = elementOf(event.target)
    const row = bandAt(target)?.row ?? null
    if (row === null || event.shiftKey || !target) return
    const cell = target.closest<HTMLElement>('.cell') ?? target
    event.preventDefault()
    const entries = [
      ...entriesOf(row),
      { text: texts.toRow, act: () => void kernel.goToRow(row).catch(kernel.failed) },
    ]
    features.some(feature => feature.openMenu?.(entries, cell))
  })

  /** The two columns that are compared, or one that waits for its other. */
  function comparePart(column: string): HTMLElement | null {
    if (!mayPin()) return null
    const { compared } = model.arrangement
    const part = make('label', 'field')
    make('span', '', part).textContent = texts.compareWith
    const pick = make('select', '', part)
    pick.ariaLabel = texts.compareColumn(model.titleOf(column))
    pick.dataset.control = 'compare'
    makeOption(pick, '', texts.noColumn)
    for (const other of visibleColumns()) if (other !== column) makeOption(pick, other, model.titleOf(other))
    pick.value = compared.includes(column) ? (compared.find(one => one !== column) ?? '') : ''
    pick.onchange = () =>
      void model.apply({ compared: pick.value === '' ? [] : [column, pick.value] }, 'reader')
    return part
  }

  disposal.add(
    kernel.emitter.on('selection', () => {
      for (const side of SIDES) for (const band of bands[side]) band.refreshSelected()
    }),
  )
  const handle: PinnedRowsHandle = {
    pinRow,
    get differingColumns() {
      return [...differing]
    },
  }
  return {
    name: 'pinned rows',
    handle,
    cellMenu: ({ row }: PlacedCell) => entriesOf(row),
    cardPart: column => comparePart(column),
    chips() {
      const chips: Chip[] = []
      const count = found.size
      const { compared, pinnedRows: pinned } = model.arrangement
      const gone = pinned.head.length + pinned.foot.length - count
      if (count + gone > 0)
        chips.push({
          before: '',
          name: texts.rowsPinned(count),
          after: [
            gone > 0 ? texts.pinnedGone(gone) : '',
            count > 1 ? texts.columnsDiffer(differing.size, visibleColumns().length) : '',
          ]
            .filter(Boolean)
            .join(', '),
          lift: () => void model.apply({ pinnedRows: { head: [], foot: [] } }, 'reader'),
          open: anchor => void features.some(feature => feature.openMenu?.(entriesOfAll(), anchor)),
        })
      if (compared.length === 2) {
        const [one, other] = compared.map(column => model.titleOf(column))
        chips.push({
          before: '',
          name: texts.comparedColumns(one, other),
          after: '',
          lift: () => void model.apply({ compared: [] }, 'reader'),
        })
      }
      return chips
    },
    viewed: () => void load().catch(kernel.failed),
    arranged(_, change) {
      if (change.compared) screen.body.refresh()
      if (change.pinnedRows || change.hidden) void load().catch(kernel.failed)
    },
    drawn() {
      // In a frame of another height there is room for more or fewer.
      const now = `${screen.viewport.height} ${screen.rowHeight}`
      if (now === shown) return
      shown = now
      if (found.size > 0) void load().catch(kernel.failed)
    },
  }
}
