import { expect, test, type Page } from '@playwright/test'
import type { Served } from '../support/bare-page.ts'
import { serveFirst } from '../support/first-page.ts'

// Cards and menus come when they are used: begun when a reader comes near, told of where they do not come.

let served: Served
test.beforeAll(async () => {
  served = await serveFirst()
})
test.afterAll(() => served.close())

const LATER = /later-(column-card|condition-editor|columns-menu|go-to-view|card-styles)-/

/** A grid on the page, and which parts of it were asked for. */
async function open(page: Page): Promise<Set<string>> {
  const asked = new Set<string>()
  page.on('request', request => {
    const part = LATER.exec(request.url())?.[1]
    if (part) asked.add(part)
  })
  await page.goto(served.url)
  await page.evaluate(async () => {
    const rows = Array.from({ length: 500 }, (_, id) => ({ id, kind: ['ash', 'elm', 'oak'][id % 3] }))
    const { mountFirst } = window as unknown as {
      mountFirst(host: Element, options: object): Promise<{ ready: Promise<void> }>
    }
    const grid = await mountFirst(document.querySelector('#grid')!, { rows })
    await grid.ready
  })
  await expect(page.getByRole('row', { name: /ash/ }).first()).toBeVisible()
  return asked
}
const heading = (page: Page) => page.getByRole('columnheader', { name: 'kind' })

test('nothing that opens is loaded before a reader comes near; then it opens at once', async ({ page }) => {
  const asked = await open(page)
  await page.waitForTimeout(500)
  expect([...asked]).toEqual([])
  await heading(page).hover()
  await expect.poll(() => [...asked].sort()).toEqual(expect.arrayContaining(['card-styles', 'columns-menu']))
  await heading(page).locator('.more-of').click()
  const card = page.getByRole('dialog', { name: 'kind' })
  await expect(card).toBeVisible()
  await card.getByRole('checkbox', { name: /elm/ }).check()
  await expect(page.locator('.foot')).toContainText('167')
})

test('the keyboard alone brings it too, and has the focus in what it opened', async ({ page }) => {
  const asked = await open(page)
  await page.getByRole('columnheader', { name: 'id' }).focus()
  await expect.poll(() => asked.size).toBeGreaterThan(2)
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.getByRole('dialog', { name: 'id' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('columnheader', { name: 'id' })).toBeFocused()
})

test('where the line is down when something is opened, that is said, and tried again', async ({ page }) => {
  await open(page)
  await page.route(LATER, route => route.abort())
  await heading(page).hover()
  await heading(page).locator('.more-of').click()
  const notice = page.locator('.notice.failed')
  await expect(notice).toContainText('could not be loaded')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.unroute(LATER)
  await notice.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByRole('dialog', { name: 'kind' })).toBeVisible()
  await expect(notice).toBeHidden()
})
