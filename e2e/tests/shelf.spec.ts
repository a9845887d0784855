import { expect, test } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

test('one click, and a million rows are on screen, with the flow’s counts', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings')
  await expect(workshop.readout).toContainText('1,000,000 rows')
  await expect(workshop.stage('Source')).toHaveText('1,000,000')
  await expect(workshop.grid).toHaveAttribute('aria-rowcount', '1000002')
  await expect(workshop.grid).toHaveAttribute('aria-colcount', '27')
  await expect(page.getByRole('contentinfo')).toContainText(/workers?, shared memory/)
})

test('progress is shown while rows are made, and making them can be cancelled', async ({ page }) => {
  await page.goto('/')
  const card = page.getByRole('article').filter({ hasText: 'Survey sightings' })
  await new Workshop(page).chooseVolume(card, 5_000_000)
  await card.getByRole('button', { name: 'Open' }).click()
  await expect(page.getByText(/of 5,000,000 rows/)).toBeVisible()
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(page.getByText(/of 5,000,000 rows/)).toBeHidden()
  await expect(page.getByText('Loading was cancelled.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Try again' })).toBeVisible()
  await expect(page.locator('.foot')).not.toContainText('5,000,000')
})

test('more rows take the others’ place when they are there; cancelled, the others stay', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  await workshop.panel.getByRole('button', { name: '5,000,000' }).click()
  await expect(page.getByText(/of 5,000,000 rows/)).toBeVisible()
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(workshop.readout).toContainText('10,000 rows')
  await workshop.header('Cover %').click()
  await expect(workshop.header('Cover %')).toHaveAttribute('aria-sort', 'ascending')
  await workshop.openPanel('Source')
  await workshop.panel.getByRole('button', { name: '100,000' }).click()
  await expect(workshop.readout).toContainText('100,000 rows')
  await expect(workshop.header('Cover %')).toHaveAttribute('aria-sort', 'ascending')
})

test('soil probes, the seed library and ten million rows open, with nothing to be noticed', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  const findings = page.getByRole('button', { name: /finding/ })
  await workshop.openDemo('Soil probes')
  await expect(workshop.grid).toHaveAttribute('aria-colcount', '1001')
  await expect(findings).toHaveText('0 findings')
  await workshop.openDemo('Seed library')
  await expect(workshop.readout).toContainText('1,200 rows')
  await expect(findings).toHaveText('0 findings')
  await workshop.openDemo('Ten million')
  await expect(workshop.readout).toContainText('10,000,000 rows')
  await expect(findings).toHaveText('0 findings')
})

test('ten million rows say what they cannot do', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Ten million')
  for (const title of ['Search', 'Conditions', 'Order', 'Groups']) {
    await workshop.openPanel(title)
    await expect(workshop.panel).toContainText('worked out from their number')
  }
  await expect(page.getByRole('searchbox', { name: 'Search rows' })).toBeDisabled()
})

test('slow answers show empty lines first and cells when they come', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Ten million')
  await workshop.openPanel('Source')
  await workshop.panel.getByRole('button', { name: '1500 ms' }).click()
  await expect(page.locator('.body .row.pending').first()).toBeVisible()
  await expect(page.locator('.body .row.pending')).toHaveCount(0, { timeout: 10_000 })
  expect((await workshop.texts('Species'))[0]).toMatch(/\w+ \w+/)
})

test('a grid can be deleted from the shelf, and put back', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.goto('/')
  const item = page.getByRole('listitem').filter({ hasText: 'Seed library' })
  await item.getByRole('button', { name: 'Delete Seed library' }).click()
  await expect(item).toHaveCount(0)
  await page.getByRole('button', { name: 'Put it back' }).click()
  await page.getByRole('link', { name: 'Seed library' }).click()
  await workshop.ready()
  await expect(workshop.readout).toContainText('1,200 rows')
})

test('the page’s policy forbids compiled code and inline scripts, and nothing of ours breaks it', async ({
  page,
}) => {
  const violations: string[] = []
  page.on('console', message => {
    if (/Content Security Policy|Refused/.test(message.text())) violations.push(message.text())
  })
  const answer = await page.goto('/')
  const headers = answer!.headers()
  expect(headers['content-security-policy']).toContain("script-src 'self'")
  expect(headers['content-security-policy']).not.toContain('unsafe')
  expect(headers['cross-origin-opener-policy']).toBe('same-origin')
  expect(headers['cross-origin-embedder-policy']).toBe('credentialless')
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true)
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  await workshop.openPanel('Conditions')
  await workshop.choose('Add a condition on', 'Cover %')
  await expect(workshop.panel.locator('.range .bars')).toBeVisible()
  expect(violations).toEqual([])
})
