import { expect, test, type Page } from '@playwright/test'
import { serveStatic, type Served } from '../support/bare-page.ts'

// What is done with a row and with selected rows: shown and usable by rules, asked for, under way, failed, undone.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 300 }, (_, id) => ({
  id,
  name: `Pack ${id}`,
  stock: id % 5,
  sealed: id % 2 === 0,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Packs',
  key: 'id',
  columns: [
    { key: 'id', title: 'No' },
    { key: 'name', title: 'Name' },
    { key: 'stock', title: 'Stock', format: { decimals: 1 } },
    { key: 'sealed', title: 'Sealed' },
    {
      key: 'do',
      title: 'Actions',
      expression: '""',
      width: 300,
      cell: {
        kind: 'actions',
        actions: [
          {
            name: 'discard',
            title: 'Discard',
            tone: 'poppy',
            confirm: 'Discard {name} with {stock} in stock, {nothing}?',
          },
          { name: 'open', title: 'Unseal', shown: 'sealed', when: 'stock > 1' },
          { name: 'both', title: 'Pair', when: 'selected && selectedCount == 2' },
        ],
      },
    },
  ],
  actions: [
    { name: 'mark', title: 'Mark' },
    { name: 'many', title: 'Move', when: 'selectedCount >= 4', confirm: 'Move {count} packs?' },
    { name: 'always', title: 'Count', shown: 'true', when: 'selectedCount < 3' },
  ],
  styles: [{ when: 'selected && stock > 2', bold: true }],
}
interface Scope {
  meadow: { mountMeadow(host: Element, options: object): Scope['handle'] }
  handle: {
    ready: Promise<void>
    arrangement: { order: object[] }
    selectRows(keys: unknown[]): Promise<number>
    selectAll(): Promise<void>
    setAllow(allow: object): void
    arrange(change: object): void
    on(name: string, listener: (event: { message: string }) => void): void
  }
  told: string[]
  release: (() => void) | null
}
async function open(page: Page): Promise<void> {
  await page.goto(served.url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  await page.evaluate(
    async ([rows, definition]) => {
      const scope = window as unknown as Scope
      scope.told = []
      scope.release = null
      const say = (text: string): void => void scope.told.push(text)
      let fails = true
      scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
        rows,
        definition,
        parts: {
          actions: {
            discard: ({ key }: { key: number }) => {
              say(`discard ${key}`)
              return { undo: () => say(`back ${key}`) }
            },
            open: async ({ key }: { key: number }) => {
              say(`open ${key}`)
              await new Promise<void>(resolve => (scope.release = resolve))
              if (fails) {
                fails = false
                throw new Error('the seal is stuck')
              }
            },
            both: ({ key }: { key: number }) => say(`both ${key}`),
          },
          batch: {
            mark: ({ rows, count }: { rows: object; count: number }) =>
              say(`mark ${count} ${JSON.stringify(rows)}`),
            many: async ({ records }: { records(limit?: number): Promise<{ id: number }[]> }) =>
              say(`many ${(await records(2)).map(({ id }) => id).join()}`),
          },
        },
      })
      scope.handle.on('problem', ({ message }) => say(message))
      await scope.handle.ready
    },
    [ROWS, DEFINITION] as const,
  )
}
const told = (page: Page): Promise<string[]> => page.evaluate(() => (window as unknown as Scope).told)
const row = (page: Page, nth: number) => page.locator(`.body .row[aria-rowindex="${nth + 2}"]`)
const button = (page: Page, nth: number, name: string) =>
  row(page, nth).getByRole('button', { name, exact: true })
const selectRows = (page: Page, keys: number[]): Promise<number> =>
  page.evaluate(keys => (window as unknown as Scope).handle.selectRows(keys), keys)

test('a row’s buttons are there and usable where their rules hold, also by what is selected', async ({
  page,
}) => {
  await open(page)
  await expect(button(page, 1, 'Unseal')).toBeHidden()
  await expect(button(page, 0, 'Unseal')).toBeDisabled()
  await expect(button(page, 4, 'Unseal')).toBeEnabled()
  await expect(button(page, 3, 'Pair')).toBeDisabled()
  await selectRows(page, [3])
  await expect(button(page, 3, 'Pair')).toBeDisabled()
  await selectRows(page, [3, 4])
  await expect(button(page, 3, 'Pair')).toBeEnabled()
  await expect(button(page, 5, 'Pair')).toBeDisabled()
  // Looks go by it too.
  const weight = (nth: number) => row(page, nth).locator('.cell').nth(2)
  await expect(weight(3)).toHaveCSS('font-weight', '600')
  await expect(weight(8)).not.toHaveCSS('font-weight', '600')
  await button(page, 3, 'Pair').click()
  expect(await told(page)).toEqual(['both 3'])
})

test('a question names the row as it is shown, and what was done is undone', async ({ page }) => {
  await open(page)
  await button(page, 7, 'Discard').click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toHaveText(/Discard Pack 7 with 2\.0 in stock, \{nothing\}\?/)
  await dialog.getByRole('button', { name: 'Cancel' }).click()
  expect(await told(page)).toEqual([])
  await button(page, 7, 'Discard').click()
  await dialog.getByRole('button', { name: 'Discard' }).click()
  await expect(page.locator('.foot .notice')).toContainText('Done: Discard 7')
  await page.locator('.foot .notice').getByRole('button', { name: 'Undo' }).click()
  expect(await told(page)).toEqual(['discard 7', 'back 7'])
  await expect(page.locator('.foot .notice')).toBeHidden()
})

test('what takes long shows so, what fails says why at the row, and can be tried again, from the menu too', async ({
  page,
}) => {
  await open(page)
  await button(page, 4, 'Unseal').click()
  await expect(button(page, 4, 'Unseal')).toHaveAttribute('aria-busy', 'true')
  // Wherever the row was meanwhile.
  await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = 4000))
  await page.waitForTimeout(200)
  await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = 0))
  await expect(button(page, 4, 'Unseal')).toBeDisabled()
  await page.evaluate(() => (window as unknown as Scope).release!())
  await expect(page.locator('.foot .notice')).toContainText('“Unseal 4” failed: the seal is stuck')
  await expect(button(page, 4, 'Unseal')).toHaveAttribute('title', 'the seal is stuck')
  await page.locator('.foot .notice').getByRole('button', { name: 'Try again' }).click()
  await expect(button(page, 4, 'Unseal')).toHaveAttribute('aria-busy', 'true')
  await page.evaluate(() => (window as unknown as Scope).release!())
  await expect(button(page, 4, 'Unseal')).toBeEnabled()
  await expect(button(page, 4, 'Unseal')).toHaveAttribute('title', '')
  expect(await told(page)).toEqual(['open 4', '“Unseal” failed: the seal is stuck', 'open 4'])
  await row(page, 4).locator('.cell').nth(2).click({ button: 'right' })
  await expect(page.getByRole('menuitem', { name: 'Unseal' })).toBeVisible()
  await page.keyboard.press('Escape')
  await row(page, 5).locator('.cell').nth(2).click({ button: 'right' })
  await expect(page.getByRole('menuitem', { name: 'Discard' })).toBeVisible()
  await expect(page.getByRole('menuitem', { name: 'Unseal' })).toHaveCount(0)
})

test('selected rows are acted on from so many on, by their keys or as all but some', async ({ page }) => {
  await open(page)
  const batch = (name: string) => page.locator('.bar .batch').getByRole('button', { name, exact: true })
  await expect(batch('Count')).toBeEnabled()
  await expect(batch('Mark')).toBeHidden()
  await selectRows(page, [1, 2, 3])
  await expect(batch('Mark')).toBeEnabled()
  await expect(batch('Move')).toBeDisabled()
  await expect(batch('Count')).toBeDisabled()
  await batch('Mark').click()
  await page.evaluate(() => (window as unknown as Scope).handle.selectAll())
  await row(page, 2).locator('.box').click()
  await expect(batch('Move')).toBeEnabled()
  await batch('Move').click()
  await expect(page.getByRole('dialog')).toContainText('Move 299 packs?')
  await page.getByRole('dialog').getByRole('button', { name: 'Move' }).click()
  await batch('Mark').click()
  await expect
    .poll(() => told(page))
    .toEqual([
      'mark 3 {"kind":"keys","keys":[1,2,3]}',
      'many 0,1',
      'mark 299 {"kind":"all-but","request":{"conditions":{},"where":"","search":""},"except":[2]}',
    ])
})

test('the host refuses, changes, or arranges alone', async ({ page }) => {
  await open(page)
  const order = () => page.evaluate(() => (window as unknown as Scope).handle.arrangement.order)
  await page.evaluate(() => {
    const { handle } = window as unknown as Scope
    handle.setAllow({ arrange: () => false, act: ({ name }: { name: string }) => name !== 'discard' })
  })
  await page.getByRole('columnheader', { name: 'Name' }).click()
  await button(page, 7, 'Discard').click()
  await page.waitForTimeout(150)
  await expect(page.getByRole('dialog')).toHaveCount(0)
  expect(await order()).toEqual([])
  // Later, and otherwise than asked.
  await page.evaluate(() => {
    const { handle } = window as unknown as Scope
    handle.setAllow({
      arrange: async ({ order = [] }: { order?: { column: string }[] }) => {
        await new Promise(resolve => setTimeout(resolve, 50))
        return { order: order.map(key => ({ ...key, direction: 'descending' })) }
      },
    })
  })
  await page.getByRole('columnheader', { name: 'Name' }).click()
  await expect.poll(order).toEqual([{ column: 'name', direction: 'descending' }])
  // From code nobody is asked.
  await page.evaluate(() => (window as unknown as Scope).handle.arrange({ order: [] }))
  expect(await order()).toEqual([])
})

const DELETING = {
  ...DEFINITION,
  columns: [
    { key: 'id', title: 'No' },
    { key: 'name', title: 'Name' },
    {
      key: 'do',
      title: 'Actions',
      expression: '""',
      width: 200,
      cell: {
        kind: 'actions',
        actions: [{ name: 'discard', title: 'Discard', deletes: true, confirm: 'Discard {name}?' }],
      },
    },
  ],
  actions: [{ name: 'clear', title: 'Clear out', deletes: true, confirm: 'Clear {count} packs out?' }],
}

test('an action that deletes takes the rows out and puts them back; the host may keep them', async ({
  page,
}) => {
  await page.goto(served.url)
  await page.evaluate(
    async ([rows, definition]) => {
      const scope = window as unknown as Scope
      scope.told = []
      scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
        rows,
        definition,
        parts: {
          batch: {
            clear: ({ count }: { count: number }) => {
              scope.told.push(`server ${count}`)
              return { text: 'Cleared on the server.' }
            },
          },
        },
        allow: {
          delete: ({ keys }: { keys: number[] }) => {
            scope.told.push(`may ${keys.join()}`)
            return !keys.includes(7)
          },
        },
      })
      await scope.handle.ready
    },
    [ROWS, DELETING] as const,
  )
  const names = (): Promise<string[]> =>
    page.locator('.body .row:not([hidden]) [aria-colindex="3"]').allTextContents()
  const total = page.locator('.foot')
  const row = (name: string) =>
    page.locator('.body .row:not([hidden])', { hasText: new RegExp(`${name}(?!\\d)`) })
  await row('Pack 7').getByRole('button', { name: 'Discard' }).click()
  await page.waitForTimeout(100)
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await row('Pack 3').getByRole('button', { name: 'Discard' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Discard' }).click()
  await expect(total).toContainText('299 rows')
  expect(await names()).not.toContain('Pack 3')
  // The focus was on its row: it is on the next one, and that is said.
  await expect(page.locator('.body .row:has(:focus)')).toContainText('Pack 4')
  await expect(page.locator('[aria-live]').first()).toContainText('now on 4')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(total).toContainText('300 rows')
  expect((await names()).slice(0, 5)).toEqual(['Pack 1', 'Pack 2', 'Pack 3', 'Pack 4', 'Pack 5'])
  await page.evaluate(() => (window as unknown as Scope).handle.selectRows([10, 11, 12]))
  await page.getByRole('button', { name: 'Clear out' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Clear out' }).click()
  await expect(total).toContainText('297 rows')
  // What the host cannot undo is not offered.
  await expect(page.locator('.foot')).toContainText('Cleared on the server.')
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveCount(0)
  expect(await page.evaluate('told')).toEqual(['may 7', 'may 3', 'may 10,11,12', 'server 3'])
})
