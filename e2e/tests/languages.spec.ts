import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'
import { words as arabic } from '../../workshop/app/words/arabic.ts'
import { words as english } from '../../workshop/app/words/english.ts'
import { words as german } from '../../workshop/app/words/german.ts'

const LANGUAGES = [
  {
    tag: 'de',
    name: 'Deutsch',
    words: german,
    direction: 'ltr',
    search: 'Zeilen durchsuchen',
    foot: 'Zeilen',
  },
  { tag: 'ar', name: 'العربية', words: arabic, direction: 'rtl', search: 'البحث في الصفوف', foot: 'صف' },
] as const

/** What English says in plain texts and another language says otherwise. */
function englishAlone(there: object, here: object): string[] {
  return Object.entries(there).flatMap(([key, text]) => {
    const other = (here as Record<string, unknown>)[key]
    if (typeof text === 'object' && text !== null) return englishAlone(text as object, other as object)
    // Single words may be data as well.
    return typeof text === 'string' && text !== other && /[a-z]{2} [a-z]/.test(text) ? [text] : []
  })
}

/** Texts of the page that English would say, and texts that are cut off by what they stand in. */
const strays = (page: Page, said: readonly string[]): Promise<string[]> =>
  page.evaluate(spoken => {
    const known = new Set(spoken)
    const found: string[] = []
    for (const element of document.querySelectorAll<HTMLElement>(
      'main *, aside *, nav *, header *, footer *',
    )) {
      if (element.closest('option, svg title, .cm-editor') || element.getClientRects().length === 0) continue
      const own = [...element.childNodes].filter(node => node.nodeType === Node.TEXT_NODE)
      const texts = [...own.map(node => node.nodeValue), element.ariaLabel, element.title]
      for (const text of texts) if (text && known.has(text.trim())) found.push(`English: ${text.trim()}`)
      const isCut = element.scrollWidth > element.clientWidth + 1 && element.clientWidth > 0
      if (isCut && element.matches('label, h2, h3, .v-btn__content, .section-title'))
        found.push(`cut off: ${element.textContent.trim()}`)
    }
    return found
  }, said)

for (const { tag, name, words, direction, search, foot } of LANGUAGES) {
  test(`the workshop and its grid speak ${name}, once it is chosen`, async ({ page }) => {
    await page.goto('/')
    await page.getByRole('combobox', { name: 'Language' }).selectOption({ label: name })
    await expect(page.getByRole('heading', { name: words.shelfPage.startFromRows })).toBeVisible()
    const html = page.locator('html')
    await expect(html).toHaveAttribute('lang', tag)
    await expect(html).toHaveAttribute('dir', direction)
    const said = englishAlone(english, words)
    expect(said.length).toBeGreaterThan(250)
    expect(await strays(page, said)).toEqual([])

    const card = page.getByRole('article').filter({ hasText: words.demos.seedLibrary })
    await card.getByRole('button', { name: words.demoCard.open }).click()
    await expect(page.getByPlaceholder(search)).toBeVisible()
    await expect(page.locator('.foot .count')).toContainText(foot)
    await expect(page.locator('.meadow')).toHaveCSS('direction', direction)
    const { flowRail: stages } = words
    for (const stage of [
      stages.columns,
      stages.search,
      stages.conditions,
      stages.order,
      stages.groups,
      stages.rows,
      stages.look,
      stages.ship,
      stages.source,
    ]) {
      await page.getByRole('button', { name: stage }).first().click()
      await expect(page.getByRole('complementary', { name: stage })).toBeVisible()
      // Controls come group by group.
      await page.waitForTimeout(300)
      expect(await strays(page, said), stage).toEqual([])
    }
  })

  test(`what is handed over in ${name} says so, and keeps it after a reload`, async ({ page }) => {
    await page.addInitScript(chosen => localStorage.setItem('vast-meadow-language', chosen), tag)
    await page.goto('/')
    const card = page.getByRole('article').filter({ hasText: words.demos.seedLibrary })
    await card.getByRole('button', { name: words.demoCard.open }).click()
    await expect(page.locator('.foot .count')).toContainText(foot)
    await page.getByRole('button', { name: words.flowRail.ship }).click()
    await new Workshop(page).choose(words.shipPanel.handOverAs, words.shipPanel.hosts.vite)
    await page.getByRole('button', { name: words.shipPanel.seeTheCode }).click()
    const sheet = page.getByRole('dialog')
    await sheet.getByRole('button', { name: 'src/definition.ts', exact: true }).click()
    const code = sheet.locator('code').first()
    await expect(code).toContainText(`import '@vast-meadow/grid/${tag === 'de' ? 'german' : 'arabic'}'`)
    await expect(code).toContainText(`locale: '${tag}`)
    await sheet.getByRole('button', { name: 'index.html', exact: true }).click()
    await expect(code).toContainText(tag === 'ar' ? 'dir="rtl"' : '<html lang="de-DE">')
  })
}

test('the grid is in another language as soon as its definition is, with what is arranged', async ({
  page,
}) => {
  await page.goto('/')
  const card = page.getByRole('article').filter({ hasText: 'Seed library' })
  await card.getByRole('button', { name: 'Open' }).click()
  await expect(page.getByPlaceholder('Search rows')).toBeVisible()
  await page.getByPlaceholder('Search rows').fill('meadow')
  const passing = page.locator('.foot .count')
  await expect(passing).toContainText('of 1,200 rows')
  const before = (await passing.textContent())?.match(/[\d,]+ of/)?.[0].replace(' of', '')
  await page.getByRole('button', { name: 'Look' }).click()
  await new Workshop(page).choose('Language of the grid', 'Deutsch')
  await expect(page.getByPlaceholder('Zeilen durchsuchen')).toHaveValue('meadow')
  await expect(passing).toContainText(`${before} von 1.200 Zeilen`)
})
