import { chromium } from 'playwright-core'
import { createServer } from 'node:http'
import { readFileSync } from 'node:fs'
const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><style>html,body{height:100%;margin:0}#grid{height:100%}</style><div id="grid"></div>
<script type="module">import * as meadow from '/standalone.js'; window.meadow = meadow; window.loaded = true</script>`
const server = createServer((q, r) => { if (q.url === '/') { r.setHeader('content-type', 'text/html'); r.end(PAGE) } else if (q.url==='/standalone.js') { r.setHeader('content-type', 'text/javascript'); r.end(readFileSync('/work/main/packages/grid/dist/standalone.js')) } else { r.writeHead(404); r.end() } }).listen(4990)
export const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
export const page = await browser.newPage({ viewport: { width: 1000, height: 620 } })
page.on('console', m => console.log('console', m.type(), m.text()))
page.on('pageerror', e => console.log('pageerror', e.message, e.stack?.split('\n').slice(0,4).join(' | ')))
await page.goto('http://localhost:4990/')
await page.waitForFunction(() => window.loaded)
const KINDS = ['ash', 'elm', 'oak', 'yew']
export const ROWS = Array.from({ length: 400 }, (_, id) => ({ id, name: `tree ${String(id).padStart(3, '0')}`, kind: KINDS[id % 4], height: (id * 37) % 200, planted: `20${10 + (id % 10)}-0${1 + (id % 9)}-1${id % 9}`, alive: id % 3 === 0, locked: id % 10 === 9, tags: id % 4 ? ['a', 'b'] : ['c'] }))
const column = (key, edit) => ({ key, title: key[0].toUpperCase() + key.slice(1), width: 110, ...(edit && { edit }) })
export const DEFINITION = { format: 'vast-meadow-grid', version: 3, title: 'Trees', key: 'id', columns: [column('id'), column('name', { required: true, unique: true, longest: 12 }), column('kind', { choices: KINDS }), column('height', { least: 0, most: 300, when: '!locked' }), column('planted', { most: '2026-01-01' }), column('alive', {}), column('locked'), column('tags', {choices: {of:'tags'}})], editing: { newRows: 'head', remove: true } }
export async function mount(definition = DEFINITION, rows = ROWS) {
  await page.evaluate(async ([definition, rows]) => {
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid'), { definition, rows, parts: { save: list => window.saver?.(list) } })
    window.handle.on('problem', p => console.log('problem', JSON.stringify(p)))
    await window.handle.ready
  }, [definition, rows])
}
export const done = async () => { await browser.close(); server.close() }
