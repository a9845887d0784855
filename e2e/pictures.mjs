// Takes the pictures in docs/screenshots from the demo data: `npm run pictures -w e2e`, after a build.
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { chromium } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))
const PORT = '4179'
const server = spawn(process.execPath, [`${root}workshop/.output/server/index.mjs`], {
  env: { ...process.env, PORT },
  stdio: 'ignore',
})
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  ignoreDefaultArgs: ['--hide-scrollbars'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })

async function reach(attempts = 40) {
  try {
    await page.goto(`http://localhost:${PORT}`)
  } catch (error) {
    if (attempts === 0) throw error
    await new Promise(resolve => setTimeout(resolve, 250))
    await reach(attempts - 1)
  }
}

async function picture(name) {
  await page.mouse.move(640, 795)
  await page.waitForTimeout(900)
  await page.screenshot({ path: `${root}docs/screenshots/${name}.png` })
}

const stage = title =>
  page
    .locator('.flow button')
    .filter({ has: page.locator('.title', { hasText: new RegExp(`^${title}$`) }) })
    .click()
const header = title => page.getByRole('columnheader', { name: title, exact: true })

async function choose(label, option) {
  await page.getByRole('complementary').getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: option, exact: true }).click()
}

async function open(title) {
  await page.goto(`http://localhost:${PORT}`)
  await page.getByRole('article').filter({ hasText: title }).getByRole('button').click()
  // Twenty million rows are made when they are opened for the first time.
  await page.locator('.body .row .cell').first().waitFor({ timeout: 600_000 })
}

/** Rows one by one. */
async function ungroup() {
  for (let left = 2; left > 0; left--) {
    await page.locator('.trail .lift').first().click()
    await page.waitForTimeout(700)
  }
}

await reach()
await open('Seed library')
await header('Germination %').click()
await header('Germination %').click()
await page.waitForTimeout(1200)
await picture('column')
await page.getByRole('button', { name: 'Close the panel' }).click()
await page.locator('.body .row:not([hidden]) .opener').nth(2).click()
await page.waitForTimeout(600)
await picture('seed-library')
await page.getByRole('button', { name: /finding/ }).click()
await picture('findings')
await open('Survey sightings')
await picture('source')
await ungroup()
await stage('Look')
await page.waitForTimeout(2500)
await picture('look')
await stage('Order')
await page.getByRole('searchbox', { name: 'Search rows' }).fill('lower')
await header('Cover %').click()
await header('Cover %').click()
await header('Seen on').click({ modifiers: ['Shift'] })
await stage('Conditions')
await choose('Add a condition on', 'Cover %')
await page.getByRole('complementary').getByRole('textbox', { name: 'from' }).fill('20')
await choose('Add a condition on', 'State')
await page.getByRole('checkbox', { name: /^seen/ }).check()
await page.getByRole('checkbox', { name: /^confirmed/ }).check()
await picture('conditions')
await header('Seen on').focus()
await page.keyboard.press('Alt+ArrowDown')
await page.getByRole('dialog').getByRole('textbox', { name: 'from' }).fill('2020')
await page.getByRole('dialog').getByRole('textbox', { name: 'to', exact: true }).fill('2023-06')
await picture('card')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: /^Lift: Seen on/ }).click()
await page.locator('.body .cell').filter({ hasText: 'Lower' }).nth(2).click({ button: 'right' })
await page.getByRole('menuitem', { name: 'Why is this here?' }).click()
await page.getByRole('button', { name: 'charts' }).click()
await page.mouse.move(900, 400)
for (let i = 0; i < 12; i++) {
  await page.mouse.wheel(0, 400)
  await page.waitForTimeout(60)
}
for (const text of ['low', 'lower w', 'lower withy', 'lower']) {
  await page.getByRole('searchbox', { name: 'Search rows' }).fill(text)
  await page.waitForTimeout(400)
}
await picture('trace-and-meters')
await page.getByRole('button', { name: 'charts' }).click()
await stage('Columns')
await page.waitForTimeout(4000)
await picture('columns')
await stage('Ship')
await page.getByRole('complementary').getByRole('combobox', { name: 'Hand over as' }).click({ force: true })
await page.getByRole('option', { name: 'React' }).click()
await page.getByRole('button', { name: 'Dark' }).click()
await page.getByRole('button', { name: 'See the code' }).click()
await picture('ship-dark')
await page.getByRole('button', { name: 'Close', exact: true }).click()
await page.getByRole('button', { name: 'Light' }).click()
await open('Survey sightings')
await page.getByRole('button', { name: 'Close the panel' }).click()
await page.waitForTimeout(1500)
for (const n of [2, 4, 5]) await page.locator('.body .block .row:not(.group):visible .box').nth(n).click()
await picture('groups')
await stage('Groups')
await page.waitForTimeout(1500)
await page.locator('.chart').scrollIntoViewIfNeeded()
await page.locator('.trail .what').nth(1).click()
await page.locator('.level-card .preview li').first().waitFor()
await picture('group-level')
await page.keyboard.press('Escape')
await open('Soil probes')
await page.getByRole('button', { name: 'Close the panel' }).click()
await page.locator('.scroller').evaluate(scroller => (scroller.scrollLeft = 420))
await page.getByRole('button', { name: 'Columns', exact: true }).last().click()
await picture('shared-headings')
await page.keyboard.press('Escape')
await open('Seed library')
await stage('Columns')
await page.getByRole('checkbox', { name: 'take back what they did by buttons in the bar' }).check()
await page.getByRole('checkbox', { name: 'keep arrangements by name, and share them' }).check()
await page.waitForTimeout(800)
await page.getByRole('button', { name: 'Use', exact: true }).click()
await header('Stock').click()
await page.waitForTimeout(600)
for (const nth of [1, 4]) {
  await page.locator('.body .block .row:visible').nth(nth).locator('.cell').nth(3).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Pin this row at the head' }).click()
  await page.waitForTimeout(300)
}
await page.locator('.body .block .row:visible .box').nth(6).click()
await page.getByRole('button', { name: 'Arrangement', exact: true }).click()
await picture('arrangement')
await page.keyboard.press('Escape')
await open('Seed library')
await stage('Rows')
await page.locator('.body .row .box').nth(2).click()
await page
  .locator('.body .row .box')
  .nth(5)
  .click({ modifiers: ['Shift'] })
{
  const cell = (row, column) =>
    page.locator(`.body .row[aria-rowindex="${row}"] [aria-colindex="${column}"]`).boundingBox()
  const [from, to] = [await cell(10, 6), await cell(14, 7)]
  await page.mouse.move(from.x + 40, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(to.x + 40, to.y + 10, { steps: 5 })
  await page.mouse.up()
}
await page.waitForTimeout(600)
await picture('selection')
await open('Ten million')
await page.locator('.body .cell').nth(1).click()
await page.keyboard.press('Control+End')
await picture('ten-million')
await page.goto(`http://localhost:${PORT}`)
await page.getByRole('link', { name: 'Ten million' }).waitFor()
await picture('shelf')
await open('Seed library')
await page.getByRole('button', { name: 'Use', exact: true }).click()
await page.waitForTimeout(600)
const seed = (line, text) =>
  page.locator(`.body .row[aria-rowindex="${line}"] .cell`).filter({ hasText: text }).first()
await seed(4, / g$/).click()
await page.keyboard.type('1250')
await page.keyboard.press('Enter')
await page.keyboard.type('a lot')
await page.keyboard.press('Enter')
await page.getByRole('button', { name: 'New row' }).click()
await page.keyboard.type('Marsh fern')
await page.keyboard.press('Enter')
await page.locator('.body .row:not(.new-row) .badge').nth(8).dblclick()
await picture('editing')

await open('Sightings on the server')
await page.locator('.foot .count').waitFor({ timeout: 600_000 })
await page.getByRole('searchbox', { name: 'Search rows' }).fill('orchid')
await page.locator('.foot .count').filter({ hasText: 'passing' }).waitFor({ timeout: 60_000 })
await header('Cover %').click()
await page.waitForTimeout(4000)
await page.locator('.scroller').evaluate(scroller => (scroller.scrollTop = scroller.scrollHeight / 2))
await page.waitForTimeout(6000)
await page.getByRole('button', { name: 'charts' }).click()
await picture('served')
await browser.close()
server.kill()
