import { expect, test, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows are replaced and changed from code, as a framework does it at each render.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

interface Row {
  id: number
  name: string
  group: string
}
interface Scope {
  handle: {
    ready: Promise<void>
    selectedCount: number
    description: { total: { kind: string; rows: number } }
    setRows(rows: unknown, definition?: object): Promise<void>
    commit(changes: object): Promise<object>
    scrollTo(key: unknown): Promise<boolean>
    selectedRecords(): Promise<Row[]>
    on(name: string, listener: (event: { message: string }) => void): () => void
  }
  meadow: { mountMeadow(host: Element, options: object): Scope['handle'] }
  rows: Row[]
  release: () => void
}

const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', width: 90 },
    { key: 'name', title: 'Name', width: 160 },
    { key: 'group', title: 'Group', width: 90 },
  ],
}

async function mountRows(page: Page, start: object = {}): Promise<void> {
  await mountBare(page, served.url, {})
  await page.evaluate(
    async definition => {
      const scope = window as unknown as Scope
      const host = document.querySelector('#grid')!
      host.shadowRoot?.replaceChildren()
      scope.rows = Array.from({ length: 20_000 }, (_, id) => ({ id, name: `row ${id}`, group: `g${id % 4}` }))
      scope.handle = scope.meadow.mountMeadow(host, { rows: scope.rows, definition })
      await scope.handle.ready
    },
    { ...DEFINITION, start },
  )
}

const topText = (page: Page): Promise<string> =>
  page.locator('.body .row:not(.group)').evaluateAll(rows => {
    const body = rows[0]!.closest('.body')!.getBoundingClientRect().top
    const shown = rows
      .map(row => ({ row, top: row.getBoundingClientRect().top - body }))
      .filter(({ row, top }) => row.checkVisibility() && top > -20)
      .sort((a, b) => a.top - b.top)[0]!
    return shown.row.querySelector('[aria-colindex="3"]')!.textContent ?? ''
  })

test('a new list with few changes changes those; selection, top row and focus stay', async ({ page }) => {
  await mountRows(page, { order: [{ column: 'name', direction: 'descending' }] })
  await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(5000))
  await expect(page.locator('.body')).toContainText('row 5000')
  await page.keyboard.press('Space')
  await expect(page.locator('.foot')).toContainText('1 selected')
  const top = await topText(page)
  const told = await page.evaluate(async () => {
    const scope = window as unknown as Scope
    const { handle, rows } = scope
    const next = rows.map(row => (row.id % 5000 === 0 ? { ...row, group: 'changed' } : { ...row }))
    next.splice(7, 1)
    next.push({ id: 90_000, name: 'row 99999', group: 'new' })
    await handle.setRows(next)
    return [handle.selectedCount, handle.description.total.rows, await handle.selectedRecords()]
  })
  expect(told).toEqual([1, 20_000, [{ id: 5000, name: 'row 5000', group: 'changed' }]])
  expect(await topText(page)).toBe(top)
  expect(
    await page.evaluate(() => document.querySelector('#grid')!.shadowRoot!.activeElement?.textContent),
  ).toBe('5000')
  await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(90_000))
  await expect(page.locator('.body')).toContainText('row 99999')
  expect(await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(7))).toBe(false)
})

test('lists that come faster than they are taken end with the last one', async ({ page }) => {
  await mountRows(page)
  await page.evaluate(async () => {
    const { handle, rows } = window as unknown as Scope
    const first = rows.map(row => (row.id < 3 ? { ...row, name: 'first' } : row))
    const second = rows.map(row => (row.id === 1 ? { ...row, name: 'second' } : row))
    await Promise.all([handle.setRows(first), handle.setRows(second)])
    const whole = rows.toReversed()
    const last = rows.map(row => (row.id === 2 ? { ...row, name: 'last' } : row))
    await Promise.allSettled([handle.setRows(whole), handle.setRows(last)])
  })
  await expect(page.locator('.body .row').first()).toContainText('row 0')
  await expect.poll(() => page.locator('.body .row').nth(1).textContent()).toContain('row 1')
  await expect(page.locator('.body')).toContainText('last')
  await expect(page.locator('.body')).not.toContainText('first')
  await expect(page.locator('.body')).not.toContainText('second')
})

test('wholly other rows, and a definition with them, keep what lives on by key', async ({ page }) => {
  await mountRows(page)
  await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(12_000))
  await expect(page.locator('.body')).toContainText('row 12000')
  await page.keyboard.press('Space')
  await expect(page.locator('.foot')).toContainText('1 selected')
  const top = Number((await topText(page)).replace('row ', ''))
  await page.evaluate(async definition => {
    const { handle, rows } = window as unknown as Scope
    const shifted = rows.slice(300).map(row => ({ ...row, name: `other ${row.id}` }))
    await handle.setRows(shifted.toReversed().toReversed(), {
      ...definition,
      columns: [definition.columns[0], { ...definition.columns[1], title: 'Called' }],
    })
  }, DEFINITION)
  await expect(page.getByRole('columnheader', { name: 'Called' })).toBeVisible()
  expect(await topText(page)).toBe(`other ${top}`)
  expect(await page.evaluate(() => (window as unknown as Scope).handle.selectedRecords())).toEqual([
    { id: 12_000, name: 'other 12000', group: 'g0' },
  ])
  expect(
    await page.evaluate(() => document.querySelector('#grid')!.shadowRoot!.activeElement?.textContent),
  ).toBe('12000')
})

test('changes are committed by key, and removed rows leave the selection', async ({ page }) => {
  await mountRows(page, { conditions: { group: { parts: [{ kind: 'one-of', values: ['g1'] }] } } })
  await expect(page.locator('.foot')).toContainText('5,000 of 20,000')
  await page.locator('.body .row').first().getByRole('checkbox').click()
  const committed = await page.evaluate(() =>
    (window as unknown as Scope).handle.commit({
      put: [{ id: 30_000, name: 'new', group: 'g1' }],
      update: [
        { id: 2, group: 'g1' },
        { id: -1, group: 'x' },
      ],
      remove: [1],
    }),
  )
  expect(committed).toMatchObject({
    inserted: 1,
    updated: 1,
    removed: 1,
    problems: [{ code: 'no-such-row', key: -1 }],
  })
  await expect(page.locator('.foot')).toContainText('5,001 of 20,000')
  await expect(page.locator('.foot')).not.toContainText('selected')
  await expect(page.locator('.body .row').first()).toContainText('row 2')
})

test('open groups stay when rows are replaced', async ({ page }) => {
  await mountRows(page, { groups: ['group'], open: { levels: 0, except: [['g2']] } })
  await expect(page.locator('.view')).toHaveAttribute('aria-rowcount', String(4 + 5000 + 1))
  await page.evaluate(async () => {
    const { handle, rows } = window as unknown as Scope
    await handle.setRows(rows.slice(1000).toReversed())
  })
  await expect(page.locator('.view')).toHaveAttribute('aria-rowcount', String(4 + 4750 + 1))
})

test('rows that come in batches are shown as they come, with what is known of their number', async ({
  page,
}) => {
  await mountBare(page, served.url, {})
  await page.evaluate(async () => {
    const scope = window as unknown as Scope
    const gate = new Promise<void>(resolve => (scope.release = resolve))
    const batches = (async function* () {
      yield Array.from({ length: 50 }, (_, id) => ({ id, name: `first ${id}` }))
      await gate
      yield Array.from({ length: 70 }, (_, id) => ({ id: id + 50, name: `second ${id}`, more: id }))
      throw new Error('the line broke')
    })()
    const host = document.querySelector('#grid')!
    host.shadowRoot?.replaceChildren()
    scope.handle = scope.meadow.mountMeadow(host, { source: { kind: 'batches', batches } })
    await scope.handle.ready
    scope.handle.on('problem', ({ message }) => (document.title = message))
  })
  await expect(page.locator('.foot')).toContainText('at least 50 rows')
  await expect(page.locator('.view')).toHaveAttribute('aria-rowcount', '-1')
  await page.evaluate(() => (window as unknown as Scope).release())
  await expect(page.locator('.foot')).toContainText('at least 120 rows')
  await expect(page.getByRole('columnheader', { name: 'More' })).toBeVisible()
  await expect(page).toHaveTitle(/the line broke/)
})
