// Chromium and a small server for the bench's own pages.
import { createServer } from 'node:http'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { build } from 'esbuild'
import { chromium } from 'playwright-core'

const require = createRequire(import.meta.url)
const TYPES = { js: 'text/javascript', wasm: 'application/wasm', html: 'text/html' }

/** Bundles entries (name → file), serves them isolated, and opens a page; `answer`: what is asked under `/rows`, as the web has it. */
export async function openBrowser(entries, { viewport = { width: 1280, height: 800 }, answer } = {}) {
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
    if (answer && request.url.startsWith('/rows/')) {
      void passOn(request, response, answer)
      return
    }
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

/** Answers a question of Node's server by one of the web's standard shape; whoever leaves has it given up. */
async function passOn({ url, method, headers }, response, answer) {
  const given = new AbortController()
  response.on('close', () => given.abort())
  const told = await answer(
    new Request(`http://localhost${url}`, { method, headers, signal: given.signal }),
  ).catch(() => new Response('', { status: 500 }))
  response.writeHead(told.status, Object.fromEntries(told.headers))
  response.end(Buffer.from(await told.arrayBuffer()))
}
