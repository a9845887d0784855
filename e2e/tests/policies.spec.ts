import { copyFileSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { serveStatic } from '../support/bare-page.ts'
import { Workshop } from '../support/workshop.ts'

// The stand-alone grid under policies that allow it as little as they can: all works, wherever its engine then is.

const STANDALONE = fileURLToPath(new URL('../../packages/grid/dist/standalone.js', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'meadow-policies-'))
copyFileSync(STANDALONE, join(folder, 'vast-meadow.js'))
writeFileSync(
  join(folder, 'index.html'),
  '<!doctype html><html lang="en"><meta charset="utf-8"><title>policies</title><link rel="stylesheet" href="./page.css"><vast-meadow></vast-meadow><script type="module" src="./page.js"></script></html>',
)
writeFileSync(join(folder, 'page.css'), 'html, body, vast-meadow { block-size: 100%; margin: 0 }')
writeFileSync(
  join(folder, 'page.js'),
  `import './vast-meadow.js'
window.violated = []
document.addEventListener('securitypolicyviolation', ({ effectiveDirective }) => window.violated.push(effectiveDirective))
const rows = Array.from({ length: 6000 }, (_, id) => ({ id, name: 'tree ' + id, height: id % 7 }))
window.grid = document.querySelector('vast-meadow')
window.grid.options = { rows, definition: { format: 'vast-meadow-grid', version: 3, title: 'Trees', key: 'id',
  columns: [{ key: 'id', title: 'Number' }, { key: 'name', title: 'Tree' }, { key: 'height', title: 'Height', cell: { kind: 'bar', low: 0, high: 7 } }],
  exports: ['csv'], styles: [{ when: 'height > 5', tone: 'moss', bold: true }] } }
`,
)

interface Scope {
  violated: string[]
  grid: HTMLElement & { handle: { description: { where: string } } }
}
declare const window: Window & Scope

const LEAST = "default-src 'none'; script-src 'self'; style-src 'self'"
const POLICIES = [
  { name: 'with a worker', policy: `${LEAST}; worker-src blob:`, where: 'a worker', violated: [] },
  {
    name: 'without workers',
    policy: `${LEAST}; worker-src 'none'`,
    where: 'this page',
    violated: ['worker-src'],
  },
  {
    name: 'with trusted types',
    policy: `${LEAST}; worker-src blob:; require-trusted-types-for 'script'`,
    where: 'this page',
    violated: ['require-trusted-types-for'],
  },
] as const

for (const { name, policy, where, violated } of POLICIES)
  test(`everything works under a strict policy ${name}`, async ({ page }) => {
    const served = await serveStatic(folder, { 'content-security-policy': policy })
    const problems: string[] = []
    page.on('pageerror', error => problems.push(error.message))
    await page.goto(served.url)
    const grid = new Workshop(page)
    await grid.ready()
    await expect(grid.readout).toContainText('6,000 rows')
    expect(await page.evaluate(() => window.grid.handle.description.where)).toBe(where)
    await grid.header('Height').click()
    await expect.poll(async () => (await grid.texts('Height')).slice(0, 3)).toEqual(['0', '0', '0'])
    await page.getByRole('searchbox', { name: 'Search rows' }).fill('tree 599')
    await expect(grid.readout).toContainText('of 6,000 rows')
    await expect
      .poll(() => page.evaluate(() => CSS.highlights.get('meadow-found')?.size ?? 0))
      .toBeGreaterThan(5)
    await page.getByRole('checkbox').nth(2).click()
    await expect(grid.readout).toContainText('1 selected')
    // A card, and what opens over all else.
    await grid.header('Tree').press('Alt+ArrowDown')
    await page.getByRole('dialog').getByRole('textbox').first().fill('tree 5990')
    await page.keyboard.press('Enter')
    await expect(grid.readout).toContainText('1 of 6,000 rows')
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      (async () => {
        await page.getByRole('button', { name: 'Export' }).click()
        await page.getByRole('dialog', { name: 'Export' }).getByRole('button', { name: 'Save' }).click()
      })(),
    ])
    expect(file.suggestedFilename()).toBe('trees.csv')
    expect([...new Set(await page.evaluate(() => window.violated))]).toEqual(violated)
    expect(problems).toEqual([])
    served.close()
  })
