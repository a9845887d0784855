import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page'

const ROWS = Array.from({ length: 4000 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak', 'yew'][Math.floor(id / 5) % 4],
  place: `place ${id % 7}`,
  site: `place ${id % 3}`,
  planted: `20${String(10 + (id % 14)).padStart(2, '0')}-0${1 + (id % 9)}-11`,
  height: (id * 7919) % 4000,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: Object.keys(ROWS[0]!).map(key => ({
    key,
    title: key[0]!.toUpperCase() + key.slice(1),
    width: 130,
  })),
  styles: [{ when: 'height > 3990', tone: 'poppy', shaded: true }],
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

const mount = (page: Page, start: object = {}, more: object = {}, options: object = {}): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, ...more, start }, ...options })
interface Handle {
  readonly arrangement: { page: number; compared: string[]; pinnedRows: { head: unknown[]; foot: unknown[] } }
  readonly differingColumns: readonly string[]
  readonly selectedCount: number
  goToLine(nth: number): boolean
  goToValue(written: string): Promise<boolean>
  scrollTo(key: unknown): Promise<boolean>
  pinRow(key: unknown, side: string | null): void
  place(): Promise<object | null>
  arrange(change: object, why?: string): void
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of.toString()})(window.handle)`) as Promise<Awaited<T>>
const map = (page: Page): Locator => page.locator('.length-map')
const readout = (page: Page): Locator => page.locator('.foot .span')
const focused = (page: Page): Promise<string> =>
  page.evaluate(() => document.getElementById('grid')!.shadowRoot!.activeElement?.textContent ?? '')
/** The parts of the map's length, in hundredths, in which a colour stands; `from` and `to`: across the strip. */
const coloured = (page: Page, property: string, from: number, to: number): Promise<number[]> =>
  page.evaluate(
    ({ property, from, to }) => {
      const root = document.getElementById('grid')!.shadowRoot!
      const canvas = root.querySelector<HTMLCanvasElement>('.length-map canvas')!
      const probe = root.querySelector<HTMLElement>('.length-map .probe')!
      probe.style.color = `var(${property})`
      const one = document.createElement('canvas').getContext('2d', { willReadFrequently: true })!
      one.fillStyle = getComputedStyle(probe).color
      one.fillRect(0, 0, 1, 1)
      const wanted = one.getImageData(0, 0, 1, 1).data
      const context = canvas.getContext('2d')!
      const found = new Set<number>()
      for (let y = 0; y < canvas.height; y++) {
        const line = context.getImageData(
          canvas.width * from,
          y,
          Math.max(1, canvas.width * (to - from)),
          1,
        ).data
        for (let x = 0; x < line.length; x += 4)
          if (line[x + 3]! > 90 && [0, 1, 2].every(i => Math.abs(line[x + i]! - wanted[i]!) < 24))
            found.add(Math.floor((y * 100) / canvas.height))
      }
      return [...found]
    },
    { property, from, to },
  )

test('the map shows where ticked and marked rows and group borders lie, and follows what is arranged', async ({
  page,
}) => {
  await mount(page, { order: [{ column: 'height', direction: 'ascending' }] })
  // Marked are the greatest, so they stand at the end.
  await expect.poll(() => coloured(page, '--_poppy', 0.55, 0.95)).toEqual([99])
  await page.getByRole('checkbox', { name: 'Select row' }).nth(2).click()
  await expect.poll(() => coloured(page, '--_selected-mark', 0.1, 0.45)).toEqual([0])
  await page.getByRole('columnheader', { name: 'Height' }).click()
  await expect.poll(() => coloured(page, '--_selected-mark', 0.1, 0.45)).toEqual([99])
  await expect.poll(() => coloured(page, '--_poppy', 0.55, 0.95)).toEqual([0])
  await handle(page, one => one.arrange({ groups: ['kind'], order: [] }))
  await expect
    .poll(async () => (await coloured(page, '--_faint', 0.3, 0.7)).join())
    .toMatch(/^0,2[45],(49|50),7[45]$/)
})

test('a press on the map goes there, a drag goes along, and what stands there is told beside it', async ({
  page,
}) => {
  await mount(page, { order: [{ column: 'height', direction: 'ascending' }] })
  const { x, y, width, height } = (await map(page).locator('canvas').boundingBox())!
  await page.mouse.move(x + width / 2, y + height / 2)
  await page.mouse.down()
  await expect(readout(page)).toHaveText(/^rows (1,9[89]\d|2,0[01]\d) /)
  await expect(page.locator('.thumb-label')).toHaveText(/^19[89]\d$|^20[01]\d$/)
  await page.mouse.move(x - 300, y + height - 1, { steps: 5 })
  await expect(readout(page)).toHaveText(/ – 4,000$/)
  await page.mouse.up()
  await expect(page.locator('.thumb-label')).toBeHidden()
  await page.mouse.move(x, y + 10)
  await expect(readout(page)).toHaveText(/ – 4,000$/)
  const seen = (await map(page).locator('i').boundingBox())!
  expect(Math.abs(seen.y + seen.height - (y + height))).toBeLessThan(2)
})

test('with pages the map is of all of them', async ({ page }) => {
  await mount(page, {}, { pages: { size: 50 } })
  const { x, y, width, height } = (await map(page).locator('canvas').boundingBox())!
  await page.mouse.click(x + width / 2, y + height * 0.5)
  await expect.poll(() => handle(page, one => one.arrangement.page)).toBe(40)
  await page.mouse.click(x + width / 2, y + height - 1)
  await expect.poll(() => handle(page, one => one.arrangement.page)).toBe(79)
  await expect(readout(page)).toHaveText(/ – 4,000$/)
})

test('there is no map where there is nothing to travel over, or the definition wants none', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS.slice(0, 30), definition: DEFINITION })
  await expect(map(page)).toBeHidden()
  await mount(page, {}, { map: false })
  await expect(map(page)).toBeHidden()
  await mount(page)
  await expect(map(page)).toBeVisible()
  // What holds rows back takes no room away.
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('place 6')
  await expect(page.locator('.foot')).toContainText('passing')
  await expect(map(page)).toBeVisible()
})

test('a finger travels by the map, dark and from right to left', async ({ browser }) => {
  const context = await browser.newContext({
    viewport: { width: 360, height: 640 },
    hasTouch: true,
    isMobile: true,
    colorScheme: 'dark',
  })
  const page = await context.newPage()
  await page.goto(served.url)
  await page.evaluate(() => (document.documentElement.dir = 'rtl'))
  await page.waitForFunction(() => 'loaded' in window)
  await page.evaluate(
    async ({ rows, definition }) => {
      const scope = window as unknown as {
        meadow: { mountMeadow(host: Element, options: object): { ready: Promise<void> } }
        handle: { ready: Promise<void> }
      }
      scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition })
      await scope.handle.ready
    },
    {
      rows: ROWS,
      definition: { ...DEFINITION, start: { order: [{ column: 'height', direction: 'descending' }] } },
    },
  )
  const box = (await map(page).boundingBox())!
  expect(box.x).toBeLessThan(1)
  expect(box.width).toBeGreaterThanOrEqual(32)
  await page.touchscreen.tap(box.x + 12, box.y + box.height * 0.75)
  await expect(readout(page)).toHaveText(/^rows (2,[89]|3,0)\d\d /)
  await expect.poll(() => coloured(page, '--_poppy', 0.05, 0.45)).toEqual([0])
  await context.close()
})

test('rows are gone to by line, by key, and by a value of the column that they are ordered by', async ({
  page,
}) => {
  await mount(page, { order: [{ column: 'planted', direction: 'ascending' }] })
  const go = async (where: string, what: string): Promise<void> => {
    await readout(page).click()
    await page.locator('.go-to select').selectOption(where)
    await page.getByLabel('Go to a line, a key or a value').fill(what)
    await page.keyboard.press('Enter')
  }
  await go('line', '2,500')
  await expect(page.locator('.go-to')).toBeHidden()
  await expect(readout(page)).toHaveText(/^rows 2,4[89]\d|^rows 2,500/)
  await go('key', '77')
  await expect.poll(() => focused(page)).not.toBe('')
  await expect(page.getByRole('gridcell', { name: '77', exact: true })).toBeVisible()
  await go('value', '2021')
  await expect(page.getByRole('gridcell', { name: /^2021-01-11/ }).first()).toBeVisible()
  await expect(page.getByRole('gridcell', { name: /^2020-09-11/ }).first()).toBeVisible()
  // What is not there is said, and nothing moves.
  await go('line', '9000')
  await expect(page.locator('.go-to')).toContainText('There are lines 1 to 4,000.')
  await page.keyboard.press('Escape')
  await go('key', '12345')
  await expect(page.locator('.go-to')).toContainText('No row that is shown has the key 12345.')
  await page.keyboard.press('Escape')
  await go('value', '2031')
  await expect(page.locator('.go-to')).toContainText('No row has Planted at or beyond 2031.')
  await page.keyboard.press('Escape')
  // By keyboard alone, from a cell.
  await handle(page, one => one.scrollTo(5))
  await page.keyboard.press('Shift+F10')
  await page.getByRole('menuitem', { name: 'Go to …' }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('2015')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('gridcell', { name: /^2015-01-11/ }).first()).toBeVisible()
  expect(await handle(page, one => [one.goToLine(0), one.goToLine(4001), one.goToLine(1)])).toEqual([
    false,
    false,
    true,
  ])
})

test('letters go to the first row of the ordering column that begins so; a space ticks', async ({ page }) => {
  await mount(page, { order: [{ column: 'kind', direction: 'ascending' }] })
  await page.getByRole('gridcell', { name: 'ash', exact: true }).first().click()
  await page.keyboard.type('o')
  await expect.poll(() => focused(page)).toBe('oak')
  await expect(page.getByRole('status').first()).toHaveText('to “o”')
  await page.waitForTimeout(1000)
  await page.keyboard.type('EL')
  await expect.poll(() => focused(page)).toBe('elm')
  await page.waitForTimeout(1000)
  await page.keyboard.press('Space')
  await expect.poll(() => handle(page, one => one.selectedCount)).toBe(1)
  await page.keyboard.type('zz')
  await expect(page.getByRole('status').first()).toHaveText('No row has Kind at or beyond zz.')
  expect(await focused(page)).toBe('elm')
  // In the other direction, too, and a number among numbers.
  await handle(page, one => one.arrange({ order: [{ column: 'height', direction: 'descending' }] }))
  await page.waitForTimeout(1000)
  await page.keyboard.type('123')
  await expect(page.getByRole('gridcell', { name: '123', exact: true }).first()).toBeVisible()
  expect(await handle(page, one => one.goToValue('nonsense'))).toBe(false)
})

test('a reader comes back to the place that was left, with what was ticked', async ({ page }) => {
  for (const key of [['id'], []]) {
    await mount(page, {}, { key, columns: DEFINITION.columns.map(column => ({ ...column, width: 400 })) })
    await handle(page, one => one.scrollTo(2345))
    await page.getByRole('checkbox', { name: 'Select row' }).nth(3).click()
    await page.locator('.scroller').evaluate(scroller => (scroller.scrollLeft = 300))
    await page.waitForTimeout(300)
    const before = await readout(page).textContent()
    const place = await handle(page, one => one.place())
    await mount(
      page,
      {},
      { key, columns: DEFINITION.columns.map(column => ({ ...column, width: 400 })) },
      { place: JSON.parse(JSON.stringify(place)) as object },
    )
    await expect(readout(page)).toHaveText(before!)
    expect(await handle(page, one => one.selectedCount)).toBe(1)
    await expect(page.getByRole('checkbox', { name: 'Select all rows that pass' })).toHaveAttribute(
      'aria-checked',
      'mixed',
    )
    await expect.poll(() => page.locator('.scroller').evaluate(scroller => scroller.scrollLeft)).toBe(300)
  }
  // On a page of many, and where what is given is none.
  await mount(page, { page: 12 }, { pages: { size: 50 } })
  const place = await handle(page, one => one.place())
  await mount(page, {}, { pages: { size: 50 } }, { place })
  expect(await handle(page, one => one.arrangement.page)).toBe(12)
  await mount(page, {}, {}, { place: { version: 1, keys: 'all' } })
  await expect(readout(page)).toHaveText(/^rows 1 – /)
})

test('rows are pinned at the head and the foot, in every order and condition, and what differs is marked', async ({
  page,
}) => {
  await mount(page, { order: [{ column: 'height', direction: 'descending' }], summaries: { height: 'mean' } })
  const pinned = page.locator('.row.pinned')
  await page.getByRole('gridcell').nth(2).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Pin this row at the head' }).click()
  await expect(pinned).toHaveCount(1)
  const top = (await pinned.locator('.cell').nth(1).textContent())!
  await handle(page, one => one.pinRow(17, 'head'))
  await handle(page, one => one.pinRow(18, 'foot'))
  await expect(pinned).toHaveCount(3)
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('place 6')
  await expect(page.locator('.foot')).toContainText('passing')
  await expect(pinned.nth(0)).toContainText(top)
  await expect(pinned.nth(1)).toContainText('place 3')
  await expect(pinned.nth(2)).toContainText('place 4')
  // Rows 17 and 18 stand on lines of their own for assistive technology too.
  await expect(page.getByRole('grid').locator('.head .row.pinned').nth(1)).toHaveAttribute(
    'aria-rowindex',
    '3',
  )
  await expect(page.locator('.body .row').first()).toHaveAttribute('aria-rowindex', '4')
  const count = await page.getByRole('grid').getAttribute('aria-rowcount')
  await expect(page.locator('.pinned-foot .row')).toHaveAttribute('aria-rowindex', count!)
  await handle(page, one => one.pinRow(Number(one.arrangement.pinnedRows.head[0]), null))
  await expect(pinned).toHaveCount(2)
  await expect
    .poll(() => handle(page, one => [...one.differingColumns]))
    .toEqual(Object.keys(ROWS[0]!).filter(key => ROWS[17]![key as 'id'] !== ROWS[18]![key as 'id']))
  await expect(pinned.locator('.cell.differs')).toHaveCount(
    (await handle(page, one => one.differingColumns.length)) * 2,
  )
  await expect(page.locator('.chip', { hasText: '2 rows pinned' })).toContainText('of 6 columns differ')
  // A row is ticked there as where it stands.
  await pinned.first().getByRole('checkbox').click()
  await expect.poll(() => handle(page, one => one.selectedCount)).toBe(1)
  await expect(pinned.first().getByRole('checkbox')).toHaveAttribute('aria-checked', 'true')
  await pinned.first().locator('.cell').nth(2).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Unpin this row' }).click()
  await expect(pinned).toHaveCount(1)
  await page.getByRole('button', { name: 'Lift: 1 row pinned' }).click()
  await expect(pinned).toHaveCount(0)
})

test('by keyboard alone a row is pinned, found again and unpinned, and the focus is never lost', async ({
  page,
}) => {
  await mount(page)
  await page.locator('.body .row').nth(2).locator('[aria-colindex="2"]').click()
  await page.keyboard.press('Shift+F10')
  await page.getByRole('menuitem', { name: 'Pin this row at the head' }).press('Enter')
  const pinned = page.locator('.row.pinned')
  await expect(pinned).toHaveCount(1)
  const name = (await pinned.locator('.cell').nth(1).textContent())!
  await page.keyboard.press('Control+End')
  await expect(page.locator('.foot .span')).toContainText('4,000')
  // What each pinned row is for stands behind the chip that tells of them.
  await page.getByRole('button', { name: '1 row pinned' }).first().press('Enter')
  await page.getByRole('menuitem', { name: `To ${name} among the rows` }).press('Enter')
  await expect(page.locator('.body .cell:focus')).toBeVisible()
  await page.getByRole('button', { name: '1 row pinned' }).first().press('Enter')
  await page.getByRole('menuitem', { name: `Unpin ${name}` }).press('Enter')
  await expect(pinned).toHaveCount(0)
})

test('pinned rows stand under their columns wherever these are moved, and leave room for others', async ({
  page,
}) => {
  await page.setViewportSize({ width: 560, height: 350 })
  await mount(page, {
    pinnedStart: ['id'],
    pinnedRows: { head: [1, 2, 3, 4, 5, 6, 7, 8], foot: [9, 10, 11] },
  })
  await expect(page.locator('.row.pinned').first()).toBeVisible()
  const body = (await page.locator('.body').boundingBox())!
  expect(body.height).toBeGreaterThan(80)
  for (const left of [0, 77, 250]) {
    await page.locator('.scroller').evaluate((scroller, to) => (scroller.scrollLeft = to), left)
    await page.waitForTimeout(200)
    const off = await page.evaluate(() => {
      const root = document.getElementById('grid')!.shadowRoot!
      const placeOf = (row: Element): Map<string, number> =>
        new Map(
          [...row.querySelectorAll('.cell')]
            .filter(cell => cell.checkVisibility())
            .map(cell => [cell.ariaColIndex!, cell.getBoundingClientRect().left]),
        )
      const head = placeOf(root.querySelector('.head .row:not(.pinned)')!)
      return [...root.querySelectorAll('.row.pinned')].flatMap(row =>
        [...placeOf(row)].map(([index, at]) => Math.abs(at - (head.get(index) ?? at))),
      )
    })
    expect(Math.max(...off)).toBe(0)
  }
})

test('two columns are compared: where they differ is marked, and the card ends it', async ({ page }) => {
  await mount(page)
  await page.getByRole('columnheader', { name: 'Place' }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await page.getByLabel('Compare Place with').selectOption('Site')
  expect(await handle(page, one => one.arrangement.compared)).toEqual(['place', 'site'])
  await page.keyboard.press('Escape')
  const marked = await page
    .locator('.body .row')
    .evaluateAll(rows =>
      rows
        .filter(row => row.checkVisibility())
        .map(row => [
          [...row.querySelectorAll('.cell')].map(cell => cell.textContent).slice(3, 5),
          row.querySelectorAll('.differs').length,
        ]),
    )
  expect(marked.length).toBeGreaterThan(5)
  for (const [[one, other], differs] of marked as [[string, string], number][])
    expect(differs).toBe(one === other ? 0 : 2)
  await page.getByRole('button', { name: 'Lift: Place compared with Site' }).click()
  await expect(page.locator('.differs')).toHaveCount(0)
})
