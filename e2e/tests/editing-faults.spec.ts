import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// What was typed outlasts whatever breaks: a worker that is gone, a service that dies amid a save, no line, a tab that is
// closed, a store that is full, two tabs at once.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 120 }, (_, id) => ({ id, name: `tree ${id}`, height: id }))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', width: 80 },
    { key: 'name', title: 'Name', width: 150, edit: {} },
    { key: 'height', title: 'Height', width: 110, edit: {} },
  ],
  editing: { newRows: 'head', leaving: false },
}
const mount = (page: Page, options: object = {}): Promise<void> =>
  mountBare(page, served.url, {
    rows: ROWS,
    definition: DEFINITION,
    savesBy: 'saver',
    keptAs: 'trees',
    ...options,
  })

interface Handle {
  readonly pendingCounts: { changed: number; added: number; notValid: number }
  changes(): { changed: { key: number; after: object }[]; added: { values: object }[] }
  addRow(values: object): Promise<string>
  on(name: string, listener: (event: never) => void): void
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of})(window.handle)`)
const cell = (page: Page, line: number, nth: number): Locator =>
  page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(nth)
async function type(page: Page, line: number, nth: number, text: string): Promise<void> {
  await cell(page, line, nth).click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
const typed = (page: Page): Promise<unknown> => handle(page, grid => grid.changes().changed)

test('a worker that is gone takes no change along, and the rows can be opened again', async ({ page }) => {
  await page.clock.install()
  await page.addInitScript(() => {
    const workers: Worker[] = []
    const Real = Worker
    Object.assign(window, {
      workers,
      Worker: class extends Real {
        constructor(...given: ConstructorParameters<typeof Worker>) {
          super(...given)
          workers.push(this)
        }
      },
    })
  })
  const many = Array.from({ length: 9000 }, (_, id) => ({ id, name: `tree ${id}`, height: id }))
  await page.clock.resume()
  await mount(page, { rows: many })
  await type(page, 1, 1, 'kept')
  await expect(cell(page, 1, 1)).toHaveText('kept')
  // The rows as they are with it have come.
  await page.waitForTimeout(500)
  expect(await page.evaluate('window.workers.length')).toBeGreaterThan(0)
  await page.evaluate('window.workers.forEach(one => one.terminate())')
  await type(page, 2, 1, 'kept too')
  await page.clock.runFor(60_000)
  await expect(page.getByText('does not answer any more')).toBeVisible()
  expect(await typed(page)).toEqual([
    { key: 1, before: { name: 'tree 1' }, after: { name: 'kept' } },
    { key: 2, before: { name: 'tree 2' }, after: { name: 'kept too' } },
  ])
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(cell(page, 2, 1)).toHaveText('kept too')
  await expect(cell(page, 1, 1)).toHaveText('kept')
})

test('a service that dies amid a save, or a line that is down, loses nothing and saves nothing twice', async ({
  page,
  context,
}) => {
  await mount(page)
  let answer: 'dies' | 'takes' = 'dies'
  let taken = 0
  await page.route('**/save', async route => {
    if (answer === 'dies') return await route.abort('connectionreset')
    taken += (route.request().postDataJSON() as { changed: object[] }).changed.length
    await route.fulfill({ json: {} })
  })
  await page.evaluate(() => {
    Object.assign(window, {
      saver: async (list: unknown) => {
        const response = await fetch('/save', { method: 'POST', body: JSON.stringify(list) })
        return (await response.json()) as unknown
      },
    })
  })
  await type(page, 0, 1, 'one')
  await type(page, 1, 1, 'two')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.notice', { hasText: 'Nothing was saved' })).toBeVisible()
  await context.setOffline(true)
  await type(page, 2, 1, 'three')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.notice', { hasText: 'Nothing was saved' })).toBeVisible()
  expect(await typed(page)).toHaveLength(3)
  await context.setOffline(false)
  answer = 'takes'
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect.poll(() => handle(page, grid => grid.pendingCounts.changed)).toBe(0)
  expect(taken).toBe(3)
  for (const [line, text] of ['one', 'two', 'three'].entries())
    await expect(cell(page, line, 1)).toHaveText(text)
})

test('a tab that is closed leaves what was typed to the next one', async ({ page, context }) => {
  await mount(page)
  await type(page, 3, 1, 'left behind')
  await type(page, 4, 2, 'no number')
  await handle(page, async grid => await grid.addRow({ name: 'fresh' }))
  // At once, without a moment to write it down.
  await page.close({ runBeforeUnload: true })
  const next = await context.newPage()
  await mount(next)
  await expect(next.locator('.row.new-row')).toHaveCount(1)
  await expect(cell(next, 4, 1)).toHaveText('left behind')
  await expect(cell(next, 5, 2)).toHaveText('no number')
  await expect(cell(next, 5, 2)).toHaveClass(/wrong/)
})

test('two tabs keep what was typed in each, and neither takes from the other', async ({ context, page }) => {
  const second = await context.newPage()
  await mount(page)
  await mount(second)
  await type(page, 0, 1, 'first tab')
  await type(second, 0, 1, 'second tab')
  await type(second, 1, 1, 'more')
  await page.waitForTimeout(400)
  for (const [tab, texts] of [
    [page, ['first tab', 'tree 1']],
    [second, ['second tab', 'more']],
  ] as const) {
    await tab.reload()
    await tab.waitForFunction('window.loaded')
    await mount(tab)
    for (const [line, text] of texts.entries()) await expect(cell(tab, line, 1)).toHaveText(text)
  }
})

test('a store that is full, or damaged, is told of and takes nothing along', async ({ page }) => {
  const fill = async (full: boolean): Promise<void> =>
    await page.evaluate(isFull => {
      const { prototype } = Storage
      const scope = window as unknown as { real?: Storage['setItem'] }
      scope.real ??= prototype.setItem
      prototype.setItem = isFull
        ? () => {
            throw new DOMException('It is full.', 'QuotaExceededError')
          }
        : scope.real
    }, full)
  await mount(page)
  await page.evaluate(() => {
    const grid = (window as unknown as { handle: Handle }).handle
    Object.assign(window, { told: [] })
    grid.on('problem', (problem: { code: string }) =>
      (window as unknown as { told: string[] }).told.push(problem.code),
    )
  })
  await fill(true)
  await type(page, 0, 1, 'too much')
  await expect.poll(() => page.evaluate('window.told')).toEqual(['not-kept'])
  await expect(cell(page, 0, 1)).toHaveText('too much')
  expect(await typed(page)).toHaveLength(1)
  // As soon as there is room again, all of it is kept.
  await fill(false)
  await type(page, 1, 1, 'and this')
  await page.waitForTimeout(400)
  const kept = await page.evaluate(() => JSON.stringify({ ...localStorage }))
  expect(kept).toContain('too much')
  expect(kept).toContain('and this')
  await damage(page, '{"changes":{"format":"vast-meadow-changes","version":99}}')
  await page.reload()
  await mount(page)
  await expect(cell(page, 0, 1)).toHaveText('tree 0')
  await type(page, 0, 1, 'goes on')
  await expect(cell(page, 0, 1)).toHaveText('goes on')
})

/** Writes something else in the place of what is kept. */
async function damage(page: Page, text: string): Promise<void> {
  await page.evaluate(given => {
    for (const key of Object.keys(localStorage))
      if (key.startsWith('vast-meadow-changes:')) localStorage.setItem(key, given)
  }, text)
}
