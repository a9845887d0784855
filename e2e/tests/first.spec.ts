import { expect, test, type Page } from '@playwright/test'
import type { Served } from '../support/bare-page.ts'
import { holdLater, serveFirst } from '../support/first-page.ts'

// What is shown before the grid is there, and that the grid then stands in its place as if it had always been there.

interface Scope {
  mountFirst(host: Element, options: object, signal?: AbortSignal): Promise<Grid>
  grid: Promise<Grid> | undefined
  ended: string | undefined
  leave: AbortController
}
interface Grid {
  ready: Promise<void>
  report: { passing: number } | null
}
declare const window: Window & Scope

let served: Served
test.beforeAll(async () => {
  served = await serveFirst()
})
test.afterAll(() => served.close())

const column = (key: string, more: object = {}): object => ({ key, title: key.toUpperCase(), ...more })
const define = (columns: object[], more: object = {}): object => ({
  format: 'vast-meadow-grid',
  version: 3,
  columns,
  ...more,
})

/** Mounts a grid of so many trees; what came of it is told in `ended`. */
async function show(page: Page, options: object, trees = 8000): Promise<void> {
  await page.evaluate(
    ([options, trees]) => {
      const kinds = ['ash', 'elm', null, 'yew']
      const rows = Array.from({ length: trees }, (_, id) => ({
        id,
        name: `tree ${id}`,
        kind: kinds[id % 4],
        height: (id % 97) / 4,
        seen: id % 3 === 0,
        day: new Date(Date.UTC(2024, 0, 1 + (id % 300))),
        site: { plot: id % 50, soil: ['loam', 'clay'].slice(0, id % 3) },
        price: ((id * 7919) % 100_000) / 100,
        mail: id % 5 === 0 ? null : `tree${id}@meadow.example`,
      }))
      const { keeps, ...given } = options as { keeps?: string }
      const storage = keeps && {
        load: () => Promise.resolve(JSON.parse(localStorage.getItem(keeps) ?? 'null')),
        save: (kept: object) => Promise.resolve(localStorage.setItem(keeps, JSON.stringify(kept))),
      }
      window.leave = new AbortController()
      window.grid = window.mountFirst(
        document.querySelector('#grid')!,
        { rows, ...given, ...(storage && { storage }) },
        window.leave.signal,
      )
      window.grid.then(
        () => (window.ended = 'mounted'),
        (error: Error) => (window.ended = error.name),
      )
    },
    [options, trees] as const,
  )
}

/** What is seen of cells, and where, whoever drew them. */
const seen = (page: Page): Promise<{ text: string; at: number[]; look: string }[]> =>
  page.evaluate(() => {
    const root = document.querySelector('#grid')!.shadowRoot!
    const view = root.querySelector('.view')!.getBoundingClientRect()
    const cells = [...root.querySelectorAll<HTMLElement>('.view .cell')].flatMap(cell => {
      const { x, y, width, height } = cell.getBoundingClientRect()
      // Fields to type in come with the grid, as do words that are only heard.
      if (
        cell.closest('.strip') ||
        cell.hidden ||
        height === 0 ||
        y >= view.bottom ||
        x >= view.right ||
        x + width <= view.left
      )
        return []
      const inner = cell.querySelector(':is(.check, .box, .badge, .tag, .bar-in-cell, a):not([hidden])')
      const { color, fontSize, fontWeight, textAlign } = getComputedStyle(cell)
      const inside = inner?.getBoundingClientRect()
      const look = [
        color,
        fontSize,
        fontWeight,
        textAlign,
        inner && getComputedStyle(inner).color,
        inside?.x,
        inside?.width,
      ]
      const row = getComputedStyle(cell.closest('.row')!).backgroundColor
      return [
        {
          text: cell.querySelector('.quiet') ? '' : cell.innerText,
          at: [x, y, width, height].map(Math.round),
          look: [...look, row].join(' '),
        },
      ]
    })
    return cells.sort((a, b) => a.at[1] - b.at[1] || a.at[0] - b.at[0])
  })

const DEFINED = define(
  [
    column('id', { width: 70, align: 'end' }),
    column('name', { share: 2 }),
    column('kind', { cell: { kind: 'badge', tones: { ash: 'moss', elm: 'poppy' } } }),
    column('height', { align: 'end', cell: { kind: 'bar', low: 0, high: 25 }, format: { decimals: 1 } }),
    column('seen', { cell: { kind: 'check' }, width: 70 }),
    column('day', { format: { date: 'long' }, width: 150 }),
    column('site.soil', { cell: { kind: 'tags', tone: 'straw' } }),
    column('price', { align: 'end', format: { number: 'currency', currency: 'EUR' } }),
    column('mail', { cell: { kind: 'mail' }, width: 190 }),
  ],
  {
    key: 'id',
    locale: 'de',
    look: {
      stripes: true,
      rules: 'both',
      textSize: 14,
      palette: { moss: { light: '#004400', dark: '#88ff88' } },
    },
    density: 'roomy',
    start: { pinnedStart: ['id'], pinnedEnd: ['price'], hidden: ['site.soil'], widths: { kind: 120 } },
  },
)

const CASES: readonly (readonly [name: string, options: object, trees?: number])[] = [
  ['nobody defined', {}],
  ['that are few', {}, 3],
  ['that are defined', { definition: DEFINED }],
  [
    'arranged from code, compact and without boxes',
    {
      definition: define([column('id'), column('name'), column('site.plot'), column('height')], {
        selection: { rows: 'none' },
        density: 'compact',
        map: false,
      }),
      arrangement: { columns: ['height', 'name', 'id', 'site.plot'], widths: { name: 333 } },
    },
  ],
  [
    'under shared headings, wider than their place',
    {
      definition: define(
        ['id', 'name', 'height', 'price', 'site.plot', 'kind', 'mail'].map((key, nth) =>
          column(key, { width: 260, ...(nth > 1 && { under: nth > 3 ? 'place' : 'size' }) }),
        ),
        {
          headings: [
            { key: 'all', title: 'Of the tree' },
            { key: 'size', title: 'Size', under: 'all' },
            { key: 'place', title: 'Place' },
          ],
          strip: true,
          detail: { columns: ['mail'] },
        },
      ),
    },
  ],
  [
    'in pages, a column of which is worked out',
    {
      definition: define([column('id'), column('twice', { expression: 'id * 2' }), column('name')], {
        pages: { size: 7 },
        start: { pageSize: 9 },
        fit: { kind: 'fixed', height: 420 },
      }),
    },
  ],
]

for (const direction of ['ltr', 'rtl'])
  for (const [name, options, trees] of CASES)
    test(`the grid takes over rows ${name} where they stand, ${direction}`, async ({ page }) => {
      await page.goto(served.url)
      await page.evaluate(direction => (document.documentElement.dir = direction), direction)
      const letGo = await holdLater(page)
      await show(page, options, trees)
      const before = await seen(page)
      expect(before.length).toBeGreaterThan(10)
      await expect(page.locator('#grid')).toHaveAttribute('aria-busy', 'true')
      letGo()
      await page.evaluate(() => window.grid?.then(grid => grid.ready))
      await expect(page.locator('#grid')).not.toHaveAttribute('aria-busy')
      await expect(page.locator('.scroller')).toHaveCount(1)
      const after = await seen(page)
      // What is worked out is for the grid to say.
      const told = name.includes('worked out') ? after.map(cell => ({ ...cell, text: '' })) : after
      const known = name.includes('worked out') ? before.map(cell => ({ ...cell, text: '' })) : before
      expect(known).toEqual(told)
    })

test.describe('in small places, by finger', () => {
  test.use({ viewport: { width: 360, height: 640 }, hasTouch: true, isMobile: true })
  for (const [name, options, trees] of CASES)
    test(`the grid takes over rows ${name} there`, async ({ page }) => {
      await page.goto(served.url)
      const letGo = await holdLater(page)
      await show(page, options, trees)
      const before = await seen(page)
      letGo()
      await page.evaluate(() => window.grid?.then(grid => grid.ready))
      await expect(page.locator('.scroller')).toHaveCount(1)
      const after = await seen(page)
      // What turns pages takes several lines in so small a place; what is above it stays.
      const stay = name.includes('pages') ? after.length : before.length
      expect(after.map(({ at }) => at)).toEqual(before.slice(0, stay).map(({ at }) => at))
    })
})

test('where rows come in another order, or are held back, only the frame is shown before', async ({
  page,
}) => {
  for (const arrangement of [
    { order: [{ column: 'id', direction: 'descending' }] },
    { conditions: { id: { parts: [{ kind: 'at-least', value: 5 }] } } },
    { search: 'tree 9' },
    { groups: ['kind'] },
  ]) {
    await page.goto(served.url)
    const letGo = await holdLater(page)
    await show(page, { arrangement })
    await expect(page.locator('#grid .bar')).toBeVisible()
    expect(await seen(page).catch(() => [])).toEqual([])
    letGo()
    await page.evaluate(() => window.grid?.then(grid => grid.ready))
    expect((await seen(page)).length).toBeGreaterThan(10)
    await page.unroute(/\/later-/)
  }
})

test('where a reader keeps an arrangement, rows are shown before only on the first visit', async ({
  page,
}) => {
  await page.goto(served.url)
  const letGo = await holdLater(page)
  await show(page, { keeps: 'trees' })
  await expect(page.locator('#grid .row')).not.toHaveCount(0)
  const before = await seen(page)
  letGo()
  await page.evaluate(() => window.grid?.then(grid => grid.ready))
  await expect(page.locator('.scroller')).toHaveCount(1)
  expect(await seen(page)).toEqual(before)
  await page.getByRole('columnheader', { name: 'Name' }).click()
  await expect.poll(() => page.evaluate(() => localStorage.getItem('trees'))).toContain('name')
  await page.unroute(/\/later-/)

  await page.reload()
  const letGoToo = await holdLater(page)
  await show(page, { keeps: 'trees' })
  await page.waitForTimeout(300)
  await expect(page.locator('#grid .row')).toHaveCount(0)
  letGoToo()
  await expect(page.getByRole('columnheader', { name: 'Name' })).toHaveAttribute('aria-sort', 'ascending')
})

test('what is wrong is told, and nothing of it is left', async ({ page }) => {
  await page.goto(served.url)
  await show(page, { definition: define([column('id', { width: 'wide' }), column('id')]) })
  await expect(page.getByRole('alert').or(page.locator('.state'))).toContainText('width')
  await expect(page.locator('#grid')).not.toHaveAttribute('aria-busy')
  await expect(page.locator('.scroller')).toHaveCount(1)
  // It is given up before it is there, …
  await page.goto(served.url)
  const letGo = await holdLater(page)
  await show(page, {})
  await page.evaluate(() => window.leave.abort())
  await expect(page.locator('#grid .meadow')).toHaveCount(0)
  letGo()
  await expect.poll(() => page.evaluate(() => window.ended)).toBe('AbortError')
  await expect(page.locator('#grid .meadow')).toHaveCount(0)
  // … and afterwards.
  await show(page, {})
  await page.evaluate(() => window.grid?.then(grid => grid.ready))
  await page.evaluate(() => window.leave.abort())
  await expect(page.locator('#grid .meadow')).toHaveCount(0)
})

test('a grid that cannot be loaded leaves nothing behind and says so', async ({ page }) => {
  await page.goto(served.url)
  await page.route(/\/later-/, route => route.abort())
  await show(page, {})
  await expect.poll(() => page.evaluate(() => window.ended)).toBe('TypeError')
  await expect(page.locator('#grid .meadow')).toHaveCount(0)
})

test('the newest of several in one element is the one that stays', async ({ page }) => {
  await page.goto(served.url)
  const letGo = await holdLater(page)
  await show(page, {}, 40)
  await show(page, {}, 50)
  await expect(page.locator('#grid .meadow')).toHaveCount(1)
  letGo()
  await expect(page.locator('.foot .count')).toContainText('50 rows')
  await show(page, {}, 60)
  await expect(page.locator('.foot .count')).toContainText('60 rows')
  await expect(page.locator('#grid .meadow')).toHaveCount(1)
})

test('in a place that nothing is seen of, and in one without a height', async ({ page }) => {
  await page.goto(served.url)
  await page.evaluate(() => (document.querySelector<HTMLElement>('#grid')!.style.display = 'none'))
  await show(page, {})
  await page.evaluate(() => window.grid)
  await page.evaluate(() => (document.querySelector<HTMLElement>('#grid')!.style.display = ''))
  await expect(page.locator('.foot .count')).toContainText('8,000 rows')
  expect((await seen(page)).length).toBeGreaterThan(10)

  await page.goto(served.url)
  await page.evaluate(() => (document.querySelector<HTMLElement>('#grid')!.style.height = 'auto'))
  const letGo = await holdLater(page)
  await show(page, {})
  const before = await seen(page)
  expect(before.length).toBeGreaterThan(10)
  letGo()
  await page.evaluate(() => window.grid?.then(grid => grid.ready))
  await expect(page.locator('.scroller')).toHaveCount(1)
  expect(await seen(page)).toEqual(before)
})
