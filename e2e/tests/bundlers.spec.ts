import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { installPacked } from '../support/packed.ts'

// From packed tarballs, through each bundler, served without isolation: the engine runs in a worker, and what is loaded
// later (the parser of expressions, patterns) is found.

const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><title>host</title><link rel="icon" href="data:,">
<div id="grid" style="height:400px"></div><script type="module" src="/src/main.js"></script></html>`
const MAIN = `import { mountMeadow } from '@vast-meadow/grid'
const rows = Array.from({ length: 6000 }, (_, id) => ({ id, name: 'tree ' + id }))
const columns = [
  { key: 'id', title: 'Id' },
  { key: 'name', title: 'Name' },
  { key: 'twice', title: 'Twice', expression: 'id * 2' },
]
const definition = { format: 'vast-meadow-grid', version: 3, title: 'Host', columns }
window.handle = mountMeadow(document.querySelector('#grid'), { rows, definition })
window.handle.ready.then(() =>
  window.handle.arrange({ conditions: { name: { parts: [{ kind: 'pattern', pattern: '^tree 12.$' }] } } }),
)
`

interface Scope {
  handle?: {
    report: { passing: number } | null
    description: { where: string } | null
    expressionProblems: unknown[]
  }
}

test.describe.configure({ mode: 'serial' })

let folder = ''
const node = (...args: string[]): string =>
  execFileSync(process.execPath, args, {
    cwd: folder,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
    // Nothing is installed behind the back of who builds, as Parcel does where nobody says that it runs in a CI.
    env: { ...process.env, CI: '1' },
  })

test.beforeAll(() => {
  if (!process.env.CHECK_ALL) return
  folder = installPacked(
    ['engine', 'grid'],
    [
      'vite@7',
      'vite8@npm:vite@8',
      'esbuild@0.28.2',
      'webpack@5',
      'webpack-cli@6',
      'rollup@4',
      '@rollup/plugin-node-resolve@16',
      'parcel@2',
    ],
  )
  mkdirSync(join(folder, 'src'))
  writeFileSync(join(folder, 'src/main.js'), MAIN)
  writeFileSync(join(folder, 'index.html'), PAGE)
})

/** The built page works as it does from source; nothing goes wrong unseen but the addresses in `mayFail`. */
async function looksRight(page: Page, url: string, mayFail: RegExp | null = null): Promise<void> {
  const said: string[] = []
  page.on('console', message => {
    if (['error', 'warning'].includes(message.type()) && !/404/.test(message.text()))
      said.push(message.text())
  })
  page.on('pageerror', error => said.push(error.message))
  page.on('response', answer => {
    if (answer.status() >= 400 && !mayFail?.test(answer.url()))
      said.push(`${answer.status()} ${answer.url()}`)
  })
  await page.goto(url)
  await expect(page.locator('.foot .count')).toContainText('10 of 6,000 rows')
  await expect(page.locator('.body .row [aria-colindex="4"]').first()).toHaveText('240')
  const told = await page.evaluate(() => {
    const { handle } = window as unknown as Scope
    return [handle?.description?.where, handle?.expressionProblems]
  })
  expect(told).toEqual(['a worker', []])
  // What opens over the grid comes when somebody is near.
  await page.getByRole('columnheader', { name: 'Name' }).hover()
  await page.getByRole('columnheader', { name: 'Name' }).locator('.more-of').click()
  await expect(page.getByRole('dialog', { name: 'Name' }).getByLabel('As a phrase')).toHaveValue(/12/)
  expect(said).toEqual([])
}

async function built(page: Page, out: string, mayFail: RegExp | null = null): Promise<void> {
  const served = await serveStatic(join(folder, out))
  await looksRight(page, served.url, mayFail)
  served.close()
}

/** A page around one script, for bundlers that write none. */
function pageAround(out: string): void {
  const page = readFileSync(join(folder, 'index.html'), 'utf8').replace('/src/main.js', '/main.js')
  writeFileSync(join(folder, out, 'index.html'), page)
}

for (const [nth, vite] of ['vite', 'vite8'].entries()) {
  const bin = `node_modules/${vite}/bin/vite.js`
  test(`a build of ${vite}`, ALL, async ({ page }) => {
    node(bin, 'build', '--outDir', `out-${vite}`, '--logLevel', 'error')
    await built(page, `out-${vite}`)
  })

  test(`the development server of ${vite}`, ALL, async ({ page }) => {
    const port = String(5187 + nth)
    const server: ChildProcess = spawn(process.execPath, [bin, '--port', port, '--strictPort'], {
      cwd: folder,
      stdio: 'ignore',
    })
    try {
      await expect
        .poll(() =>
          fetch(`http://localhost:${port}`).then(
            ({ status }) => status,
            () => 0,
          ),
        )
        .toBe(200)
      // Packages are bundled before; the worker's file is then not beside them, and its text is used.
      await looksRight(page, `http://localhost:${port}`, /entry\.js/)
    } finally {
      server.kill()
    }
  })
}

test('a build of webpack', ALL, async ({ page }) => {
  const config = `export default { mode: 'production', performance: false, optimization: { minimize: false }, entry: './src/main.js', output: { path: ${JSON.stringify(join(folder, 'out-webpack'))}, filename: 'main.js' } }`
  writeFileSync(join(folder, 'webpack.config.mjs'), config)
  node('node_modules/webpack/bin/webpack.js')
  pageAround('out-webpack')
  await built(page, 'out-webpack')
})

test('a build of Rollup', ALL, async ({ page }) => {
  const config = `import resolve from '@rollup/plugin-node-resolve'
export default { input: 'src/main.js', output: { dir: 'out-rollup' }, plugins: [resolve({ browser: true })], logLevel: 'silent' }`
  writeFileSync(join(folder, 'rollup.config.mjs'), config)
  node('node_modules/rollup/dist/bin/rollup', '--config', 'rollup.config.mjs')
  pageAround('out-rollup')
  // It knows nothing of workers: their text is used.
  await built(page, 'out-rollup', /entry\.js/)
})

test('a build of Parcel', ALL, async ({ page }) => {
  const out = [
    '--dist-dir',
    'out-parcel',
    '--public-url',
    './',
    '--no-source-maps',
    '--no-cache',
    '--log-level',
    'error',
  ]
  // It reads what a package exports only when it is told to.
  const manifest = join(folder, 'package.json')
  const resolver = { '@parcel/resolver-default': { packageExports: true } }
  writeFileSync(manifest, JSON.stringify({ ...JSON.parse(readFileSync(manifest, 'utf8')), ...resolver }))
  writeFileSync(join(folder, 'parcel.html'), PAGE.replace('/src/main.js', './src/main.js'))
  node('node_modules/parcel/lib/bin.js', 'build', 'parcel.html', ...out)
  copyFileSync(join(folder, 'out-parcel/parcel.html'), join(folder, 'out-parcel/index.html'))
  await built(page, 'out-parcel')
})

test('one file of esbuild', ALL, async ({ page }) => {
  const options = ['--bundle', '--format=esm', '--outfile=out-esbuild/main.js', '--log-level=error']
  execFileSync('node_modules/.bin/esbuild', ['src/main.js', ...options], { cwd: folder })
  pageAround('out-esbuild')
  await built(page, 'out-esbuild', /entry\.js/)
})

test('one file of esbuild with the worker’s file beside it', ALL, async ({ page }) => {
  mkdirSync(join(folder, 'out-beside'), { recursive: true })
  copyFileSync(join(folder, 'out-esbuild/main.js'), join(folder, 'out-beside/main.js'))
  copyFileSync(
    join(folder, 'node_modules/@vast-meadow/engine/dist/worker/entry.js'),
    join(folder, 'out-beside/entry.js'),
  )
  pageAround('out-beside')
  await built(page, 'out-beside')
})
