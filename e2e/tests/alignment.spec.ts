import { expect, test, type Page } from '@playwright/test'
import { serveStatic, type Served } from '../support/bare-page'

const ROWS = Array.from({ length: 600 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][Math.floor(id / 7) % 3],
  place: `place ${id % 7}`,
  site: `S${id % 9}`,
  planted: `2023-0${1 + (id % 9)}-11`,
  height: id % 50,
  count: id % 11,
}))
const UNDER: Readonly<Record<string, string>> = {
  place: 'place',
  site: 'place',
  height: 'size',
  count: 'size',
}
/** Widths that leave odd parts of px at every zoom. */
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  strip: true,
  headings: [
    { key: 'place', title: 'Its place' },
    { key: 'size', title: 'Its size' },
  ],
  columns: Object.keys(ROWS[0]!).map((key, nth) => ({
    key,
    title: key,
    width: 121 + 7 * nth,
    ...(UNDER[key] && { under: UNDER[key] }),
  })),
  start: {
    pinnedStart: ['id'],
    pinnedEnd: ['count'],
    pinnedRows: { head: [3], foot: [5] },
    groups: ['kind'],
    summaries: { height: 'mean', site: 'distinct' },
  },
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

/** Px by which cells of any row stand away from the title of their column; rows that were looked at, by what they are. */
const away = (page: Page): Promise<{ off: number; rows: Record<string, number> }> =>
  page.evaluate(() => {
    const root = document.getElementById('grid')!.shadowRoot!
    const shown = (element: Element): boolean => element.checkVisibility({ visibilityProperty: true })
    const edges = (row: Element): Map<string, [number, number]> =>
      new Map(
        [...row.querySelectorAll('.cell')].filter(shown).map(cell => {
          const { left, right } = cell.getBoundingClientRect()
          return [cell.ariaColIndex!, [left, right]]
        }),
      )
    const titles = edges(root.querySelector('.head .row:not(.shared):not(.strip):not(.pinned)')!)
    let off = 0
    const rows: Record<string, number> = {}
    for (const row of [...root.querySelectorAll('.row')].filter(shown)) {
      const kind =
        ['shared', 'strip', 'pinned', 'totals', 'group'].find(name => row.classList.contains(name)) ?? 'row'
      rows[kind] = (rows[kind] ?? 0) + 1
      if (kind === 'shared') continue
      for (const [index, [left, right]] of edges(row)) {
        const title = titles.get(index)
        if (title) off = Math.max(off, Math.abs(title[0] - left), Math.abs(title[1] - right))
      }
    }
    for (const cell of [...root.querySelectorAll('.shared .cell')].filter(shown)) {
      const first = Number(cell.ariaColIndex)
      const last = first + Number(cell.getAttribute('aria-colspan')) - 1
      const { left, right } = cell.getBoundingClientRect()
      const rtl = getComputedStyle(cell).direction === 'rtl'
      const [from, to] = [titles.get(String(rtl ? last : first)), titles.get(String(rtl ? first : last))]
      if (from) off = Math.max(off, Math.abs(from[0] - left))
      if (to) off = Math.max(off, Math.abs(to[1] - right))
    }
    return { off, rows }
  })

for (const dir of ['ltr', 'rtl'] as const)
  for (const zoom of [0.8, 1, 1.25, 1.5])
    test(`headings, strip, heads, pinned rows, sums and body stand on the same pixel at zoom ${zoom}, ${dir}`, async ({
      browser,
    }) => {
      const context = await browser.newContext({
        viewport: { width: Math.round(900 / zoom), height: Math.round(600 / zoom) },
        deviceScaleFactor: zoom,
      })
      const page = await context.newPage()
      await page.goto(served.url)
      await page.waitForFunction(() => 'loaded' in window)
      await page.evaluate(
        async ({ rows, definition, dir }) => {
          document.documentElement.dir = dir
          const scope = window as unknown as {
            meadow: { mountMeadow(host: Element, options: object): { ready: Promise<void> } }
          }
          await scope.meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition }).ready
        },
        { rows: ROWS, definition: DEFINITION, dir },
      )
      await expect(page.locator('.row.pinned')).toHaveCount(2)
      for (const left of [0, 1, 37, 155, 10_000]) {
        await page.locator('.scroller').evaluate((scroller, to) => {
          scroller.scrollLeft = getComputedStyle(scroller).direction === 'rtl' ? -to : to
        }, left)
        const moving = await away(page)
        await page.waitForTimeout(220)
        const { off, rows } = await away(page)
        expect([moving.off < 0.01, off < 0.01], `at ${left}: ${moving.off}, ${off}`).toEqual([true, true])
        expect(Object.keys(rows).sort()).toEqual(['group', 'pinned', 'row', 'shared', 'strip', 'totals'])
      }
      await context.close()
    })
