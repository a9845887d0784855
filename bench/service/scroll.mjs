// Scrolls through rows that the server has, with 50 ms of line between: the share of lines that are not there when shown.
import { fileURLToPath } from 'node:url'
import { serveTables } from '@vast-meadow/server'
import { openBrowser } from '../browser.mjs'
import { round3 } from '../measure.mjs'

const LATENCY_MS = 50
const SPEEDS = [1000, 3000, 12_000]
const ENTRY = fileURLToPath(new URL('scroll-entry.mjs', import.meta.url))

/** By px a second: lines in view over all frames, and the share of them that was not there. */
export async function scrollBench(engine, table, seconds = 6) {
  const handler = serveTables({ engine, tables: [{ name: table, key: ['sighting'] }], path: '/rows' })
  const { page, close } = await openBrowser(
    { scroll: ENTRY },
    {
      async answer(request) {
        await new Promise(resolve => setTimeout(resolve, LATENCY_MS))
        return await handler(request)
      },
    },
  )
  try {
    await page.evaluate(() => import('/scroll.js'))
    await page.evaluate(() => window.mountServed())
    const speeds = {}
    for (const speed of SPEEDS) {
      // Each begins where no line was read before.
      const from = 400_000 + speed * 40
      const told = await page.evaluate(
        ([speed, seconds, from]) => window.scrollAt(speed, seconds, from),
        [speed, seconds, from],
      )
      if (told.seen < told.frames * 10) throw new Error('the rows were not seen')
      speeds[speed] = { ...told, px: Math.round(told.px), share: round3(told.absent / told.seen) }
    }
    return { latencyMs: LATENCY_MS, speeds }
  } finally {
    await close()
  }
}
