import { expect, test, type Locator, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { Workshop } from '../support/workshop.ts'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'

// How a reader asks for rows in the grid itself: strip, cards, chips, the cells' menu, and the search.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = [
  { id: 1, name: 'Ash', cover: 20, state: 'seen', day: '2024-06-14', tags: ['wet'] },
  { id: 2, name: 'birch', cover: 5, state: 'seen', day: '2024-06-01', tags: ['dry', 'rare'] },
  { id: 3, name: 'Cedar of Élan', cover: null, state: 'lost', day: null, tags: null },
  { id: 4, name: 'alder', cover: 5, state: 'lost', day: '2023-01-05', tags: ['wet', 'rare'] },
  { id: 5, name: 'Elm', cover: 90, state: 'seen', day: '2024-05-30', tags: ['dry'] },
  { id: 6, name: 'fir 10', cover: 20, state: 'kept', day: '2022-06-14', tags: ['wet'] },
  { id: 7, name: 'fir 9', cover: 41, state: null, day: '2024-06-10', tags: ['dry'] },
]
const definition = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: ['id'],
  strip: true,
  columns: [
    { key: 'id', title: 'Number', width: 80, align: 'end' },
    { key: 'name', title: 'Name', width: 150, order: { natural: true } },
    { key: 'cover', title: 'Cover', width: 110, align: 'end', order: { missing: 'first' } },
    { key: 'state', title: 'State', width: 120 },
    {
      key: 'day',
      title: 'Seen on',
      width: 120,
      order: { by: 'expression', expression: 'day.getMonth() * 100 + day.getDate()' },
    },
    { key: 'tags', title: 'Tags', width: 120, cell: { kind: 'tags' }, orderable: false },
  ],
}

interface Scope {
  handle: {
    arrange(change: object): unknown
    arrangement: { conditions: Record<string, unknown>; search: string; order: unknown[] }
    on(name: string, listener: (event: never) => void): void
    trace(key: unknown): Promise<unknown>
    ready: Promise<void>
    description: { where: string; notes: string[] }
    unmount(): void
  }
  meadow: { mountMeadow(host: Element, options: object): Scope['handle'] }
}

const ids = (page: Page): Promise<string[]> =>
  page.locator('.body .row:not(.group) [aria-colindex="2"]').evaluateAll(cells =>
    cells
      .filter(cell => cell.checkVisibility())
      .map(cell => ({ text: cell.textContent ?? '', top: cell.getBoundingClientRect().top }))
      .sort((a, b) => a.top - b.top)
      .map(({ text }) => text),
  )
const conditions = (page: Page): Promise<unknown> =>
  page.evaluate(() => (window as unknown as Scope).handle.arrangement.conditions)
const field = (page: Page, title: string): Locator =>
  page.getByLabel(`Condition on ${title}`, { exact: true })
const header = (page: Page, title: string): Locator =>
  page.getByRole('columnheader', { name: title, exact: true })
const card = (page: Page): Locator => page.getByRole('dialog')
const cell = (page: Page, row: string, title: string): Locator =>
  page
    .locator('.body .row:not([hidden])')
    .filter({ has: page.locator('[aria-colindex="2"]', { hasText: new RegExp(`^${row}$`) }) })
    .locator(`[aria-colindex="${definition.columns.findIndex(column => column.title === title) + 2}"]`)

test.describe('with rows of a few trees', () => {
  test.beforeEach(async ({ page }) => {
    await page.setViewportSize({ width: 1000, height: 620 })
    await mountBare(page, served.url, { rows: ROWS, definition })
  })

  test('the strip takes short phrases, and tells their meaning and count as they are typed', async ({
    page,
  }) => {
    await field(page, 'Cover').pressSequentially('20..')
    await expect.poll(() => ids(page)).toEqual(['1', '5', '6', '7'])
    await expect(page.locator('.hint')).toHaveText('at least 20 · 4 of 7 rows pass.')
    await field(page, 'Cover').pressSequentially('4')
    await expect(page.locator('.hint')).toHaveText('“20..4” begins after its end.')
    // What cannot be read yet leaves the condition as it was.
    expect(await ids(page)).toEqual(['1', '5', '6', '7'])
    await field(page, 'Cover').pressSequentially('1')
    await expect.poll(() => ids(page)).toEqual(['1', '6', '7'])
    await field(page, 'State').fill('seen, kept')
    await expect.poll(() => ids(page)).toEqual(['1', '6'])
    await field(page, 'Name').fill('not fir')
    await expect.poll(() => ids(page)).toEqual(['1'])
    await expect(page.locator('.chip')).toHaveText([
      'Cover 20 to 41×',
      'State “seen” or “kept”×',
      'Name does not contain “fir”×',
    ])
    for (const title of ['Cover', 'State', 'Name']) await field(page, title).fill('')
    await expect.poll(() => ids(page)).toHaveLength(7)
    await field(page, 'Seen on').fill('2024-06')
    await expect.poll(() => ids(page)).toEqual(['1', '2', '7'])
    await field(page, 'Tags').fill('all of wet, rare')
    await expect.poll(() => ids(page)).toEqual([])
    await field(page, 'Seen on').fill('')
    await expect.poll(() => ids(page)).toEqual(['4'])
    await field(page, 'Tags').fill('missing')
    await expect.poll(() => ids(page)).toEqual(['3'])
  })

  test('the strip follows the columns, and is reached and left by keyboard', async ({ page }) => {
    for (const title of ['Name', 'Cover', 'Seen on']) {
      const [above, below] = [await header(page, title).boundingBox(), await field(page, title).boundingBox()]
      expect(Math.abs(above!.x - below!.x)).toBeLessThan(0.51)
      expect(Math.abs(above!.width - below!.width)).toBeLessThan(1.51)
    }
    await header(page, 'Name').focus()
    await page.keyboard.press('ArrowDown')
    await expect(field(page, 'Name')).toBeFocused()
    await page.keyboard.press('ArrowRight')
    await expect(field(page, 'Cover')).toBeFocused()
    await page.keyboard.type('>= 41')
    await page.keyboard.press('Enter')
    await expect(cell(page, '5', 'Cover')).toBeFocused()
    await page.keyboard.press('ArrowUp')
    await expect(field(page, 'Cover')).toBeFocused()
    await page.keyboard.press('Escape')
    await expect(header(page, 'Cover')).toBeFocused()
    await expect(page.locator('.view')).toHaveAttribute('aria-rowcount', '4')
    await expect(cell(page, '5', 'Cover').locator('xpath=ancestor::*[@role="row"]')).toHaveAttribute(
      'aria-rowindex',
      '3',
    )
  })

  test('a card is opened from a header, has the focus inside, and shows the same condition as the strip', async ({
    page,
  }) => {
    await header(page, 'Cover').focus()
    await page.keyboard.press('Alt+ArrowDown')
    await expect(card(page)).toBeVisible()
    await expect(card(page).getByLabel('from', { exact: true }).first()).toBeFocused()
    await page.keyboard.type('20')
    await expect(field(page, 'Cover')).toHaveValue('20..')
    await expect.poll(() => ids(page)).toEqual(['1', '5', '6', '7'])
    await field(page, 'Cover').fill('< 20 or missing')
    await expect(card(page).getByLabel('What is asked')).toHaveCount(2)
    await expect(card(page).getByLabel('As a phrase')).toHaveValue('< 20 or missing')
    await card(page).getByLabel('A row must meet').selectOption('all of these')
    await expect.poll(() => ids(page)).toEqual([])
    await card(page).getByLabel('Remove this part').nth(1).click()
    await expect(field(page, 'Cover')).toHaveValue('< 20')
    await card(page).getByRole('button', { name: 'Remove the condition' }).click()
    expect(await conditions(page)).toEqual({})
    await expect(card(page).getByLabel('What is asked')).toHaveValue('range')
    await page.keyboard.press('Escape')
    await expect(card(page)).toBeHidden()
    await expect(header(page, 'Cover')).toBeFocused()
  })

  test('values are listed with what everything else leaves of them, found by typing, and ticked', async ({
    page,
  }) => {
    await field(page, 'Cover').fill('20..')
    await header(page, 'State').hover()
    await header(page, 'State').locator('.more-of').click()
    const list = card(page).locator('.values')
    await expect(list.locator('label')).toHaveText(['seen2', 'kept1', 'missing1'])
    await list.getByLabel(/^kept/).check()
    await expect.poll(() => ids(page)).toEqual(['6'])
    expect(await conditions(page)).toMatchObject({ state: { parts: [{ kind: 'one-of', values: ['kept'] }] } })
    await list.getByLabel(/^missing/).check()
    await expect.poll(() => ids(page)).toEqual(['6', '7'])
    await expect(field(page, 'State')).toHaveValue('one of "kept" or missing')
    await list.getByLabel(/^kept/).uncheck()
    await expect.poll(() => ids(page)).toEqual(['7'])
    await card(page).getByRole('button', { name: 'Remove the condition' }).click()
    await expect(field(page, 'State')).toHaveValue('')
  })

  test('a range has two handles on its histogram, for pointer and keyboard', async ({ page }) => {
    await header(page, 'Cover').focus()
    await page.keyboard.press('Alt+ArrowDown')
    const from = card(page).getByRole('slider', { name: 'from' })
    await expect(from).toHaveAttribute('aria-valuetext', '5')
    await from.focus()
    await page.keyboard.press('PageUp')
    await page.keyboard.press('PageUp')
    await expect.poll(() => ids(page)).toEqual(['5', '7'])
    const to = card(page).getByRole('slider', { name: 'to' })
    const [handle, plot] = [(await to.boundingBox())!, (await card(page).locator('.plot').boundingBox())!]
    await page.mouse.move(handle.x + 7, handle.y + 20)
    await page.mouse.down()
    await page.mouse.move(plot.x + plot.width / 2, handle.y + 300, { steps: 4 })
    await page.mouse.up()
    await expect.poll(() => ids(page)).toEqual(['7'])
    expect(await field(page, 'Cover').inputValue()).toMatch(/^2\d\.\.4\d$/)
    // An end back at the edge is open again.
    await from.focus()
    await page.keyboard.press('Home')
    await expect(field(page, 'Cover')).toHaveValue(/^\.\.4\d$/)
  })

  test('conditions of hidden columns are chips too, and are lifted there', async ({ page }) => {
    await field(page, 'State').fill('seen')
    await page.evaluate(() => (window as unknown as Scope).handle.arrange({ hidden: ['state'] }))
    await expect(header(page, 'State')).toHaveCount(0)
    await expect.poll(() => ids(page)).toEqual(['1', '2', '5'])
    await expect(page.locator('.chip')).toHaveText(['State contains “seen”×'])
    await page.locator('.chip').getByRole('button', { name: /State/ }).first().click()
    await expect(card(page)).toHaveAccessibleName('Order, groups and conditions of State')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Lift: State contains “seen”' }).click()
    await expect.poll(() => ids(page)).toHaveLength(7)
  })

  test('a cell is asked for: only this value, not this one, from here up, up to here', async ({ page }) => {
    const choose = async (row: string, title: string, entry: string): Promise<void> => {
      await cell(page, row, title).click({ button: 'right' })
      await page.getByRole('menuitem', { name: entry, exact: true }).click()
    }
    await choose('6', 'Cover', 'From 20 up')
    await expect.poll(() => ids(page)).toEqual(['1', '5', '6', '7'])
    await choose('7', 'Cover', 'Up to 41')
    await expect.poll(() => ids(page)).toEqual(['1', '2', '4', '6', '7'])
    await choose('1', 'Cover', 'Not 20')
    await expect.poll(() => ids(page)).toEqual(['2', '4', '5', '7'])
    await choose('2', 'State', 'Only seen')
    await expect.poll(() => ids(page)).toEqual(['2', '5'])
    await page.getByRole('button', { name: /^Lift: State/ }).click()
    await choose('7', 'State', 'Only missing')
    await expect.poll(() => ids(page)).toEqual(['7'])
    // By keyboard, with the focus going back to the cell.
    await cell(page, '7', 'Name').click()
    await page.keyboard.press('Shift+F10')
    await page.keyboard.press('ArrowUp')
    await expect(page.getByRole('menuitem', { name: 'Go to …' })).toBeFocused()
    // Why a row is there can be asked where somebody answers.
    await expect(page.getByRole('menuitem', { name: 'Why is this here?' })).toHaveCount(0)
    await page.keyboard.press('Escape')
    await expect(cell(page, '7', 'Name')).toBeFocused()
  })

  test('the search tells how many rows it finds, marks where, and goes from match to match', async ({
    page,
  }) => {
    const marked = (): Promise<string[]> =>
      page.evaluate(() =>
        [...(CSS.highlights.get('meadow-found') ?? [])].map(range => (range as Range).toString()).sort(),
      )
    const search = page.getByRole('searchbox')
    await search.fill('elan "of é"')
    await expect(page.locator('.found')).toHaveText('1 found')
    await expect.poll(marked).toEqual(['of Élan'])
    await search.fill('fir')
    await expect(page.locator('.found')).toHaveText('2 found')
    await expect.poll(marked).toEqual(['fir', 'fir'])
    await search.press('Enter')
    await expect(cell(page, '6', 'Name')).toBeFocused()
    await page.getByRole('button', { name: 'Next match' }).click()
    await expect(cell(page, '7', 'Name')).toBeFocused()
    await page.getByRole('button', { name: 'Next match' }).click()
    await expect(cell(page, '6', 'Name')).toBeFocused()
    await page.getByRole('button', { name: 'Previous match' }).click()
    await expect(cell(page, '7', 'Name')).toBeFocused()
    await search.fill('')
    await expect.poll(marked).toEqual([])
    await expect(page.locator('.found')).toBeHidden()
  })

  test('where nothing passes it is told what holds everything back, and what was perhaps meant', async ({
    page,
  }) => {
    await page.getByRole('searchbox').fill('ceder élan')
    await field(page, 'Cover').fill('> 50')
    const listed = page.locator('.hindering li')
    await expect(listed).toHaveCount(3)
    await expect(listed.nth(0)).toContainText(
      'the word “ceder”0 rows meet it alone; 0 would pass without it.',
    )
    await expect(listed.nth(2)).toContainText('Cover above 501 rows meet it alone; 0 would pass without it.')
    await listed.nth(0).getByRole('button', { name: 'Use “cedar”' }).click()
    await expect(page.getByRole('searchbox')).toHaveValue('cedar élan')
    await expect(listed).toHaveCount(3)
    await listed.filter({ hasText: 'Cover' }).getByRole('button', { name: 'Lift: Cover above 50' }).click()
    await expect.poll(() => ids(page)).toEqual(['3'])
    await field(page, 'State').fill('"sen"')
    await page.getByRole('searchbox').fill('')
    await page.getByRole('button', { name: 'Use “seen”' }).click()
    await expect.poll(() => ids(page)).toEqual(['1', '2', '5'])
    await page.getByRole('searchbox').fill('zzz')
    await page.getByRole('button', { name: 'Lift all' }).click()
    await expect.poll(() => ids(page)).toHaveLength(7)
  })

  test('columns are ordered from their card, each by its own rule', async ({ page }) => {
    const order = async (title: string, choice: string): Promise<void> => {
      await header(page, title).focus()
      await page.keyboard.press('Alt+ArrowDown')
      await card(page).getByRole('button', { name: choice, exact: true }).click()
      await page.keyboard.press('Escape')
    }
    // Digits within names count as numbers.
    await order('Name', '↓ descending')
    await expect.poll(() => ids(page)).toEqual(['6', '7', '5', '3', '2', '1', '4'])
    // Missing values come first, in both directions.
    await order('Cover', '↑ ascending')
    await expect.poll(async () => (await ids(page))[0]).toBe('3')
    await order('Cover', '↓ descending')
    await expect.poll(() => ids(page)).toEqual(['3', '5', '7', '1', '6', '2', '4'])
    await order('Name', '↑ also ascending')
    await expect(header(page, 'Name').locator('.rank')).toHaveText('2 ↑')
    await expect.poll(() => ids(page)).toEqual(['3', '5', '7', '1', '6', '4', '2'])
    // By month and day, whatever the year.
    await order('Seen on', '↑ ascending')
    await expect.poll(() => ids(page)).toEqual(['4', '5', '2', '7', '1', '6', '3'])
    await expect(page.locator('.quiet')).toContainText('Ordered by Seen on ascending')
    // A column that refuses has no order in its card, and a click on its header changes nothing.
    await header(page, 'Tags').click()
    expect(await ids(page)).toEqual(['4', '5', '2', '7', '1', '6', '3'])
    await page.keyboard.press('Alt+ArrowDown')
    await expect(card(page).locator('.order:not(.group-by)')).toBeHidden()
  })

  test('one free expression stands beside the conditions, and a row is traced through all of it', async ({
    page,
  }) => {
    await page.evaluate(() =>
      (window as unknown as Scope).handle.arrange({ where: 'cover > 10.0 && size(name) < 5' }),
    )
    await expect.poll(() => ids(page)).toEqual(['1', '5'])
    await field(page, 'State').fill('seen')
    const told = await page.evaluate(async () => (window as unknown as Scope).handle.trace('6'))
    expect(told).toMatchObject({
      row: 5,
      passes: false,
      line: -1,
      conditions: [
        { column: 'state', holds: false, shown: 'kept' },
        { holds: false, shown: 'no' },
      ],
    })
    await page.getByRole('button', { name: /^Lift: where cover/ }).click()
    await expect.poll(() => ids(page)).toEqual(['1', '2', '5'])
    const where = await page.evaluate(() => (window as unknown as Scope).handle.trace(2))
    expect(where).toMatchObject({ passes: true, line: 1 })
    // What follows at once is answered with the expression in force.
    await field(page, 'State').fill('')
    await page.evaluate(() => {
      const { handle } = window as unknown as Scope
      handle.arrange({ where: 'cover > 10.0' })
      handle.arrange({ search: 'a' })
    })
    await expect.poll(() => ids(page)).toEqual(['1'])
    await page.evaluate(() => (window as unknown as Scope).handle.arrange({ where: 'covr > 3', search: '' }))
    await expect(page.locator('.chip')).toHaveText('where covr > 3 cannot be read and asks nothing×')
    await expect.poll(() => ids(page)).toHaveLength(7)
  })
})

test('right to left, the strip stands under its headers and arrows go the way they point', async ({
  page,
}) => {
  await page.setViewportSize({ width: 700, height: 400 })
  await page.addInitScript(() =>
    document.addEventListener('DOMContentLoaded', () => (document.documentElement.dir = 'rtl')),
  )
  await mountBare(page, served.url, { rows: ROWS, definition })
  for (const title of ['Number', 'Name', 'Cover']) {
    const [above, below] = [await header(page, title).boundingBox(), await field(page, title).boundingBox()]
    expect(Math.abs(above!.x + above!.width - below!.x - below!.width)).toBeLessThan(1.51)
  }
  await field(page, 'Name').focus()
  await page.keyboard.press('ArrowLeft')
  await expect(field(page, 'Cover')).toBeFocused()
  await header(page, 'Cover').focus()
  await page.keyboard.press('Alt+ArrowDown')
  const [box, frame] = [(await card(page).boundingBox())!, (await page.locator('.meadow').boundingBox())!]
  expect(box.x).toBeGreaterThanOrEqual(frame.x)
  expect(box.x + box.width).toBeLessThanOrEqual(frame.x + frame.width)
  await card(page).getByRole('slider', { name: 'from' }).focus()
  await page.keyboard.press('ArrowLeft')
  await expect(field(page, 'Cover')).not.toHaveValue('')
  await page.keyboard.press('Escape')
  // What is asked from a cell opens under the cell's own start; chips and the search begin at the right.
  const asked = cell(page, '5', 'Name')
  await asked.click({ button: 'right' })
  const [menu, at] = [(await page.getByRole('menu').boundingBox())!, (await asked.boundingBox())!]
  expect(Math.abs(menu.x + menu.width - at.x - at.width)).toBeLessThan(4)
  await page.getByRole('menuitem', { name: 'Only Elm' }).click()
  await expect(page.locator('.chip')).toHaveCount(2)
  const [search, chip] = [
    (await page.getByRole('searchbox').boundingBox())!,
    (await page.locator('.chip').first().boundingBox())!,
  ]
  expect(Math.abs(search.x + search.width - chip.x - chip.width)).toBeLessThan(2)
  expect(chip.y).toBeGreaterThan(search.y)
})

test('conditions of one’s own, today and their words come from the host', async ({ page }) => {
  await mountBare(page, served.url, {})
  const told = await page.evaluate(
    async ([rows, given]) => {
      const scope = window as unknown as Scope & { zod: unknown }
      scope.handle.unmount()
      const values = { safeParse: (data: unknown) => ({ success: true, data }) }
      scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
        rows,
        definition: given,
        clock: () => Date.UTC(2024, 5, 12),
        texts: { conditions: { relative: () => 'jetzt' } },
        parts: {
          conditions: {
            near: {
              values,
              test: (value: number, { to }: { to: number }) => Math.abs(value - to) <= 2,
              summary: ({ to }: { to: number }) => `near ${to}`,
            },
          },
        },
      })
      await scope.handle.ready
      scope.handle.arrange({
        conditions: {
          cover: { match: 'all', parts: [{ kind: 'own', name: 'near', values: { to: 21 } }] },
          day: { match: 'all', parts: [{ kind: 'relative', which: 'this', unit: 'month' }] },
        },
      })
      return scope.handle.description.where
    },
    [ROWS, definition] as const,
  )
  expect(told).toBe('this page')
  await expect.poll(() => ids(page)).toEqual(['1'])
  await expect(page.locator('.chip')).toHaveText(['Cover near 21×', 'Seen on jetzt×'])
  await expect(field(page, 'Cover')).toHaveValue('own "near" {"to":21}')
})

test('only columns in view have an editor; the conditions of all others hold', async ({ page }) => {
  await page.setViewportSize({ width: 900, height: 400 })
  const columns = numberColumns(300) as { key: string }[]
  await mountBare(page, served.url, {
    source: { kind: 'recipe', recipe: { name: 'wide', rows: 2000, columns } },
    definition: {
      ...definition,
      key: [],
      columns: columns.map(({ key }) => ({ key, title: key, width: 100 })),
    },
  })
  const editors = (): Promise<number> => page.locator('.strip input:not([hidden])').count()
  expect(await editors()).toBeLessThan(14)
  await field(page, 'n1').fill('..100')
  await expect(page.locator('.foot')).toContainText('of 2,000 rows passing')
  const passing = await page.locator('.foot .count b').textContent()
  await page.evaluate(() => {
    const scroller = document.querySelector('#grid')!.shadowRoot!.querySelector('.scroller')!
    scroller.scrollLeft = 20_000
  })
  // A field that is being written in is kept; without the keyboard in it, it goes.
  await expect(field(page, 'n1')).toHaveCount(1)
  // Also long after the scroll came to rest.
  await page.waitForTimeout(600)
  await page.getByRole('searchbox').focus()
  await expect(field(page, 'n1')).toHaveCount(0)
  expect(await editors()).toBeLessThan(14)
  await expect(page.locator('.foot .count b')).toHaveText(passing!)
  await expect(page.locator('.chip')).toContainText('n1 at most 100')
})

test('among a million rows a phrase and a pattern narrow as they are typed', async ({ page }) => {
  await mountBare(page, served.url, {
    source: {
      kind: 'recipe',
      recipe: {
        name: 'many',
        rows: 1_000_000,
        columns: [
          { key: 'id', kind: 'count' },
          { key: 'n', kind: 'number', from: 0, to: 1000, decimals: 1 },
          { key: 'word', kind: 'pick', of: ['oak', 'ash', 'elm', 'fir'] },
        ],
      },
    },
    definition: {
      ...definition,
      key: ['id'],
      columns: [
        { key: 'id', title: 'Number', width: 100 },
        { key: 'n', title: 'Measure', width: 100 },
        { key: 'word', title: 'Word', width: 100 },
      ],
    },
  })
  await field(page, 'Measure').pressSequentially('500..')
  await expect(page.locator('.foot')).toContainText('of 1,000,000 rows passing')
  await field(page, 'Word').fill('/^(oak|ash)$/')
  await expect(page.locator('.hint')).toContainText(
    /matches \/\^\(oak\|ash\)\$\/ · \d{3},\d{3} of 1,000,000 rows pass\./,
  )
  await field(page, 'Word').fill('/(/')
  await expect(page.locator('.hint')).toContainText('is not a pattern in RE2 syntax')
})

test(
  'among a million rows cards count values and bars, and tell why nothing passes, wherever the engine runs',
  ALL,
  async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo('Survey sightings', 1_000_000)
    // Every core but one has a worker that helps, where there is a second one.
    const cores = await page.evaluate(() => navigator.hardwareConcurrency)
    const workers = cores > 1 ? /\d workers, shared memory/ : /a worker, shared memory/
    await expect(page.locator('.meters')).toContainText(workers)
    await workshop.header('State').click()
    await page.keyboard.press('Alt+ArrowDown')
    const seen = card(page).getByRole('checkbox', { name: /^seen/ })
    await expect(seen).toHaveAccessibleName(/^seen,? ?\d{3},\d{3}/)
    await seen.check()
    await expect(workshop.readout).toContainText(/\d{3},\d{3} of 1,000,000 rows passing/)
    const passing = await workshop.readout.textContent()
    await page.keyboard.press('Escape')
    // What one search leaves is what another way to the same rows leaves.
    const search = page.getByRole('searchbox', { name: 'Search rows' }).locator('visible=true')
    await search.fill('sedge')
    await expect(page.locator('.found')).toContainText(/found/)
    const found = Number((await page.locator('.found').textContent())!.replace(/\D/g, ''))
    expect(found).toBeGreaterThan(1000)
    await expect(workshop.readout).not.toHaveText(passing!)
    const [, both] = /([\d,]+) of 1,000,000/.exec((await workshop.readout.textContent())!)!
    await workshop.header('Cover %').click()
    await page.keyboard.press('Alt+ArrowDown')
    await expect(card(page).locator('.bars i').first()).toBeVisible()
    await card(page).getByLabel('As a phrase').fill('> 200')
    await page.keyboard.press('Escape')
    const listed = page.locator('.hindering li')
    await expect(listed).toHaveCount(3)
    await expect(listed.filter({ hasText: 'Cover' })).toContainText(
      `0 rows meet it alone; ${both} would pass without it.`,
    )
    await listed.filter({ hasText: 'Cover' }).getByRole('button', { name: /^Lift/ }).click()
    await search.fill('')
    await expect(workshop.readout).toHaveText(passing!)
    await search.fill('segde')
    await page.getByRole('button', { name: 'Use “sedge”' }).click()
    await expect(page.locator('.found')).toHaveText(`${found.toLocaleString('en')} found`)
  },
)
