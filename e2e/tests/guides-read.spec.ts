import { readdirSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { violations } from '../support/axe.ts'

const DOCS = fileURLToPath(new URL('../../docs', import.meta.url))
const NAMES = readdirSync(DOCS)
  .filter(name => name.endsWith('.md'))
  .map(name => name.slice(0, -3))

test('every guide is listed, read, and leads only to places that there are', async ({ page }) => {
  test.setTimeout(120_000)
  const problems: string[] = []
  page.on('pageerror', error => problems.push(error.message))
  await page.goto('/')
  await page.getByRole('link', { name: 'Guides' }).click()
  const list = page.getByRole('navigation', { name: 'Guides' })
  await expect(list.getByRole('link')).toHaveCount(NAMES.length)
  const listed = await list
    .getByRole('link')
    .evaluateAll(links => links.map(link => link.getAttribute('href')))
  expect(listed.sort()).toEqual(NAMES.map(name => `/guides/${name}`).sort())
  const anchors = new Map<string, Set<string>>()
  const links: string[] = []
  for (const name of NAMES) {
    await list.locator(`a[href="/guides/${name}"]`).click()
    await expect(page).toHaveURL(new RegExp(`/guides/${name}$`))
    await expect(list.locator('[aria-current="page"]')).toHaveAttribute('href', `/guides/${name}`)
    const article = page.getByRole('article')
    await expect(article.locator('h1')).toHaveCount(1)
    const read = await article.evaluate(element => ({
      title: element.querySelector('h1')?.textContent,
      anchors: [...element.querySelectorAll('[id]')].map(({ id }) => id),
      links: [...element.querySelectorAll('a')].map(link => link.getAttribute('href') ?? ''),
      // What nobody rendered.
      left: /<!--|\]\(/.exec(element.textContent ?? '')?.[0] ?? '',
    }))
    expect(read.left, name).toBe('')
    anchors.set(name, new Set(read.anchors))
    links.push(...read.links.map(link => (link.startsWith('#') ? `/guides/${name}${link}` : link)))
  }
  for (const link of links.filter(one => one.startsWith('/guides/'))) {
    const [, name, anchor] = /^\/guides\/([\w-]+)(?:#(.*))?$/.exec(link) ?? []
    expect(anchors.has(name), link).toBe(true)
    if (anchor) expect(anchors.get(name)?.has(decodeURIComponent(anchor)), link).toBe(true)
  }
  expect(links.length).toBeGreaterThan(20)
  expect(problems).toEqual([])
})

test('guides are searched by keyboard, and lead to the place', async ({ page }) => {
  await page.goto('/guides')
  const search = page.getByRole('combobox', { name: 'Search the guides' })
  await search.fill('phrase')
  const found = page.getByRole('listbox', { name: 'What was found' }).getByRole('option')
  await expect(found.first()).toContainText('Short phrases')
  await search.press('ArrowDown')
  await expect(found.nth(1)).toHaveAttribute('aria-selected', 'true')
  await search.press('ArrowUp')
  await search.press('Enter')
  await expect(page).toHaveURL(/\/guides\/conditions#short-phrases$/)
  await expect(page.getByRole('heading', { name: 'Short phrases' })).toBeInViewport()
  await expect(page).toHaveTitle('Conditions · Vast Meadow')
  await search.fill('zzzzzzzz')
  await expect(page.getByText('Nothing is found.')).toBeVisible()
  await search.press('Escape')
  await page.goto('/guides/nothing-of-the-kind')
  await expect(page.getByRole('alert')).toHaveText('There is no such guide.')
})

for (const dark of [false, true])
  test(`a guide can be read by everyone, ${dark ? 'dark' : 'light'}`, async ({ page }) => {
    await page.goto('/guides/hosting')
    if (dark) await page.getByRole('button', { name: 'Dark' }).click()
    await expect(page.getByRole('article')).toContainText('In a page of your own')
    expect(await violations(page)).toEqual([])
  })
