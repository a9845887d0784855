import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page'

const ROWS = Array.from({ length: 300 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  place: `place ${id % 7}`,
  planted: `2023-0${1 + (id % 9)}-11`,
  height: id % 50,
  count: id % 7,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    { key: 'id', title: 'Number', width: 90, movable: false },
    { key: 'kind', title: 'Kind', width: 160 },
    { key: 'place', title: 'Place', width: 150 },
    { key: 'planted', title: 'Planted', width: 150 },
    { key: 'height', title: 'Height', width: 110 },
    { key: 'count', title: 'Count', width: 110 },
  ],
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

const mount = (page: Page, start: object = {}): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, start } })
const heading = (page: Page, title: string): Locator =>
  page.getByRole('columnheader', { name: title, exact: true })
/** Titles from start to end, as they stand on the screen. */
const titles = (page: Page): Promise<string[]> =>
  page
    .locator('.head .row')
    .first()
    .locator('.cell[data-column]:not([data-column=""])')
    .evaluateAll(cells =>
      cells
        .filter(cell => cell.checkVisibility())
        .sort((a, b) => a.getBoundingClientRect().left - b.getBoundingClientRect().left)
        .map(cell => cell.querySelector('.title')?.textContent ?? ''),
    )
interface Scope {
  readonly handle: { readonly arrangement: { pinnedStart: string[]; pinnedEnd: string[]; order: object[] } }
}
const arranged = (page: Page): Promise<Scope['handle']['arrangement']> =>
  page.evaluate(() => (window as unknown as Scope).handle.arrangement)
const START = ['Number', 'Kind', 'Place', 'Planted', 'Height', 'Count']
const landing = (page: Page): Locator => page.locator('.landing')

/** Takes a heading and holds it over a part of another's width. */
async function hold(page: Page, title: string, over: string, part: number): Promise<void> {
  const from = (await heading(page, title).boundingBox())!
  const to = (await heading(page, over).boundingBox())!
  await page.mouse.move(from.x + 40, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(from.x + 50, from.y + from.height / 2)
  await page.mouse.move(to.x + to.width * part, to.y + to.height / 2, { steps: 5 })
}

test('a heading is dragged to where a line says it lands, and orders nothing', async ({ page }) => {
  await mount(page)
  await hold(page, 'Height', 'Kind', 0.2)
  await expect(landing(page)).toBeVisible()
  const line = (await landing(page).boundingBox())!
  const kind = (await heading(page, 'Kind').boundingBox())!
  expect(Math.abs(line.x + line.width / 2 - kind.x)).toBeLessThan(3)
  await page.mouse.up()
  await expect.poll(() => titles(page)).toEqual(['Number', 'Height', 'Kind', 'Place', 'Planted', 'Count'])
  await expect(landing(page)).toBeHidden()
  expect((await arranged(page)).order).toEqual([])
  await hold(page, 'Kind', 'Count', 0.9)
  await page.mouse.up()
  await expect.poll(() => titles(page)).toEqual(['Number', 'Height', 'Place', 'Planted', 'Count', 'Kind'])
})

test('Escape puts a heading back, and so does letting it go elsewhere', async ({ page }) => {
  await mount(page)
  await hold(page, 'Height', 'Kind', 0.2)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(landing(page)).toBeHidden()
  expect(await titles(page)).toEqual(START)
  await hold(page, 'Height', 'Kind', 0.2)
  await page.mouse.move(300, 300, { steps: 4 })
  await expect(landing(page)).toBeHidden()
  await page.mouse.up()
  expect(await titles(page)).toEqual(START)
  // A column that the definition holds in its place goes nowhere.
  await hold(page, 'Number', 'Height', 0.2)
  await expect(landing(page)).toHaveClass(/refused/)
  await page.mouse.up()
  expect(await titles(page)).toEqual(START)
})

test('a heading is dragged into pinned parts and out of them', async ({ page }) => {
  await mount(page, { pinnedStart: ['kind'], pinnedEnd: ['count'] })
  expect(await titles(page)).toEqual(['Kind', 'Number', 'Place', 'Planted', 'Height', 'Count'])
  await hold(page, 'Height', 'Kind', 0.2)
  await page.mouse.up()
  await expect.poll(async () => (await arranged(page)).pinnedStart).toEqual(['height', 'kind'])
  await hold(page, 'Place', 'Count', 0.9)
  await page.mouse.up()
  await expect.poll(async () => (await arranged(page)).pinnedEnd).toEqual(['count', 'place'])
  await hold(page, 'Kind', 'Planted', 0.1)
  await page.mouse.up()
  await expect.poll(async () => (await arranged(page)).pinnedStart).toEqual(['height'])
  await expect.poll(() => titles(page)).toEqual(['Height', 'Number', 'Kind', 'Planted', 'Count', 'Place'])
})

test('columns move on while a heading is held at the edge', async ({ page }) => {
  await page.setViewportSize({ width: 420, height: 500 })
  await mount(page)
  const from = (await heading(page, 'Kind').boundingBox())!
  await page.mouse.move(from.x + 40, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 60, from.y + 10)
  await page.mouse.move(415, from.y + 10, { steps: 5 })
  await expect(heading(page, 'Count')).toBeInViewport({ ratio: 0.9 })
  await page.mouse.up()
  await expect(heading(page, 'Kind')).toBeInViewport()
  await expect.poll(async () => (await titles(page)).at(-1)).toBe('Kind')
})

test('a column is moved, pinned and hidden by keyboard, and each is said', async ({ page }) => {
  await mount(page)
  await heading(page, 'Place').focus()
  await page.keyboard.press('Control+Shift+ArrowRight')
  await expect.poll(() => titles(page)).toEqual(['Number', 'Kind', 'Planted', 'Place', 'Height', 'Count'])
  await expect(page.locator('[aria-live]').filter({ hasText: 'Place is column 4 of 6 now.' })).toHaveCount(1)
  await expect(heading(page, 'Place')).toBeFocused()
  await page.keyboard.press('Alt+ArrowDown')
  const card = page.getByRole('dialog', { name: 'Place' })
  await card.getByRole('button', { name: 'Move Place towards the start' }).press('Enter')
  await expect.poll(() => titles(page)).toEqual(START)
  await expect(card.getByRole('button', { name: 'Move Place towards the start' })).toBeFocused()
  await card.getByLabel('Pin Place').selectOption('end')
  await expect.poll(async () => (await arranged(page)).pinnedEnd).toEqual(['place'])
  await card.getByRole('button', { name: 'Hide', exact: true }).click()
  await expect(card).toBeHidden()
  await expect(heading(page, 'Place')).toHaveCount(0)
  await expect(page.getByRole('columnheader').and(page.locator(':focus'))).toHaveCount(1)
})

test('a double click at an edge fits a column to what it holds over all rows, and orders nothing', async ({
  page,
}) => {
  const long = 'The longest place of all, in row two hundred and fifty'
  const rows = ROWS.map((row, id) => (id === 250 ? { ...row, place: long } : row))
  await mountBare(page, served.url, { rows, definition: DEFINITION })
  const place = (await heading(page, 'Place').boundingBox())!
  await page.mouse.dblclick(place.x + place.width - 2, place.y + place.height / 2)
  await expect.poll(async () => (await heading(page, 'Place').boundingBox())!.width).toBeGreaterThan(300)
  expect((await arranged(page)).order).toEqual([])
  await page.evaluate(() =>
    (window as unknown as { handle: { scrollTo(key: unknown): unknown } }).handle.scrollTo(250),
  )
  const cell = page.getByRole('gridcell', { name: long })
  expect(await cell.evaluate(element => element.scrollWidth <= element.clientWidth)).toBe(true)
  expect((await heading(page, 'Place').boundingBox())!.width).toBeLessThan(420)
  // A number is written in little room, but its title must be read.
  await heading(page, 'Height').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await page.getByRole('button', { name: 'Fit Height to what it holds' }).click()
  await expect.poll(async () => (await heading(page, 'Height').boundingBox())!.width).toBeLessThan(110)
  expect(
    await heading(page, 'Height')
      .locator('.title')
      .evaluate(title => title.scrollWidth <= title.clientWidth),
  ).toBe(true)
})

test('columns share what is left of the room, until a reader gives one a width', async ({ page }) => {
  const columns = DEFINITION.columns.map(column =>
    column.key === 'kind'
      ? { ...column, share: 2 }
      : column.key === 'place'
        ? { ...column, share: 1 }
        : column,
  )
  await mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, columns } })
  const width = async (title: string): Promise<number> => (await heading(page, title).boundingBox())!.width
  const end = async (title: string): Promise<number> => {
    const { x, width } = (await heading(page, title).boundingBox())!
    return x + width
  }
  const room = await page.locator('.head').evaluate(head => head.clientWidth)
  expect(await end('Count')).toBe(room)
  const left = room - 38 - 90 - 160 - 150 - 150 - 110 - 110
  expect(Math.abs((await width('Kind')) - 160 - (left * 2) / 3)).toBeLessThanOrEqual(1)
  await page.setViewportSize({ width: 1100, height: 700 })
  await expect.poll(() => end('Count')).toBe(room - 180)
  // The edge stays under the pointer, wherever the column began.
  const edge = await end('Kind')
  const y = (await heading(page, 'Kind').boundingBox())!.y + 10
  await page.mouse.move(edge - 2, y)
  await page.mouse.down()
  await page.mouse.move(edge - 52, y, { steps: 4 })
  await page.mouse.up()
  await expect.poll(() => end('Kind')).toBe(edge - 50)
  expect(await end('Count')).toBe(room - 180)
})
