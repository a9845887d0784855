import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page'

const ROWS = Array.from({ length: 300 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  place: `place ${id % 7}`,
  site: `S${id % 9}`,
  planted: `2023-0${1 + (id % 9)}-11`,
  felled: `2024-0${1 + (id % 9)}-11`,
  height: id % 50,
}))
const UNDER: Readonly<Record<string, string>> = {
  place: 'place',
  site: 'place',
  planted: 'when',
  felled: 'when',
}
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  strip: true,
  headings: [
    { key: 'where', title: 'Where it stands' },
    { key: 'place', title: 'Its place', under: 'where' },
    { key: 'when', title: 'When', together: true },
  ],
  columns: Object.keys(ROWS[0]!).map(key => ({
    key,
    title: key[0]!.toUpperCase() + key.slice(1),
    width: 120,
    ...(UNDER[key] && { under: UNDER[key] }),
  })),
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

const mount = (page: Page, definition: object = DEFINITION): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition })
const heading = (page: Page, title: string): Locator =>
  page.getByRole('columnheader', { name: title, exact: true })
interface Scope {
  readonly handle: {
    readonly arrangement: { columns: string[]; pinnedStart: string[]; widths: object; order: object[] }
  }
}
const arranged = (page: Page): Promise<Scope['handle']['arrangement']> =>
  page.evaluate(() => (window as unknown as Scope).handle.arrangement)
/** What stands over several columns: title, columns spanned, and px that its edges are away from those of its columns. */
const spans = (page: Page): Promise<[string, number, number][]> =>
  page.evaluate(() => {
    const root = document.getElementById('grid')!.shadowRoot!
    // Columns out of view are not there.
    const cellOf = (index: number): DOMRect | undefined =>
      [...root.querySelectorAll('.head .row:not(.shared):not(.strip) .cell')]
        .find(cell => cell.checkVisibility() && Number(cell.ariaColIndex) === index)
        ?.getBoundingClientRect()
    return [...root.querySelectorAll<HTMLElement>('.shared .cell')]
      .filter(cell => cell.checkVisibility())
      .map(cell => {
        const [first, count] = [Number(cell.ariaColIndex), Number(cell.getAttribute('aria-colspan'))]
        const { left, right } = cell.getBoundingClientRect()
        const off =
          Math.abs(left - (cellOf(first)?.left ?? left)) +
          Math.abs(right - (cellOf(first + count - 1)?.right ?? right))
        return [cell.querySelector('.title')!.textContent, count, off] as [string, number, number]
      })
  })
const spanned = async (page: Page): Promise<string[]> =>
  (await spans(page)).map(([title, count, off]) => `${title} ${count}${off < 0.5 ? '' : ` off by ${off}`}`)

async function drag(page: Page, title: string, over: string, part: number, nth = 0): Promise<void> {
  const from = (await heading(page, title).nth(nth).boundingBox())!
  const to = (await heading(page, over).boundingBox())!
  await page.mouse.move(from.x + 20, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(from.x + 30, from.y + from.height / 2)
  await page.mouse.move(to.x + to.width * part, to.y + to.height / 2, { steps: 5 })
}

test('headings stand over their columns, on levels, and assistive technology is told of all of it', async ({
  page,
}) => {
  await mount(page)
  await expect.poll(() => spanned(page)).toEqual(['Where it stands 2', 'When 2', 'Its place 2'])
  const rows = await page
    .locator('.head .row')
    .evaluateAll(all =>
      all.map(row => [row.getAttribute('aria-rowindex'), row.className.replace('row', '').trim()]),
    )
  expect(rows).toEqual([
    ['1', 'shared'],
    ['2', 'shared'],
    ['3', ''],
    ['4', 'strip'],
  ])
  await expect(page.getByRole('grid')).toHaveAttribute('aria-rowcount', String(ROWS.length + 4))
  await expect(page.locator('.body .row').first()).toHaveAttribute('aria-rowindex', '5')
})

test('a heading whose columns are parted stands again over each part, at any place of the scrollbar', async ({
  page,
}) => {
  await page.setViewportSize({ width: 560, height: 350 })
  await mount(page)
  await drag(page, 'Site', 'Kind', 0.2)
  await page.mouse.up()
  expect((await arranged(page)).columns).toEqual([
    'id',
    'site',
    'kind',
    'place',
    'planted',
    'felled',
    'height',
  ])
  await expect
    .poll(() => spanned(page))
    .toEqual(['Where it stands 1', 'Where it stands 1', 'When 2', 'Its place 1', 'Its place 1'])
  for (const left of [60, 200, 500]) {
    await page.locator('.scroller').evaluate((scroller, to) => (scroller.scrollLeft = to), left)
    await page.waitForTimeout(250)
    for (const [title, , off] of await spans(page)) expect([title, off < 0.5]).toEqual([title, true])
    // Where its beginning is out of view its title is not.
    const titles = await page.locator('.shared .middle .title').evaluateAll(all =>
      all
        .filter(title => title.checkVisibility())
        .map(title => {
          const cell = title.closest('.cell')!.getBoundingClientRect()
          return title.getBoundingClientRect().left >= Math.min(38, cell.right - 60) - 1
        }),
    )
    expect(titles.every(Boolean)).toBe(true)
  }
})

test('a shared heading takes its columns along, also into a pinned part, and undo brings them back', async ({
  page,
}) => {
  await mount(page, { ...DEFINITION, start: { pinnedStart: ['id'] } })
  await drag(page, 'Its place', 'Height', 0.9)
  await expect(page.locator('.ghost')).toHaveText('Its place')
  await page.mouse.up()
  expect((await arranged(page)).columns).toEqual([
    'id',
    'kind',
    'planted',
    'felled',
    'height',
    'place',
    'site',
  ])
  expect((await arranged(page)).order).toEqual([])
  await drag(page, 'Where it stands', 'Id', 0.9)
  await page.mouse.up()
  expect((await arranged(page)).pinnedStart).toEqual(['id', 'place', 'site'])
  await expect.poll(() => spanned(page)).toEqual(['Where it stands 2', 'When 2', 'Its place 2'])
  await heading(page, 'Id').focus()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  expect((await arranged(page)).columns).toEqual(DEFINITION.columns.map(({ key }) => key))
  expect((await arranged(page)).pinnedStart).toEqual(['id'])
})

test('columns that stay together are not parted: not by drag, key, pin or list, and it is said', async ({
  page,
}) => {
  await mount(page)
  await drag(page, 'Felled', 'Kind', 0.2)
  await expect(page.locator('.ghost.refused')).toHaveText('The columns under When stay together.')
  await expect(page.locator('.landing.refused')).toBeVisible()
  await page.mouse.up()
  expect((await arranged(page)).columns).toEqual(DEFINITION.columns.map(({ key }) => key))
  // Within its heading it may stand elsewhere, and what comes by key passes them as one.
  await drag(page, 'Felled', 'Planted', 0.2)
  await page.mouse.up()
  expect((await arranged(page)).columns.slice(4, 6)).toEqual(['felled', 'planted'])
  await heading(page, 'Height').focus()
  await page.keyboard.press('Control+Shift+ArrowLeft')
  expect((await arranged(page)).columns.slice(4)).toEqual(['height', 'felled', 'planted'])
  await heading(page, 'Planted').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await page.getByLabel('Pin Planted').selectOption('start')
  await expect(page.getByRole('status').first()).toHaveText('The columns under When stay together.')
  expect((await arranged(page)).pinnedStart).toEqual([])
  // All of them move at once, by key too.
  await page.getByRole('button', { name: 'Move When towards the start' }).click()
  expect((await arranged(page)).columns.slice(3)).toEqual(['site', 'felled', 'planted', 'height'])
})

test('the end of a shared heading is that of its last column: it is dragged there, and orders nothing', async ({
  page,
}) => {
  await mount(page)
  const at = (await heading(page, 'When').boundingBox())!
  for (const side of [-3, 3]) {
    const before = (await heading(page, 'Felled').boundingBox())!.width
    const edge = (await heading(page, 'When').boundingBox())!
    await page.mouse.move(edge.x + edge.width + (side < 0 ? side : -2), at.y + 12)
    await page.mouse.down()
    await page.mouse.move(edge.x + edge.width + (side < 0 ? side : -2) + 40, at.y + 12, { steps: 6 })
    await page.mouse.up()
    await expect.poll(async () => (await heading(page, 'Felled').boundingBox())!.width).toBe(before + 40)
  }
  expect((await arranged(page)).order).toEqual([])
})
