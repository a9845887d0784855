import { expect, test, type Page } from '@playwright/test'
import { violations } from '../support/axe.ts'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Every editor by keyboard alone, as assistive technology is told of it, light and dark.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 30 }, (_, id) => ({
  id,
  word: `word ${id}`,
  story: `once ${id}`,
  size: id / 2,
  kind: ['ash', 'elm'][id % 2],
  day: '2024-05-06',
  at: '2024-05-06T07:08',
  clock: '09:30',
  sure: id % 2 === 0,
  tags: ['a', 'b'],
}))
/** By column: its editor, the role that is told, and a text that is taken. */
const EDITORS = [
  ['word', 'text', 'textbox', 'tree'],
  ['story', 'long-text', 'textbox', 'long'],
  ['size', 'number', 'textbox', '12.5'],
  ['kind', 'choice', 'combobox', 'ash'],
  ['day', 'date', 'textbox', '2024-12-24'],
  ['at', 'datetime', 'textbox', '2024-12-24 08:09'],
  ['clock', 'time', 'textbox', '10:11'],
  ['sure', 'truth', 'combobox', 'yes'],
  ['tags', 'tags', 'combobox', 'a, c'],
] as const
const CHOICES: Record<string, string[]> = { kind: ['ash', 'elm'], tags: ['a', 'b', 'c'] }
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Words',
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', width: 60 },
    ...EDITORS.map(([key, editor]) => ({
      key,
      title: key,
      width: 120,
      edit: { editor, ...(CHOICES[key] && { choices: CHOICES[key] }) },
    })),
  ],
  editing: { newRows: 'head', remove: true, leaving: false },
}
const open = async (page: Page): Promise<void> => {
  await mountBare(page, served.url, {
    rows: ROWS,
    columns: { tags: { type: 'tags' } },
    definition: DEFINITION,
  })
}

for (const dark of [false, true])
  test(`every editor is told by its name and left as it was taken, by keyboard alone (${dark ? 'dark' : 'light'})`, async ({
    page,
  }) => {
    if (dark) await page.emulateMedia({ colorScheme: 'dark' })
    await open(page)
    await page.locator('.body .row[aria-rowindex="3"] .cell:not(:has(> .box))').first().click()
    for (const [nth, [key, , role, text]] of EDITORS.entries()) {
      await page.keyboard.press('ArrowRight')
      await page.keyboard.press('F2')
      const field = page.getByRole(role, { name: `${key} of 1`, exact: true })
      await expect(field, key).toBeFocused()
      if (role === 'combobox') {
        await expect(field).toHaveAttribute('aria-expanded', 'true')
        await expect(page.getByRole('option').first()).toBeVisible()
      }
      expect(await violations(page, '#grid'), key).toEqual([])
      await page.keyboard.press('Escape')
      await page.keyboard.press('Escape')
      await expect(field).toHaveCount(0)
      await expect(page.locator('.cell:focus')).toHaveAttribute('aria-colindex', String(nth + 3))
      await page.keyboard.press('F2')
      await page.keyboard.press('ControlOrMeta+a')
      await page.keyboard.type(text)
      await page.keyboard.press('Shift+Enter')
      if (key === 'story') await page.keyboard.press('Enter')
      await page.keyboard.press(key === 'story' ? 'ArrowUp' : 'ArrowDown')
      const cell = page.locator(`.body .row[aria-rowindex="3"] [aria-colindex="${nth + 3}"]`)
      await expect(cell, key).toContainText(text)
      await expect(cell).toHaveAttribute('aria-description', /^Before:/)
      await expect(cell).toBeFocused()
    }
    // What is wrong, conflicts, what is listed and what is asked.
    await page.keyboard.press('Home')
    await page.keyboard.press('ArrowRight')
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight')
    await page.keyboard.type('many')
    await page.keyboard.press('Enter')
    expect(await violations(page, '#grid'), 'marks').toEqual([])
    await page.getByRole('button', { name: 'List' }).click()
    expect(await violations(page, '#grid'), 'list').toEqual([])
    await page.keyboard.press('Escape')
    await page.locator('.body .row[aria-rowindex="5"] .cell').nth(2).click({ button: 'right' })
    await page.getByRole('menuitem', { name: 'Replace in word' }).click()
    await page.getByLabel('Put instead').fill('x')
    await expect(page.getByRole('dialog')).toContainText('will change')
    expect(await violations(page, '#grid'), 'replace').toEqual([])
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Discard all' }).click()
    expect(await violations(page, '#grid'), 'question').toEqual([])
  })

test('what an input method composes is its own until it is done', async ({ page }) => {
  await open(page)
  await page.locator('.body .row[aria-rowindex="3"] .cell:not(:has(> .box))').nth(1).click()
  await page.keyboard.press('F2')
  const field = page.getByRole('textbox', { name: 'word of 1', exact: true })
  await expect(field).toBeFocused()
  await page.keyboard.press('ControlOrMeta+a')
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Input.imeSetComposition', { text: 'か', selectionStart: 1, selectionEnd: 1 })
  // Enter takes what is composed, it does not leave the cell.
  await field.dispatchEvent('keydown', { key: 'Enter', isComposing: true, bubbles: true })
  await expect(field).toBeFocused()
  await cdp.send('Input.insertText', { text: '花' })
  await expect(field).toHaveValue('花')
  await page.keyboard.press('Enter')
  await expect(page.locator('.body .row[aria-rowindex="3"] [aria-colindex="3"]')).toHaveText('花')
})

test('the calendar of a day opens by pointer and by key, and gives what was picked back to the text', async ({
  page,
}) => {
  await page.addInitScript(() => {
    HTMLInputElement.prototype.showPicker = function () {
      // Pickers are the browser's own and no page sees them: this one picks at once.
      this.value = this.type === 'date' ? '2030-01-02' : '2030-01-02T03:04'
      this.dispatchEvent(new Event('change'))
    }
  })
  await open(page)
  const cell = (nth: number) => page.locator(`.body .row[aria-rowindex="3"] [aria-colindex="${nth}"]`)
  await cell(7).dblclick()
  await page.getByRole('button', { name: 'Pick a day', includeHidden: true }).click()
  await expect(page.locator('.edit-field')).toHaveValue('2030-01-02')
  await expect(page.locator('.edit-field')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(cell(7)).toHaveText('2030-01-02')
  await cell(8).dblclick()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.locator('.edit-field')).toHaveValue('2030-01-02 03:04')
  await page.keyboard.press('Enter')
  await expect(cell(8)).toContainText('2030-01-02 03:04')
})

test.describe('by touch', () => {
  test.use({ hasTouch: true, viewport: { width: 360, height: 640 } })
  test('a second tap opens the editor, with the keyboard that fits', async ({ page }) => {
    await open(page)
    const cell = page.locator('.body .row[aria-rowindex="3"] [aria-colindex="3"]')
    await cell.dblclick()
    await expect(page.locator('.edit-field')).toBeFocused()
    await expect(page.locator('.edit-field')).toHaveAttribute('enterkeyhint', 'done')
    await page.keyboard.press('Escape')
    await page.locator('.scroller').evaluate(scroller => (scroller.scrollLeft = 220))
    await page.waitForTimeout(200)
    await page.locator('.body .row[aria-rowindex="3"] [aria-colindex="5"]').dblclick()
    await expect(page.locator('.edit-field')).toHaveAttribute('inputmode', 'decimal')
  })
})
