import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

const CSV =
  'key,name,cover,state\n' +
  [
    [1, 'Ash', 20, 'seen'],
    [2, 'birch', 5, 'seen'],
    [3, 'Cedar', '', 'lost'],
    [4, 'alder', 5, 'lost'],
    [5, 'Elm', 90, 'seen'],
    [6, 'fir', 20, 'kept'],
  ]
    .map(row => row.join(','))
    .join('\n')

async function open(page: Page): Promise<Workshop> {
  const workshop = new Workshop(page)
  await workshop.openFile('trees.csv', CSV)
  await workshop.ready()
  return workshop
}

test('a header click orders ascending, descending, and not at all; Shift adds a key', async ({ page }) => {
  const workshop = await open(page)
  const cover = workshop.header('Cover')
  await cover.click()
  await expect(cover).toHaveAttribute('aria-sort', 'ascending')
  await expect.poll(() => workshop.texts('Cover')).toEqual(['5', '5', '20', '20', '90', ''])
  await cover.click()
  await expect.poll(() => workshop.texts('Cover')).toEqual(['90', '20', '20', '5', '5', ''])
  await workshop.header('Name').click({ modifiers: ['Shift'] })
  await expect.poll(() => workshop.texts('Name')).toEqual(['Elm', 'Ash', 'fir', 'alder', 'birch', 'Cedar'])
  await expect(cover.locator('.rank')).toHaveText('1 ↓')
  await expect(workshop.header('Name').locator('.rank')).toHaveText('2 ↑')
  await expect(page.locator('.quiet')).toContainText('Ordered by Cover descending, Name ascending')
  await cover.click()
  await cover.click()
  await cover.click()
  await expect.poll(() => workshop.texts('Key')).toEqual(['1', '2', '3', '4', '5', '6'])
})

test('the edge stays under the pointer while a column is made wider, and nothing is ordered', async ({
  page,
}) => {
  const workshop = await open(page)
  const name = workshop.header('Name')
  const before = (await name.boundingBox())!
  await page.mouse.move(before.x + before.width - 3, before.y + 10)
  await page.mouse.down()
  for (const [dx, dy] of [
    [30, 0],
    [85, 300],
    [61, -80],
  ]) {
    await page.mouse.move(before.x + before.width - 3 + dx!, before.y + 10 + dy!)
    const now = (await name.boundingBox())!
    expect(Math.abs(now.x + now.width - (before.x + before.width + dx!))).toBeLessThanOrEqual(1)
  }
  await page.mouse.up()
  expect((await name.boundingBox())!.width).toBeCloseTo(before.width + 61, 0)
  await expect(name).not.toHaveAttribute('aria-sort')
  // Header and body stand in line, to the pixel.
  const cell = (await page.locator('.body [aria-colindex="3"]').first().boundingBox())!
  const head = (await name.boundingBox())!
  expect([cell.x, cell.width]).toEqual([head.x, head.width])
})

test('Escape takes a width under way back, and Shift with arrows changes it by keyboard', async ({
  page,
}) => {
  const workshop = await open(page)
  const name = workshop.header('Name')
  const before = (await name.boundingBox())!
  await name.focus()
  await page.mouse.move(before.x + before.width - 3, before.y + 10)
  await page.mouse.down()
  await page.mouse.move(before.x + before.width + 70, before.y + 10)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  expect((await name.boundingBox())!.width).toBe(before.width)
  await name.focus()
  await page.keyboard.press('Shift+ArrowRight')
  await expect.poll(async () => (await name.boundingBox())!.width).toBe(before.width + 8)
})

test('columns are hidden, shown and pinned at the start from the grid’s own list, which shows titles only', async ({
  page,
}) => {
  const workshop = await open(page)
  await page.getByRole('button', { name: 'Columns', exact: true }).last().click()
  const list = page.getByRole('dialog', { name: 'Columns' })
  await list.getByRole('checkbox', { name: 'Cover' }).uncheck()
  await expect(workshop.header('Cover')).toHaveCount(0)
  await list.getByRole('button', { name: 'start: pin State there' }).click()
  const titles = (): Promise<string[]> =>
    workshop.grid
      .getByRole('columnheader')
      .evaluateAll(found =>
        found.filter(el => el.checkVisibility()).map(el => el.querySelector('.title')!.textContent!),
      )
  await expect.poll(titles).toEqual(['', 'State', 'Key', 'Name'])
  await list.getByRole('checkbox', { name: 'Cover' }).check()
  await expect.poll(titles).toEqual(['', 'State', 'Key', 'Name', 'Cover'])
  await page.keyboard.press('Escape')
  await expect(list).toBeHidden()
})

test('rows are selected by box, click, Shift and keys, and stay selected whatever is arranged', async ({
  page,
}) => {
  const workshop = await open(page)
  const rows = page.locator('.body [role=row]:visible')
  await rows.nth(1).getByRole('checkbox').click()
  await rows
    .nth(3)
    .getByRole('checkbox')
    .click({ modifiers: ['Shift'] })
  await expect(workshop.readout).toContainText('3 selected')
  await workshop.header('Name').click()
  await expect.poll(() => page.locator('.body .row.selected').count()).toBe(3)
  await expect(page.locator('.body .row.selected [aria-colindex="3"]')).toHaveText([
    'alder',
    'birch',
    'Cedar',
  ])
  await rows.nth(0).locator('[aria-colindex="4"]').click()
  await expect(workshop.readout).toContainText('3 selected')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Space')
  await expect(workshop.readout).toContainText('4 selected')
  await page.keyboard.press('Control+a')
  await expect(workshop.readout).toContainText('6 selected')
  await expect(workshop.grid.getByRole('checkbox', { name: 'Select all rows that pass' })).toHaveAttribute(
    'aria-checked',
    'true',
  )
})

test('groups have counts, open and close by click and key, and their rows can be reached', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.openPanel('Groups')
  await workshop.choose('Group by', 'State')
  const heads = page.locator('.body .row.group')
  const names = page.locator('.body .row.group .groupcell')
  await expect(names).toHaveText(['▾Statekept1 row', '▾Statelost2 rows', '▾Stateseen3 rows'])
  await expect(workshop.grid).toHaveRole('treegrid')
  await heads.nth(1).click()
  await expect.poll(() => workshop.texts('Name')).toEqual(['fir', 'Ash', 'birch', 'Elm'])
  await expect(heads.nth(1)).toHaveAttribute('aria-expanded', 'false')
  await page.keyboard.press('ArrowRight')
  await expect.poll(() => workshop.texts('Name')).toEqual(['fir', 'Cedar', 'alder', 'Ash', 'birch', 'Elm'])
  await workshop.panel.getByRole('button', { name: 'Close all' }).click()
  await expect(workshop.readout).toContainText('lines 1 – 3')
  await expect(workshop.stage('Groups')).toHaveText('3')
})

test('conditions hold rows back, say how many, and are lifted where they are listed', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Conditions')
  await workshop.choose('Add a condition on', 'Cover')
  const asks = (title: string) => workshop.panel.locator('article').filter({ hasText: title })
  await asks('Cover').getByRole('textbox', { name: 'from' }).fill('10')
  await expect(workshop.panel).toContainText('holds back 3')
  await expect(workshop.stage('Conditions')).toHaveText('3')
  await workshop.choose('Add a condition on', 'State')
  await workshop.panel.getByRole('checkbox', { name: /seen/ }).check()
  await expect.poll(() => workshop.texts('Name')).toEqual(['Ash', 'Elm'])
  await asks('State').getByLabel('As a phrase').fill('kept')
  await expect.poll(() => workshop.texts('Name')).toEqual(['fir'])
  await page.getByRole('button', { name: 'Lift: Cover at least 10' }).click()
  await page.getByRole('button', { name: /^Lift: State/ }).click()
  await expect(workshop.readout).toContainText('6 rows')
})

test('a condition goes on working on a hidden column, and its chip stays', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Conditions')
  await workshop.choose('Add a condition on', 'State')
  await workshop.panel.getByRole('checkbox', { name: /lost/ }).check()
  await workshop.openPanel('Columns')
  await workshop.panel.getByRole('checkbox', { name: 'State' }).uncheck()
  await expect(workshop.header('State')).toHaveCount(0)
  await expect.poll(() => workshop.texts('Name')).toEqual(['Cedar', 'alder'])
  await expect(page.locator('.chip')).toHaveText('State “lost”×')
  // It is a part of the start: readers who arranged nothing differ in nothing.
  await page.getByRole('button', { name: 'Use', exact: true }).click()
  await expect(page.getByText('As readers start.')).toBeVisible()
  await expect(page.getByRole('button', { name: /What differs/ })).toHaveCount(0)
})

test('a search that finds nothing says so and can be lifted', async ({ page }) => {
  const workshop = await open(page)
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('birhc')
  await expect(page.getByText('No row passes.')).toBeVisible()
  await expect(page.getByText('6 rows are held back')).toBeVisible()
  await page.getByRole('button', { name: 'Lift all' }).click()
  await expect(workshop.readout).toContainText('6 rows')
})

test('the search panel and the grid’s own box are the same search', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Search')
  await workshop.panel.getByRole('searchbox').fill('SEEN elm')
  await expect(page.getByRole('searchbox', { name: 'Search rows' }).last()).toHaveValue('SEEN elm')
  await expect.poll(() => workshop.texts('Name')).toEqual(['Elm'])
  await expect(workshop.stage('Search')).toHaveText('1')
})

test('Ctrl+C copies the cell that the keyboard is on', async ({ page }) => {
  const workshop = await open(page)
  await page.locator('.body [role=row]:visible').nth(4).locator('[aria-colindex="3"]').click()
  await page.keyboard.press('Control+c')
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('Elm')
  await expect(page.locator('.quiet')).toHaveText('Copied Elm')
  expect(await workshop.texts('Name')).toHaveLength(6)
})

test('a row is found by its number, or said not to be there', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings')
  await workshop.openPanel('Rows')
  await workshop.panel.getByRole('textbox', { name: 'Sighting' }).fill('777777')
  await workshop.panel.getByRole('button', { name: 'Go to it' }).click()
  await expect(workshop.readout).toContainText('rows 677,7')
  await expect(page.locator('.body .cell:focus')).toBeVisible()
  await workshop.panel.getByRole('textbox', { name: 'Sighting' }).fill('5')
  await workshop.panel.getByRole('button', { name: 'Go to it' }).click()
  await expect(workshop.panel).toContainText('No row with Sighting 5')
})

test('right-to-left: columns, widths and arrows are turned round', async ({ page }) => {
  const workshop = await open(page)
  await page.evaluate(() => (document.querySelector<HTMLElement>('.vast-meadow')!.dir = 'rtl'))
  await page.setViewportSize({ width: 1279, height: 800 })
  const key = workshop.header('Key')
  const name = workshop.header('Name')
  await expect.poll(async () => (await key.boundingBox())!.x > (await name.boundingBox())!.x).toBe(true)
  const before = (await name.boundingBox())!
  await page.mouse.move(before.x + 3, before.y + 10)
  await page.mouse.down()
  await page.mouse.move(before.x - 37, before.y + 10)
  await page.mouse.up()
  await expect.poll(async () => (await name.boundingBox())!.width).toBeCloseTo(before.width + 40, 0)
  await name.focus()
  await page.keyboard.press('ArrowRight')
  await expect(key).toBeFocused()
})
