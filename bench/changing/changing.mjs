// Rows that are typed into and rows that change by themselves: keystroke to paint, a paste of many cells, streams.
import { fileURLToPath } from 'node:url'
import { openBrowser } from '../browser.mjs'
import { median, p95, round3 } from '../measure.mjs'

const RATES = [1000, 10_000, 50_000]
const at = name => fileURLToPath(new URL(name, import.meta.url))

export async function changingBench({ rows = 1_000_000, seconds = 6, pasted = 16_700, keys = 30 } = {}) {
  const { page, close } = await openBrowser({
    changing: at('changing-entry.mjs'),
    worker: at('../render/engine-worker.mjs'),
  })
  await page.evaluate(() => import('/changing.js'))
  const results = { rows }

  const typed = async () => {
    await page.evaluate(() => window.timeKeys())
    for (let i = 0; i < keys; i++) {
      await page.keyboard.press('7')
      await page.waitForTimeout(40)
    }
    return await page.evaluate(() => window.keyTimes)
  }
  await page.evaluate(() => window.mountField())
  const bareKeys = await typed()
  await page.evaluate(rows => window.mountRows(rows, true), rows)
  const cell = page.locator('.body .row:not(.group):not([hidden]) .cell:not(:has(> .box))').nth(4)
  await cell.click()
  await page.keyboard.press('7')
  await page.locator('.edit-field').waitFor()
  const ourKeys = await typed()
  await page.evaluate(() => window.timeKeys())
  for (let i = 0; i < keys / 3; i++) {
    await page.keyboard.press('Escape')
    await page.keyboard.press('Enter')
    await page.keyboard.press('5')
    await page.keyboard.press('Enter')
    await page.waitForTimeout(120)
  }
  const onward = await page.evaluate(() => window.keyTimes)
  results['keystroke to paint'] = {
    bare: figures(bareKeys),
    meadow: { ...figures(ourKeys), ratio: round3(median(ourKeys) / median(bareKeys)) },
    onward: figures(onward),
  }
  console.error(`  changing keystroke: ${results['keystroke to paint'].meadow.ratio}× of a bare field`)

  await page.evaluate(rows => window.mountRows(rows, false), rows)
  await page.locator('.body .row:not([hidden]) .cell:not(:has(> .box))').nth(4).click()
  const paste = await page.evaluate(rows => window.paste(rows, 6), pasted)
  results['paste'] = Object.fromEntries(Object.entries(paste).map(([name, value]) => [name, round3(value)]))
  console.error(
    `  changing paste of ${paste.cells} cells: ${round3(paste.ours)} ms, longest task ${round3(paste.longest)} ms`,
  )

  const cdp = await page.context().newCDPSession(page)
  results.streams = {}
  for (const rate of RATES) {
    await page.evaluate(rows => window.mountRows(rows, true), rows)
    const { told, busy } = await traced(cdp, () =>
      page.evaluate(([rows, rate, seconds]) => window.stream(rows, rate, seconds), [rows, rate, seconds]),
    )
    results.streams[rate] = {
      sent: told.sent,
      lost: told.lost,
      latency: figures(told.latencies),
      late: round3(told.late / told.frames),
      shownMs: round3(told.shownMs),
      ...busy,
    }
    console.error(`  changing ${rate} a second: ${JSON.stringify(results.streams[rate])}`)
  }
  await close()
  return results
}

const figures = times => ({ median: round3(median(times)), p95: round3(p95(times)) })

/** Runs something and tells how busy the page's main thread and its workers were meanwhile, from 0 to 1. */
async function traced(cdp, work) {
  const events = []
  const collect = ({ value }) => events.push(...value)
  cdp.on('Tracing.dataCollected', collect)
  await cdp.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['toplevel', 'devtools.timeline', '__metadata'] },
  })
  const started = performance.now()
  const told = await work()
  const wall = performance.now() - started
  const done = new Promise(resolve => cdp.once('Tracing.tracingComplete', resolve))
  await cdp.send('Tracing.end')
  await done
  cdp.off('Tracing.dataCollected', collect)
  const names = new Map(
    events.filter(e => e.name === 'thread_name').map(e => [`${e.pid} ${e.tid}`, e.args.name]),
  )
  const share = wanted => {
    const byThread = new Map()
    for (const { name, ph, pid, tid, dur = 0 } of events) {
      const thread = `${pid} ${tid}`
      if (ph !== 'X' || !name.endsWith('RunTask') || !wanted(names.get(thread) ?? '')) continue
      byThread.set(thread, (byThread.get(thread) ?? 0) + dur / 1000)
    }
    return round3(Math.max(0, ...byThread.values()) / wall)
  }
  return {
    told,
    busy: {
      page: share(name => name === 'CrRendererMain'),
      worker: share(name => name.startsWith('DedicatedWorker')),
    },
  }
}
