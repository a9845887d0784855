import { expect, test, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// What the keyboard does in the grid beside single steps, and what is told of it.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 500 }, (_, id) => ({
  id,
  name: `Row ${String(id).padStart(3, '0')}`,
  kind: ['oak', 'elm', 'ash'][id % 3],
  count: (id * 7) % 11,
}))

interface Scope {
  handle: { selectedCount: number; selectedRecords(): Promise<{ id: number }[]> }
}

/** Row and column that the focus is on, as they are counted for assistive technology. */
const focused = (page: Page): Promise<(string | null)[]> =>
  page.evaluate(() => {
    const cell = document.querySelector('#grid')!.shadowRoot!.activeElement
    return [cell?.closest('[role=row]')?.ariaRowIndex ?? null, cell?.ariaColIndex ?? null]
  })

const selectedIds = (page: Page): Promise<number[]> =>
  page.evaluate(async () => (await (window as unknown as Scope).handle.selectedRecords()).map(({ id }) => id))

test.beforeEach(async ({ page }) => {
  await page.setViewportSize({ width: 700, height: 500 })
  await mountBare(page, served.url, { rows: ROWS })
})

test('Ctrl with Home and End goes to the first and the last cell of all, from anywhere', async ({ page }) => {
  await page.locator('.body .row').nth(3).locator('[aria-colindex="3"]').click()
  await page.keyboard.press('Control+End')
  await expect.poll(() => focused(page)).toEqual(['501', '5'])
  await page.keyboard.press('Home')
  await expect.poll(() => focused(page)).toEqual(['501', '1'])
  await page.keyboard.press('Control+Home')
  await expect.poll(() => focused(page)).toEqual(['2', '1'])
})

test('Shift ticks all rows from the last one ticked on, also those that were never drawn', async ({
  page,
}) => {
  await page.locator('.body .box').nth(2).click()
  await page
    .locator('.body .box')
    .nth(5)
    .click({ modifiers: ['Shift'] })
  await expect.poll(() => selectedIds(page)).toEqual([2, 3, 4, 5])
  await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = 9000))
  await page.waitForTimeout(250)
  const far = page.locator('.body .row:not([hidden])').nth(4)
  const index = await far.getAttribute('aria-rowindex')
  const row = Number(index) - 2
  // Once the lines rest, their order in the document changes: the row is named by its own number.
  await page.locator(`.body .row[aria-rowindex="${index}"] .box`).click({ modifiers: ['Shift'] })
  await expect
    .poll(() => page.evaluate(() => (window as unknown as Scope).handle.selectedCount))
    .toBe(row - 2 + 1)
})

test('a cell keeps the focus when there is more or less room, also where its row is out of view then', async ({
  page,
}) => {
  await page.locator('.body .row').nth(8).locator('[aria-colindex="3"]').click()
  await expect.poll(() => focused(page)).toEqual(['10', '3'])
  for (const height of [420, 260, 620]) {
    await page.setViewportSize({ width: 700, height })
    await page.waitForTimeout(150)
    expect(await focused(page)).toEqual(['10', '3'])
  }
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => focused(page)).toEqual(['11', '3'])
})

test('an order and a search are told to those who do not see them', async ({ page }) => {
  const told = page.getByRole('status').first()
  await page.getByRole('columnheader', { name: 'count' }).click()
  await expect(told).toContainText(/count.*ascending/i)
  await page.getByRole('searchbox').fill('row 00')
  await expect(told).toContainText('14 of 500 rows pass')
})

test('the cell that has the focus keeps it while it is scrolled away, and is the same when it comes back', async ({
  page,
}) => {
  await page.locator('.body .row').nth(3).locator('[aria-colindex="2"]').click()
  await page.evaluate(() => {
    const { activeElement } = document.querySelector('#grid')!.shadowRoot!
    ;(window as unknown as { kept: Element | null }).kept = activeElement
  })
  const still = (): Promise<boolean> =>
    page.evaluate(() => {
      const { kept } = window as unknown as { kept: Element }
      return kept.isConnected && document.querySelector('#grid')!.shadowRoot!.activeElement === kept
    })
  const scrollTo = (top: number): Promise<void> =>
    page.locator('.scroller').evaluate((scroller, top) => void (scroller.scrollTop = top), top)
  const text = await page.evaluate(() => (window as unknown as { kept: Element }).kept.textContent)
  for (const top of [3000, 12_000, 200]) {
    await scrollTo(top)
    await page.waitForTimeout(220)
    expect(await still()).toBe(true)
  }
  await scrollTo(0)
  await page.waitForTimeout(220)
  expect(await still()).toBe(true)
  expect(await page.evaluate(() => (window as unknown as { kept: Element }).kept.textContent)).toBe(text)
  await page.keyboard.press('ArrowDown')
  expect((await focused(page))[0]).toBe('6')
})

test('a search typed on a later page begins at the first', async ({ page }) => {
  await mountBare(page, served.url, {
    rows: ROWS,
    definition: {
      format: 'vast-meadow-grid',
      version: 3,
      columns: ['id', 'name', 'kind', 'count'].map(key => ({ key, title: key })),
      pages: { size: 20, sizes: [10, 20] },
    },
  })
  const foot = page.locator('.foot .count')
  await page.getByRole('button', { name: 'Last page' }).click()
  await expect(foot).toContainText('rows 481 –')
  await page.getByRole('searchbox').fill('oak')
  await expect(foot).toContainText(/rows 1 – \d+ · 167 of 500/)
})
