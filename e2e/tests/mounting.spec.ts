import { expect, test } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'
import { ownBytes } from '../support/heap.ts'
import { serveVuePage } from '../support/vue-page.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const recipe = { name: 'x', rows: 20_000, columns: numberColumns(12) }

/** Cells with elements, listeners and styles of their own. */
const CELLS = {
  format: 'vast-meadow-grid',
  version: 3,
  columns: [
    { key: 'n0', title: 'N', cell: { kind: 'bar' } },
    { key: 'n1', title: 'M', cell: { kind: 'badge' } },
    { key: 'n2', title: 'P', cell: { kind: 'picture' } },
    { key: 'n3', title: 'A', cell: { kind: 'actions', actions: [{ name: 'a', title: 'A' }] } },
    { key: 'n4', title: 'B' },
  ],
  pages: { size: 500 },
}

interface Scope {
  meadow: {
    mountMeadow(
      host: Element,
      options: object,
    ): { ready: Promise<void>; unmount(): void; scrollTo(key: number): Promise<boolean> }
  }
  handle: { unmount(): void }
}

test(
  'mounting and unmounting again and again leaves no element, listener or worker behind',
  ALL,
  async ({ page }) => {
    await mountBare(page, served.url, { source: { kind: 'recipe', recipe } })
    await page.evaluate(() => (window as unknown as Scope).handle.unmount())
    const cdp = await page.context().newCDPSession(page)
    await cdp.send('HeapProfiler.enable')
    const counts = async () => {
      for (let i = 0; i < 3; i++) await cdp.send('HeapProfiler.collectGarbage')
      const { nodes, jsEventListeners } = await cdp.send('Memory.getDOMCounters')
      return { nodes, jsEventListeners, workers: page.workers().length, bytes: await ownBytes(cdp) }
    }
    const cycle = (times: number): Promise<void> =>
      page.evaluate(
        async ([recipe, definition, times]) => {
          const { meadow } = window as unknown as Scope
          for (let i = 0; i < times; i++) {
            // Every tenth with a worker: starting one takes longer than all the rest.
            const source = i % 20 === 0 ? { kind: 'recipe', recipe } : { kind: 'computed', recipe }
            const host = document.querySelector('#grid')!
            // As a framework that mounts everything twice to find out what is left behind.
            if (i % 4 === 0) meadow.mountMeadow(host, { source, definition }).unmount()
            const mounted = meadow.mountMeadow(host, { source, definition })
            await mounted.ready
            await mounted.scrollTo(500)
            mounted.unmount()
          }
        },
        [recipe, CELLS, times] as const,
      )
    // What is made once for all is there after some rounds; what is left behind by each would go on.
    await cycle(100)
    const before = await counts()
    await cycle(200)
    const after = await counts()
    expect(after.workers).toBe(0)
    expect(after.jsEventListeners).toBeLessThanOrEqual(before.jsEventListeners)
    expect(after.nodes - before.nodes).toBeLessThanOrEqual(10)
    expect(after.bytes - before.bytes).toBeLessThan(50_000)
  },
)

test('unmounting while rows are still being made ends that too', async ({ page }) => {
  await mountBare(page, served.url, {})
  const problems: string[] = []
  page.on('pageerror', error => problems.push(error.message))
  await page.evaluate(async columns => {
    const { meadow } = window as unknown as Scope
    const many = { name: 'x', rows: 3_000_000, columns }
    const mounted = meadow.mountMeadow(document.querySelector('#grid')!, {
      source: { kind: 'recipe', recipe: many },
    })
    await new Promise(resolve => setTimeout(resolve, 300))
    mounted.unmount()
    await mounted.ready.catch(() => {})
  }, numberColumns(12))
  await expect.poll(() => page.workers().length).toBe(0)
  expect(problems).toEqual([])
})

test('many small grids on one page share a few workers, which end with the last of them', async ({
  page,
}) => {
  await mountBare(page, served.url, {})
  const lines = await page.evaluate(async small => {
    const { meadow } = window as unknown as Scope
    const grids = Array.from({ length: 12 }, () => {
      const place = document.createElement('div')
      place.className = 'small'
      place.style.blockSize = '200px'
      document.body.append(place)
      return { place, grid: meadow.mountMeadow(place, { source: { kind: 'recipe', recipe: small } }) }
    })
    await Promise.all(grids.map(({ grid }) => grid.ready))
    ;(window as unknown as { grids: unknown }).grids = grids
    return grids.map(({ place }) => place.shadowRoot?.querySelector('.foot .count')?.textContent)
  }, recipe)
  expect(lines.every(text => text?.includes('20,000'))).toBe(true)
  expect(page.workers().length).toBeGreaterThan(0)
  expect(page.workers().length).toBeLessThanOrEqual(4)

  // One that goes leaves the others theirs.
  await page.evaluate(() => {
    const { grids } = window as unknown as { grids: { grid: { unmount(): void } }[] }
    for (const { grid } of grids.splice(0, 11)) grid.unmount()
  })
  const last = page.locator('.small').last()
  await last.getByRole('columnheader').nth(1).click()
  await expect(last.getByRole('columnheader').nth(1)).toHaveAttribute('aria-sort', 'ascending')
  await page.evaluate(() => {
    const { grids } = window as unknown as { grids: { grid: { unmount(): void } }[] }
    for (const { grid } of grids) grid.unmount()
  })
  await expect.poll(() => page.workers().length).toBe(0)
})

test('two grids on one page do not know of each other', async ({ page }) => {
  await mountBare(page, served.url, { source: { kind: 'recipe', recipe } })
  await page.evaluate(
    async ([columns]) => {
      const { meadow } = window as unknown as Scope
      document.querySelector<HTMLElement>('#grid')!.style.height = '50%'
      const other = document.createElement('div')
      other.id = 'other'
      other.style.height = '50%'
      document.body.append(other)
      const rows = { name: 'y', rows: 50, columns }
      await meadow.mountMeadow(other, { source: { kind: 'recipe', recipe: rows } }).ready
    },
    [numberColumns(3)] as const,
  )
  const first = page.locator('#grid')
  const second = page.locator('#other')
  await second.getByRole('columnheader', { name: 'N1', exact: true }).click()
  await expect(second.getByRole('columnheader', { name: 'N1', exact: true })).toHaveAttribute(
    'aria-sort',
    'ascending',
  )
  await expect(first.getByRole('columnheader', { name: 'N1', exact: true })).not.toHaveAttribute('aria-sort')
  await expect(first.locator('.foot')).toContainText('20,000 rows')
  await expect(second.locator('.foot')).toContainText('50 rows')
})

test('a slot draws what open rows show, as high as the page’s styles make it, and closes them', async ({
  page,
}) => {
  const vue = await serveVuePage()
  await page.goto(`${vue.url}/#open`)
  const opener = page.locator('.body .row:not([hidden]) .opener')
  await opener.nth(1).click()
  const card = page.locator('.vast-meadow > [slot] > .card')
  await expect(card).toContainText('row 1')
  const detail = page.locator('.body .row.detail:not([hidden])')
  await expect
    .poll(async () => (await detail.boundingBox())!.height - (await card.boundingBox())!.height)
    .toBeCloseTo(0, 0)
  expect((await card.boundingBox())!.height).toBeGreaterThan(70)
  await card.getByRole('button').click()
  await expect(card).toHaveCount(0)
  await expect(detail).toHaveCount(0)
  // The focus is on the row again, and not lost.
  await expect(page.locator('.body .row:has(:focus)')).toContainText('1')
  vue.close()
})

test('a slotted cell is drawn by Vue in the page’s own tree, and follows the scroll', async ({ page }) => {
  const vue = await serveVuePage()
  await page.goto(vue.url)
  const slotted = page.locator('.vast-meadow > [slot]')
  /** Of cells in view; spare ones wait unseen with what they showed last. */
  const states = async () =>
    new Set(
      await slotted.evaluateAll(cells =>
        cells
          .filter(cell => cell.firstElementChild?.checkVisibility())
          .map(cell => cell.textContent!.split(' ')[0]),
      ),
    )
  await expect(slotted.first()).toHaveText(/^(seen|lost|doubtful) \d+$/)
  await expect(page.locator('.vast-meadow')).toHaveCount(1)
  await page.getByRole('columnheader', { name: 'State', exact: true }).click()
  await expect.poll(states).toEqual(new Set(['doubtful']))
  // The page's style reaches it: the mark is drawn by a rule of the page.
  const mark = await slotted
    .locator('.status')
    .first()
    .evaluate(el => getComputedStyle(el, '::before').backgroundColor)
  expect(mark).toBe('rgb(1, 2, 3)')
  const before = await slotted.count()
  await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = scroller.scrollHeight))
  await expect.poll(states).toEqual(new Set(['seen']))
  expect(await slotted.count()).toBe(before)
  await page.evaluate(() => (window as unknown as { app: { unmount(): void } }).app.unmount())
  await expect(slotted).toHaveCount(0)
  await expect(page.locator('.vast-meadow')).toHaveCount(0)
  vue.close()
})
