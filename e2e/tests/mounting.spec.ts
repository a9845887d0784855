import { expect, test } from '@playwright/test'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'
import { Workshop } from '../support/workshop.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const recipe = { name: 'x', rows: 20_000, columns: numberColumns(12) }

interface Scope {
  meadow: {
    mountMeadow(
      host: Element,
      options: object,
    ): { ready: Promise<void>; unmount(): void; scrollTo(key: number): Promise<boolean> }
  }
  handle: { unmount(): void }
}

test('mounting and unmounting again and again leaves no element, listener or worker behind', async ({
  page,
}) => {
  await mountBare(page, served.url, { source: { kind: 'recipe', recipe } })
  await page.evaluate(() => (window as unknown as Scope).handle.unmount())
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('HeapProfiler.enable')
  const counts = async (): Promise<{ nodes: number; jsEventListeners: number; workers: number }> => {
    for (let i = 0; i < 3; i++) await cdp.send('HeapProfiler.collectGarbage')
    const { nodes, jsEventListeners } = await cdp.send('Memory.getDOMCounters')
    return { nodes, jsEventListeners, workers: page.workers().length }
  }
  const cycle = (times: number): Promise<void> =>
    page.evaluate(
      async ([recipe, times]) => {
        const { meadow } = window as unknown as Scope
        for (let i = 0; i < times; i++) {
          // Every tenth with a worker: starting one takes longer than all the rest.
          const source = i % 10 === 0 ? { kind: 'recipe', recipe } : { kind: 'computed', recipe }
          const mounted = meadow.mountMeadow(document.querySelector('#grid')!, { source })
          await mounted.ready
          await mounted.scrollTo(500)
          mounted.unmount()
        }
      },
      [recipe, times] as const,
    )
  await cycle(20)
  const before = await counts()
  await cycle(80)
  const after = await counts()
  expect(after.workers).toBe(0)
  expect(after.jsEventListeners).toBeLessThanOrEqual(before.jsEventListeners)
  expect(after.nodes - before.nodes).toBeLessThanOrEqual(10)
})

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

test('a slotted cell is drawn by Vue in the page’s own tree, and follows the scroll', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  const slotted = page.locator('.vast-meadow > [slot]')
  await expect(slotted.first()).toHaveText(/seen|confirmed|doubtful|withdrawn/)
  await workshop.header('State').click()
  await workshop.header('State').click()
  await expect.poll(async () => new Set(await workshop.texts('State'))).toEqual(new Set(['withdrawn']))
  // The page's style reaches it: the mark is drawn by a rule of the page.
  const mark = await slotted
    .locator('.status')
    .first()
    .evaluate(el => getComputedStyle(el, '::before').backgroundColor)
  expect(mark).not.toBe('rgba(0, 0, 0, 0)')
  const before = await slotted.count()
  await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = scroller.scrollHeight))
  await expect.poll(async () => new Set(await workshop.texts('State'))).toEqual(new Set(['']))
  expect(await slotted.count()).toBe(before)
  await page.getByRole('link', { name: 'Shelf', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Start from rows' })).toBeVisible()
  await expect(slotted).toHaveCount(0)
})
