import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

interface Spoken {
  readonly tag: string
  readonly name: string
  readonly direction: 'ltr' | 'rtl'
  readonly shelf: string
  readonly seeds: string
  readonly open: string
  readonly stages: readonly string[]
  readonly handOverAs: string
  readonly vite: string
  readonly seeTheCode: string
  readonly search: string
  readonly rows: string
}

const ENGLISH: Spoken = {
  tag: 'en',
  name: 'English',
  direction: 'ltr',
  shelf: 'Start from rows',
  seeds: 'Seed library',
  open: 'Open',
  stages: ['Columns', 'Search', 'Conditions', 'Order', 'Groups', 'Rows', 'Look', 'Ship', 'Source'],
  handOverAs: 'Hand over as',
  vite: 'TypeScript with Vite',
  seeTheCode: 'See the code',
  search: 'Search rows',
  rows: 'rows',
}
const OTHERS: readonly Spoken[] = [
  {
    tag: 'de',
    name: 'Deutsch',
    direction: 'ltr',
    shelf: 'Mit Zeilen beginnen',
    seeds: 'Saatgutbibliothek',
    open: 'Öffnen',
    stages: [
      'Spalten',
      'Suche',
      'Bedingungen',
      'Sortierung',
      'Gruppen',
      'Zeilen',
      'Aussehen',
      'Mitgeben',
      'Quelle',
    ],
    handOverAs: 'Mitgeben als',
    vite: 'TypeScript mit Vite',
    seeTheCode: 'Code ansehen',
    search: 'Zeilen durchsuchen',
    rows: 'Zeilen',
  },
  {
    tag: 'ar',
    name: 'العربية',
    direction: 'rtl',
    shelf: 'البدء من صفوف',
    seeds: 'مكتبة البذور',
    open: 'فتح',
    stages: ['الأعمدة', 'البحث', 'الشروط', 'الترتيب', 'المجموعات', 'الصفوف', 'المظهر', 'التسليم', 'المصدر'],
    handOverAs: 'التسليم على هيئة',
    vite: 'TypeScript مع Vite',
    seeTheCode: 'رؤية الشفرة',
    search: 'البحث في الصفوف',
    rows: 'صف',
  },
]

/** Fields of the seed library are called so in every language. */
const FIELDS = ['collected on', 'stock g']

/** Sentences and labels of several words that are in the page, and what is cut off by what it stands in. */
const said = (page: Page): Promise<{ texts: string[]; cut: string[] }> =>
  page.evaluate(() => {
    const [texts, cut] = [new Set<string>(), [] as string[]]
    for (const element of document.querySelectorAll<HTMLElement>(
      'main *, aside *, nav *, header *, footer *',
    )) {
      if (element.closest('option, svg title, .cm-editor') || element.getClientRects().length === 0) continue
      const own = [...element.childNodes].filter(node => node.nodeType === Node.TEXT_NODE)
      for (const text of [...own.map(node => node.nodeValue), element.ariaLabel, element.title])
        // Single words may be data as well.
        if (text && /[a-z]{2} [a-z]/.test(text)) texts.add(text.trim())
      const isCut = element.scrollWidth > element.clientWidth + 1 && element.clientWidth > 0
      if (isCut && element.matches('label, h2, h3, .v-btn__content, .section-title'))
        cut.push(element.textContent.trim())
    }
    return { texts: [...texts], cut }
  })

async function openSeeds(page: Page, { seeds, open, search, rows }: Spoken): Promise<void> {
  const card = page.getByRole('article').filter({ hasText: seeds })
  await card.getByRole('button', { name: open }).click()
  await expect(page.getByPlaceholder(search)).toBeVisible()
  await expect(page.locator('.foot .count')).toContainText(rows)
}

/** What stands in the shelf and in every panel, in a language. */
async function everywhere(
  page: Page,
  spoken: Spoken,
): Promise<Map<string, Awaited<ReturnType<typeof said>>>> {
  await expect(page.getByRole('heading', { name: spoken.shelf })).toBeVisible()
  const found = new Map([['shelf', await said(page)]])
  await openSeeds(page, spoken)
  for (const [nth, stage] of spoken.stages.entries()) {
    await page.getByRole('button', { name: stage }).first().click()
    await expect(page.getByRole('complementary', { name: stage })).toBeVisible()
    // Controls come group by group.
    await page.waitForTimeout(300)
    found.set(ENGLISH.stages[nth], await said(page))
  }
  return found
}

for (const spoken of OTHERS) {
  const { tag, name, direction, shelf } = spoken
  test(`the workshop and its grid speak ${name}, once it is chosen`, async ({ page }) => {
    await page.goto('/')
    await page.getByRole('combobox', { name: 'Language' }).selectOption({ label: name })
    await expect(page.getByRole('heading', { name: shelf })).toBeVisible()
    await expect(page.locator('html')).toHaveAttribute('lang', tag)
    await expect(page.locator('html')).toHaveAttribute('dir', direction)
    const here = await everywhere(page, spoken)
    await expect(page.locator('.meadow')).toHaveCSS('direction', direction)
    // What is said in English stands in English alone.
    await page.evaluate(() => localStorage.setItem('vast-meadow-language', 'en'))
    await page.goto('/')
    const english = await everywhere(page, ENGLISH)
    for (const [place, { texts, cut }] of here) {
      const there = english.get(place)?.texts ?? []
      expect(there.length, place).toBeGreaterThan(3)
      expect(
        texts.filter(text => there.includes(text) && !FIELDS.includes(text)),
        place,
      ).toEqual([])
      expect(cut, place).toEqual([])
    }
  })

  test(`what is handed over in ${name} says so, and keeps it after a reload`, async ({ page }) => {
    await page.addInitScript(chosen => localStorage.setItem('vast-meadow-language', chosen), tag)
    await page.goto('/')
    await openSeeds(page, spoken)
    await page.getByRole('button', { name: spoken.stages[7] }).click()
    await new Workshop(page).choose(spoken.handOverAs, spoken.vite)
    await page.getByRole('button', { name: spoken.seeTheCode }).click()
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
  await openSeeds(page, ENGLISH)
  await page.getByPlaceholder('Search rows').fill('meadow')
  const passing = page.locator('.foot .count')
  await expect(passing).toContainText('of 1,200 rows')
  const before = (await passing.textContent())?.match(/[\d,]+ of/)?.[0].replace(' of', '')
  await page.getByRole('button', { name: 'Look' }).click()
  await new Workshop(page).choose('Language of the grid', 'Deutsch')
  await expect(page.getByPlaceholder('Zeilen durchsuchen')).toHaveValue('meadow')
  await expect(passing).toContainText(`${before} von 1.200 Zeilen`)
})
