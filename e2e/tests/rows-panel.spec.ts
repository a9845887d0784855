import { expect, test } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

// What builders set of rows: what open ones show, how high they are, what is done with them and how they are taken away.

test('the seed library opens rows to cards with a picture and a history, and discards them with undo', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  const detail = page.locator('.body .row.detail:not([hidden])')
  await page.locator('.body .row:not([hidden]) .opener').nth(2).click()
  const card = page.getByRole('article').filter({ hasText: 'SL-0003' })
  await expect(card).toBeVisible()
  await expect(card.getByRole('img', { name: 'Autumn oxeye' })).toBeVisible()
  await expect(card.getByRole('img', { name: /% in 2026/ })).toBeVisible()
  await expect(detail).toHaveCount(1)
  expect((await detail.boundingBox())!.height).toBeGreaterThan(100)
  await card.getByRole('button', { name: 'Close' }).click()
  await expect(detail).toHaveCount(0)

  await page
    .locator('.body .row:not([hidden]) .cell')
    .filter({ hasText: 'SL-0004' })
    .click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Discard' }).click()
  const asked = page.getByRole('dialog')
  await expect(asked).toContainText('Discard all seed of SL-0004')
  await asked.getByRole('button', { name: 'Discard' }).click()
  await expect(workshop.readout).toContainText('1,199 rows')
  await workshop.readout.getByRole('button', { name: 'Undo' }).click()
  await expect(workshop.readout).toContainText('1,200 rows')
})

test('details, heights, printing and formats are set in the Rows panel, and shown at once', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.openPanel('Rows')
  const { panel } = workshop
  const openers = page.locator('.body .row:not([hidden]) .opener')
  await expect(openers.first()).toBeVisible()
  await panel.getByLabel('rows open and show more of themselves').uncheck()
  await expect(openers).toHaveCount(0)
  await panel.getByLabel('rows open and show more of themselves').check()
  // Columns that found no room stand in the details then.
  await expect(openers.first()).toBeVisible()
  await openers.nth(1).click()
  await expect(page.locator('.body .row.detail:not([hidden]) dt').first()).toBeVisible()
  await workshop.choose('Open rows show', 'what your page draws')
  await expect(page.locator('.body .row.detail:not([hidden])')).toContainText('parts.details.detail')
  await expect(page.locator('.body .row.detail:not([hidden])')).toContainText('"accession": "SL-0002"')
  await panel.getByLabel('readers may print rows').uncheck()
  await expect(page.getByRole('button', { name: 'Print', exact: true })).toHaveCount(0)
  await panel.getByLabel('Arrow', { exact: true }).check()
  await page.getByRole('button', { name: 'Export', exact: true }).click()
  await expect(
    page.getByRole('dialog', { name: 'Export' }).getByRole('combobox', { name: 'As' }),
  ).toContainText('Arrow')
  await page.keyboard.press('Escape')
  const before = (await openers.first().boundingBox())!.y
  await workshop.choose('Rows are as high as', 'roomy')
  await expect.poll(async () => (await openers.nth(0).boundingBox())?.y ?? 0).toBeGreaterThan(before)
})

test('an action tells in how many rows its rules hold, and the code that ships has its parts', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.openPanel('Columns')
  await workshop.panel.getByRole('button', { name: /^Actions text/ }).click()
  await expect(workshop.panel.getByText(/^in [\d,]+ rows$/).first()).toBeVisible()
  await workshop.openPanel('Ship')
  const script = await workshop.handedFile('page.js')
  expect(script).toContain("sow: ({ key, record }) => console.log('sow', key, record)")
  await workshop.choose('Hand over as', 'Vue')
  const handlers = await workshop.handedFile('src/handlers.ts')
  expect(handlers).toContain('export const parts: Parts<Row> = {')
  expect(handlers).toContain("sow: ({ key, record }) => console.log('sow', key, record)")
})
