import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

const CSV = `plot,cover,seen,state,site name\n${Array.from({ length: 40 }, (_, i) => `P-${i},${(i * 7) % 50}.5,2024-0${(i % 9) + 1}-15,${['seen', 'lost', 'doubtful'][i % 3]},Site ${i % 4}`).join('\n')}\n`

async function open(page: Page): Promise<Workshop> {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', CSV)
  await workshop.ready()
  return workshop
}

/** Types into a field that takes effect when it is left. */
async function settle(workshop: Workshop, label: string, text: string): Promise<void> {
  const field = workshop.panel.getByLabel(label, { exact: true })
  await field.fill(text)
  await field.press('Tab')
}

test('what is known of a column is counted anew when it is written otherwise, and nothing goes wrong unseen', async ({
  page,
}) => {
  const wrong: string[] = []
  page.on('console', message => message.type() === 'error' && wrong.push(message.text()))
  page.on('pageerror', error => wrong.push(error.message))
  const workshop = await open(page)
  await workshop.header('Cover').click()
  await expect(workshop.panel.locator('p.figure')).toContainText('0.5 to 49.5')
  await settle(workshop, 'Decimals', '3')
  await expect(workshop.panel.locator('p.figure')).toContainText('0.500 to 49.500')
  expect(wrong).toEqual([])
})

test('a column is added in one act and then orders, searches and narrows like any other', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.openPanel('Columns')
  await workshop.panel.getByRole('button', { name: 'Add a computed column' }).click()
  const expression = workshop.panel.getByLabel('Expression', { exact: true })
  await expression.fill('cover > 20.0 ? "dense" : "open"')
  await expect(workshop.panel.getByText('gives text')).toBeVisible()
  await settle(workshop, 'Title', 'Stand')
  await expect(workshop.header('Stand')).toBeVisible()
  await expect
    .poll(() => workshop.texts('Stand').then(texts => texts.slice(0, 4)))
    .toEqual(['open', 'open', 'open', 'dense'])
  await expect(workshop.panel.locator('.examples li')).toHaveText(['open', 'open', 'open', 'dense', 'dense'])
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('dense')
  const dense = Array.from({ length: 40 }, (_, i) => ((i * 7) % 50) + 0.5).filter(cover => cover > 20).length
  await expect(page.locator('.foot .count')).toContainText(`${dense} of 40 rows`)
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('')
  await workshop.header('Stand').click()
  await expect.poll(() => workshop.texts('Stand').then(texts => texts[0])).toBe('dense')
  // It is part of what is saved, and of what is undone.
  for (let steps = 0; steps < 8 && (await page.getByRole('columnheader').count()) > 6; steps++) {
    await page.getByRole('button', { name: /^Undo/ }).click()
    await page.waitForTimeout(400)
  }
  await expect(page.getByRole('columnheader')).toHaveCount(6)
})

/** The list of completions takes no key in the moment in which it opens, so that nothing is taken by mistake. */
const LIST_OPENED_MS = 150

test('an expression is completed while it is written, and what is wrong is shown at its place', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.openPanel('Columns')
  await workshop.panel.getByRole('button', { name: 'Add a computed column' }).click()
  const expression = workshop.panel.getByLabel('Expression', { exact: true })
  await expression.fill('')
  await expression.pressSequentially('cov')
  await expect(page.getByRole('option', { name: 'cover number' })).toBeVisible()
  await page.waitForTimeout(LIST_OPENED_MS)
  await page.keyboard.press('Enter')
  await expect(expression).toHaveText('cover')
  await expression.pressSequentially(' > 2 ? state.upp')
  await expect(page.getByRole('option').first()).toBeVisible()
  await page.waitForTimeout(LIST_OPENED_MS)
  await page.keyboard.press('Tab')
  await expect(expression).toHaveText('cover > 2 ? state.upper(')
  await expect(workshop.panel.locator('.told')).toContainText('This ( is not closed')
  await expression.pressSequentially(') : stte')
  await expect(workshop.panel.locator('.cm-lintRange-error')).toHaveText('stte')
  await expect(workshop.panel.locator('.told')).toContainText(
    'There is no field “stte”. Did you mean “state”?',
  )
  await page.keyboard.press('Escape')
  await expression.press('Backspace')
  await expression.press('Backspace')
  await expression.press('Backspace')
  await expression.pressSequentially('ite')
  await expect(page.getByRole('option')).toHaveText(['site name text'])
  await page.waitForTimeout(LIST_OPENED_MS)
  await page.keyboard.press('Enter')
  await expect(expression).toHaveText('cover > 2 ? state.upper() : row["site name"]')
})

test('settings show at once in the grid and in examples from the data', async ({ page }) => {
  const workshop = await open(page)
  await workshop.header('Cover').click()
  await expect(workshop.panel.getByRole('heading', { name: 'Cover' })).toBeVisible()
  await workshop.choose('Numbers', 'currency')
  await expect(workshop.panel.locator('.examples li').first()).toHaveText('€0.50')
  await settle(workshop, 'Decimals', '0')
  await expect(workshop.panel.locator('.examples li').nth(1)).toHaveText(/^€\d+$/)
  await workshop.choose('Drawn as', 'bar')
  await expect(page.locator('.bar-in-cell').first()).toBeVisible()
  await settle(workshop, 'Help at the heading', 'Share of the ground')
  await expect(workshop.header('Cover')).toHaveAttribute('title', 'Share of the ground')
  await settle(workshop, 'At most, px', '150')
  await settle(workshop, 'Width, px', '180')
  // What is dragged in the grid shows in the panel, and keeps to the limit.
  const grip = await workshop.header('Cover').locator('.grip').boundingBox()
  await page.mouse.move(grip!.x + 4, grip!.y + 10)
  await page.mouse.down()
  await page.mouse.move(grip!.x + 90, grip!.y + 10, { steps: 4 })
  await page.mouse.up()
  await expect(workshop.panel.getByLabel('Width, px')).toHaveValue('150')
  await workshop.header('Seen').click()
  await workshop.choose('Dates', 'long')
  await expect(workshop.panel.locator('.examples li').first()).toHaveText('Monday, 15 January 2024')
  await workshop.panel.getByRole('button', { name: 'Remove the column' }).click()
  await expect(workshop.header('Seen')).toHaveCount(0)
  await workshop.panel.getByRole('button', { name: 'Add a column for seen' }).click()
  await expect(workshop.header('Seen')).toHaveCount(1)
})

test('several columns are changed at once, each told by what it holds', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Columns')
  await expect(
    workshop.panel.getByRole('img', { name: '0.5 to 49.5, 40 different, none missing' }),
  ).toBeVisible()
  await expect(workshop.panel.getByRole('img', { name: '3 different, none missing' })).toBeVisible()
  await workshop.panel.getByRole('button', { name: 'Change several' }).click()
  await workshop.panel.getByRole('checkbox', { name: 'Pick State' }).check()
  await workshop.panel.getByRole('checkbox', { name: 'Pick Seen' }).check()
  await workshop.panel.getByRole('button', { name: 'Hide' }).click()
  await expect(page.getByRole('columnheader')).toHaveText(['', 'Plot', 'Cover', 'Site name'])
  await workshop.panel.getByRole('button', { name: 'Show', exact: true }).click()
  await workshop.panel.getByRole('button', { name: 'Pin at the start', exact: true }).click()
  await expect(page.getByRole('columnheader')).toHaveText(['', 'State', 'Seen', 'Plot', 'Cover', 'Site name'])
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.getByRole('columnheader').nth(1)).toHaveText('Plot')
})

test('style rules tell how many rows they touch, and the look takes effect', async ({ page }) => {
  const workshop = await open(page)
  await workshop.openPanel('Look')
  await workshop.panel.getByRole('button', { name: 'Add a style rule' }).click()
  await expect(workshop.panel.locator('.touched')).toHaveText('40 rows')
  await workshop.panel.getByLabel('In rows where').fill('state == "lost"')
  await expect(workshop.panel.locator('.touched')).toHaveText('13 rows')
  await workshop.panel.getByRole('button', { name: 'struck' }).click()
  const lost = page.locator('.body .row', { hasText: 'lost' }).first()
  await expect(lost).toHaveClass(/when-0/)
  await expect(lost).toHaveCSS('text-decoration-line', 'line-through')
  await workshop.panel.getByLabel('In rows where').fill('state')
  await expect(workshop.panel.locator('.told')).toContainText('must be yes or no')
  await expect(lost).toHaveClass(/when-0/)
  const height = () =>
    page
      .locator('.body .row:not([hidden])')
      .first()
      .evaluate(row => row.getBoundingClientRect().height)
  await workshop.choose('Rows are as high as', 'roomy')
  await expect.poll(height).toBe(40)
  await workshop.panel.getByRole('checkbox', { name: 'Show rows in pages' }).check()
  await settle(workshop, 'Rows on a page', '15')
  await expect(page.getByRole('navigation', { name: 'Pages' })).toContainText('of 3')
  // Too pale to be read is said so.
  await workshop.panel
    .getByLabel('moss on light paper', { exact: false })
    .evaluate((input: HTMLInputElement) => {
      input.value = '#a0e0c0'
      input.dispatchEvent(new Event('change', { bubbles: true }))
    })
  await expect(workshop.panel.getByText(/low$/)).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(workshop.panel.getByText(/low$/)).toHaveCount(0)
})

test('the frame shows the grid as a card, as a phone, and at any size dragged', async ({ page }) => {
  const workshop = await open(page)
  const size = () => page.locator('.frame').evaluate(frame => [frame.clientWidth + 2, frame.clientHeight + 2])
  const whole = await size()
  await page.getByRole('group', { name: 'Frame' }).getByRole('button', { name: 'phone' }).click()
  expect(await size()).toEqual([360, 640])
  await page.getByRole('group', { name: 'Frame' }).getByRole('button', { name: 'card' }).click()
  expect(await size()).toEqual([560, 350])
  const corner = page.getByRole('button', { name: /Frame of/ })
  const box = await corner.boundingBox()
  await page.mouse.move(box!.x + 8, box!.y + 8)
  await page.mouse.down()
  await page.mouse.move(box!.x - 92, box!.y + 58, { steps: 3 })
  await page.mouse.up()
  expect(await size()).toEqual([460, 400])
  await corner.focus()
  await page.keyboard.press('ArrowRight')
  expect(await size()).toEqual([470, 400])
  await page.getByRole('group', { name: 'Frame' }).getByRole('button', { name: 'page' }).click()
  expect(await size()).toEqual(whole)
  await expect(workshop.header('Cover')).toBeVisible()
})
