import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows that open and show more of themselves in a line below, as high as it needs.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const KINDS = ['ash', 'elm', 'oak', 'yew']
const ROWS = Array.from({ length: 4000 }, (_, id) => ({
  id,
  kind: KINDS[id % 4],
  height: (id * 37) % 200,
  note: id % 5 === 0 ? null : `note ${id}`,
  story: 'once '.repeat(1 + ((id * 13) % 150)),
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: Object.keys(ROWS[0]!).map(key => ({
    key,
    title: key[0]!.toUpperCase() + key.slice(1),
    width: 120,
  })),
  detail: {},
  start: { hidden: ['note', 'story'] },
}
const mount = (page: Page, more: object = {}): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, ...more } })

interface Handle {
  readonly openedCount: number
  readonly arrangement: object
  openedKeys(): Promise<number[]>
  openRows(keys: unknown[], open?: boolean): Promise<number>
  closeRows(): void
  arrange(change: object): void
  commit(changes: object): Promise<unknown>
  setRows(rows: unknown): Promise<void>
  goToLine(nth: number): boolean
  place(): Promise<object>
  on(name: string, listener: (event: never) => void): void
  setAllow(allow: object): void
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of})(window.handle)`)
const rowOf = (page: Page, id: number): Locator =>
  page.locator('.body .row:not(.detail):not([hidden])', {
    has: page.locator('.cell:nth-child(1)', { hasText: new RegExp(`^${id}$`) }),
  })
const openerOf = (page: Page, id: number): Locator => rowOf(page, id).locator('.opener')
const details = (page: Page): Locator => page.locator('.body .row.detail:not([hidden])')
const topOf = async (row: Locator): Promise<number> => (await row.boundingBox())!.y

test('a row opens by its button and lists the columns that are hidden, as high as they need', async ({
  page,
}) => {
  await mount(page)
  await openerOf(page, 2).click()
  await expect(details(page)).toHaveCount(1)
  await expect(details(page)).toContainText('note 2')
  await expect(details(page).locator('dt')).toHaveText(['Note', 'Story'])
  await expect(rowOf(page, 2)).toHaveAttribute('aria-expanded', 'true')
  await openerOf(page, 4).click()
  await expect(details(page)).toHaveCount(2)
  await openerOf(page, 5).click()
  await expect(details(page).last()).toContainText('Notemissing')
  // Each stands right below its row, and its whole content is seen.
  await expect(async () => {
    const boxes = await details(page).evaluateAll(rows =>
      rows.map(row => [
        row.getBoundingClientRect().height,
        row.querySelector('.detail-content')!.scrollHeight,
      ]),
    )
    for (const [height, wanted] of boxes) expect(Math.abs(height! - wanted!)).toBeLessThan(2)
    const [row, below] = [(await rowOf(page, 4).boundingBox())!, (await details(page).nth(1).boundingBox())!]
    expect(Math.abs(row.y + row.height - below.y)).toBeLessThan(1)
  }).toPass()
  await openerOf(page, 2).click()
  await expect(details(page)).toHaveCount(2)
  expect(await handle(page, grid => grid.openedKeys())).toEqual([4, 5])
})

test('by keyboard: Enter opens, the detail is a line of its own, Escape closes it and goes back', async ({
  page,
}) => {
  await mount(page)
  await rowOf(page, 1).locator('.cell').filter({ hasText: 'elm' }).click()
  await page.keyboard.press('Enter')
  await expect(details(page)).toHaveCount(1)
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.detailcell:focus')).toHaveCount(1)
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.cell:focus')).toHaveText('oak')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Escape')
  await expect(details(page)).toHaveCount(0)
  await expect(page.locator('.cell:focus')).toHaveText('elm')
  // The button's own cell, by Space as well; a row is ticked by Space in any other.
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press(' ')
  await expect(details(page)).toHaveCount(1)
  await expect(page.locator('.row.selected')).toHaveCount(0)
})

test('lines in view stay where they are while rows above and below them open and close', async ({ page }) => {
  await mount(page)
  await handle(page, grid => grid.openRows(Array.from({ length: 1500 }, (_, i) => i * 2)))
  expect(await handle(page, grid => grid.openedCount)).toBe(1500)
  await page.mouse.move(300, 300)
  for (let i = 0; i < 12; i++) {
    await page.mouse.wheel(0, 700)
    await page.waitForTimeout(20)
  }
  await page.waitForTimeout(300)
  const ids = await page
    .locator('.body .row:not(.detail):not([hidden])')
    .evaluateAll(rows =>
      rows
        .filter(row => row.getBoundingClientRect().top > 90 && row.getBoundingClientRect().bottom < 500)
        .map(row => Number(row.querySelectorAll('.cell')[2]!.textContent)),
    )
  const id = ids[0]!
  const top = await topOf(rowOf(page, id))
  await handle(page, grid =>
    grid.openRows(
      Array.from({ length: 40 }, (_, i) => i * 2),
      false,
    ),
  )
  await expect.poll(() => topOf(rowOf(page, id))).toBeCloseTo(top, 0)
  await handle(page, grid => grid.openRows(Array.from({ length: 40 }, (_, i) => i * 2 + 1)))
  await expect.poll(() => topOf(rowOf(page, id))).toBeCloseTo(top, 0)
  // Upwards again by small steps: no line moves by more than the step, however high what comes into view is.
  for (let i = 0; i < 25; i++) {
    const before = await page.evaluate(TOPS)
    await page.mouse.wheel(0, -60)
    await page.waitForTimeout(60)
    const after = await page.evaluate(TOPS)
    const moved = Object.keys(before).flatMap(key => (key in after ? [after[key]! - before[key]!] : []))
    expect(moved.length).toBeGreaterThan(0)
    for (const by of moved) expect(Math.abs(by - 60)).toBeLessThan(2)
  }
})

/** The tops of rows in view, by their ids. */
const TOPS =
  `Object.fromEntries([...document.querySelector('#grid').shadowRoot.querySelectorAll('.body .row:not(.detail):not([hidden])')]
  .filter(row => row.getBoundingClientRect().top > 0)
  .map(row => [row.querySelectorAll('.cell')[2].textContent, row.getBoundingClientRect().top]))` as unknown as () => Record<
    string,
    number
  >

test('open rows stay open through order, conditions, groups, pages and new rows', async ({ page }) => {
  await mount(page)
  await handle(page, grid => grid.openRows([7, 8, 11]))
  await handle(page, grid => grid.arrange({ order: [{ column: 'id', direction: 'descending' }] }))
  await page.waitForTimeout(300)
  await handle(page, grid => grid.goToLine(3992))
  await expect(details(page)).toHaveCount(3)
  await handle(page, grid =>
    grid.arrange({ conditions: { id: { match: 'all', parts: [{ kind: 'range', from: 8, to: 20 }] } } }),
  )
  await expect(details(page)).toHaveCount(2)
  await handle(page, grid =>
    grid.arrange({ conditions: {}, groups: [{ column: 'kind', bucket: { by: 'value' } }], order: [] }),
  )
  await expect(details(page).first()).toBeVisible()
  await handle(page, grid => grid.arrange({ groups: [] }))
  await expect(details(page)).toHaveCount(3)
  await page.evaluate(
    rows => (window as unknown as { handle: Handle }).handle.setRows(rows),
    [...ROWS.filter(row => row.id !== 8).map(row => (row.id === 7 ? { ...row, note: 'told anew' } : row))],
  )
  await expect(details(page)).toHaveCount(2)
  await expect(details(page).first()).toContainText('told anew')
  expect(await handle(page, grid => grid.openedKeys())).toEqual([7, 11])
})

test('the host draws details, and what is typed and pressed in them is the detail’s own', async ({
  page,
}) => {
  await page.goto(served.url)
  await page.evaluate(
    ([rows, definition]) => {
      const { meadow } = window as never as {
        meadow: { mountMeadow(host: Element, options: object): Handle }
      }
      const told: unknown[] = []
      const painter = {
        create: (place: HTMLElement) => {
          const field = document.createElement('input')
          const text = document.createElement('p')
          const close = document.createElement('button')
          close.textContent = 'Done'
          place.append(text, field, close)
          return { text, close, place }
        },
        update: (
          state: { text: HTMLElement; close: HTMLElement },
          detail: { key: number; record: { kind: string }; close(): void },
        ) => {
          state.text.textContent = `${detail.key} is an ${detail.record.kind}`
          state.close.onclick = () => detail.close()
        },
        release: () => told.push('released'),
      }
      Object.assign(window, {
        told,
        handle: meadow.mountMeadow(document.querySelector('#grid')!, {
          rows,
          definition,
          parts: { details: { card: painter } },
        }),
      })
    },
    [ROWS, { ...DEFINITION, detail: { painter: 'card', several: false } }] as const,
  )
  await openerOf(page, 3).click()
  await expect(details(page)).toContainText('3 is an yew')
  await details(page).locator('input').fill('a b')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('End')
  await page.keyboard.press(' ')
  await expect(details(page).locator('input')).toHaveValue('a b ')
  await page.keyboard.press('Escape')
  await expect(page.locator('.detailcell:focus')).toHaveCount(1)
  await page.keyboard.press('Enter')
  await expect(details(page).locator('input')).toBeFocused()
  // It keeps what was typed while it is out of view; one row is open at a time.
  await page.locator('.scroller').evaluate(scroller => scroller.scrollTo(0, 30_000))
  await page.waitForTimeout(300)
  await page.locator('.scroller').evaluate(scroller => scroller.scrollTo(0, 0))
  await expect(details(page).locator('input')).toHaveValue('a b ')
  await openerOf(page, 5).click()
  await expect(details(page)).toHaveCount(1)
  await expect(details(page)).toContainText('5 is an elm')
  await details(page).getByRole('button').click()
  await expect(details(page)).toHaveCount(0)
  expect(await page.evaluate('told')).toEqual(['released', 'released'])
})

test('a host may keep rows from being opened, and hears of each act once', async ({ page }) => {
  await mount(page)
  await page.evaluate(`window.heard = []; window.asked = []
    handle.on('opened', event => heard.push(event))
    handle.setAllow({ open: act => (asked.push(act), Promise.resolve(act.key !== 2)) })`)
  await openerOf(page, 2).click()
  await openerOf(page, 1).click()
  await expect(details(page)).toHaveCount(1)
  await handle(page, grid => grid.openRows([9, 10]))
  expect(await page.evaluate('asked')).toEqual([
    { key: 2, open: true },
    { key: 1, open: true },
  ])
  expect(await page.evaluate('heard')).toEqual([
    { count: 1, opened: [1], closed: [] },
    { count: 3, opened: [9, 10], closed: [] },
  ])
})

test('in a narrow frame the columns that found no room stand in the detail', async ({ page }) => {
  await page.setViewportSize({ width: 360, height: 640 })
  const columns = DEFINITION.columns.map((column, nth) => ({ ...column, ...(nth > 1 && { giveWay: nth }) }))
  await mount(page, { columns, start: {} })
  await openerOf(page, 1).click()
  await expect(details(page).locator('dt')).toHaveText(['Height', 'Note', 'Story'])
  // With more room there is less to be told.
  await page.setViewportSize({ width: 500, height: 640 })
  await expect(details(page).locator('dt')).toHaveText(['Note', 'Story'])
  await page.setViewportSize({ width: 1100, height: 640 })
  // There is room for all of them now: nothing is left to be told.
  await expect(page.locator('.opener:visible')).toHaveCount(0)
})
