import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { unzipSync } from 'fflate'
import { serveStatic } from '../support/bare-page.ts'
import { Workshop } from '../support/workshop.ts'

async function downloadedFolder(page: Page): Promise<string> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download the zip' }).click(),
  ])
  const folder = mkdtempSync(join(tmpdir(), 'meadow-zip-'))
  for (const [name, data] of Object.entries(unzipSync(new Uint8Array(readFileSync(await download.path()))))) {
    writeFileSync(join(folder, name), data)
  }
  return folder
}

test(
  'the zip, served without isolation, is the same grid with its own worker',
  ALL,
  async ({ page, context }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo('Survey sightings', 100_000)
    await workshop.header('Cover %').click()
    await workshop.openPanel('Groups')
    await workshop.choose('Group by', 'Site')
    await expect(workshop.stage('Groups')).toHaveText('40')
    const texts = await workshop.texts('Species')
    await workshop.openPanel('Ship')
    const folder = await downloadedFolder(page)
    const served = await serveStatic(folder)
    const other = await context.newPage()
    const problems: string[] = []
    other.on('pageerror', error => problems.push(error.message))
    await other.goto(served.url)
    const there = new Workshop(other)
    await there.ready()
    await expect(there.readout).toContainText('100,000')
    expect((await there.texts('Species')).slice(0, 10)).toEqual(texts.slice(0, 10))
    const where = await other.evaluate(() => {
      const element = document.querySelector('vast-meadow') as unknown as {
        handle: { description: { where: string } }
      }
      return [element.handle.description.where, crossOriginIsolated]
    })
    expect(where).toEqual(['a worker', false])
    await other.getByRole('searchbox', { name: 'Search rows' }).fill('orchid')
    await expect(there.readout).toContainText('passing')
    await there.header('Species').click()
    await expect
      .poll(async () => (await there.texts('Species')).every(text => text.includes('orchid')))
      .toBe(true)
    expect(problems).toEqual([])
    served.close()
  },
)

test('a file’s zip carries its rows', async ({ page, context }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('trees.csv', 'name,height\nAsh,30\nElm,25\n')
  await workshop.ready()
  await workshop.openPanel('Ship')
  const served = await serveStatic(await downloadedFolder(page))
  const other = await context.newPage()
  await other.goto(served.url)
  const there = new Workshop(other)
  await there.ready()
  expect(await there.texts('Name')).toEqual(['Ash', 'Elm'])
  served.close()
})

test('the code shown holds this very grid, as an element and for Vue', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.header('Name').click()
  await workshop.openPanel('Ship')
  const element = workshop.panel.getByRole('region', { name: 'Code for a custom element' })
  await expect(element).toContainText('<vast-meadow')
  await expect(element).toContainText('"column": "name"')
  await expect(workshop.panel.getByRole('region', { name: 'Code for Vue' })).toContainText(
    '<VastMeadow v-if="source" :source="source" v-bind="options"',
  )
  await workshop.panel.getByRole('button', { name: 'Copy' }).first().click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain(
    "import '@vast-meadow/grid/element'",
  )
})
