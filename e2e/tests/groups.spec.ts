import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page'

/** Trees of three kinds in two places, over a year. */
const ROWS = Array.from({ length: 600 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  place: id % 2 === 0 ? 'north' : 'south',
  planted: new Date(Date.UTC(2023, id % 24, 1 + (id % 28))).toISOString().slice(0, 10),
  height: (id % 50) + 0.5,
  count: id % 7,
}))

const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    { key: 'id', title: 'Number', width: 90, align: 'end' },
    { key: 'kind', title: 'Kind', width: 160 },
    { key: 'place', title: 'Place', width: 120 },
    { key: 'planted', title: 'Planted', width: 120 },
    { key: 'height', title: 'Height', width: 110, align: 'end' },
    { key: 'count', title: 'Count', width: 110, align: 'end' },
  ],
}

type GroupPath = readonly (string | number | null)[]

interface Scope {
  readonly handle: {
    arrange(change: object): void
    readonly arrangement: {
      readonly groups: readonly { column: string; bucket: object }[]
      readonly open: object
    }
    goToGroup(path: GroupPath): Promise<boolean>
    readonly selectedCount: number
    scrollTo(key: unknown): Promise<boolean>
    readonly report: { readonly groupsHeldBack: readonly object[] } | null
  }
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

async function mount(page: Page, start: object, more: object = {}): Promise<void> {
  await mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, ...more, start } })
}
const heads = (page: Page): Locator => page.locator('.body .block .row.group:not([hidden])')
const names = (page: Page): Locator => heads(page).locator('.groupcell b')
const steps = (page: Page): Locator => page.locator('.trail .step')
const arrange = (page: Page, change: object): Promise<void> =>
  page.evaluate(change => (window as unknown as Scope).handle.arrange(change), change)
const bucketOf = (page: Page, nth: number): Promise<object | undefined> =>
  page.evaluate(nth => (window as unknown as Scope).handle.arrangement.groups.at(nth)?.bucket, nth)
/** The middle of an element. */
async function middle(element: Locator): Promise<{ x: number; y: number }> {
  const box = (await element.boundingBox())!
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
}

test('rows stand in groups of several levels, with summaries under their own columns', async ({ page }) => {
  await mount(page, {
    groups: ['place', 'kind'],
    summaries: { height: 'mean', count: 'sum' },
    open: { levels: 1 },
  })
  await expect(names(page)).toHaveText(['north', 'ash', 'elm', 'oak', 'south', 'ash', 'elm', 'oak'])
  const ash = ROWS.filter(({ place, kind }) => place === 'north' && kind === 'ash')
  const sum = ash.reduce((all, { count }) => all + count, 0)
  const mean = ash.reduce((all, { height }) => all + height, 0) / ash.length
  await expect(heads(page).nth(1).locator('.cell.summary')).toHaveText([mean.toFixed(2), String(sum)])
  await expect(heads(page).nth(1)).toHaveAttribute('aria-level', '2')
  await expect(heads(page).nth(2)).toHaveAttribute('aria-posinset', '2')
  await expect(heads(page).nth(2)).toHaveAttribute('aria-setsize', '3')
  await expect(page.locator('.foot')).toContainText('6 groups')
  // They keep in step with their columns.
  const cell = heads(page).nth(1).locator('.cell.summary').nth(1)
  const header = page.getByRole('columnheader', { name: 'Count', exact: true })
  await arrange(page, {
    widths: { kind: 240 },
    columns: ['count', 'height', 'planted', 'kind', 'place', 'id'],
  })
  const under = async (): Promise<number> => {
    const [a, b] = [(await cell.boundingBox())!, (await header.boundingBox())!]
    return Math.abs(a.x + a.width - b.x - b.width)
  }
  await expect.poll(async () => (await page.locator('.row.totals').textContent())?.includes('Sum')).toBe(true)
  await arrange(page, { columns: DEFINITION.columns.map(({ key }) => key) })
  await expect.poll(under).toBeLessThan(1.5)
  // All passing rows have a line of their own, which follows what passes.
  const total = ROWS.reduce((all, { count }) => all + count, 0)
  await expect(page.locator('.row.totals')).toContainText(`Sum${total}`)
  await arrange(page, { conditions: { count: { parts: [{ kind: 'at-least', value: 6 }] } } })
  const six = ROWS.filter(({ count }) => count >= 6).length * 6
  await expect(page.locator('.row.totals')).toContainText(`Sum${six}`)
  await expect(page.locator('.row.totals')).toContainText(
    `all ${ROWS.filter(({ count }) => count >= 6).length} rows`,
  )
})

test('groups open and close by click, key and menu, and what is open stays so', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'], open: { levels: 1 } })
  await heads(page).nth(1).locator('.groupcell').click()
  await expect(page.locator('.body .block .row:not(.group):not([hidden])').first()).toHaveAttribute(
    'aria-level',
    '3',
  )
  await expect(heads(page).nth(1)).toHaveAttribute('aria-expanded', 'true')
  await arrange(page, { order: [{ column: 'id', direction: 'descending' }] })
  await expect(
    page.locator('.body .block .row:not(.group):not([hidden]) [aria-colindex="2"]').first(),
  ).toHaveText('594')
  await page.keyboard.press('ArrowLeft')
  await expect(heads(page).nth(1)).toHaveAttribute('aria-expanded', 'false')
  // Closed already: out to the group around it, and on to the next one.
  await page.keyboard.press('ArrowLeft')
  await expect(page.locator('.groupcell:focus b')).toHaveText('north')
  await page.keyboard.press('Control+ArrowDown')
  await expect(page.locator('.groupcell:focus b')).toHaveText('south')
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.groupcell:focus b')).toHaveText('ash')
  await page.keyboard.press('*')
  await expect.poll(() => page.locator('.view').getAttribute('aria-rowcount')).toBe(String(1 + 2 + 6 + 300))
  await page.keyboard.press('Control+ArrowUp')
  await expect(page.locator('.groupcell:focus b')).toHaveText('south')
  await page.keyboard.press('Shift+F10')
  await page.getByRole('menuitem', { name: 'Close all groups', exact: true }).click()
  await expect(names(page)).toHaveText(['north', 'south'])
  await heads(page).first().click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Open all groups', exact: true }).click()
  await expect.poll(() => page.locator('.view').getAttribute('aria-rowcount')).toBe(String(1 + 2 + 6 + 600))
})

test('a head keeps the keyboard where its line is known later than its place', async ({ page }) => {
  // So many that a worker has them, and nothing of them lies in memory that the page reads.
  const rows = Array.from({ length: 6000 }, (_, id) => ({ ...ROWS[id % 600], id }))
  const start = { groups: ['place'], open: { levels: 1 } }
  await mountBare(page, served.url, { rows, definition: { ...DEFINITION, start } })
  const first = heads(page).first()
  const focused = page.locator('.body .row:has(:focus)')
  await first.click()
  await expect(first).toHaveAttribute('aria-expanded', 'false')
  await expect(focused).toContainText('north')
  await page.keyboard.press('ArrowRight')
  await expect(first).toHaveAttribute('aria-expanded', 'true')
  await page.keyboard.press('ArrowLeft')
  await expect(first).toHaveAttribute('aria-expanded', 'false')
  await page.keyboard.press('ArrowDown')
  await expect(focused).toContainText('south')
  await arrange(page, { order: [{ column: 'height', direction: 'descending' }] })
  await page.waitForTimeout(300)
  await page.keyboard.press('ArrowUp')
  await expect(focused).toContainText('north')
})

test('heads of the rows in view stay at the top, level under level, and lead back', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'], summaries: { count: 'sum' } })
  const stuck = page.locator('.stuck .row:not([hidden]) .groupcell b')
  await expect(stuck).toHaveCount(0)
  const scroller = page.locator('.scroller')
  const scroll = (top: number): Promise<void> =>
    scroller.evaluate((element, top) => void (element.scrollTop = top), top)
  await scroll(31 * 40)
  await expect(stuck).toHaveText(['north', 'ash'])
  await expect(page.locator('.stuck .row .cell.summary').first()).not.toHaveText('')
  // The next group pushes the one before out, and never stands beside it.
  await scroll(31 * 100 + 10)
  await expect(stuck.nth(1)).toHaveText('ash')
  const [pushed, next] = await Promise.all([
    page.locator('.stuck .row').nth(1).boundingBox(),
    heads(page).filter({ hasText: 'elm' }).first().boundingBox(),
  ])
  expect(Math.abs(pushed!.y + pushed!.height - next!.y)).toBeLessThan(2)
  await scroll(31 * 120)
  await expect(stuck).toHaveText(['north', 'elm'])
  // No row is hidden behind them when the keyboard comes to it.
  await page
    .locator('.body .block .row:not(.group):not([hidden])')
    .nth(8)
    .locator('[aria-colindex="2"]')
    .click()
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowUp')
  const [cell, lowest] = await Promise.all([
    page.locator('.cell:focus').boundingBox(),
    page.locator('.stuck .row:not([hidden])').last().boundingBox(),
  ])
  expect(cell!.y).toBeGreaterThanOrEqual(lowest!.y + lowest!.height - 1)
  await stuck.nth(1).click()
  await expect(page.locator('.groupcell:focus b')).toHaveText('elm')
  await expect(stuck).toHaveText(['north'])
})

test('a page that begins within groups repeats their heads', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'], page: 1 }, { pages: { size: 50 } })
  await expect(names(page)).toHaveText(['north', 'ash'])
  const rows = page.locator('.body .block .row:not(.group):not([hidden])')
  // Two heads stand on the first page before its 48 rows; those go by sixes.
  await expect(rows.first().locator('[aria-colindex="2"]')).toHaveText(String(48 * 6))
})

test('the trail says by what, takes headings, and changes their order by drag and key', async ({ page }) => {
  await mount(page, {})
  await expect(page.locator('.trail')).toBeHidden()
  const drag = async (from: Locator, to: { x: number; y: number }): Promise<void> => {
    const at = await middle(from)
    await page.mouse.move(at.x, at.y)
    await page.mouse.down()
    await page.mouse.move(at.x + 10, at.y - 10)
    await page.mouse.move(to.x, to.y, { steps: 4 })
  }
  const heading = (title: string): Locator => page.getByRole('columnheader', { name: title, exact: true })
  const from = await middle(heading('Kind'))
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x + 12, from.y + 12)
  const place = await middle(page.locator('.trail .empty'))
  await page.mouse.move(place.x, place.y, { steps: 3 })
  await page.mouse.up()
  await expect(steps(page)).toHaveText(['Kind×'])
  // The drag ordered nothing.
  await expect(heading('Kind')).not.toHaveAttribute('aria-sort', /.+/)
  const first = (await steps(page).first().boundingBox())!
  await drag(heading('Place'), { x: first.x + 4, y: first.y + first.height / 2 })
  await page.mouse.up()
  await expect(steps(page)).toHaveText(['Place×', 'Kind×'])
  // A step goes behind the other, and back by key.
  const second = (await steps(page).nth(1).boundingBox())!
  await drag(steps(page).first().locator('.what'), { x: second.x + second.width - 3, y: second.y + 5 })
  await page.mouse.up()
  await expect(steps(page)).toHaveText(['Kind×', 'Place×'])
  await steps(page).nth(1).locator('.what').focus()
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(steps(page)).toHaveText(['Place×', 'Kind×'])
  // One that is let go elsewhere is out; Escape leaves all as it was.
  await drag(steps(page).first().locator('.what'), { x: 600, y: 400 })
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(steps(page)).toHaveCount(2)
  await drag(steps(page).first().locator('.what'), { x: 600, y: 400 })
  await page.mouse.up()
  await expect(steps(page)).toHaveText(['Kind×'])
  await steps(page).first().locator('.what').focus()
  await page.keyboard.press('Delete')
  await expect(page.locator('.trail')).toBeHidden()
})

test('a click on a heading’s card groups by ranges and months, never a group a value', async ({ page }) => {
  await mount(page, {})
  const byCard = async (title: string, button: string): Promise<void> => {
    await page.getByRole('columnheader', { name: title, exact: true }).focus()
    await page.keyboard.press('Alt+ArrowDown')
    await page.getByRole('button', { name: button, exact: true }).click()
    await page.keyboard.press('Escape')
  }
  await byCard('Height', 'Group by this')
  await expect.poll(() => bucketOf(page, 0)).toEqual({ by: 'range', step: 5, origin: 0 })
  await expect(names(page).first()).toHaveText('0 – 5')
  await byCard('Planted', 'Group by this as well')
  await expect.poll(() => bucketOf(page, 1)).toEqual({ by: 'date', part: 'month', every: false })
  await expect(names(page).nth(1)).toHaveText('2023-01')
})

test('a step opens to its bucket, its order and what it keeps, with the groups these make', async ({
  page,
}) => {
  await mount(page, {
    groups: [{ column: 'height', bucket: { by: 'range', step: 10 } }],
    open: { levels: 0 },
  })
  await expect(names(page)).toHaveText(['0 – 10', '10 – 20', '20 – 30', '30 – 40', '40 – 50'])
  await steps(page).first().locator('.what').click()
  const card = page.getByRole('dialog', { name: 'Groups by Height' })
  await expect(card.locator('.preview li span')).toHaveText([
    '0 – 10',
    '10 – 20',
    '20 – 30',
    '30 – 40',
    '40 – 50',
  ])
  await card.getByLabel('Step', { exact: true }).fill('25')
  await card.getByLabel('Step', { exact: true }).press('Enter')
  await card.getByLabel('Step', { exact: true }).blur()
  await expect(card.locator('.preview li span')).toHaveText(['0 – 25', '25 – 50'])
  await expect(names(page)).toHaveText(['0 – 25', '25 – 50'])
  await card.getByRole('button', { name: 'ascending' }).click()
  await expect(names(page)).toHaveText(['25 – 50', '0 – 25'])
  await card.getByLabel('One group for').selectOption({ label: 'parts of equal size' })
  await expect(card.locator('.preview li')).toHaveCount(4)
  await card.getByRole('checkbox', { name: 'only the' }).check()
  await card.getByRole('spinbutton', { name: 'How many groups' }).fill('1')
  await card.getByRole('spinbutton', { name: 'How many groups' }).blur()
  await expect(names(page)).toHaveCount(1)
  // What is kept stands among what is active, and is lifted there.
  const chip = page.locator('.chip')
  await expect(chip).toContainText('first 1 by number of rows')
  await card.getByLabel('the others as one group').check()
  await expect(names(page)).toHaveText([/–/, 'all others'])
  await page.keyboard.press('Escape')
  await expect(steps(page).first().locator('.what')).toBeFocused()
  await chip.getByRole('button', { name: /^Lift/ }).click()
  await expect(names(page)).toHaveCount(4)
})

test('groups are kept by a condition on a summary, and the last of them', async ({ page }) => {
  await mount(page, {
    groups: [{ column: 'height', bucket: { by: 'range', step: 10 } }],
    summaries: { height: 'mean' },
    open: { levels: 0 },
  })
  await expect(names(page)).toHaveCount(5)
  await steps(page).first().locator('.what').click()
  const card = page.getByRole('dialog', { name: 'Groups by Height' })
  await card.getByLabel('groups whose').selectOption({ label: 'Mean of Height' })
  const phrase = card.getByRole('textbox', { name: '> 100' })
  await phrase.fill('> heavy')
  await phrase.press('Enter')
  await expect(card.locator('.wrong')).toContainText('heavy')
  await expect(names(page)).toHaveCount(5)
  await phrase.fill('> 20')
  await phrase.press('Enter')
  await expect(names(page)).toHaveText(['20 – 30', '30 – 40', '40 – 50'])
  await expect(card.locator('.wrong')).toBeEmpty()
  await expect(page.locator('.chip')).toContainText('Mean of Height above 20')
  await card.getByRole('checkbox', { name: 'only the' }).check()
  await card.getByRole('combobox', { name: 'only the', exact: true }).selectOption('last')
  await card.getByRole('combobox', { name: 'only the by' }).selectOption({ label: 'Mean of Height' })
  await card.getByRole('spinbutton', { name: 'How many groups' }).fill('2')
  await card.getByRole('spinbutton', { name: 'How many groups' }).blur()
  await expect(names(page)).toHaveText(['20 – 30', '30 – 40'])
  await expect(page.locator('.chip').nth(1)).toContainText('last 2 by Mean of Height')
})

test('groups that are held back are counted, and lifted with all that holds rows back', async ({ page }) => {
  await mount(page, {
    groups: [
      {
        column: 'kind',
        keep: { where: [{ of: 'size', condition: { parts: [{ kind: 'at-least', value: 1000 }] } }] },
      },
    ],
  })
  await expect(page.locator('.state .what')).toHaveText('No row passes.')
  const held = await page.evaluate(() => (window as unknown as Scope).handle.report?.groupsHeldBack)
  expect(held).toEqual([{ level: 0, groups: 3, rows: 600 }])
  await page.getByRole('button', { name: 'Lift all' }).click()
  await expect(names(page).first()).toHaveText('ash')
})

test('a box selects the rows of its group, also of closed ones, and tells of some', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'], open: { levels: 1 } })
  const box = (nth: number): Locator => heads(page).nth(nth).getByRole('checkbox')
  await box(1).click()
  await expect(page.locator('.foot')).toContainText('100 selected')
  await expect(box(1)).toHaveAttribute('aria-checked', 'true')
  await expect(box(0)).toHaveAttribute('aria-checked', 'mixed')
  await expect(box(4)).toHaveAttribute('aria-checked', 'false')
  await box(0).click()
  await expect(page.locator('.foot')).toContainText('300 selected')
  await box(0).click()
  await expect(page.locator('.foot')).not.toContainText('selected')
})

test('a summary is chosen in a column’s card, where it makes sense', async ({ page }) => {
  await mount(page, {})
  await expect(page.locator('.row.totals')).toHaveCount(0)
  await page.getByRole('columnheader', { name: 'Place', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  const pick = page.locator('[data-control="summary"]')
  expect(await pick.locator('option').allTextContents()).not.toContain('Sum')
  await pick.selectOption({ label: 'Different values' })
  await page.keyboard.press('Escape')
  await expect(page.locator('.row.totals')).toContainText('Different values2')
})

test('a group is gone to from code, through closed ones, and so is a row', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'], open: { levels: 0 } })
  const go = (path: GroupPath): Promise<boolean> =>
    page.evaluate(path => (window as unknown as Scope).handle.goToGroup(path), path)
  expect(await go(['south', 'oak'])).toBe(true)
  await expect(page.locator('.groupcell:focus b')).toHaveText('oak')
  expect(await go(['south', 'yew'])).toBe(false)
  expect(await page.evaluate(() => (window as unknown as Scope).handle.scrollTo(300))).toBe(true)
  await expect(page.locator('.body .row:has(.cell:focus) [aria-colindex="2"]')).toHaveText('300')
})

test('where a definition allows no groups nothing of them is drawn', async ({ page }) => {
  await mount(page, {}, { groupable: false })
  await page.getByRole('columnheader', { name: 'Kind', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.getByRole('button', { name: 'ascending' }).first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Group by this' })).toHaveCount(0)
})

test('from right to left the trail, the heads and their keys are turned round', async ({ page }) => {
  await page.addInitScript(() =>
    addEventListener('DOMContentLoaded', () => (document.documentElement.dir = 'rtl')),
  )
  await mount(page, { groups: ['place', 'kind'], open: { levels: 1 }, summaries: { count: 'sum' } })
  const [first, second] = await Promise.all([
    steps(page).nth(0).boundingBox(),
    steps(page).nth(1).boundingBox(),
  ])
  expect(first!.x).toBeGreaterThan(second!.x)
  await page.locator('.view').focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowLeft')
  await expect(heads(page).nth(1)).toHaveAttribute('aria-expanded', 'true')
  await page.keyboard.press('ArrowRight')
  await expect(heads(page).nth(1)).toHaveAttribute('aria-expanded', 'false')
})

test('beside the dragged thumb stands which group is there', async ({ page }) => {
  await mount(page, { groups: ['place', 'kind'] })
  await page.evaluate(() => {
    const scroller = document.querySelector('#grid')!.shadowRoot!.querySelector<HTMLElement>('.scroller')!
    const { right, top } = scroller.getBoundingClientRect()
    scroller.dispatchEvent(new PointerEvent('pointerdown', { clientX: right - 1, clientY: top + 20 }))
    scroller.scrollTop = 31 * 250
  })
  await expect(page.locator('.thumb-label')).toHaveText('north › oak')
  await expect(page.locator('.thumb-label')).toBeHidden()
})
