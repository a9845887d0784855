// The renderer beside the bare loop: main-thread time per step from the browser's own trace, mount, elements.
import { fileURLToPath } from 'node:url'
import { openBrowser } from '../browser.mjs'
import { median, p95, round3 } from '../measure.mjs'

const FRAMES = 24
const AMONG_HEADS = 'wheel step of 100 px among stacked heads'
const EDGE = 'edge dragged among 1,000 columns, beside 10'
const MAP = 'length map over all rows in a worker, beside a bare pass'
const KINDS = {
  wheel: 'wheel step of 100 px',
  page: 'page flip',
  jump: 'random jump',
  column: 'step of one column',
}

/** Main-thread time of each animation frame's work, from trace events, in ms. */
async function traced(cdp, page, kind) {
  const events = []
  const collect = ({ value }) => events.push(...value)
  cdp.on('Tracing.dataCollected', collect)
  await cdp.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: {
      includedCategories: ['toplevel', 'devtools.timeline', 'disabled-by-default-devtools.timeline'],
    },
  })
  await page.evaluate(([kind, frames]) => window.steps(kind, frames), [kind, FRAMES])
  const done = new Promise(resolve => cdp.once('Tracing.tracingComplete', resolve))
  await cdp.send('Tracing.end')
  await done
  cdp.off('Tracing.dataCollected', collect)
  return perStep(events)
}

const WORK = new Set([
  'FunctionCall',
  'UpdateLayoutTree',
  'Layout',
  'PrePaint',
  'Paint',
  'Layerize',
  'Commit',
  'EventDispatch',
  'FireAnimationFrame',
])

function perStep(events) {
  const main = events.find(event => event.name === 'FireAnimationFrame')
  const mine = events.filter(
    e => e.pid === main.pid && e.tid === main.tid && e.ph === 'X' && WORK.has(e.name),
  )
  mine.sort((a, b) => a.ts - b.ts || b.dur - a.dur)
  // Nested events are counted once, by the outermost.
  let end = 0
  let total = 0
  let script = 0
  for (const event of mine) {
    if (event.ts >= end) {
      total += event.dur
      end = event.ts + event.dur
      if (event.name === 'EventDispatch' && event.args?.data?.type === 'scroll') script += event.dur
    }
  }
  return { total: total / 1000 / FRAMES, script: script / 1000 / FRAMES }
}

/** `rows`: of the table that is ordered while the page is watched. */
export async function renderBench(rounds, rows = 1_000_000) {
  const entry = fileURLToPath(new URL('render-entry.mjs', import.meta.url))
  const worker = fileURLToPath(new URL('engine-worker.mjs', import.meta.url))
  const { page, close } = await openBrowser({ render: entry, worker })
  await page.evaluate(() => import('/render.js'))
  const cdp = await page.context().newCDPSession(page)
  const results = {}
  const mounts = { bare: [], meadow: [], mix: [] }
  for (const [kind, name] of Object.entries(KINDS)) {
    const totals = { bare: [], meadow: [], mix: [] }
    const scripts = []
    for (let round = 0; round < rounds; round++) {
      for (const which of ['bare', 'meadow', 'mix']) {
        await page.evaluate(which => window.mount(which), which)
        await page.waitForTimeout(200)
        const { total, script } = await traced(cdp, page, kind)
        totals[which].push(total)
        if (which === 'meadow') scripts.push(script)
      }
    }
    results[name] = figures(totals)
    results[name].scriptMs = round3(median(scripts))
    console.error(
      `  render ${name}: ${results[name].meadow.ratio}× (${results[name].meadow.median} ms, script ${results[name].scriptMs} ms)`,
    )
  }
  const heads = { bareHeads: [], grouped: [] }
  for (let round = 0; round < rounds; round++) {
    for (const which of Object.keys(heads)) {
      await page.evaluate(which => window.mount(which), which)
      await page.waitForTimeout(800)
      heads[which].push((await traced(cdp, page, 'wheel')).total)
    }
  }
  results[AMONG_HEADS] = figures({ bare: heads.bareHeads, meadow: heads.grouped })
  console.error(`  render ${AMONG_HEADS}: ${results[AMONG_HEADS].meadow.ratio}×`)
  const edges = { columns10: [], columns1000: [] }
  for (let round = 0; round < rounds; round++) {
    for (const which of Object.keys(edges)) {
      await page.evaluate(which => window.mount(which), which)
      await page.waitForTimeout(400)
      edges[which].push((await traced(cdp, page, 'edge')).total)
    }
  }
  results[EDGE] = figures({ bare: edges.columns10, meadow: edges.columns1000 })
  console.error(`  render ${EDGE}: ${results[EDGE].meadow.ratio}×`)
  const map = await page.evaluate(rows => window.lengthMap(rows), rows)
  results[MAP] = figures({ bare: map.bare, meadow: map.ours })
  console.error(`  render ${MAP}: ${results[MAP].meadow.ratio}× (${results[MAP].meadow.median} ms)`)
  // Apart from the steps: the tracing of those leaves work behind that falls into whatever is mounted next.
  for (let round = 0; round < rounds * 6; round++) {
    for (const which of ['bare', 'meadow', 'mix']) {
      mounts[which].push(await page.evaluate(which => window.mount(which), which))
      await page.waitForTimeout(60)
    }
  }
  results['mount to painted'] = figures(mounts)
  console.error(`  render mount: ${results['mount to painted'].meadow.ratio}×`)
  results.elements = await page.evaluate(() => ({
    meadow: document.body.firstChild.shadowRoot.querySelectorAll('*').length,
  }))
  results.longestScriptMs = round3(await page.evaluate(rows => window.longestTask(rows), rows))
  console.error(`  render longest script while ${rows} rows are ordered: ${results.longestScriptMs} ms`)
  await close()
  return results
}

function figures({ bare, meadow, mix }) {
  const beside = times => {
    const ratios = times.map((ms, i) => ms / bare[i])
    return {
      median: round3(median(times)),
      p95: round3(p95(times)),
      ratio: round3(median(ratios)),
      ratioP95: round3(p95(ratios)),
    }
  }
  return {
    bare: { median: round3(median(bare)), p95: round3(p95(bare)), ratio: 1 },
    meadow: beside(meadow),
    ...(mix && { mix: beside(mix) }),
  }
}
