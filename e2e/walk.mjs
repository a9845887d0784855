import { chromium } from 'playwright-core'
export const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'], ignoreDefaultArgs: ['--hide-scrollbars'] })
export const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.on('pageerror', e => console.log('PAGEERROR', e.message))
page.on('console', m => m.type() === 'error' && console.log('console', m.text().slice(0, 200)))
export const shot = name => page.screenshot({ path: `/tmp/w/w-${name}.png` })
export const panel = page.getByRole('complementary')
export const stage = title => page.locator('.flow button').filter({ has: page.locator('.title', { hasText: new RegExp(`^${title}$`) }) }).click()
export async function choose(label, option) { await panel.getByRole('combobox', { name: label }).first().click({ force: true }); await page.getByRole('option', { name: option, exact: true }).click() }
await page.goto('http://localhost:4999/')
await page.locator('input[aria-label="Choose a file"]').setInputFiles('/tmp/w/tickets.csv')
await page.locator('.body .row .cell').first().waitFor()
await page.waitForTimeout(1500)
