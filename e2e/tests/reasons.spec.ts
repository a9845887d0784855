import { expect, test, type Locator, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

// What the builder decides of order, search and conditions, and why a row is there or not.

const CSV =
  'key,name,cover,seen_on,state\n' +
  [
    [1, 'plot 10', 20, '2024-06-14', 'seen'],
    [2, 'plot 9', 5, '2023-06-01', 'seen'],
    [3, 'plot 11', '', '2022-06-20', 'lost'],
    [4, 'plot 2', 5, '2024-01-03', 'lost'],
    [5, 'plot 1', 90, '2021-12-30', 'seen'],
    [6, 'plot 20', 20, '2024-06-02', 'kept'],
  ]
    .map(row => row.join(','))
    .join('\n')

async function open(page: Page): Promise<Workshop> {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', CSV)
  await workshop.ready()
  return workshop
}

const article = (workshop: Workshop, title: string): Locator =>
  workshop.panel.locator('article').filter({ hasText: title })

test('what is arranged and what readers may do are kept apart', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Conditions')
  await workshop.choose('Add a condition on', 'State')
  await article(workshop, 'State').getByLabel(/^seen/).check()
  await expect(workshop.readout).toContainText('3 of 6 rows')
  // The strip comes and goes with what readers may do, and shows the same condition.
  await workshop.panel.getByRole('checkbox', { name: 'type conditions in the asking strip' }).check()
  await expect(page.getByLabel('Condition on State', { exact: true })).toHaveValue('one of "seen"')
  await page.getByLabel('Condition on State', { exact: true }).fill('not seen')
  await expect(article(workshop, 'State').getByLabel('As a phrase')).toHaveValue('not seen')
  await expect(article(workshop, 'State')).toContainText('holds back 3')
  await workshop.openPanel('Search')
  await workshop.panel.getByRole('checkbox', { name: 'search' }).uncheck()
  await expect(page.getByRole('searchbox', { name: 'Search rows' }).locator('visible=true')).toHaveCount(1)
  await workshop.choose('never in', 'Name')
  await workshop.panel.getByRole('searchbox', { name: 'Search rows' }).fill('plot')
  await expect(workshop.stage('Search')).toHaveText('0')
})

test('all conditions are one expression, which is edited as text and becomes cards again', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.openPanel('Conditions')
  await workshop.panel.getByRole('button', { name: 'edit' }).click()
  const text = workshop.panel.getByLabel('All conditions as one expression')
  await text.fill('cover >= 10 && fold(stat) == "seen"')
  await expect(workshop.panel).toContainText('There is no field “stat”. Did you mean “state”?')
  await expect(workshop.panel.locator('.cm-lintRange-error')).toHaveText('stat')
  await expect(workshop.panel.getByRole('button', { name: 'Take these conditions' })).toBeDisabled()
  await text.fill('cover >= 10 && fold(state) == "seen" && key + 1 > cover / 50.0')
  await workshop.panel.getByRole('button', { name: 'Take these conditions' }).click()
  await expect(page.locator('.chip')).toHaveText([
    'Cover at least 10×',
    'State is “seen”×',
    'where key + 1 > cover / 50×',
  ])
  await expect.poll(() => workshop.texts('Key')).toEqual(['1', '5'])
  await expect(workshop.panel.locator('.sentence')).toHaveText(
    'cover >= 10 &&\nfold(state) == "seen" &&\n(key + 1 > cover / 50)',
  )
  await page.getByRole('button', { name: /^Lift: where/ }).click()
  await expect(workshop.panel.getByLabel('Must be true of a row, over any columns')).toHaveText('')
})

test('ranks are dragged, and a column’s order goes by values, by what it shows, or by an expression', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.openPanel('Order')
  await workshop.choose('Order by', 'Cover')
  await workshop.choose('Order by', 'Name')
  await expect(workshop.header('Name').locator('.rank')).toHaveText('2 ↑')
  const grabs = workshop.panel.locator('.grab')
  const [first, second] = [(await grabs.nth(0).boundingBox())!, (await grabs.nth(1).boundingBox())!]
  await page.mouse.move(second.x + 5, second.y + 5)
  await page.mouse.down()
  await page.mouse.move(first.x + 5, first.y + 4, { steps: 6 })
  await page.mouse.up()
  await expect(workshop.header('Name').locator('.rank')).toHaveText('1 ↑')
  await grabs.nth(0).focus()
  await page.keyboard.press('ArrowDown')
  await expect(workshop.header('Cover').locator('.rank')).toHaveText('1 ↑')
  await workshop.panel.getByRole('button', { name: 'Do not order by Cover' }).click()
  await expect
    .poll(() => workshop.texts('Name'))
    .toEqual(['plot 1', 'plot 10', 'plot 11', 'plot 2', 'plot 20', 'plot 9'])
  await workshop.choose('Column', 'Name')
  await workshop.panel.getByRole('checkbox', { name: 'digits in texts count as numbers' }).check()
  await expect
    .poll(() => workshop.texts('Name'))
    .toEqual(['plot 1', 'plot 2', 'plot 9', 'plot 10', 'plot 11', 'plot 20'])
  await workshop.choose('Column', 'Seen on')
  await workshop.choose('Goes by', 'an expression')
  await workshop.panel
    .getByLabel('Orders by what this comes to')
    .fill('seen_on.getMonth() * 100 + seen_on.getDate()')
  await workshop.header('Seen on').click()
  await expect.poll(() => workshop.texts('Key')).toEqual(['4', '2', '6', '1', '3', '5'])
  await workshop.choose('never use as a key', 'Seen on')
  await page.getByRole('button', { name: /finding/ }).click()
  await expect(workshop.panel).toContainText('“seen_on”, which refuses to be ordered by')
  await workshop.panel.getByRole('button', { name: 'Take it off the order' }).click()
  await expect.poll(() => workshop.texts('Key')).toEqual(['1', '2', '3', '4', '5', '6'])
})

test('a row is traced by its key or from its cell: what it passes, where it stops, and what would have to change', async ({
  page,
}) => {
  const workshop = await open(page)
  await page.evaluate(() => {})
  await workshop.openPanel('Conditions')
  await workshop.choose('Add a condition on', 'Cover')
  await article(workshop, 'Cover').getByLabel('As a phrase').fill('>= 20')
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('plot 9')
  await page.getByRole('button', { name: 'Trace a row' }).click()
  await workshop.panel.getByRole('textbox').fill('2')
  await expect(workshop.panel.locator('.outcome')).toHaveText('It is held back.')
  await expect(workshop.panel).toContainText('9in Name')
  await expect(workshop.panel).toContainText('Cover is 5 and would have to meet at least 20')
  await workshop.panel.getByRole('textbox').fill('1')
  await expect(workshop.panel).toContainText('9stands nowhere in it')
  await workshop.panel.getByRole('button', { name: 'lift the search' }).click()
  await expect(workshop.panel.locator('.outcome')).toContainText('It is on line 1.')
  await workshop.panel.getByRole('textbox').fill('99')
  await expect(workshop.panel).toContainText('There is no row with this key.')
  await page.getByText('plot 20', { exact: true }).locator('visible=true').click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Why is this here?' }).click()
  await expect(workshop.panel.getByRole('textbox')).toHaveValue('6')
  await expect(workshop.panel.locator('.outcome')).toContainText('It is on line 3.')
  await workshop.panel.getByRole('textbox').fill('2')
  await workshop.panel.getByRole('button', { name: 'lift it' }).click()
  await expect(workshop.panel.locator('.outcome')).toContainText('It is on line 2.')
  await workshop.panel.getByRole('button', { name: 'Show it' }).click()
  // In the column of the cell that it was asked from, which has had the focus since.
  await expect(page.locator('.cell:focus')).toHaveText('plot 9')
})

test('meters open into charts of the session, by stage, frame, elements and column', async ({ page }) => {
  const workshop = await open(page)
  await page.getByRole('button', { name: 'charts' }).click()
  const charts = page.getByRole('region', { name: 'Meters over the session' })
  await workshop.header('Cover').click()
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('plot 1')
  await expect(charts.locator('figure').first()).toContainText(/search: \d.* ms, of it search \d/)
  await expect(charts).toContainText('Memory by column')
  await expect(charts.locator('.bytes li')).toHaveCount(5)
  await expect(charts.locator('.bytes li').first()).toContainText(/\d+ B/)
  // A reload does not lose the session's figures.
  const bars = await charts.locator('svg').first().locator('g').count()
  await page.waitForTimeout(700)
  await page.reload()
  await workshop.ready()
  await page.getByRole('button', { name: 'charts' }).click()
  expect(await charts.locator('svg').first().locator('g').count()).toBeGreaterThanOrEqual(bars)
})
