import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { unzipped } from '../support/unzip.ts'
import { Workshop } from '../support/workshop.ts'

// Projects as the workshop hands them over, taken as they are: installed, tested, built and looked at.

test.describe.configure({ mode: 'default' })

/** Runs it, and answers with what it says. */
function npm(folder: string, ...args: string[]): string {
  const { status, stdout, stderr } = spawnSync('npm', args, { cwd: folder, encoding: 'utf8' })
  if (status !== 0) throw new Error(`npm ${args.join(' ')}: ${stdout}${stderr}`)
  return stdout
}

async function handedOver(page: Page, host: string, rows?: string): Promise<string> {
  const workshop = new Workshop(page)
  await workshop.choose('Hand over as', host)
  if (rows) await workshop.choose('Rows', rows)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    workshop.panel.getByRole('button', { name: 'Download the zip' }).click(),
  ])
  return await unzipped(download)
}

const HOSTS = [
  { host: 'TypeScript with Vite', rows: undefined },
  { host: 'TypeScript with Vite', rows: 'an array of the project’s own' },
  { host: 'Vue', rows: undefined },
  { host: 'React', rows: 'an array of the project’s own' },
  { host: 'Svelte', rows: undefined },
  { host: 'Angular', rows: undefined },
] as const

for (const { host, rows } of HOSTS)
  test(
    `a project for ${host} runs as it is${rows ? ', its rows a list' : ''}`,
    ALL,
    async ({ page, context }) => {
      test.setTimeout(400_000)
      const workshop = new Workshop(page)
      await workshop.openDemo('Seed library')
      await workshop.header('Stock').click()
      const names = await workshop.texts('Name')
      // Kept with what it shows, it is a test of the project as well.
      await page.getByRole('button', { name: 'Scenes' }).click()
      await workshop.panel.getByLabel('Name for what you see').fill('By stock')
      await workshop.panel.getByRole('button', { name: 'Keep' }).click()
      await expect(workshop.panel).toContainText('Shows what it showed.')
      await workshop.openPanel('Ship')
      const folder = await handedOver(page, host, rows)
      npm(folder, 'install', '--no-audit', '--no-fund', '--prefer-offline')
      const tested = npm(folder, 'test')
      expect(tested.includes('scenes.test.ts')).toBe(!rows)
      npm(folder, 'run', 'build')
      const served = await serveStatic(join(folder, 'dist'))
      const other = await context.newPage()
      const problems: string[] = []
      other.on('pageerror', error => problems.push(error.message))
      other.on('console', message => {
        if (['error', 'warning'].includes(message.type())) problems.push(message.text())
      })
      await other.goto(served.url)
      const there = new Workshop(other)
      await there.ready()
      if (!rows) expect((await there.texts('Name')).slice(0, 8)).toEqual(names.slice(0, 8))
      await expect(there.header('Stock')).toHaveAttribute('aria-sort', 'ascending')
      await other.getByRole('checkbox').nth(2).click()
      expect(problems).toEqual([])
      served.close()
      if (!rows) {
        rmSync(join(folder, 'dist/rows.csv'))
        const without = await serveStatic(join(folder, 'dist'))
        const said = other.waitForEvent('pageerror').catch(() => null)
        await other.goto(without.url)
        // Where a component has a place for it, it stands in the page.
        if (host === 'TypeScript with Vite')
          expect((await said)?.message).toContain('rows.csv is not there: 404')
        else
          await expect(other.getByRole('alert').filter({ hasText: 'rows.csv' })).toContainText(
            'not there: 404',
          )
        without.close()
      }
      rmSync(folder, { recursive: true })
    },
  )
