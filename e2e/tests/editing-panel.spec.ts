import { expect, test, type Locator, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

// What builders let readers change, tried at once against a service that answers as it is asked to.

const named = (page: Page, text: string): Locator =>
  page.locator('.body .row:not(.group):not([hidden])', { has: page.locator('.cell', { hasText: text }) })

/** The cell of a row in a column. */
async function cellOf(workshop: Workshop, row: Locator, title: string): Promise<Locator> {
  const place = await workshop.header(title).getAttribute('aria-colindex')
  return row.locator(`[aria-colindex="${place}"]`)
}

test('the seed library is changed, refused, changed by others and saved', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.openPanel('Rows')
  await expect(workshop.panel).toContainText('9 columns can be changed')
  const row = named(page, 'SL-0003')
  const stock = await cellOf(workshop, row, 'Stock')
  await stock.click()
  await page.keyboard.type('-3')
  await page.keyboard.press('Enter')
  await expect(stock).toHaveAttribute('aria-invalid', 'true')
  await stock.click()
  await page.keyboard.type('12,5')
  await page.keyboard.press('Enter')
  await expect(stock).toHaveAttribute('aria-invalid', 'true')
  await stock.click()
  await page.keyboard.type('12.5')
  await page.keyboard.press('Enter')
  await expect(stock).toHaveText('12.5 g')

  await workshop.choose('The service', 'refuses every second row')
  await workshop.choose('It answers', 'at once')
  await workshop.readout.getByRole('button', { name: 'Save all' }).click()
  await expect(workshop.readout).toContainText('1 refused')
  await workshop.choose('The service', 'is down')
  await workshop.readout.getByRole('button', { name: 'Save all' }).click()
  await expect(workshop.readout).toContainText('The service is down, as was asked.')
  await workshop.choose('The service', 'says somebody was quicker')
  await workshop.readout.getByRole('button', { name: 'Try again' }).click()
  await expect(workshop.readout).toContainText('1 conflict')
  await workshop.readout.getByRole('button', { name: 'List' }).click()
  await page.getByRole('button', { name: 'Keep mine' }).click()
  await page.getByRole('button', { name: 'Close' }).last().click()
  await workshop.choose('The service', 'takes all')
  await workshop.readout.getByRole('button', { name: 'Save all' }).click()
  await expect(workshop.readout).toContainText('1 row saved')
  await expect(stock).toHaveText('12.5 g')
  await expect(stock).not.toHaveClass(/changed/)
})

test('a column is let be changed in its panel, and its checks hold at once', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,area\nNorth,12\nSouth,30\nEast,7\n')
  await workshop.ready()
  await workshop.openPanel('Source')
  await workshop.panel.getByRole('button', { name: 'plot', exact: true }).click()
  await workshop.openPanel('Columns')
  await workshop.header('Area').click()
  const { panel } = workshop
  await panel.getByLabel('cells can be changed').check()
  await panel.getByLabel('At most', { exact: true }).fill('100')
  await panel.getByLabel('At most', { exact: true }).press('Enter')
  const area = await cellOf(workshop, named(page, 'South'), 'Area')
  await area.click()
  await page.keyboard.type('300')
  await page.keyboard.press('Enter')
  await expect(area).toHaveAttribute('aria-description', /100 or less/)
  await area.click()
  await page.keyboard.type('60')
  await page.keyboard.press('Enter')
  await expect(area).not.toHaveAttribute('aria-invalid', 'true')
  await expect(workshop.readout).toContainText('1 change')
})

test('rows change by themselves at the rate that is asked for', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  await workshop.openPanel('Rows')
  await workshop.choose('Rows change by themselves', '1,000 a second')
  await workshop.readout.getByRole('button', { name: 'Hold' }).click()
  await expect(workshop.readout).toContainText(/\d+ changes wait/)
  await workshop.choose('Rows change by themselves', 'no')
  await workshop.readout.getByRole('button', { name: 'Go on' }).click()
  await expect(workshop.readout).toContainText('10,000 rows')
})
