import { expect, test } from '@playwright/test'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'
import { Workshop } from '../support/workshop.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

test('the count of elements hangs on the viewport alone, not on rows or columns', async ({ page }) => {
  const count = async (rows: number, columns: number): Promise<number> => {
    const recipe = { name: 'x', rows, columns: numberColumns(columns) }
    const defined = recipe.columns.map(column => ({
      key: (column as { key: string }).key,
      title: 'n',
      width: 140,
    }))
    const definition = { format: 'vast-meadow-grid', version: 3, columns: defined }
    await mountBare(page, served.url, { source: { kind: 'computed', recipe }, definition })
    await page.waitForTimeout(200)
    return await page.evaluate(
      () => document.querySelector('#grid')!.shadowRoot!.querySelectorAll('*').length,
    )
  }
  const few = await count(1000, 10)
  const many = await count(10_000_000, 10)
  const wide = await count(1000, 1000)
  expect(Math.abs(many - few) / few).toBeLessThanOrEqual(0.05)
  expect(Math.abs(wide - few) / few).toBeLessThanOrEqual(0.05)
  const { lines, columns } = await page.evaluate(() => {
    const scope = window as unknown as { handle: { measures: { lines: number; columns: number } } }
    return scope.handle.measures
  })
  expect(wide).toBeLessThanOrEqual(lines * columns + 6 * lines + 300)
})

test.describe('ten million rows', () => {
  test('the wheel moves by exactly its distance at every depth', async ({ page }) => {
    const recipe = { name: 'x', rows: 10_000_000, columns: numberColumns(4) }
    await mountBare(page, served.url, { source: { kind: 'computed', recipe } })
    await page.mouse.move(400, 400)
    /** The offset that the drawn rows stand at; one that has the focus and is kept aside does not count. */
    const offset = (): Promise<number> =>
      page.evaluate(() => {
        const root = document.querySelector('#grid')!.shadowRoot!
        const body = root.querySelector('.body')!.getBoundingClientRect()
        const offsets = [...root.querySelectorAll<HTMLElement>('.body .row')].flatMap(row => {
          const { top, bottom } = row.getBoundingClientRect()
          const inView = row.checkVisibility() && bottom > body.top && top < body.bottom
          return inView ? (Number(row.ariaRowIndex) - 2) * 31 - (top - body.top) : []
        })
        return Math.min(...offsets)
      })
    for (const depth of [100, 31_200, 500_000, 5_000_000, 9_990_000]) {
      await page.evaluate(async row => {
        const scope = window as unknown as { handle: { scrollTo(key: number): Promise<boolean> } }
        await scope.handle.scrollTo(row)
      }, depth)
      await page.waitForTimeout(250)
      const before = await offset()
      for (let i = 0; i < 5; i++) {
        await page.mouse.wheel(0, 100)
        await page.waitForTimeout(40)
      }
      await page.waitForTimeout(400)
      expect((await offset()) - before, `from row ${depth}`).toBeCloseTo(500, 0)
    }
  })

  test('Ctrl+End shows the very last row whole, Ctrl+Home the first', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo('Ten million')
    await page.locator('.body .cell').nth(1).click()
    await page.keyboard.press('Control+End')
    await expect(workshop.readout).toContainText('– 10,000,000')
    const last = page.locator('.body .row[aria-rowindex="10000001"]')
    const body = (await page.locator('.body').boundingBox())!
    const row = (await last.boundingBox())!
    expect(Math.abs(row.y + row.height - (body.y + body.height))).toBeLessThanOrEqual(1)
    await expect(last.locator('.cell:focus')).toBeVisible()
    await page.keyboard.press('Control+Home')
    await expect(workshop.readout).toContainText('rows 1 – ')
  })

  test('the thumb reaches the last row and the first', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo('Ten million')
    const box = (await page.locator('.scroller').boundingBox())!
    const x = box.x + box.width - 7
    await page.mouse.move(x, box.y + 24)
    await page.mouse.down()
    await page.mouse.move(x, box.y + 300, { steps: 8 })
    await expect(workshop.readout).not.toContainText('rows 1 – ')
    await page.mouse.move(x, box.y + box.height + 200, { steps: 10 })
    await page.mouse.up()
    await expect(workshop.readout).toContainText('– 10,000,000')
    await page.mouse.move(x, box.y + box.height - 40)
    await page.mouse.down()
    await page.mouse.move(x, box.y - 200, { steps: 10 })
    await page.mouse.up()
    await expect(workshop.readout).toContainText('rows 1 – ')
  })
})

test('a focused cell that is scrolled away is kept, and is the same when it comes back', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  const cell = page.locator('.body .row[aria-rowindex="4"] [aria-colindex="3"]')
  const text = await cell.textContent()
  await cell.click()
  await page.mouse.wheel(0, 4000)
  await expect(workshop.readout).not.toContainText('rows 1 – ')
  const focused = (): Promise<string | null> =>
    page.evaluate(
      () => document.querySelector('.vast-meadow')!.shadowRoot!.activeElement?.textContent ?? null,
    )
  expect(await focused()).toBe(text)
  await page.mouse.wheel(0, -4000)
  await page.waitForTimeout(400)
  expect(await focused()).toBe(text)
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.body .row[aria-rowindex="5"] .cell:focus')).toBeVisible()
})
