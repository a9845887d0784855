import { expect, test, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'
import { random } from '../support/random.ts'

// Changes in any order beside a plain model: typed, pasted, replaced, new, deleted, saved, refused, taken back, while rows
// are ordered, narrowed, grouped, paged, changed by others and the page is loaded anew. Nothing typed is lost or doubled.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

type Column = 'name' | 'kind' | 'height'
type Cells = Partial<Record<Column, string | number | null>>
interface Row {
  readonly id: number
  name: string | null
  kind: string | null
  height: number | null
}
interface List {
  changed: { key: number; after: Cells }[]
  added: { name: string; values: Cells & { id?: number } }[]
  removed: { key: number }[]
  notValid: { key?: number; field: string; text: string }[]
}
interface Handle {
  changes(): List
  setCell(key: number, column: string, value: unknown): Promise<void>
  addRow(values: object): Promise<string>
  deleteRows(keys: number[]): Promise<void>
  saveChanges(): Promise<void>
  discardChanges(): void
  undo(): boolean
  redo(): boolean
  arrange(change: object): void
  commit(changes: object): Promise<unknown>
}

const KINDS = ['ash', 'elm', 'oak', 'yew']
const COLUMNS: readonly Column[] = ['name', 'kind', 'height']
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', width: 90 },
    ...COLUMNS.map(key => ({ key, title: key, width: 110, edit: {} })),
  ],
  editing: { newRows: 'head', remove: true, leaving: false },
  pages: { size: 40, sizes: [] },
}

/** What is pending, by the plainest means. */
class Pending {
  readonly cells = new Map<number, Map<Column, string | number | null>>()
  readonly texts = new Map<string, string>()
  readonly added = new Map<string, Cells>()
  readonly removed = new Set<number>()

  copy(): Pending {
    const made = new Pending()
    for (const [key, cells] of this.cells) made.cells.set(key, new Map(cells))
    for (const [place, text] of this.texts) made.texts.set(place, text)
    for (const [name, values] of this.added) made.added.set(name, { ...values })
    for (const key of this.removed) made.removed.add(key)
    return made
  }

  write(row: Row, column: Column, text: string): void {
    const place = `${row.id} ${column}`
    const cells = this.cells.get(row.id) ?? new Map<Column, string | number | null>()
    this.texts.delete(place)
    cells.delete(column)
    const value = text === '' ? null : column === 'height' ? Number(text) : text
    if (typeof value === 'number' && Number.isNaN(value)) this.texts.set(place, text)
    else if (value !== row[column]) cells.set(column, value)
    if (cells.size > 0) this.cells.set(row.id, cells)
    else this.cells.delete(row.id)
  }

  touches(key: number): boolean {
    return (
      this.cells.has(key) ||
      this.removed.has(key) ||
      [...this.texts.keys()].some(p => p.startsWith(`${key} `))
    )
  }

  /** As the grid's document says it, in an order of our own. */
  list(): object {
    const kept = [...this.cells].filter(([key]) => !this.removed.has(key))
    return {
      changed: kept.map(([key, cells]) => ({ key, after: sorted(Object.fromEntries(cells)) })).sort(byKey),
      added: [...this.added].map(([name, values]) => `${name} ${JSON.stringify(sorted(values))}`).sort(),
      removed: [...this.removed].sort((a, b) => a - b),
      notValid: [...this.texts].map(([place, text]) => `${place} ${text}`).sort(),
    }
  }
}
const byKey = (a: { key: number }, b: { key: number }): number => a.key - b.key
const sorted = (cells: object): object =>
  Object.fromEntries(Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1)))

function plainly({ changed, added, removed, notValid }: List): object {
  const gone = new Set(removed.map(({ key }) => key))
  return {
    changed: changed
      .filter(({ key }) => !gone.has(key))
      .map(({ key, after }) => ({ key, after: sorted(after) }))
      .sort(byKey),
    added: added.map(({ name, values }) => `${name} ${JSON.stringify(sorted(values))}`).sort(),
    removed: [...gone].sort((a, b) => a - b),
    notValid: notValid.map(({ key, field, text }) => `${key} ${field} ${text}`).sort(),
  }
}

async function play(page: Page, seed: number, steps: number): Promise<void> {
  const pick = random(seed)
  const rows: Row[] = Array.from({ length: 90 }, (_, id) => ({
    id,
    name: `tree ${id}`,
    kind: KINDS[pick(4)]!,
    height: pick(60),
  }))
  let pending = new Pending()
  let next = 1000
  let saves: List[] = []
  /** What undo and redo come to; a save, or rows changed by others, end what can be said of it plainly. */
  let past: Pending[] = []
  let future: Pending[] = []
  await page.exposeFunction('serverTakes', (list: List, mode: string) => {
    saves.push(list)
    if (mode === 'down') throw new Error('It does not answer.')
    const refused = mode === 'refusing' ? list.changed.slice(0, 1).map(({ key }) => key) : []
    for (const { key, after } of list.changed)
      if (!refused.includes(key))
        Object.assign(
          rows.find(({ id }) => id === key)!,
          after,
        )
    const made = list.added.map(({ name, values }) => {
      const row = { id: next++, name: null, kind: null, height: null, ...values } as Row
      rows.push(row)
      return { name, key: row.id, saved: row }
    })
    for (const { key } of list.removed)
      rows.splice(
        rows.findIndex(({ id }) => id === key),
        1,
      )
    return { rows: [...refused.map(key => ({ key, refused: 'not today' })), ...made] }
  })
  const open = async (): Promise<void> => {
    await mountBare(page, served.url, {
      rows,
      definition: DEFINITION,
      savesBy: 'saver',
      keptAs: 'trees',
      placement: { workerFrom: 40 },
    })
    await page.evaluate(() => {
      Object.assign(window, {
        mode: 'taking',
        saver: (list: unknown) =>
          (window as unknown as { serverTakes(list: unknown, mode: unknown): unknown }).serverTakes(
            list,
            (window as unknown as { mode: string }).mode,
          ),
      })
    })
  }
  await open()
  const on = <T, Given>(of: (handle: Handle, given: Given) => T, given: Given): Promise<Awaited<T>> =>
    page.evaluate(`(${of.toString()})(window.handle, ${JSON.stringify(given)})`) as Promise<Awaited<T>>
  const some = (): Row => rows[pick(rows.length)]!
  const value = (column: Column): string =>
    column === 'kind'
      ? KINDS[pick(4)]!
      : column === 'height'
        ? ['', String(pick(60)), 'tall', String(pick(60))][pick(4)]!
        : ['', `bush ${pick(9)}`, '<b>', 'a\u0301 🌳'][pick(4)]!
  const act = (change: () => void): void => {
    past.push(pending.copy())
    future = []
    const before = JSON.stringify(pending.list())
    change()
    // What changes nothing is no act.
    if (JSON.stringify(pending.list()) === before) past.pop()
  }
  const settle = (): void => {
    past = []
    future = []
  }
  const acts: Record<string, () => Promise<void>> = {
    async set() {
      const [row, column] = [some(), COLUMNS[pick(3)]!]
      if (pending.removed.has(row.id)) return
      const text = value(column)
      act(() => pending.write(row, column, text))
      await on(
        async (grid, [key, field, given]) => await grid.setCell(key as number, field as string, given),
        [row.id, column, text],
      )
    },
    async type() {
      await page.waitForTimeout(80)
      const ids = await idsInView(page)
      if (ids.length === 0) return
      const id = ids[pick(ids.length)]!
      const row = rows.find(one => one.id === id)
      if (!row || pending.removed.has(id)) return
      const text = `typed ${pick(99)}`
      // By what stands in it: the element of a row is another's as soon as the click scrolls.
      const same = page.locator('.body .row:not([hidden])', {
        has: page.locator(`[aria-colindex="2"]:text-is("${id}")`),
      })
      await same.locator('[aria-colindex="3"]').click({ timeout: 3000 })
      await page.keyboard.type(text)
      await page.keyboard.press('Enter')
      act(() => pending.write(row, 'name', text))
    },
    async add() {
      const values = pick(2) ? { name: `new ${pick(50)}` } : { kind: 'fir', height: pick(9) }
      const name = await on(async (grid, given) => await grid.addRow(given), values)
      act(() => pending.added.set(name, { ...values }))
    },
    async remove() {
      const row = some()
      act(() => pending.removed.add(row.id))
      await on(async (grid, keys) => await grid.deleteRows(keys), [row.id])
    },
    async save() {
      const mode = ['taking', 'taking', 'refusing', 'down'][pick(4)]!
      await page.evaluate(to => Object.assign(window, { mode: to }), mode)
      saves = []
      const wanted = pending.list() as { changed: { key: number }[] }
      const before = pending.copy()
      await on(async grid => await grid.saveChanges(), null)
      const isNothing = before.cells.size === 0 && before.added.size === 0 && before.removed.size === 0
      // Rows in which something is not right wait; no save is asked for where nothing is left.
      const waiting = new Set([...before.texts.keys()].map(place => Number(place.split(' ')[0])))
      const sent = [...before.cells.keys()].filter(key => !before.removed.has(key) && !waiting.has(key))
      const goes = sent.length > 0 || before.added.size > 0 || before.removed.size > 0
      expect(saves, JSON.stringify(wanted)).toHaveLength(goes && !isNothing ? 1 : 0)
      if (!goes) return
      const [list] = saves
      expect(list!.changed.map(({ key }) => key).sort((a, b) => a - b)).toEqual(sent.sort((a, b) => a - b))
      if (mode === 'down') return
      const refused = mode === 'refusing' ? list!.changed[0]?.key : undefined
      for (const { key } of list!.changed) if (key !== refused) pending.cells.delete(key)
      pending.added.clear()
      for (const key of [...pending.removed]) {
        pending.removed.delete(key)
        pending.cells.delete(key)
        for (const place of [...pending.texts.keys()])
          if (place.startsWith(`${key} `)) pending.texts.delete(place)
      }
      settle()
    },
    async undo() {
      const before = past.pop()
      if (!before) return
      future.push(pending)
      pending = before
      await on(grid => grid.undo(), null)
    },
    async redo() {
      const after = future.pop()
      if (!after) return
      past.push(pending)
      pending = after
      await on(grid => grid.redo(), null)
    },
    async discard() {
      if (pick(3) > 0) return
      act(() => (pending = new Pending()))
      await on(grid => grid.discardChanges(), null)
    },
    async order() {
      const column = ['id', ...COLUMNS][pick(4)]!
      await on((grid, order) => grid.arrange({ order }), [{ column, direction: 'descending' }])
    },
    async narrow() {
      const conditions = pick(2)
        ? { kind: { match: 'all', parts: [{ kind: 'one-of', values: KINDS.slice(pick(3)) }] } }
        : {}
      await on((grid, given) => grid.arrange({ conditions: given }), conditions)
    },
    async group() {
      await on(
        (grid, groups) => grid.arrange({ groups }),
        pick(3) === 0 ? [{ column: 'kind', bucket: { by: 'value' } }] : [],
      )
    },
    async turn() {
      await on((grid, page) => grid.arrange({ page }), pick(3))
    },
    async others() {
      const row = some()
      if (pending.touches(row.id)) return
      row.height = pick(60)
      await on(
        async (grid, update) => void (await grid.commit({ update })),
        [{ id: row.id, height: row.height }],
      )
    },
    async reload() {
      if (pick(4) > 0) return
      await page.waitForTimeout(250)
      await open()
      settle()
    },
  }
  const names = Object.keys(acts)
  const told: string[] = []
  for (let step = 0; step < steps; step++) {
    const name = names[pick(names.length)]!
    told.push(name)
    const where = `seed ${seed}, step ${step}, after ${told.slice(-7).join(', ')}`
    await test.step(where, async () => await acts[name]!())
    await expect
      .poll(async () => plainly(await on(grid => grid.changes(), null)), { message: where })
      .toEqual(pending.list())
    // Cells show what is pending, and else what is saved.
    await expect.poll(async () => await wrongCells(page, rows, pending), { message: where }).toEqual([])
  }
}

/** The keys of rows that are wholly in view and can be typed into. */
async function idsInView(page: Page): Promise<number[]> {
  return await page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    const body = root.querySelector('.body')!.getBoundingClientRect()
    const rows = [...root.querySelectorAll('.body .row:not([hidden], .new-row, .group, .to-go)')]
    return rows
      .filter(row => {
        const { top, bottom } = row.getBoundingClientRect()
        return top >= body.top && bottom <= body.bottom
      })
      .map(row => row.querySelector('[aria-colindex="2"]')?.textContent ?? '')
      .filter(text => text !== '')
      .map(Number)
  })
}

/** Cells in view that show something else than they should. */
async function wrongCells(page: Page, rows: readonly Row[], pending: Pending): Promise<string[]> {
  const shown = await page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    return [...root.querySelectorAll('.body .row:not([hidden]):not(.group):not(.new-row)')].map(row =>
      [2, 3, 4, 5].map(nth => row.querySelector(`[aria-colindex="${nth}"]`)?.textContent ?? ''),
    )
  })
  return shown.flatMap(([id, ...texts]) => {
    const row = rows.find(one => String(one.id) === id)
    if (!row) return id === '' ? [] : [`row ${id} is not there`]
    return COLUMNS.flatMap((column, nth) => {
      const cells = pending.cells.get(row.id)
      const value = cells?.has(column) ? cells.get(column) : row[column]
      const wanted = pending.texts.get(`${row.id} ${column}`) ?? String(value ?? '')
      return texts[nth] === wanted ? [] : [`${id} ${column}: ${texts[nth]} instead of ${wanted}`]
    })
  })
}

for (const seed of [3, 20261128])
  test(`whatever is changed in whatever order is neither lost nor doubled (seed ${seed})`, async ({
    page,
  }) => {
    test.setTimeout(240_000)
    await play(page, seed, 60)
  })
for (const seed of [11, 12, 13, 14, 15, 16])
  test(`the same for longer (seed ${seed})`, ALL, async ({ page }) => {
    test.setTimeout(600_000)
    await play(page, seed, 200)
  })
