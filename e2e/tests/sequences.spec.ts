import { expect, test, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'
import { random } from '../support/random.ts'

// Acts in any order, beside a plain model of what must come of them: ticks, ranges, order, conditions, groups, pages, rows
// replaced and taken out, rows opened, exports.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

interface Row {
  readonly id: number
  readonly kind: string
  readonly height: number
}
interface Key {
  readonly column: 'id' | 'kind' | 'height'
  readonly direction: 'ascending' | 'descending'
}
interface Handle {
  readonly selectedCount: number
  readonly openedCount: number
  readonly report: { passing: number; total: number }
  arrange(change: object): void
  settled?: never
  selectRows(keys: number[], adding: boolean): Promise<number>
  unselectRows(keys: number[]): Promise<void>
  selectAll(): Promise<void>
  clearSelection(): void
  selectedKeys(): Promise<number[]>
  openRows(keys: number[], open: boolean): Promise<number>
  openedKeys(): Promise<number[]>
  commit(changes: object): Promise<unknown>
  setRows(rows: Row[]): Promise<void>
  pickCells(from: object, to: object): void
  clearCells(): void
  cellsAsText(options: object): Promise<string>
  exportFile(options: object): Promise<Blob>
}

const COLUMNS = ['id', 'kind', 'height'] as const
const KINDS = ['ash', 'elm', 'oak', 'yew']

/** What the grid is to be like, by the plainest means. */
class Plain {
  rows: Row[]
  readonly selected = new Set<number>()
  readonly open = new Set<number>()
  order: Key[] = []
  kinds: string[] | null = null
  grouped = false

  constructor(rows: Row[]) {
    this.rows = rows
  }

  passing(): Row[] {
    const compare = (a: Row, b: Row, keys: readonly Key[]): number => {
      for (const { column, direction } of keys) {
        const [x, y] = [a[column], b[column]]
        if (x !== y) return (x < y ? -1 : 1) * (direction === 'ascending' ? 1 : -1)
      }
      return 0
    }
    const grouping: Key[] = this.grouped ? [{ column: 'kind', direction: 'ascending' }] : []
    return this.rows
      .filter(({ kind }) => this.kinds === null || this.kinds.includes(kind))
      .map((row, nth) => ({ row, nth }))
      .sort((a, b) => compare(a.row, b.row, [...grouping, ...this.order]) || a.nth - b.nth)
      .map(({ row }) => row)
  }

  exported(which: string): Row[] {
    const passing = this.passing()
    if (which === 'passing') return passing
    if (which === 'all') return this.rows
    const picked = (rows: Row[]): Row[] => rows.filter(({ id }) => this.selected.has(id))
    return [...picked(passing), ...picked(this.rows.filter(row => !passing.includes(row)))]
  }

  drop(ids: readonly number[]): void {
    this.rows = this.rows.filter(({ id }) => !ids.includes(id))
    for (const id of ids) {
      this.selected.delete(id)
      this.open.delete(id)
    }
  }
}

const ascending = (numbers: Iterable<number>): number[] => [...numbers].sort((a, b) => a - b)

async function play(page: Page, seed: number, steps: number): Promise<void> {
  const pick = random(seed)
  let next = 120
  const make = (id: number): Row => ({ id, kind: KINDS[pick(4)]!, height: pick(50) })
  const plain = new Plain(Array.from({ length: next }, (_, id) => make(id)))
  const definition = {
    format: 'vast-meadow-grid',
    version: 3,
    key: 'id',
    columns: COLUMNS.map(key => ({ key, title: key, width: 110 })),
    detail: { columns: ['kind'] },
    pages: { size: 25, sizes: [] },
  }
  await mountBare(page, served.url, { rows: plain.rows, definition })
  const on = <T, Given>(of: (handle: Handle, given: Given) => T, given: Given): Promise<Awaited<T>> =>
    page.evaluate(`(${of.toString()})(window.handle, ${JSON.stringify(given)})`) as Promise<Awaited<T>>
  const some = (rows: readonly Row[]): number[] =>
    rows.length === 0 ? [] : Array.from({ length: 1 + pick(6) }, () => rows[pick(rows.length)]!.id)

  const acts: Record<string, () => Promise<void>> = {
    async tick() {
      const ids = some(plain.rows)
      const adding = pick(3) > 0
      if (!adding) plain.selected.clear()
      for (const id of ids) plain.selected.add(id)
      await on((handle, [keys, more]) => handle.selectRows(keys as number[], more as boolean), [ids, adding])
    },
    async untick() {
      const ids = some(plain.rows)
      for (const id of ids) plain.selected.delete(id)
      await on((handle, keys) => handle.unselectRows(keys), ids)
    },
    async tickAll() {
      for (const { id } of plain.passing()) plain.selected.add(id)
      await on(handle => handle.selectAll(), null)
    },
    async clear() {
      plain.selected.clear()
      await on(handle => handle.clearSelection(), null)
    },
    async tickByPointer() {
      const passing = plain.passing()
      if (plain.grouped || passing.length < 8) return
      await on(handle => handle.arrange({ page: 0 }), null)
      await page.waitForTimeout(60)
      await page.locator('.scroller').evaluate(scroller => scroller.scrollTo(0, 0))
      const [from, to] = ascending([pick(5), pick(5)])
      const box = (row: Row) =>
        page
          .locator('.body .row:not([hidden]):not(.detail)', {
            has: page.locator(`.cell:text-is("${row.id}")`),
          })
          .first()
          .locator('.box')
      const wasOn = plain.selected.has(passing[from!]!.id)
      await box(passing[from!]!).click()
      if (wasOn) plain.selected.delete(passing[from!]!.id)
      else plain.selected.add(passing[from!]!.id)
      await box(passing[to!]!).click({ modifiers: ['Shift'] })
      for (const { id } of passing.slice(from, to! + 1)) plain.selected.add(id)
    },
    async order() {
      plain.order = Array.from({ length: pick(3) }, (_, nth) => ({
        column: COLUMNS[(pick(3) + nth) % 3]!,
        direction: pick(2) ? ('ascending' as const) : ('descending' as const),
      })).filter((key, nth, all) => all.findIndex(other => other.column === key.column) === nth)
      await on((handle, order) => handle.arrange({ order }), plain.order)
    },
    async narrow() {
      plain.kinds = pick(3) === 0 ? null : KINDS.filter(() => pick(2) === 0)
      if (plain.kinds?.length === 0) plain.kinds = ['elm']
      const conditions = plain.kinds && {
        kind: { match: 'all', parts: [{ kind: 'one-of', values: plain.kinds }] },
      }
      await on((handle, given) => handle.arrange({ conditions: given }), conditions ?? {})
    },
    async group() {
      plain.grouped = !plain.grouped
      const groups = plain.grouped ? [{ column: 'kind', bucket: { by: 'value' } }] : []
      await on((handle, given) => handle.arrange({ groups: given }), groups)
    },
    async turn() {
      await on((handle, turned) => handle.arrange({ page: turned }), pick(4))
    },
    async open() {
      const ids = some(plain.rows)
      const wide = pick(3) > 0
      for (const id of ids)
        if (wide) plain.open.add(id)
        else plain.open.delete(id)
      await on((handle, [keys, opens]) => handle.openRows(keys as number[], opens as boolean), [ids, wide])
    },
    async remove() {
      const ids = [...new Set(some(plain.rows))]
      plain.drop(ids)
      await on((handle, keys) => handle.commit({ remove: keys }), ids)
    },
    async replace() {
      const kept = plain.rows.filter(() => pick(12) > 0).map(row => (pick(6) === 0 ? make(row.id) : row))
      plain.drop(plain.rows.map(({ id }) => id).filter(id => !kept.some(row => row.id === id)))
      plain.rows = [...kept, ...Array.from({ length: pick(8) }, () => make(next++))]
      await on((handle, rows) => handle.setRows(rows), plain.rows)
    },
  }
  const names = Object.keys(acts)
  const told: string[] = []
  for (let step = 0; step < steps; step++) {
    const name = names[pick(names.length)]!
    told.push(name)
    await acts[name]!()
    const passing = plain.passing()
    const where = `seed ${seed}, after ${told.slice(-6).join(', ')}`
    await expect
      .poll(() => on(handle => [handle.report.passing, handle.report.total], null), { message: where })
      .toEqual([passing.length, plain.rows.length])
    await expect
      .poll(async () => ascending(await on(handle => handle.selectedKeys(), null)), { message: where })
      .toEqual(ascending(plain.selected))
    expect(await on(handle => handle.selectedCount, null), where).toBe(plain.selected.size)
    expect(ascending(await on(handle => handle.openedKeys(), null)), where).toEqual(ascending(plain.open))
    const which = ['passing', 'selected', 'all'][pick(3)]!
    const text = await on(
      async (handle, rows) =>
        await (await handle.exportFile({ format: 'ndjson', rows, columns: ['id', 'kind', 'height'] })).text(),
      which,
    )
    const lines = text
      .split('\n')
      .filter(Boolean)
      .map(line => JSON.parse(line) as Row)
    expect(lines, `${where}: ${which}`).toEqual(plain.exported(which))
    if (!plain.grouped && passing.length > 0) {
      const [a, b] = [pick(passing.length), pick(passing.length)]
      const copied = await on(
        async (handle, [from, to]) => {
          handle.pickCells({ line: from, column: 'id' }, { line: to, column: 'kind' })
          const cells = await handle.cellsAsText({})
          handle.clearCells()
          return cells
        },
        [a, b],
      )
      const wanted = passing.slice(Math.min(a, b), Math.max(a, b) + 1).map(({ id, kind }) => `${id}\t${kind}`)
      expect(copied.trimEnd().split(/\r?\n/), where).toEqual(wanted)
    }
  }
}

for (const seed of [1, 20261127, 77])
  test(`whatever is done in whatever order comes to the same as plainly done (seed ${seed})`, async ({
    page,
  }) => {
    test.setTimeout(120_000)
    await play(page, seed, 70)
  })
