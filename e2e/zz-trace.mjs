import { chromium } from 'playwright-core'
import { readFileSync } from 'node:fs'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const page = await (await browser.newContext()).newPage()
await page.goto('http://localhost:4999/')
await page.getByText('Start from rows').waitFor()
await page.waitForTimeout(2500)
await page.evaluate(() => {
  document.addEventListener('change', () => performance.mark('T0'), { capture: true, once: true })
  const find = root => { for (const e of root.querySelectorAll('*')) { if (e.getAttribute?.('role') === 'gridcell' && e.textContent.trim()) return e; if (e.shadowRoot) { const f = find(e.shadowRoot); if (f) return f } } return null }
  const look = () => { if (location.pathname.startsWith('/grid') && find(document)) { performance.mark('CELL'); return } requestAnimationFrame(look) }
  requestAnimationFrame(look)
})
await page.mouse.move(600, 400); await page.waitForTimeout(700); await browser.startTracing(page, { path: '/tmp/w/trace.json', categories: ['devtools.timeline', 'blink.user_timing', 'disabled-by-default-v8.cpu_profiler', 'toplevel', 'v8'] })
await page.locator('input[type=file]').first().setInputFiles('/tmp/w/big.csv')
await page.waitForTimeout(2500)
await browser.stopTracing()
await browser.close()
const { traceEvents: ev } = JSON.parse(readFileSync('/tmp/w/trace.json', 'utf8'))
const names = {}
for (const e of ev) if (e.name === 'thread_name') names[e.pid + ':' + e.tid] = e.args.name
const t0 = ev.find(e => e.name === 'T0').ts, cell = ev.find(e => e.name === 'CELL').ts
console.log('cell after', (cell - t0) / 1000)
const interesting = ev.filter(e => e.ph === 'X' && e.ts >= t0 - 1000 && e.ts < cell && e.dur > 4000 && /RunTask|EvaluateScript|FunctionCall|v8.compile|CompileScript|Layout$|UpdateLayoutTree|GCEvent|Paint|ParseHTML|EvaluateModule|MinorGC|MajorGC/.test(e.name))
interesting.sort((a, b) => a.ts - b.ts)
for (const e of interesting) console.log(((e.ts - t0) / 1000).toFixed(0).padStart(5), (e.dur / 1000).toFixed(1).padStart(6), (names[e.pid + ':' + e.tid] ?? '?').padEnd(24), e.name, e.args?.data?.functionName ?? '', (e.args?.data?.url ?? '').split('/').pop())
