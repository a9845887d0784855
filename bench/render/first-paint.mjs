// The first paint of 10,000 rows from a cold page: script fetched, compiled and run, rows made, cells painted. The grid beside
// a bare table of the same window (only the lines in view are there, as in the grid).
import { build } from 'esbuild'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium } from 'playwright-core'
import { median, round3 } from '../measure.mjs'

const root = fileURLToPath(new URL('../..', import.meta.url))

const ROWS = `
const kinds = ['ash', 'elm', 'oak', 'yew']
export const columns = ['id', 'name', 'kind', 'height', 'seen', 'place', 'price', 'note']
export const rows = Array.from({ length: 10000 }, (_, id) => ({
  id, name: 'tree ' + id, kind: kinds[id % 4], height: id % 97 / 4, seen: id % 3 === 0,
  place: 'plot ' + id % 50, price: id * 7919 % 100000 / 100, note: 'note ' + id * 31 % 10007,
}))
export const painted = () => requestAnimationFrame(() => setTimeout(() => { window.paintedAt = performance.now() }))
`
const APPS = {
  meadow: `import { mountMeadow } from './packages/grid/dist/index.js'
import { rows, painted } from 'rows'
const handle = mountMeadow(document.querySelector('#grid'), { rows })
void handle.ready.then(painted)`,
  first: `import { mountFirst } from './packages/grid/dist/first/first.js'
import { rows, painted } from 'rows'
const coming = mountFirst(document.querySelector('#grid'), { rows })
painted()
void coming.then(grid => grid.ready).then(() => { window.readyAt = performance.now() })`,
  bare: `import { rows, columns, painted } from 'rows'
const table = document.createElement('table')
table.style.cssText = 'border-collapse:collapse;font:13px/1.35 sans-serif'
const line = (cells, tag) => { const tr = document.createElement('tr'); for (const text of cells) { const td = document.createElement(tag); td.style.cssText = 'height:30px;padding:0 10px;border-bottom:1px solid #eee;white-space:pre'; td.textContent = text; tr.append(td) } table.append(tr) }
line(columns, 'th')
const number = new Intl.NumberFormat()
for (const row of rows.slice(0, Math.ceil(innerHeight / 31))) line(columns.map(key => typeof row[key] === 'number' ? number.format(row[key]) : String(row[key])), 'td')
document.querySelector('#grid').append(table)
painted()`,
}

async function bundle(contents) {
  const { outputFiles } = await build({
    stdin: { contents, resolveDir: root, sourcefile: 'app.js' },
    bundle: true,
    minify: true,
    format: 'esm',
    splitting: true,
    write: false,
    outdir: join(root, '.cache/first-paint'),
    legalComments: 'none',
    plugins: [
      {
        name: 'rows',
        setup(made) {
          made.onResolve({ filter: /^rows$/ }, () => ({ path: 'rows', namespace: 'rows' }))
          made.onLoad({ filter: /.*/, namespace: 'rows' }, () => ({ contents: ROWS }))
        },
      },
    ],
  })
  return new Map(outputFiles.map(({ path, contents }) => [`/${path.split('/').at(-1)}`, contents]))
}

const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><title>first paint</title><link rel="icon" href="data:,">
<style>html,body{height:100%;margin:0}#grid{height:100%}</style><div id="grid"></div><script type="module" src="/stdin.js"></script>`

async function serve(files) {
  const server = createServer((request, response) => {
    const file = files.get(request.url)
    response.writeHead(request.url === '/' || file ? 200 : 404, {
      'content-type': file ? 'text/javascript' : 'text/html',
    })
    response.end(file ?? PAGE)
  })
  await new Promise(resolve => server.listen(0, '127.0.0.1', resolve))
  return { url: `http://localhost:${server.address().port}/`, close: () => server.close() }
}

/** Milliseconds from the start of the navigation to the frame behind the first cells; medians of so many cold pages each. */
export async function firstPaintBench(times = 15) {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const taken = { meadow: [], first: [], bare: [] }
  const whole = []
  const served = {}
  // The worker's file stands beside the script, where bundlers that know workers put it.
  const worker = readFileSync(join(root, 'packages/engine/dist/worker/entry.js'))
  for (const name of Object.keys(APPS))
    served[name] = await serve((await bundle(APPS[name])).set('/entry.js', worker))
  for (let nth = 0; nth < times; nth++)
    for (const name of Object.keys(APPS)) {
      // A context of its own: nothing is in its cache.
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
      const page = await context.newPage()
      await page.goto(served[name].url)
      await page.waitForFunction(() => window.paintedAt)
      taken[name].push(await page.evaluate(() => window.paintedAt))
      if (name === 'first') {
        await page.waitForFunction(() => window.readyAt)
        whole.push(await page.evaluate(() => window.readyAt))
      }
      await context.close()
    }
  await browser.close()
  for (const one of Object.values(served)) one.close()
  const [meadow, first, bare, grid] = [taken.meadow, taken.first, taken.bare, whole].map(median)
  const ratios = { ratio: round3(meadow / bare), first: round3(first / bare), grid: round3(grid / bare) }
  console.error(
    `  first paint of 10,000 rows beside a bare table: ${ratios.ratio}×, by mountFirst ${ratios.first}× (the grid itself ${ratios.grid}×)`,
  )
  return { meadow: round3(meadow), bare: round3(bare), ...ratios }
}
