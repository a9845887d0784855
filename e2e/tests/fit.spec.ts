import { expect, test, type Page } from '@playwright/test'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const WORDS = 'needs cold then light and a wet summer in a sunny place beside water'.split(' ')
/** Texts of very different length, the same in every run. */
const uneven = Array.from({ length: 600 }, (_, i) => ({
  id: i,
  name: `Row ${i}`,
  remark: Array.from({ length: ((i * 7) % 23) * 3 + 1 }, (_, w) => WORDS[(i + w) % WORDS.length]).join(' '),
}))
const byContent = {
  format: 'vast-meadow-grid',
  version: 3,
  key: ['id'],
  rowHeight: 'content',
  columns: [
    { key: 'name', title: 'Name', width: 120 },
    { key: 'remark', title: 'Remark', width: 300, wrap: true },
  ],
}

interface Scope {
  handle: {
    scrollTo(key: number): Promise<boolean>
    arrange(change: object): void
    arrangement: { page: number }
  }
}

/** Tops of the rows in view by their name, and whether any text is cut off. */
const rowsInView = (page: Page): Promise<{ name: string; top: number; bottom: number; cut: boolean }[]> =>
  page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    const body = root.querySelector('.body')!.getBoundingClientRect()
    // While it moves, rows just out of view wait where they were.
    const inView = [...root.querySelectorAll<HTMLElement>('.body .row:not([hidden])')].filter(row => {
      const { top, bottom } = row.getBoundingClientRect()
      return bottom > body.top && top < body.bottom
    })
    return inView.map(row => {
      const cells = [...row.querySelectorAll<HTMLElement>('[role=gridcell]:not([hidden])')]
      const { top, bottom } = row.getBoundingClientRect()
      const wrapped = row.querySelector<HTMLElement>('.wrap')!
      return {
        name: cells[1]!.textContent!,
        top,
        bottom,
        cut: wrapped.getBoundingClientRect().bottom > bottom + 0.6,
      }
    })
  })

test.describe('rows as high as their content', () => {
  test.beforeEach(async ({ page }) => {
    await page.setViewportSize({ width: 700, height: 560 })
    await mountBare(page, served.url, { rows: uneven, definition: byContent })
  })

  test('show the whole text and lie one under the other', async ({ page }) => {
    const rows = (await rowsInView(page)).sort((a, b) => a.top - b.top)
    expect(rows.length).toBeGreaterThan(3)
    expect(rows.filter(({ cut }) => cut)).toEqual([])
    expect(new Set(rows.map(({ top, bottom }) => Math.round(bottom - top))).size).toBeGreaterThan(2)
    for (let i = 1; i < rows.length; i++)
      expect(Math.abs(rows[i]!.top - rows[i - 1]!.bottom)).toBeLessThan(0.6)
  })

  test('do not move what is read while others are measured, upwards and downwards', async ({ page }) => {
    // A jump far down, then upwards through lines that were never measured.
    await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(400))
    await page.waitForTimeout(300)
    await page.mouse.move(300, 300)
    for (const step of [-90, -90, -90, -90, 90, 90, -200, -200]) {
      const before = await rowsInView(page)
      await page.mouse.wheel(0, step)
      await page.waitForTimeout(120)
      const after = new Map((await rowsInView(page)).map(row => [row.name, row.top]))
      const moved = before
        .filter(({ name }) => after.has(name))
        .map(({ name, top }) => after.get(name)! - top)
      expect(moved.length).toBeGreaterThan(0)
      // Every row that stays in view moves by the wheel's step and by nothing else.
      for (const by of moved) expect(Math.abs(by + step)).toBeLessThan(1.5)
    }
    // At rest nothing moves on its own.
    const inOrder = async () => (await rowsInView(page)).sort((a, b) => a.top - b.top)
    const rest = await inOrder()
    await page.waitForTimeout(500)
    expect(await inOrder()).toEqual(rest)
  })

  test('are reached by keyboard to the very last', async ({ page }) => {
    await page.locator('.body [role=gridcell]').nth(1).click()
    await page.keyboard.press('Control+End')
    await expect(page.locator('.body .row', { hasText: 'Row 599' })).toBeInViewport()
    await page.waitForTimeout(300)
    expect((await rowsInView(page)).filter(({ cut }) => cut)).toEqual([])
    await expect(page.locator('.foot .count')).toContainText('600')
  })
})

for (const zoom of [0.8, 1, 1.25, 1.5]) {
  test(`header and body stand to the pixel at zoom ${zoom}, held columns and scrolled ones`, async ({
    browser,
  }) => {
    const context = await browser.newContext({
      viewport: { width: Math.round(1200 / zoom), height: Math.round(600 / zoom) },
      deviceScaleFactor: zoom,
    })
    const page = await context.newPage()
    const columns = numberColumns(30).map((_, i) => ({
      key: `n${i}`,
      title: `N ${i}`,
      width: 83 + (i % 5) * 11,
    }))
    await mountBare(page, served.url, {
      source: { kind: 'recipe', recipe: { name: 'x', rows: 3000, columns: numberColumns(30) } },
      definition: {
        format: 'vast-meadow-grid',
        version: 3,
        columns,
        start: { pinnedStart: ['n2'], pinnedEnd: ['n5'] },
      },
    })
    for (const left of [0, 133, 777.5]) {
      const off = await page.evaluate(async left => {
        const root = document.querySelector('#grid')!.shadowRoot!
        root.querySelector('.scroller')!.scrollLeft = left
        root.querySelector('.scroller')!.scrollTop = left * 3
        await new Promise(resolve => setTimeout(resolve, 250))
        const edges = (row: Element): Map<string, number[]> =>
          new Map(
            [...row.querySelectorAll<HTMLElement>('.cell:not([hidden])')].map(cell => {
              const { left, right } = cell.getBoundingClientRect()
              return [cell.getAttribute('aria-colindex')!, [left, right]]
            }),
          )
        const head = edges(root.querySelector('.head .row')!)
        let worst = 0
        let compared = 0
        for (const row of root.querySelectorAll('.body .row:not([hidden])'))
          for (const [column, [from, to]] of edges(row)) {
            const [wantedFrom, wantedTo] = head.get(column) ?? []
            if (wantedFrom === undefined) return 999
            worst = Math.max(worst, Math.abs(from! - wantedFrom), Math.abs(to! - wantedTo!))
            compared++
          }
        return compared > 50 ? worst * devicePixelRatio : 999
      }, left)
      expect(off).toBeLessThan(0.05)
    }
    await context.close()
  })
}

test.describe('pages', () => {
  const rows = Array.from({ length: 45 }, (_, i) => ({ id: i, name: `Row ${i}` }))
  const paged = {
    format: 'vast-meadow-grid',
    version: 3,
    key: ['id'],
    columns: [{ key: 'name', title: 'Name' }],
    pages: { size: 20, sizes: [10, 20] },
  }
  const names = (page: Page) =>
    page
      .locator('.body .row:not([hidden]) .cell:nth-child(1)')
      .evaluateAll(cells => cells.map(cell => cell.textContent).filter(Boolean))

  test('turn by their buttons, a number typed, and code, and say which rows of how many', async ({
    page,
  }) => {
    await page.setViewportSize({ width: 900, height: 900 })
    await mountBare(page, served.url, { rows, definition: paged })
    const pager = page.getByRole('navigation', { name: 'Pages' })
    await expect(page.locator('.foot .count')).toContainText('rows 1 – 20')
    await expect(pager.getByRole('button', { name: 'Previous page' })).toBeDisabled()
    await pager.getByRole('button', { name: 'Next page' }).click()
    await expect(page.locator('.foot .count')).toContainText('rows 21 – 40')
    await pager.getByRole('button', { name: 'Last page' }).click()
    await expect(page.locator('.foot .count')).toContainText('rows 41 – 45 · 45 rows')
    expect(await names(page)).toEqual(['Row 40', 'Row 41', 'Row 42', 'Row 43', 'Row 44'])
    await expect(page.locator('.body .row:not([hidden])').first()).toHaveAttribute('aria-rowindex', '42')
    await expect(page.getByRole('grid')).toHaveAttribute('aria-rowcount', '46')
    await expect(pager.getByRole('button', { name: 'Next page' })).toBeDisabled()
    await pager.getByRole('textbox').fill('2')
    await pager.getByRole('textbox').press('Enter')
    await expect(page.locator('.foot .count')).toContainText('rows 21 – 40')
    await pager.getByRole('combobox').selectOption('10')
    await expect(page.locator('.foot .count')).toContainText('rows 1 – 10')
    await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(37))
    await expect(page.locator('.foot .count')).toContainText('rows 31 – 40')
    await expect(page.locator('.body .cell:focus')).toHaveText('Row 37')
  })

  test('begin again with another order, and keep what is selected on others', async ({ page }) => {
    await mountBare(page, served.url, { rows, definition: { ...paged, pages: { size: 20, sizes: [] } } })
    const pager = page.getByRole('navigation', { name: 'Pages' })
    await expect(pager.getByRole('combobox')).toHaveCount(0)
    await page.locator('.body [role=checkbox]').first().click()
    await pager.getByRole('button', { name: 'Next page' }).click()
    await page
      .locator('.body [role=checkbox]')
      .nth(2)
      .click({ modifiers: ['Shift'] })
    await expect(page.locator('.foot .selected')).toContainText('2 selected')
    await page.getByRole('columnheader', { name: 'Name' }).click()
    await expect(page.locator('.foot .count')).toContainText('rows 1 – ')
    expect(await page.evaluate(() => (window as unknown as Scope).handle.arrangement.page)).toBe(0)
    await expect(page.locator('.foot .selected')).toContainText('2 selected')
  })
})

test('a grid can be as high as its rows, up to a limit, or have a height of its own', async ({ page }) => {
  await page.setViewportSize({ width: 900, height: 900 })
  const definition = {
    format: 'vast-meadow-grid',
    version: 3,
    key: ['id'],
    columns: [{ key: 'name', title: 'Name' }],
  }
  const height = (): Promise<number> =>
    page
      .locator('#grid')
      .evaluate(host => host.shadowRoot!.querySelector('.meadow')!.getBoundingClientRect().height)
  const scrolls = (): Promise<boolean> =>
    page.locator('#grid .scroller').evaluate(scroller => scroller.scrollHeight > scroller.clientHeight + 1)
  await mountBare(page, served.url, {
    rows: uneven.slice(0, 4),
    definition: { ...definition, fit: { kind: 'rows', most: 400 } },
  })
  await expect.poll(scrolls).toBe(false)
  expect(await height()).toBeLessThan(260)
  await expect(page.locator('.body .row:not([hidden])')).toHaveCount(4)
  await mountBare(page, served.url, {
    rows: uneven,
    definition: { ...definition, fit: { kind: 'rows', most: 400 } },
  })
  await expect.poll(height).toBe(400)
  expect(await scrolls()).toBe(true)
  await mountBare(page, served.url, {
    rows: uneven.slice(0, 4),
    definition: { ...byContent, fit: { kind: 'rows', most: 800 } },
  })
  await expect.poll(scrolls).toBe(false)
  const names = async () => (await rowsInView(page)).map(({ name }) => name).sort()
  await expect.poll(names).toEqual(['Row 0', 'Row 1', 'Row 2', 'Row 3'])
  expect(await scrolls()).toBe(false)
  expect((await rowsInView(page)).filter(({ cut }) => cut)).toEqual([])
  await mountBare(page, served.url, {
    rows: uneven,
    definition: { ...definition, fit: { kind: 'fixed', height: 300 } },
  })
  await expect.poll(height).toBe(300)
  await expect(page.locator('.foot .count')).toBeInViewport()
})

test('on a phone the bar folds, columns give way, and what is touched is large enough', async ({
  browser,
}) => {
  const context = await browser.newContext({
    viewport: { width: 360, height: 640 },
    hasTouch: true,
    isMobile: true,
  })
  const page = await context.newPage()
  const rows = uneven.map(row => ({ ...row, state: 'seen', note: 'x' }))
  await mountBare(page, served.url, {
    rows,
    definition: {
      format: 'vast-meadow-grid',
      version: 3,
      key: ['id'],
      columns: [
        { key: 'name', title: 'Name', width: 150 },
        { key: 'state', title: 'State', width: 120, giveWay: 1 },
        { key: 'note', title: 'Note', width: 120, giveWay: 2 },
        { key: 'remark', title: 'Remark', width: 200, giveWay: 3 },
      ],
      pages: { size: 30 },
    },
    arrangement: { conditions: { state: { match: 'all', parts: [{ kind: 'contains', text: 'see' }] } } },
  })
  await expect(page.getByRole('columnheader')).toHaveText(['', 'Name', 'State'])
  const small = await page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    const parts = [...root.querySelectorAll<HTMLElement>('button, input, select, .body .cell, .head .cell')]
    return parts
      .filter(part => part.checkVisibility() && part.getBoundingClientRect().height < 43.5)
      .map(part => `${part.tagName}.${part.className} ${part.getBoundingClientRect().height}`)
  })
  expect(small).toEqual([])
  await expect(page.locator('.chip')).toBeHidden()
  await page.getByRole('button', { name: '1 active' }).tap()
  await expect(page.locator('.chip')).toBeVisible()
  await page.locator('.body [role=gridcell]').first().tap()
  await expect(page.locator('.foot .selected')).toContainText('1 selected')
  await page.getByRole('button', { name: 'Columns' }).tap()
  await expect(page.locator('.menu li', { hasText: 'Remark' })).toContainText('no room')
  // Turned round there is more room.
  await page.setViewportSize({ width: 740, height: 360 })
  await page.keyboard.press('Escape')
  await expect(page.getByRole('columnheader')).toHaveText(['', 'Name', 'State', 'Note', 'Remark'])
  await context.close()
})
