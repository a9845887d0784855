import { mount, page, done } from './ed.mjs'
await mount()
const cdp = await page.context().newCDPSession(page)
const rate = Number(process.argv[2] ?? 6)
await cdp.send('Emulation.setCPUThrottlingRate', { rate })
const cell = (line, nth) => page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(nth)
await page.evaluate(() => {
  window.log = []
  const root = [...document.querySelectorAll('*')].map(e => e.shadowRoot).find(Boolean)
  const name = e => !e ? 'null' : e.className + '#' + (e.closest?.('.row')?.ariaRowIndex ?? '') + ':' + (e.ariaColIndex ?? '')
  for (const t of ['focusin', 'focusout']) root.addEventListener(t, e => window.log.push(`${performance.now() | 0} ${t} ${name(e.target)} <-> ${name(e.relatedTarget)}`), true)
  window.active = () => name(root.activeElement) + ' / ' + document.activeElement.tagName
})
let bad = 0
for (let i = 0; i < Number(process.argv[3] ?? 20); i++) {
  await page.evaluate(() => { window.log.length = 0 })
  await cell(2, 3).click()
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Delete')
  await page.waitForFunction(() => window.handle.pendingCounts.cells > 0)
  await page.evaluate(() => { window.handle.undo() })
  await cell(2, 3).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Fill down from the first' }).click()
  await page.waitForFunction(() => window.handle.pendingCounts.cells > 0)
  const a = await page.evaluate(() => window.active())
  await page.keyboard.type('9')
  await page.waitForTimeout(300)
  const open = await page.locator('.edit-field').count()
  if (!/^cell/.test(a) || !open) { bad++; console.log(i, a, open, await page.evaluate(() => [window.log, window.active()])) }
  await page.keyboard.press('Escape')
  await page.evaluate(() => { window.handle.discardChanges() })
  await page.waitForTimeout(100)
}
console.log('bad', bad)
await done()
