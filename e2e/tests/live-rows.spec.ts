import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows that change by themselves: shown as they come, held while they are read, and the view stands still.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 2000 }, (_, id) => ({ id, name: `buoy ${id}`, level: id }))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Buoys',
  key: 'id',
  columns: ['id', 'name', 'level'].map(key => ({ key, title: key, width: 150 })),
}
const mount = (page: Page, more: object = {}): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, ...more } })

interface Handle {
  readonly held: boolean
  readonly waiting: number
  hold(on: boolean): void
  commit(changes: object): Promise<unknown>
  goToLine(nth: number): boolean
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of})(window.handle)`)
const cell = (page: Page, line: number, nth: number): Locator =>
  page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(nth)

test('the view stands still while the row at its top goes elsewhere', async ({ page }) => {
  await mount(page, { start: { order: [{ column: 'level', direction: 'ascending' }] } })
  await handle(page, grid => grid.goToLine(500))
  const tops = (): Promise<string[]> =>
    page.locator('.body .row:not([hidden]) .cell:nth-child(1)').allTextContents()
  await expect(cell(page, 499, 1)).toHaveText('buoy 499')
  await expect.poll(async () => (await tops()).length).toBeGreaterThan(5)
  const first = await page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    const body = root.querySelector('.body')!.getBoundingClientRect()
    const rows = [...root.querySelectorAll<HTMLElement>('.body .row:not([hidden])')]
    const top = rows
      .map(row => ({ at: row.getBoundingClientRect().top, index: Number(row.ariaRowIndex) - 2 }))
      .filter(({ at }) => at >= body.top - 1)
      .sort((a, b) => a.at - b.at)[0]!
    return top.index
  })
  await page.evaluate(
    async id =>
      await (window as unknown as { handle: Handle }).handle.commit({ update: [{ id, level: 5000 }] }),
    first,
  )
  await expect(cell(page, 499, 1)).toHaveText('buoy 500')
  await expect(cell(page, 499, 1)).toBeInViewport()
})

test('changes that come one after another are all there, and the view can be held meanwhile', async ({
  page,
}) => {
  await mount(page)
  await page.evaluate(async () => {
    const { handle: grid } = window as unknown as { handle: Handle }
    for (let i = 0; i < 50; i++) void grid.commit({ update: [{ id: 3, level: 10_000 + i }] })
    await grid.commit({ update: [{ id: 4, level: 1 }] })
  })
  await expect(cell(page, 3, 2)).toHaveText('10049')
  await page.getByRole('button', { name: 'Hold' }).click()
  await page.evaluate(async () => {
    const { handle: grid } = window as unknown as { handle: Handle }
    for (let i = 0; i < 7; i++) await grid.commit({ update: [{ id: 3, level: i }] })
  })
  await expect(cell(page, 3, 2)).toHaveText('10049')
  await expect(page.locator('.live')).toContainText('7 changes wait')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(cell(page, 3, 2)).toHaveText('6')
  expect(await handle(page, grid => [grid.held, grid.waiting])).toEqual([false, 0])
})

test('cells that change by themselves are tinted for a moment, those a reader arranges are not', async ({
  page,
}) => {
  await mount(page)
  const moving = (): Promise<number> =>
    page.evaluate(() => document.querySelector('#grid')!.shadowRoot!.getAnimations().length)
  await handle(page, grid => grid.commit({ update: [{ id: 2, level: 7 }] }))
  expect(await moving()).toBe(1)
  await expect.poll(moving).toBe(0)
  await page.locator('.head .cell', { hasText: 'level' }).click()
  await page.waitForTimeout(200)
  expect(await moving()).toBe(0)
  await page.emulateMedia({ reducedMotion: 'reduce' })
  await handle(page, grid => grid.commit({ update: [{ id: 2, level: 8 }] }))
  expect(await moving()).toBe(0)
})

test('who scrolls, or goes on by keyboard, while rows change is not taken back', async ({ page }) => {
  await mount(page, { start: { order: [{ column: 'level', direction: 'ascending' }] } })
  await handle(page, grid => grid.goToLine(10))
  const told = await page.evaluate(async () => {
    const grid = (window as unknown as { handle: Handle }).handle
    const scroller = document.querySelector('#grid')!.shadowRoot!.querySelector('.scroller')!
    const start = scroller.scrollTop
    let moved = 0
    const pause = (ms: number): Promise<void> => new Promise(resolve => setTimeout(resolve, ms))
    for (let step = 0; step < 60; step++) {
      void grid.commit({ update: [{ id: 1900 - step, level: 9000 + step }] })
      scroller.scrollTop += 20
      moved += 20
      await pause(step % 7)
    }
    await pause(400)
    return { moved, went: scroller.scrollTop - start }
  })
  expect(told.went).toBe(told.moved)
  await cell(page, 60, 1).click()
  const focused = (): Promise<string | null> =>
    page.evaluate(
      () => document.querySelector('#grid')!.shadowRoot!.activeElement?.closest('.row')?.ariaRowIndex ?? null,
    )
  const from = Number(await focused())
  await page.evaluate(() => {
    const grid = (window as unknown as { handle: Handle }).handle
    const view = document.querySelector('#grid')!.shadowRoot!
    for (let step = 0; step < 8; step++)
      setTimeout(() => {
        void grid.commit({ update: [{ id: 1800 - step, level: 9500 + step }] })
        setTimeout(() => {
          const options = { key: 'ArrowDown', bubbles: true, composed: true, cancelable: true }
          view.activeElement!.dispatchEvent(new KeyboardEvent('keydown', options))
        }, step)
      }, step * 30)
  })
  await expect.poll(focused).toBe(String(from + 8))
})
