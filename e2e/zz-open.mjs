import { chromium } from 'playwright-core'
import { writeFileSync } from 'node:fs'
const rows = Number(process.argv[2] ?? 300000)
let s = 'id,name,place,seen,cover,height,note,state,day,count\n'
const parts = [s]
for (let i = 0; i < rows; i++) parts.push(`${i},plot ${i % 997},site-${i % 77},2024-0${1 + (i % 9)}-1${i % 10},${(i % 1000) / 10},${(i * 7) % 313},some longer note about ${i},${['seen', 'planned', 'gone'][i % 3]},2023-11-${10 + (i % 20)},${i % 12}\n`)
writeFileSync('/tmp/w/big.csv', parts.join(''))
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const page = await (await browser.newContext()).newPage()
await page.goto('http://localhost:4999/')
await page.getByText('Start from rows').waitFor()
await page.waitForTimeout(+(process.argv[3] ?? 2500))
for (let n = 0; n < 4; n++) {
  await page.evaluate(() => {
    window.marks = {}
    document.addEventListener('change', () => (window.marks.t0 = performance.now()), { capture: true, once: true })
    const look = () => {
      const grid = document.querySelector('vast-meadow, .frame') 
      const find = root => { for (const e of root.querySelectorAll('*')) { if (e.getAttribute?.('role') === 'gridcell' && e.textContent.trim()) return e; if (e.shadowRoot) { const f = find(e.shadowRoot); if (f) return f } } return null }
      window.marks.frames = (window.marks.frames ?? 0) + 1
      if (window.marks.t0 && location.pathname.startsWith('/grid') && !window.marks.route) window.marks.route = performance.now()
      if (window.marks.t0 && find(document)) { window.marks.cell = performance.now(); return }
      requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
  await page.mouse.move(600, 400 + n); await page.waitForTimeout(700)
  await page.locator('input[type=file]').first().setInputFiles('/tmp/w/big.csv')
  await page.waitForFunction(() => window.marks.cell, null, { polling: 200 })
  const m = await page.evaluate(() => ({ route: window.marks.route - window.marks.t0, cell: window.marks.cell - window.marks.t0, entries: performance.getEntriesByType('resource').filter(e => e.startTime > window.marks.t0).map(e => [e.name.split('/').pop().slice(0, 30), (e.startTime - window.marks.t0) | 0, (e.responseEnd - window.marks.t0) | 0]) }))
  console.log(n, 'route', m.route | 0, 'cell', m.cell | 0, JSON.stringify(m.entries.slice(0, 30)))
  await page.waitForTimeout(3000)
  await page.goto('http://localhost:4999/')
  await page.getByText('Start from rows').waitFor()
  await page.waitForTimeout(2500)
}
await browser.close()
