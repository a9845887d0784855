import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { ownBytes } from '../support/heap.ts'
import { HOSTS, TREES } from '../support/plain-hosts.ts'
import { LIVING, PAGE_STYLES, PLANTS, RENDERED } from '../support/living-hosts.ts'
import { installPacked } from '../support/packed.ts'

// Hosts of their own making: packages installed from tarballs, all pages built in one go by the usual bundler, and driven.

test.describe.configure({ mode: 'default' })

interface Scope {
  act: {
    renders: number
    few(): void
    give(): void
    remount(): void
    handle: {
      ready: Promise<void>
      definition: { title: string } | null
      description: { where: string } | null
      selectedCount: number
      arrange(change: object): unknown
      setRows(rows: unknown): Promise<void>
    } | null
  }
}
declare const window: Window & Scope

const PACKAGES = ['engine', 'grid', 'vue', 'react', 'server']

let folder = ''
const run = (bin: string, ...args: string[]): string =>
  execFileSync(join(folder, 'node_modules/.bin', bin), args, { cwd: folder, encoding: 'utf8' })

/** The folder of a host's page. */
function writePage(host: string, files: Readonly<Record<string, string>>): void {
  mkdirSync(join(folder, host))
  for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, host, name), text)
  const script = 'main.ts' in files ? 'main.ts' : 'main.tsx'
  const styles = 'page.css' in files ? '<link rel="stylesheet" href="./page.css">' : ''
  writeFileSync(
    join(folder, host, 'index.html'),
    `<!doctype html><html lang="en"><meta charset="utf-8"><title>${host}</title><link rel="icon" href="data:,">${styles}<div id="app"></div><script type="module" src="./${script}"></script></html>`,
  )
}

/** Vue wants to be told; its own plugin would. */
const FLAGS = {
  __VUE_OPTIONS_API__: 'true',
  __VUE_PROD_DEVTOOLS__: 'false',
  __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'true',
}

function writeConfig(name: string, outDir: string, pages: readonly string[]): void {
  const input = Object.fromEntries(pages.map(page => [page, `${page}/index.html`]))
  const build = { outDir, emptyOutDir: true, chunkSizeWarningLimit: 2000, rollupOptions: { input } }
  writeFileSync(
    join(folder, name),
    `import { svelte } from '@sveltejs/vite-plugin-svelte'
export default ({ isSsrBuild }) => {
  const build = ${JSON.stringify(build)}
  if (isSsrBuild) delete build.rollupOptions
  return { base: './', logLevel: 'error', esbuild: { jsx: 'automatic' }, plugins: [svelte()], define: ${JSON.stringify(FLAGS)}, build }
}
`,
  )
}

test.beforeAll(() => {
  test.setTimeout(300_000)
  if (!process.env.CHECK_ALL) return
  folder = installPacked(PACKAGES, [
    'vite@7',
    'react@19',
    'react-dom@19',
    '@types/react@19',
    '@types/react-dom@19',
    'svelte@5',
    '@sveltejs/vite-plugin-svelte@6',
    'vue@3',
    'typescript@6.0.3',
    'publint',
    '@arethetypeswrong/cli',
  ])
  for (const [host, files] of Object.entries(HOSTS)) writePage(host, { ...files, 'trees.ts': TREES })
  for (const [host, files] of Object.entries(LIVING))
    writePage(`living-${host}`, { ...files, 'plants.ts': PLANTS, 'page.css': PAGE_STYLES })
  for (const [host, files] of Object.entries(RENDERED))
    writePage(`rendered-${host}`, { ...files, 'plants.ts': PLANTS })
  // All pages are built in one go: most of it is the same in each.
  const pages = [...Object.keys(HOSTS), ...Object.keys(LIVING).map(host => `living-${host}`)]
  writeConfig('vite.config.mjs', 'out', pages)
  run('vite', 'build', '--config', 'vite.config.mjs')
  // As they are developed with: frameworks say what does not fit what the server made, and React mounts everything twice.
  const developed = ['react', ...Object.keys(RENDERED).map(host => `rendered-${host}`)]
  writeConfig('vite.developed.mjs', 'out-developed', developed)
  const env = { ...process.env, NODE_ENV: 'development' }
  const vite = join(folder, 'node_modules/.bin/vite')
  const build = ['build', '--mode', 'development', '--config', 'vite.developed.mjs']
  execFileSync(vite, build, { cwd: folder, env })
  for (const [host, files] of Object.entries(RENDERED)) {
    const server = join(
      `rendered-${host}`,
      Object.keys(files).find(name => name.startsWith('server'))!,
    )
    execFileSync(vite, [...build, '--ssr', server, '--outDir', `out-server-${host}`], { cwd: folder, env })
  }
  const options = {
    strict: true,
    noEmit: true,
    module: 'esnext',
    moduleResolution: 'bundler',
    target: 'esnext',
    jsx: 'react-jsx',
    lib: ['esnext', 'dom', 'dom.iterable'],
    types: [],
  }
  // What renders on a server is typed by Node's own types, which none of this needs.
  const exclude = ['rendered-vue/server.ts']
  const include = [
    'react',
    'element',
    'vue',
    'react-first',
    'vue-first',
    'living-react',
    'living-element',
    'living-vue',
    'rendered-react',
    'rendered-vue',
  ]
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions: options, include, exclude }))
})

test('hosts compile under strict, also what ships', ALL, () => {
  run('tsc', '-p', '.')
})

test('the packages are put together as registries and type checkers want them', ALL, () => {
  for (const name of PACKAGES) {
    const path = `node_modules/@vast-meadow/${name}`
    run('publint', path, '--strict', '--pack', 'npm')
    run('attw', '--pack', path, '--profile', 'esm-only')
  }
})

/** What every host goes through. */
async function goThrough(page: Page, url: string): Promise<void> {
  const said: string[] = []
  page.on('console', message => {
    if (['error', 'warning'].includes(message.type())) said.push(message.text())
  })
  page.on('pageerror', error => said.push(error.message))
  await page.goto(url)
  await page.waitForFunction(() => window.act.give)
  // Empty at first, then everything at once.
  await page.evaluate(() => window.act.give())
  const foot = page.locator('.foot .count')
  await expect(foot).toContainText('6,000 rows')
  await expect(page.getByRole('columnheader', { name: 'Height m' })).toHaveAttribute(
    'aria-sort',
    'descending',
  )
  // Conditions and a search, in the worker; marks without isolation.
  await page.evaluate(() =>
    window.act.handle?.arrange({
      search: 'tree 59',
      conditions: { height: { parts: [{ kind: 'at-least', value: 3 }] } },
    }),
  )
  await expect(foot).toContainText('of 6,000 rows')
  await expect
    .poll(() => page.evaluate(() => CSS.highlights.get('meadow-found')?.size ?? 0))
    .toBeGreaterThan(5)
  await page.evaluate(() => window.act.handle?.arrange({ search: '', conditions: {}, groups: ['height'] }))
  await expect(page.getByRole('treegrid')).toBeVisible()
  await page.evaluate(() => window.act.handle?.arrange({ groups: [] }))
  await page.getByRole('checkbox').nth(2).click()
  await expect.poll(() => page.evaluate(() => window.act.handle?.selectedCount)).toBe(1)
  // Nothing renders by itself while nothing happens.
  const before = await page.evaluate(() => window.act.renders)
  await page.waitForTimeout(1000)
  expect((await page.evaluate(() => window.act.renders)) - before).toBeLessThan(3)
  // What is no arrangement is refused and changes nothing.
  const refused = await page.evaluate(() => {
    try {
      window.act.handle?.arrange({ order: [{ column: 'nothing' }] })
      return ''
    } catch (error) {
      return (error as Error).name
    }
  })
  expect(refused).toBe('ArrangementError')
  expect(said).toEqual([])
}

for (const host of Object.keys(HOSTS)) {
  test(`a host of its own: ${host}`, ALL, async ({ page }) => {
    const policy = "default-src 'self'; script-src 'self'; style-src 'self'; img-src data:; worker-src 'self'"
    const served = await serveStatic(join(folder, 'out'), {
      // Frameworks write the style attribute of markup themselves, where they do.
      'content-security-policy': `${policy}; style-src-attr 'unsafe-inline'`,
    })
    try {
      await goThrough(page, `${served.url}/${host}/index.html`)
      await mountAgainAndAgain(page)
    } finally {
      served.close()
    }
  })
}

/** Taken out and put in two hundred times, nothing is left behind. */
async function mountAgainAndAgain(page: Page): Promise<void> {
  const cdp = await page.context().newCDPSession(page)
  const cycle = (times: number): Promise<void> =>
    page.evaluate(async times => {
      for (let i = 0; i < times; i++) {
        const before = window.act.handle
        window.act.remount()
        // A framework mounts when it likes, and some do twice: what was given up before it was ready is not waited for.
        for (let tries = 0; tries < 100; tries++) {
          await new Promise(resolve => setTimeout(resolve, 20))
          const now = window.act.handle
          if (!now || now === before) continue
          const ready = await now.ready.then(
            () => true,
            () => false,
          )
          if (ready) break
        }
      }
    }, times)
  const counts = async () => {
    await page.waitForTimeout(500)
    for (let i = 0; i < 3; i++) await cdp.send('HeapProfiler.collectGarbage')
    const { nodes, jsEventListeners } = await cdp.send('Memory.getDOMCounters')
    return { nodes, jsEventListeners, bytes: await ownBytes(cdp), workers: page.workers().length }
  }
  await cdp.send('HeapProfiler.enable')
  const { length: workers } = page.workers()
  await cycle(20)
  await page.waitForTimeout(500)
  expect(page.workers().length).toBeLessThanOrEqual(workers)
  // A worker takes its time to start; without, a mount is what the grid itself does.
  await page.evaluate(() => {
    window.act.few()
    window.act.give()
  })
  await cycle(20)
  const before = await counts()
  await cycle(200)
  const after = await counts()
  expect(after.workers).toBeLessThanOrEqual(before.workers)
  expect(after.jsEventListeners).toBeLessThanOrEqual(before.jsEventListeners + 5)
  expect(after.nodes - before.nodes).toBeLessThanOrEqual(30)
  expect(after.bytes - before.bytes).toBeLessThan(200_000)
}

for (const host of Object.keys(LIVING)) {
  test(`a page with a life around the grid: ${host}`, ALL, async ({ page }) => {
    const served = await serveStatic(join(folder, 'out'))
    try {
      await live(page, `${served.url}/living-${host}/index.html`)
    } finally {
      served.close()
    }
  })
}

/** What every page with a life around the grid goes through. */
async function live(page: Page, url: string): Promise<void> {
  const said: string[] = []
  page.on('console', message => {
    if (['error', 'warning'].includes(message.type())) said.push(message.text())
  })
  page.on('pageerror', error => said.push(error.message))
  await page.goto(url)
  const first = page.locator('#first')
  const rows = (place: Locator): Locator => place.locator('.body .row:not([hidden])')
  const ready = async (place: Locator): Promise<void> => {
    await expect(place.locator('.foot .count')).toContainText('400 rows')
    await expect(rows(place).first()).toBeVisible()
  }
  await ready(first)
  // Whatever the page writes for everything, the grid is what it is, at the size that the page has it.
  const look = await rows(first)
    .first()
    .evaluate(row => {
      const cell = row.querySelector('.cell:last-of-type')!
      const { fontSize, color, textTransform, textAlign } = getComputedStyle(cell)
      return { height: row.getBoundingClientRect().height, fontSize, color, textTransform, textAlign }
    })
  expect(look).toMatchObject({ fontSize: '13px', textTransform: 'none' })
  expect(look.color).not.toBe('rgb(200, 0, 0)')
  expect(look.height).toBeGreaterThan(20)
  expect(look.height).toBeLessThan(30)
  await expect(first.locator('.own').first()).toHaveText('0 m')
  // The page's theme reaches into it.
  await first.getByRole('checkbox').nth(1).click()
  await expect(first.locator('.row.selected')).toHaveCount(1)
  const selected = await first
    .locator('.row.selected')
    .evaluate(
      row =>
        getComputedStyle(row).getPropertyValue('--_selected').trim() || getComputedStyle(row).backgroundColor,
    )
  expect(selected).toContain('1, 2, 3')
  // An edit goes to the page.
  const cell = rows(first).nth(2).locator('[aria-colindex="3"]')
  await cell.dblclick()
  await page.keyboard.type('x')
  await page.keyboard.press('Enter')
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { saved: { changed: unknown[] }[] }).saved.length))
    .toBe(1)
  await expect(cell).toContainText('x')
  // What is arranged is kept over a reload; the grids beside it have their own.
  await first.getByRole('columnheader', { name: 'Height' }).click()
  await first.getByRole('columnheader', { name: 'Height' }).click()
  const order = (place: Locator): Promise<string | null> =>
    place.getByRole('columnheader', { name: 'Height' }).getAttribute('aria-sort')
  await expect.poll(() => order(first)).toBe('descending')
  await page.waitForTimeout(600)
  await page.reload()
  await ready(first)
  expect(await order(first)).toBe('descending')
  await expect(first.locator('.own').first()).toHaveText('8 m')
  // In a tab that is shown later it is drawn when there is room.
  const third = page.locator('#third')
  await page.locator('#tab').click()
  await ready(third)
  expect(await order(third)).toBeNull()
  expect(await rows(third).count()).toBeGreaterThan(4)
  // In a dialog its cards lie over the dialog, and Escape closes one after the other.
  await page.locator('#open').click()
  const second = page.locator('#second')
  await ready(second)
  await second.getByRole('columnheader', { name: 'Name' }).click()
  await page.keyboard.press('Alt+ArrowDown')
  const card = second.locator('[part=card]:not([hidden])')
  await expect(card).toBeVisible()
  const { x, y } = (await card.boundingBox())!
  expect(
    await page.evaluate(
      ([x, y]) => document.elementFromPoint(x, y)?.closest('dialog') !== null,
      [x + 9, y + 9],
    ),
  ).toBe(true)
  await page.keyboard.press('Escape')
  await expect(card).toBeHidden()
  await page.keyboard.press('Escape')
  await expect(second).toBeHidden()
  // Turned round, the first column stands at the right.
  await page.evaluate(() => document.documentElement.setAttribute('dir', 'rtl'))
  await page.reload()
  await page.evaluate(() => document.documentElement.setAttribute('dir', 'rtl'))
  await ready(first)
  const at = async (name: string): Promise<number> =>
    (await first.getByRole('columnheader', { name }).boundingBox())!.x
  await expect.poll(async () => (await at('No')) > (await at('Name'))).toBe(true)
  expect(said).toEqual([])
}

for (const host of Object.keys(RENDERED)) {
  test(`a page that a server renders: ${host}`, ALL, async ({ page }) => {
    const html = execFileSync('node', [join(folder, `out-server-${host}`, 'server.js')], {
      encoding: 'utf8',
    }).trim()
    // The place is there, as high as it will be, before there is any script.
    expect(html).toMatch(/<div (?=[^>]*id="first")[^>]*height: ?300px/)
    const index = join(folder, 'out-developed', `rendered-${host}`, 'index.html')
    writeFileSync(
      index,
      readFileSync(index, 'utf8').replace('<div id="app"></div>', `<div id="app">${html}</div>`),
    )
    const served = await serveStatic(join(folder, 'out-developed'))
    const said: string[] = []
    page.on('console', message => {
      if (['error', 'warning'].includes(message.type())) said.push(message.text())
    })
    page.on('pageerror', error => said.push(error.message))
    try {
      await page.goto(`${served.url}/rendered-${host}/index.html`)
      await expect(page.locator('#first .foot .count')).toContainText('400 rows')
      await expect(page.locator('.own').first()).toHaveText('0 m')
      await page.getByRole('columnheader', { name: 'Name' }).click()
      await expect(page.locator('output')).toHaveText('name')
      expect(said).toEqual([])
    } finally {
      served.close()
    }
  })
}

test('cells that React draws, and what it hears of the grid', ALL, async ({ page }) => {
  const served = await serveStatic(join(folder, 'out-developed'))
  await page.goto(`${served.url}/react/index.html`)
  await page.waitForFunction(() => window.act.give)
  await page.evaluate(() => window.act.give())
  const told = page.locator('output')
  await expect(told).toHaveText('0 felled, 0 selected, 6000 passing, by height')
  // Drawn where they are asked for, and by the page’s own styles.
  const cell = page.locator('.fell')
  await expect(cell.first()).toHaveText('6 m, 0')
  await cell.nth(2).click()
  await expect(told).toContainText('1 felled')
  await expect(cell.first()).toHaveText('6 m, 1')
  // One that throws shows its text, the others stay.
  await page.getByRole('button', { name: 'by name' }).click()
  await expect(told).toContainText('by name')
  await page.evaluate(() => {
    Object.assign(window.act, { unlucky: true })
    window.act.handle?.arrange({ search: 'tree 13', order: [] })
  })
  await expect(page.locator('.body .row:not([hidden])').first()).toContainText('tree 13')
  // What React draws stands in the page’s own tree.
  await expect(page.locator('.vast-meadow > [slot]').filter({ hasText: /^6$/ })).toHaveCount(1)
  await expect(cell.first()).toHaveText(/^\d m, 1$/)
  await page.getByRole('checkbox').nth(2).click()
  await expect(told).toContainText('1 selected')
  served.close()
})

test('a host in a frame of another page', ALL, async ({ page }) => {
  mkdirSync(join(folder, 'out/outer'), { recursive: true })
  writeFileSync(
    join(folder, 'out/outer/index.html'),
    '<!doctype html><title>outer</title><link rel="icon" href="data:,"><iframe src="../react/index.html" style="inline-size: 560px; block-size: 430px"></iframe>',
  )
  const served = await serveStatic(join(folder, 'out'))
  await page.goto(`${served.url}/outer/index.html`)
  const frame = page.frameLocator('iframe')
  await page.frames()[1].waitForFunction(() => (window as Partial<Scope>).act?.give)
  await page.frames()[1].evaluate(() => window.act.give())
  await expect(frame.locator('.foot .count')).toContainText('6,000 rows')
  await frame.getByRole('columnheader', { name: 'Tree' }).click()
  await expect(frame.getByRole('columnheader', { name: 'Tree' })).toHaveAttribute('aria-sort', 'ascending')
  served.close()
})
