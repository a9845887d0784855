import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { freePort, startServer, type Server } from '../../scripts/postgres/servers.mjs'

const CLUSTER = fileURLToPath(new URL('../../scripts/cluster.mjs', import.meta.url))

test.describe('rows that several servers keep @all', () => {
  let workshop: ChildProcess
  let folder: string
  let address: string
  let again: Server | null = null

  test.beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'meadow-cluster-'))
    const port = await freePort()
    address = `http://localhost:${port}`
    workshop = spawn(process.execPath, [CLUSTER], {
      stdio: 'ignore',
      env: { ...process.env, PORT: String(port), CLUSTER_FOLDER: folder, SIGHTINGS_ROWS: '60000' },
    })
    await expect
      .poll(
        async () =>
          await fetch(address).then(
            answer => answer.status,
            () => 0,
          ),
        { timeout: 60_000 },
      )
      .toBe(200)
  })
  test.afterAll(async () => {
    await again?.stop()
    const ended = new Promise(resolve => workshop.once('exit', resolve))
    workshop.kill('SIGTERM')
    await ended
    rmSync(folder, { recursive: true, force: true })
  })

  test('are shown, and it is said when one of these is gone, for as long as it is', async ({ page }) => {
    await page.goto(address)
    const card = page.getByRole('article').filter({ hasText: 'Sightings on the server' })
    await card.getByRole('button', { name: 'Open' }).click()
    const rows = page.locator('.body .row:visible')
    await expect(page.getByText('60,000 rows').first()).toBeVisible()
    await expect(rows.first()).not.toBeEmpty()

    const shard = join(folder, 'shard-1')
    const lines = readFileSync(join(shard, 'postmaster.pid'), 'utf8').split('\n')
    process.kill(Number(lines[0]), 'SIGQUIT')
    const cover = page.getByRole('columnheader', { name: 'Cover' })
    await cover.click()
    const told = page.locator('.foot .notice', { hasText: 'The database does not answer.' })
    await expect(told).toBeVisible()

    again = await startServer(shard, Number(lines[3]))
    await expect(told).toBeHidden()
    await expect(cover).toHaveAttribute('aria-sort', /scending/)
    await expect(rows.first()).not.toBeEmpty()
  })
})
