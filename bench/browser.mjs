// Chromium and a small server for the bench's own pages.
import { createServer } from 'node:http'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { build } from 'esbuild'
import { chromium } from 'playwright-core'

const require = createRequire(import.meta.url)
const TYPES = { js: 'text/javascript', wasm: 'application/wasm', html: 'text/html' }

/** Bundles entries (name → file), serves them isolated, and opens a page. */
export async function openBrowser(entries, { viewport = { width: 1280, height: 800 } } = {}) {
  const files = {
    '/': '<!doctype html><meta charset="utf-8"><link rel="icon" href="data:,"><style>html,body{margin:0;height:100%}</style><body>',
  }
  for (const [name, entry] of Object.entries(entries)) {
    const out = await build({
      entryPoints: [entry],
      bundle: true,
      format: 'esm',
      target: 'es2022',
      write: false,
    })
    files[`/${name}.js`] = out.outputFiles[0].text
  }
  const server = createServer((request, response) => {
    const path = new URL(request.url, 'http://localhost').pathname
    const body = path.startsWith('/duckdb-')
      ? readFileSync(require.resolve(`@duckdb/duckdb-wasm/dist${path}`))
      : files[path]
    response.writeHead(body ? 200 : 404, {
      'content-type': TYPES[path.split('.').at(-1)] ?? 'text/html',
      'cross-origin-opener-policy': 'same-origin',
      'cross-origin-embedder-policy': 'require-corp',
    })
    response.end(body)
  })
  await new Promise(resolve => server.listen(0, '127.0.0.1', resolve))
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    ignoreDefaultArgs: ['--hide-scrollbars'],
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--js-flags=--expose-gc'],
  })
  const page = await browser.newPage({ viewport })
  page.on('pageerror', error => console.error('  page:', error.message))
  await page.goto(`http://localhost:${server.address().port}/`)
  return {
    page,
    async close() {
      await browser.close()
      server.close()
    },
  }
}
