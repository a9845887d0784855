import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { unzipped } from '../support/unzip.ts'
import { Workshop } from '../support/workshop.ts'

const CSV = [
  'plot,site,cover,seen',
  ...Array.from(
    { length: 60 },
    (_, i) =>
      `P${100 + i},${['Alder', 'Birch', 'Crow'][i % 3]},${(i * 7) % 50},2026-11-${String((i % 28) + 1).padStart(2, '0')}`,
  ),
].join('\n')

async function opened(workshop: Workshop): Promise<void> {
  await workshop.openFile('plots.csv', CSV)
  await workshop.ready()
  await workshop.page.getByRole('button', { name: 'Scenes' }).click()
}

test('a scene is kept, found again after a visit, and tells what is otherwise', async ({ page }) => {
  const workshop = new Workshop(page)
  await opened(workshop)
  await page.getByPlaceholder('Search rows').fill('birch')
  await expect(workshop.readout).toContainText('20 of 60 rows')
  const { panel } = workshop
  await panel.getByRole('button', { name: 'Keep' }).click()
  await expect(panel).toContainText('Give it a name first.')
  await panel.getByLabel('Name for what you see').fill('Only birch')
  await panel.getByLabel('Name for what you see').press('Enter')
  await expect(panel).toContainText('20 of 60 rows')
  await expect(panel).toContainText('Shows what it showed.')

  // Another search is only tried: the scene asks its own.
  await page.getByPlaceholder('Search rows').fill('')
  await expect(workshop.readout).toContainText('60 rows')
  await expect(panel).toContainText('Shows what it showed.')

  await expect(page.getByRole('banner').getByText('saved', { exact: true })).toBeVisible()
  await page.reload()
  await workshop.ready()
  await page.getByRole('button', { name: 'Scenes' }).click()
  await expect(panel).toContainText('Shows what it showed.')

  // Other rows: one plot of birch is gone, another has other cover.
  const other = CSV.replace('P101,Birch,7,', 'P101,Birch,8,').replace(/P158,.*\n/, '')
  await workshop.openPanel('Source')
  await workshop.chooseFile('Choose a file', 'plots.csv', other)
  await expect(workshop.readout).toContainText('59 rows')
  await page.getByRole('button', { name: 'Scenes' }).click()
  await expect(panel).toContainText('3 things are otherwise:')
  await expect(panel).toContainText('There are 59 rows; there were 60.')
  await expect(panel).toContainText('19 rows pass; 20 did.')
  await expect(panel).toContainText('Line 1: Cover is “8”; it was “7”.')

  await panel.getByRole('button', { name: 'Arrange so' }).click()
  await expect(workshop.readout).toContainText('19 of 59 rows')
  await panel.getByRole('button', { name: 'Keep as it is now' }).click()
  await expect(panel).toContainText('Shows what it showed.')
  await panel.getByRole('button', { name: 'Delete the scene Only birch' }).click()
  await expect(panel).toContainText('No scene is kept yet.')
})

test('scenes are handed over as a test of the receiving project, and stay in what the workshop exports', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await opened(workshop)
  await workshop.header('Cover').click()
  await page.getByRole('button', { name: 'Scenes' }).click()
  await workshop.panel.getByLabel('Name for what you see').fill('By cover')
  await workshop.panel.getByRole('button', { name: 'Keep' }).click()
  await expect(workshop.panel).toContainText('Shows what it showed.')
  await workshop.openPanel('Ship')
  await workshop.choose('Hand over as', 'React')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    workshop.panel.getByRole('button', { name: 'Download the zip' }).click(),
  ])
  const folder = await unzipped(download)
  const read = (path: string): string => readFileSync(join(folder, path), 'utf8')
  const scenes = JSON.parse(read('src/scenes.json')) as { name: string; shows: { passing: number } }[]
  expect(scenes.map(({ name, shows }) => [name, shows.passing])).toEqual([['By cover', 60]])
  expect(read('src/scenes.test.ts')).toContain("import scenes from './scenes.json'")
  expect(read('README.md')).toContain('`src/scenes.json`')
})
