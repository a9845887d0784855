import { expect, test, type CDPSession, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// The menus of cells, headings and heads of groups: by secondary click, by key, by a finger that stays.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 300 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  height: (id * 37) % 200,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: ['id', 'kind', 'height'].map(key => ({
    key,
    title: key[0]!.toUpperCase() + key.slice(1),
    width: 110,
  })),
  detail: { columns: ['kind'] },
}
const options = { rows: ROWS, definition: DEFINITION }
const menu = (page: Page): Locator => page.getByRole('menu')
const item = (page: Page, name: string | RegExp): Locator => page.getByRole('menuitem', { name })
const heading = (page: Page, title: string): Locator => page.getByRole('columnheader', { name: title })
const arrangement = (page: Page): Promise<Record<string, unknown>> =>
  page.evaluate('window.handle.arrangement') as Promise<Record<string, unknown>>

test('a heading’s menu orders, groups, pins and hides its column, by pointer and by key', async ({
  page,
}) => {
  await mountBare(page, served.url, options)
  await heading(page, 'Height').click({ button: 'right' })
  await item(page, 'Order descending').click()
  expect((await arrangement(page)).order).toEqual([{ column: 'height', direction: 'descending' }])
  await heading(page, 'Height').click({ button: 'right' })
  await expect(item(page, 'Order descending')).toHaveCount(0)
  await item(page, 'Take out of the order').click()
  expect((await arrangement(page)).order).toEqual([])
  await heading(page, 'Kind').click({ button: 'right' })
  await item(page, 'Pin at the end').click()
  expect((await arrangement(page)).pinnedEnd).toEqual(['kind'])
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('End')
  await page.keyboard.press('Shift+F10')
  await expect(menu(page)).toBeVisible()
  await item(page, 'Group by this').click()
  await expect(page.locator('.body .row.group').first()).toBeVisible()
  // The card is one step away, and its own key opens it at once.
  await heading(page, 'Id').click({ button: 'right' })
  await item(page, /All about/).click()
  await expect(page.locator('.card:popover-open')).toBeVisible()
  await page.keyboard.press('Escape')
  await heading(page, 'Id').click({ button: 'right' })
  await item(page, 'Hide').click()
  await expect(heading(page, 'Id')).toHaveCount(0)
})

test('the host’s own entries stand in each menu, and know what they were asked for', async ({ page }) => {
  await page.goto(served.url)
  await page.evaluate(given => {
    const { meadow } = window as never as { meadow: { mountMeadow(host: Element, options: object): object } }
    const told: unknown[] = []
    const menu = (place: {
      kind: string
      column: string
      key?(): Promise<unknown>
      record?(): Promise<unknown>
      path?: unknown
    }) => [
      {
        text: `Tell of the ${place.kind}`,
        act: async () =>
          void told.push([
            place.kind,
            place.column,
            (await place.key?.()) ?? place.path ?? null,
            (await place.record?.()) ?? null,
          ]),
      },
      { text: 'Fail', act: () => Promise.reject(new Error('no line')) },
    ]
    const handle = meadow.mountMeadow(document.querySelector('#grid')!, { ...given, parts: { menu } }) as {
      on(name: string, heard: (event: { message: string }) => void): void
    }
    handle.on('problem', ({ message }) => void told.push(message))
    Object.assign(window, { told, handle })
  }, options)
  await page.locator('.body .cell', { hasText: 'elm' }).first().click({ button: 'right' })
  await item(page, 'Tell of the cell').click()
  await heading(page, 'Kind').click({ button: 'right' })
  await item(page, 'Tell of the heading').click()
  await heading(page, 'Kind').click({ button: 'right' })
  await item(page, 'Group by this').click()
  await page.locator('.body .row.group').nth(0).click({ button: 'right' })
  await item(page, 'Tell of the group').click()
  await page.locator('.body .row.group').nth(0).click({ button: 'right' })
  await item(page, 'Fail').click()
  await expect.poll(() => page.evaluate('told.length')).toBe(4)
  expect(await page.evaluate('told')).toEqual([
    ['cell', 'kind', 1, { id: 1, kind: 'elm', height: 37 }],
    ['heading', 'kind', null, null],
    ['group', 'kind', ['ash'], null],
    'no line',
  ])
})

/** A finger on the screen. */
async function finger(page: Page): Promise<{
  down(x: number, y: number): Promise<void>
  move(x: number, y: number): Promise<void>
  up(): Promise<void>
}> {
  const session: CDPSession = await page.context().newCDPSession(page)
  const send = async (
    type: 'touchStart' | 'touchMove' | 'touchEnd',
    touchPoints: { x: number; y: number }[],
  ): Promise<void> => void (await session.send('Input.dispatchTouchEvent', { type, touchPoints }))
  return {
    down: (x, y) => send('touchStart', [{ x, y }]),
    move: (x, y) => send('touchMove', [{ x, y }]),
    up: () => send('touchEnd', []),
  }
}
const middleOf = async (element: Locator): Promise<[number, number]> => {
  await element.waitFor()
  const { x, y, width, height } = (await element.boundingBox())!
  return [x + width / 2, y + height / 2]
}

test.describe('by touch', () => {
  test.use({ hasTouch: true, isMobile: true, viewport: { width: 360, height: 640 } })

  test('a finger that stays on a cell opens its menu, one that moves scrolls', async ({ page }) => {
    await mountBare(page, served.url, options)
    const touch = await finger(page)
    const cell = page.locator('.body .cell', { hasText: 'oak' }).first()
    await touch.down(...(await middleOf(cell)))
    await page.waitForTimeout(900)
    await expect(menu(page)).toBeHidden()
    // The cell shows that it is held.
    await expect(cell).toBeFocused()
    await touch.up()
    await expect(menu(page)).toBeVisible()
    await expect(page.locator('.row.selected')).toHaveCount(0)
    await item(page, 'Open the row').tap()
    await expect(page.locator('.body .row.detail:not([hidden])')).toHaveCount(1)
    const [x, y] = await middleOf(page.locator('.body .cell', { hasText: 'elm' }).nth(2))
    await touch.down(x, y)
    for (let by = 10; by <= 200; by += 10) await touch.move(x, y - by)
    await page.waitForTimeout(700)
    await touch.up()
    await expect(menu(page)).toBeHidden()
    await expect
      .poll(() => page.locator('.scroller').evaluate(scroller => scroller.scrollTop))
      .toBeGreaterThan(50)
    // A tap opens a row.
    await page.locator('.body .row:not(.detail):not([hidden]) .opener').nth(5).tap()
    expect(await page.evaluate('window.handle.openedCount')).toBe(2)
  })

  test('a finger that stays on a cell and moves then picks cells, or ticks rows where it holds a box', async ({
    page,
  }) => {
    await mountBare(page, served.url, options)
    const touch = await finger(page)
    const cells = page.locator('.body .row:not([hidden]) [aria-colindex="4"]')
    const sweep = async (from: Locator, to: Locator): Promise<void> => {
      const [[x, y], [toX, toY]] = [await middleOf(from), await middleOf(to)]
      await touch.down(x, y)
      await page.waitForTimeout(700)
      for (let part = 1; part <= 8; part++)
        await touch.move(x + ((toX - x) * part) / 8, y + ((toY - y) * part) / 8)
      await touch.up()
    }
    await sweep(cells.nth(1), page.locator('.body .row:not([hidden]) [aria-colindex="5"]').nth(4))
    await expect(page.locator('.body .cell[data-range]')).toHaveCount(8)
    await expect(menu(page)).toBeHidden()
    expect(await page.locator('.scroller').evaluate(scroller => scroller.scrollTop)).toBe(0)
    expect(await page.evaluate('window.handle.cellRanges')).toEqual([
      { from: 1, to: 5, columns: ['kind', 'height'] },
    ])
    // What is picked stays for its menu, and while the page scrolls; a tap ends it.
    const [x, y] = await middleOf(cells.nth(2))
    await touch.down(x, y)
    await page.waitForTimeout(700)
    await touch.up()
    await expect(menu(page)).toBeVisible()
    await expect(page.locator('.body .cell[data-range]')).toHaveCount(8)
    await page.keyboard.press('Escape')
    await cells.nth(6).tap()
    await expect(page.locator('.body .cell[data-range]')).toHaveCount(0)
    // Their line of sums goes when they rest, and more rows have room.
    await expect(page.locator('.row.totals', { hasText: 'picked' })).toHaveCount(0)
    await page.waitForTimeout(300)
    const box = (id: number): Locator =>
      page
        .locator('.body .row:not([hidden])', { has: page.locator(`.cell:text-is("${id}")`) })
        .locator('.box')
    await sweep(box(3), box(6))
    await expect.poll(() => page.evaluate('window.handle.selectedKeys()')).toEqual([3, 4, 5, 6])
  })

  test('a finger that stays on a heading opens its menu when it is lifted, or drags it when it moves', async ({
    page,
  }) => {
    await mountBare(page, served.url, options)
    const touch = await finger(page)
    const [x, y] = await middleOf(heading(page, 'Id'))
    await touch.down(x, y)
    await page.waitForTimeout(800)
    await expect(menu(page)).toBeHidden()
    await touch.up()
    await expect(menu(page)).toBeVisible()
    expect((await arrangement(page)).order).toEqual([])
    await page.keyboard.press('Escape')
    const [toX] = await middleOf(heading(page, 'Kind'))
    await touch.down(x, y)
    await page.waitForTimeout(500)
    for (let part = 1; part <= 10; part++) await touch.move(x + ((toX + 40 - x) * part) / 10, y)
    await touch.up()
    await expect.poll(async () => (await arrangement(page)).columns).toEqual(['kind', 'id', 'height'])
    expect((await arrangement(page)).order).toEqual([])
  })
})
