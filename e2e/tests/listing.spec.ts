import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows that a service lists page by page, by parameters that somebody chose.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const PLOTS = Array.from({ length: 9000 }, (_, id) => ({
  id,
  site: ['Carr', 'Holt', 'Ings', 'Mead'][(id * 7) % 4],
  area: (id * 37) % 1009,
}))
const SOURCE = {
  kind: 'listing',
  address: '/api/plots',
  key: 'id',
  rows: '/data/items',
  total: '/meta/total',
  page: { from: 'offset', size: 'limit', most: 100 },
  order: { parameter: 'sort' },
  search: 'q',
  conditions: { site: { 'one-of': 'site' } },
}

/** Answers as such services do; keeps what was asked. */
async function listPlots(page: Page, count = PLOTS.length): Promise<URL[]> {
  const asked: URL[] = []
  await page.route('**/api/plots*', route => {
    const url = new URL(route.request().url())
    asked.push(url)
    const of = (name: string): string => url.searchParams.get(name) ?? ''
    let rows = PLOTS.slice(0, count)
    if (of('q')) rows = rows.filter(({ site }) => site?.toLowerCase().includes(of('q').toLowerCase()))
    if (of('site'))
      rows = rows.filter(({ site }) =>
        of('site')
          .split(',')
          .includes(site ?? ''),
      )
    if (of('sort').includes('area'))
      rows = [...rows].sort((a, b) => (of('sort').startsWith('-') ? b.area - a.area : a.area - b.area))
    const from = Number(of('offset'))
    return route.fulfill({
      json: { data: { items: rows.slice(from, from + Number(of('limit'))) }, meta: { total: rows.length } },
    })
  })
  return asked
}

const foot = (page: Page): Locator => page.locator('.foot')
interface Handle {
  arrange(change: object): void
}
const arrange = (page: Page, change: object): Promise<void> =>
  page.evaluate(given => (window as unknown as { handle: Handle }).handle.arrange(given), change)

test('a long list is ordered, searched and narrowed by its service, and read as it is looked at', async ({
  page,
}) => {
  const asked = await listPlots(page)
  await mountBare(page, served.url, { source: SOURCE })
  await expect(foot(page)).toContainText('9,000 rows')
  await page.getByRole('columnheader', { name: 'area' }).click()
  await page.getByRole('columnheader', { name: 'area' }).click()
  await expect(page.locator('.body .row:visible').first()).toContainText('1008')
  expect(asked.at(-1)?.searchParams.get('sort')).toBe('-area')
  await page.getByRole('searchbox').fill('holt')
  await expect(foot(page)).toContainText('2,250')
  await page.locator('.scroller').evaluate(scroller => {
    scroller.scrollTop = scroller.scrollHeight / 2
  })
  await expect(page.locator('.body .row:visible').first()).toContainText('Holt')
  const questions = asked.map(url => url.search)
  expect(new Set(questions).size).toBe(questions.length)
})

test('what it cannot do the page does once few enough are listed, and says so until then', async ({
  page,
}) => {
  await listPlots(page)
  await mountBare(page, served.url, { source: SOURCE })
  const above = { area: { match: 'all', parts: [{ kind: 'above', value: 1000 }] } }
  await arrange(page, { conditions: above })
  const notice = foot(page).locator('.notice:visible')
  await expect(notice).toContainText('cannot narrow by “area”')
  await expect(foot(page)).toContainText('9,000 rows')
  await arrange(page, {
    conditions: { ...above, site: { match: 'all', parts: [{ kind: 'one-of', values: ['Mead'] }] } },
  })
  await expect(notice).toBeHidden()
  const wanted = PLOTS.filter(({ site, area }) => site === 'Mead' && area > 1000)
  await expect(foot(page)).toContainText(`${wanted.length} of 9,000`)
})

test('a short list is here as a whole: grouped and summed up without a question', async ({ page }) => {
  const asked = await listPlots(page, 400)
  await mountBare(page, served.url, { source: SOURCE })
  await expect(foot(page)).toContainText('400 rows')
  const before = asked.length
  await arrange(page, {
    groups: [{ column: 'site' }],
  })
  await expect(page.locator('.body .row:visible').first()).toContainText('Carr')
  expect(asked.length).toBe(before)
})
