import { readFileSync } from 'node:fs'
import { expect, test, type Download, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { unzipped } from '../support/unzip.ts'
import { Workshop } from '../support/workshop.ts'

async function downloaded(page: Page): Promise<Download> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('complementary')
      .getByRole('button', { name: /^Download the/ })
      .click(),
  ])
  return download
}
const downloadedFolder = async (page: Page): Promise<string> => await unzipped(await downloaded(page))

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
    // Under as strict a policy as a page with scripts can have; all that it shows comes from its own files.
    const policy =
      "default-src 'none'; script-src 'self'; style-src 'self'; connect-src 'self'; img-src data:"
    const served = await serveStatic(folder, {
      'content-security-policy': `${policy}; worker-src 'self' blob:`,
    })
    const other = await context.newPage()
    const problems: string[] = []
    other.on('pageerror', error => problems.push(error.message))
    other.on('console', message => {
      if (message.type() === 'error' && /policy/i.test(message.text())) problems.push(message.text())
    })
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

test('the code is shown file by file, for the host that is chosen, and copied', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.header('Name').click()
  await workshop.openPanel('Ship')
  await workshop.choose('Hand over as', 'React')
  await workshop.panel.getByRole('button', { name: 'See the code' }).click()
  const sheet = page.getByRole('dialog', { name: 'React' })
  const files = sheet.getByRole('navigation', { name: 'Files' }).getByRole('button')
  await expect(files.first()).toHaveText('src/SeedLibrary.tsx')
  await expect(sheet.getByRole('region', { name: 'Code of src/SeedLibrary.tsx' }).last()).toContainText(
    '<VastMeadow<Row>',
  )
  await files.filter({ hasText: 'definition.ts' }).press('Enter')
  await expect(files.filter({ hasText: 'definition.ts' })).toHaveAttribute('aria-current', 'true')
  const code = sheet.locator('pre')
  await expect(code).toContainText("start: { order: [{ column: 'name', direction: 'ascending' }] }")
  await expect(code.locator('.tok-keyword').first()).toHaveText('import')
  await sheet.getByRole('button', { name: 'Copy' }).click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain('satisfies DefinitionInput')
  await files.filter({ hasText: 'row.ts' }).click()
  // From the data: what has a value in every row, and what has not.
  await expect(code).toContainText('readonly accession: string\n')
  await expect(code).toContainText('readonly remark: string | null\n')
  await page.keyboard.press('Escape')
  await expect(sheet).toBeHidden()
})

test('what changed since the last hand-over is told, over a visit too', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('trees.csv', 'name,height\nAsh,30\nElm,25\n')
  await workshop.ready()
  await workshop.openPanel('Ship')
  await workshop.choose('Hand over as', 'The definition alone')
  await expect(workshop.panel.getByText('Since the last hand-over')).toBeHidden()
  const file = await downloaded(page)
  expect(file.suggestedFilename()).toBe('trees.grid.json')
  expect(JSON.parse(readFileSync(await file.path(), 'utf8'))).toMatchObject({ title: 'trees' })
  await expect(workshop.panel).toContainText('Nothing has changed.')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.reload()
  await workshop.ready()
  await workshop.header('Height').click()
  await workshop.openPanel('Ship')
  await expect(workshop.panel).toContainText('1 file, lines:')
  await workshop.panel.getByRole('button', { name: 'See what changed' }).click()
  const sheet = page.getByRole('dialog', { name: 'What changed' })
  await expect(sheet.locator('.added', { hasText: '"column": "height"' })).toBeVisible()
  await sheet.getByRole('button', { name: 'Close' }).click()
  await expect(sheet).toBeHidden()
  // Another host has been handed nothing.
  await workshop.choose('Hand over as', 'Vue')
  await expect(workshop.panel.getByText('Since the last hand-over')).toBeHidden()
})
