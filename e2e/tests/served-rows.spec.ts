import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'
import { servedTrees, type ServedTrees } from '../support/served-trees.ts'

// Rows that a database holds, in a page of somebody else's: changed there, over lines of every kind.

let served: Served
let trees: ServedTrees
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())
test.beforeEach(async () => {
  trees = await servedTrees()
})
test.afterEach(() => trees.close())

const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', width: 90, edit: { required: true, whole: true } },
    { key: 'name', title: 'Name', width: 150, edit: { required: true, unique: true } },
    { key: 'kind', title: 'Kind', width: 110, edit: { choices: { of: 'kind' }, onlyChoices: true } },
    {
      key: 'height',
      title: 'Height',
      width: 110,
      edit: { least: 0, check: 'height < 500', says: 'Too high.' },
    },
    { key: 'planted', title: 'Planted', width: 130, edit: {} },
  ],
  editing: { newRows: 'head', remove: true },
}

interface Handle {
  readonly pendingCounts: Record<string, number>
  readonly report: { readonly passing: number } | null
  setCell(key: unknown, column: string, value: unknown): Promise<void>
  addRow(values?: object): Promise<string>
  deleteRows(keys: readonly unknown[]): Promise<void>
  saveChanges(): Promise<void>
  arrange(change: object): void
  refresh(): Promise<void>
  exportFile(options: object): Promise<Blob>
  on(name: string, listener: (event: never) => void): void
}
const handle = <T, Given>(
  page: Page,
  of: (handle: Handle, given: Given) => T,
  given?: Given,
): Promise<Awaited<T>> => page.evaluate(`(${of})(window.handle, ${JSON.stringify(given ?? null)})`)

async function mount(
  page: Page,
  line?: Parameters<ServedTrees['route']>[1],
  more: object = {},
): Promise<void> {
  await trees.route(page, line)
  await mountBare(page, served.url, {
    source: { kind: 'service', address: '/odata', rows: 'trees', near: false, patience: 20 },
    definition: { ...DEFINITION, ...more },
  })
}
const cell = (page: Page, line: number, column: number): Locator =>
  page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(column)
async function type(page: Page, line: number, column: number, text: string): Promise<void> {
  await expect(cell(page, line, column)).not.toBeEmpty()
  await cell(page, line, column).click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
/** The lines that are in view, each with what its first cell shows. */
const linesInView = (page: Page): Promise<(readonly [number, string])[]> =>
  page
    .locator('.body .row:visible')
    .evaluateAll(all =>
      all.map(
        line =>
          [
            Number(line.getAttribute('aria-rowindex')) - 2,
            line.querySelector('.cell:not(:has(> .box))')?.textContent ?? '',
          ] as const,
      ),
    )
const foot = (page: Page): Locator => page.locator('.foot')
const save = (page: Page): Promise<void> => page.getByRole('button', { name: 'Save all' }).click()

test('cells are changed, checked and saved in the database', async ({ page }) => {
  await mount(page)
  await type(page, 0, 3, '77')
  await type(page, 1, 3, '999')
  await type(page, 2, 1, 'tree 0003')
  // What needs other rows is asked of the service.
  await expect(foot(page)).toContainText('3 changes')
  await expect(foot(page)).toContainText('2 not right')
  await save(page)
  await expect(foot(page)).toContainText('1 row saved')
  expect((await trees.tree(0))?.height).toBe(77)
  expect((await trees.tree(1))?.height).toBe(37)
  await type(page, 1, 3, '11')
  await type(page, 2, 1, 'tree of mine')
  await save(page)
  await expect(foot(page)).toContainText('2 rows saved')
  expect(await trees.tree(2)).toMatchObject({ name: 'tree of mine', height: 74 })
  await expect(cell(page, 2, 1)).toHaveText('tree of mine')
  // The day on which a tree was planted the service keeps as it is.
  await cell(page, 2, 4).click()
  await page.keyboard.press('F2')
  await expect(page.locator('.edit-field')).toHaveCount(0)
  await expect(page.locator('[aria-live]').first()).toContainText('service')
})

test('rows are new and go, and the counts say so', async ({ page }) => {
  await mount(page)
  await handle(page, grid => grid.addRow({ id: 9001, name: 'sapling', kind: 'oak', height: 1 }))
  await handle(page, grid => grid.deleteRows([3, 4]))
  await handle(page, grid => grid.saveChanges())
  await expect(foot(page)).toContainText('3 rows saved')
  await expect(foot(page)).toContainText('4,999 rows')
  expect(await trees.tree(9001)).toMatchObject({ name: 'sapling', height: 1 })
  expect(await trees.tree(3)).toBeNull()
  await expect(cell(page, 3, 0)).toHaveText('5')
  // A key that is taken.
  await handle(page, grid => grid.addRow({ id: 9001, name: 'another' }))
  await handle(page, grid => grid.saveChanges())
  await expect(foot(page)).toContainText('1 not right')
  expect(await trees.tree(9001)).toMatchObject({ name: 'sapling' })
})

test('who comes second sees what the first has saved, and decides', async ({ page, context }) => {
  const other = await context.newPage()
  await mount(page)
  await mount(other)
  await type(page, 0, 3, '21')
  await type(other, 0, 3, '22')
  await save(page)
  await expect(foot(page)).toContainText('1 row saved')
  await save(other)
  await expect(foot(other)).toContainText('1 conflict')
  expect((await trees.tree(0))?.height).toBe(21)
  await other.getByRole('button', { name: 'List' }).click()
  await expect(other.getByRole('dialog')).toContainText('21')
  await other.getByRole('button', { name: 'Keep mine' }).first().click()
  await other.keyboard.press('Escape')
  await save(other)
  await expect(foot(other)).toContainText('1 row saved')
  expect((await trees.tree(0))?.height).toBe(22)
  // The first sees it when he looks anew.
  await handle(page, grid => grid.refresh())
  await expect(cell(page, 0, 3)).toHaveText('22')
})

test('a save that the line loses is offered again, and made once', async ({ page }) => {
  let down = false
  const sent: string[] = []
  await mount(page, ({ method }) => {
    if (method !== 'GET') sent.push(method)
    if (down) throw new Error('down')
  })
  await type(page, 0, 3, '55')
  down = true
  await save(page)
  const notice = foot(page).locator('.notice:visible')
  await expect(notice.filter({ hasText: 'Nothing was saved' })).toContainText('could not be reached')
  expect((await trees.tree(0))?.height).toBe(0)
  await expect(cell(page, 0, 3)).toHaveText('55')
  down = false
  await notice.getByRole('button', { name: 'Try again' }).first().click()
  await expect(foot(page)).toContainText('1 row saved')
  expect((await trees.tree(0))?.height).toBe(55)
  expect(sent.filter(method => method === 'PATCH')).toHaveLength(1)
})

test('answers that overtake one another never put a row in the place of another', async ({ page }) => {
  // Later questions are answered first, as often as not.
  await mount(page, async ({ method, url }) => {
    if (method === 'GET' && url.includes('$skip'))
      await new Promise(resolve => setTimeout(resolve, Math.random() * 400))
  })
  const wrong: string[] = []
  let seen = 0
  for (const share of [0.5, 0.52, 0.1, 0.9, 0.12, 1, 0.3, 0.31, 0]) {
    await page.locator('.scroller').evaluate((scroller, part) => {
      scroller.scrollTop = (scroller.scrollHeight - scroller.clientHeight) * part
    }, share)
    for (let looked = 0; looked < 8; looked++) {
      const lines = await linesInView(page)
      for (const [line, id] of lines) {
        if (id === '') continue
        seen++
        if (Number(id) !== line) wrong.push(`${id} on line ${line}`)
      }
      await page.waitForTimeout(40)
    }
  }
  expect(wrong).toEqual([])
  expect(seen).toBeGreaterThan(200)
})

test('whatever is asked and wherever one goes, the lines are those of an export', async ({ page }) => {
  await mount(page)
  let seed = 7
  const pick = <T>(of: readonly T[]): T => {
    seed = (seed * 48_271) % 2_147_483_647
    return of[seed % of.length]!
  }
  const orders = [
    [],
    [{ column: 'kind', direction: 'ascending' }],
    [
      { column: 'height', direction: 'descending' },
      { column: 'name', direction: 'ascending' },
    ],
    [{ column: 'planted', direction: 'descending' }],
  ]
  const conditions = [
    {},
    { kind: { match: 'all', parts: [{ kind: 'one-of', values: ['oak', 'yew'] }] } },
    { height: { match: 'all', parts: [{ kind: 'above', value: 120 }] } },
  ]
  for (let step = 0; step < 8; step++) {
    await handle(page, (grid, change) => grid.arrange(change as object), {
      order: pick(orders),
      conditions: pick(conditions),
      search: pick(['', '1', 'elm', 'tree 00']),
    })
    await page.waitForFunction(() => !document.querySelector('.busy'))
    const csv = await page.evaluate(async () => {
      const { handle } = window as unknown as { handle: Handle }
      return await (await handle.exportFile({ format: 'csv' })).text()
    })
    const ids = csv
      .trim()
      .split('\r\n')
      .slice(1)
      .map(line => line.split(',')[0])
    await expect.poll(() => handle(page, grid => grid.report?.passing)).toBe(ids.length)
    for (const share of [pick([0, 0.2, 0.4]), pick([0.6, 0.8, 1])]) {
      await page.locator('.scroller').evaluate((scroller, part) => {
        scroller.scrollTop = (scroller.scrollHeight - scroller.clientHeight) * part
      }, share)
      await expect
        .poll(async () => {
          const lines = await linesInView(page)
          return lines.filter(([line, id]) => ids[line] !== id)
        })
        .toEqual([])
    }
  }
})
