import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

const CSV =
  'kind,place,height\n' +
  Array.from({ length: 60 }, (_, i) =>
    [['ash', 'elm', 'oak'][i % 3], i % 2 ? 'north' : 'south', i].join(','),
  ).join('\n')

async function open(page: Page): Promise<Workshop> {
  const workshop = new Workshop(page)
  await workshop.openFile('trees.csv', CSV)
  await workshop.ready()
  await workshop.openPanel('Groups')
  await workshop.choose('Group by', 'Kind')
  await workshop.choose('Then by', 'Place')
  await expect(workshop.stage('Groups')).toHaveText('6')
  return workshop
}
const steps = (page: Page) => page.locator('.trail .step .what')

test('levels are dragged to other places, or moved by arrow keys', async ({ page }) => {
  const { panel } = await open(page)
  const handles = panel.locator('.levels .grab')
  await expect(steps(page)).toHaveText(['Kind', 'Place'])
  const from = (await handles.nth(1).boundingBox())!
  const to = (await handles.nth(0).boundingBox())!
  await page.mouse.move(from.x + 5, from.y + 5)
  await page.mouse.down()
  await page.mouse.move(from.x + 5, from.y - 40, { steps: 4 })
  await page.mouse.move(to.x + 5, to.y + 5, { steps: 4 })
  await page.mouse.up()
  await expect(steps(page)).toHaveText(['Place', 'Kind'])
  await handles.nth(0).focus()
  await page.keyboard.press('ArrowDown')
  await expect(steps(page)).toHaveText(['Kind', 'Place'])
  await expect(handles.nth(1)).toBeFocused()
})

test('groups are kept by a phrase, and the first or last of them', async ({ page }) => {
  const workshop = await open(page)
  const { panel } = workshop
  const level = panel.locator('.level').nth(0)
  await level.getByText('Keep only some groups').click()
  await level.getByLabel('is', { exact: true }).fill('> many')
  await level.getByLabel('is', { exact: true }).press('Tab')
  await expect(level).toContainText('many')
  await expect(workshop.stage('Groups')).toHaveText('6')
  await level.getByLabel('is', { exact: true }).fill('> 20')
  await level.getByLabel('is', { exact: true }).press('Tab')
  await expect(panel).toContainText('3 groups of Kind are held back, with 60 rows.')
  await level.getByLabel('is', { exact: true }).fill('')
  await level.getByLabel('is', { exact: true }).press('Tab')
  await level.getByLabel('How many groups').fill('1')
  await level.getByLabel('How many groups').press('Tab')
  await expect(page.locator('.chip')).toContainText('first 1 by number of rows')
  await expect(workshop.stage('Groups')).toHaveText('2')
})

test('a builder says which summaries are offered, where all rows are summed up, and who may group', async ({
  page,
}) => {
  const workshop = await open(page)
  const { panel } = workshop
  await panel.getByRole('button', { name: 'Summaries of Height that readers may choose' }).click()
  const offered = panel.getByRole('group', { name: 'Readers may choose' })
  for (const box of await offered.getByRole('checkbox').all()) await box.uncheck()
  await offered.getByRole('checkbox', { name: 'Median' }).check()
  await expect(panel.getByRole('button', { name: 'Summaries of Height' })).toHaveText('1')
  await page.getByRole('button', { name: 'Use', exact: true }).click()
  await workshop.header('Height').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.locator('.card [data-control=summary] option')).toHaveText(['none', 'Median'])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Build', exact: true }).click()
  await workshop.openPanel('Groups')
  await panel.getByRole('checkbox', { name: 'Group rows' }).uncheck()
  await expect(page.locator('.trail .lift')).toHaveCount(0)
})
