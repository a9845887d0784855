import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { ownBytes } from '../support/heap.ts'
import { installPacked } from '../support/packed.ts'

// Hosts of their own making, from packed tarballs: each renders an empty list first, then gives the definition late,
// keeps everything in its framework's own state and hands out a new list with every rendering.

test.describe.configure({ mode: 'default' })

const TYPES = `
export interface Tree { readonly id: number; readonly name: string; readonly height: number }
export const ROWS: readonly Tree[] = Array.from({ length: 6000 }, (_, id) => ({ id, name: 'tree ' + id, height: id % 7 }))
export const DEFINITION = {
  format: 'vast-meadow-grid', version: 3, title: 'Trees', key: 'id',
  columns: [{ key: 'id', title: 'Number' }, { key: 'name', title: 'Tree' }, { key: 'height', title: 'Height m' }],
  start: { order: [{ column: 'height', direction: 'descending' }] },
} satisfies DefinitionInput
import type { DefinitionInput, MeadowHandle } from '@vast-meadow/grid'
export interface Act {
  give?: () => void
  remount?: () => void
  renders: number
  handle: MeadowHandle<Tree> | null
  unlucky?: boolean
}
export const act: Act = { renders: 0, handle: null }
Object.assign(window, { act })
`

const HOSTS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  // Everything is written anew with every rendering.
  react: {
    'main.tsx': `
import { StrictMode, useState } from 'react'
import { createRoot } from 'react-dom/client'
import { useArrangement, useSelectedCount, VastMeadow, type MeadowHandle } from '@vast-meadow/react'
import { act, DEFINITION, ROWS, type Tree } from './trees'

function App() {
  const [given, give] = useState(false)
  const [round, setRound] = useState(0)
  const [felled, fell] = useState(0)
  const [passing, setPassing] = useState(0)
  const [grid, setGrid] = useState<MeadowHandle<Tree> | null>(null)
  const [arrangement, arrange] = useArrangement(grid)
  const selected = useSelectedCount(grid)
  act.renders++
  act.give = () => give(true)
  act.remount = () => setRound(before => before + 1)
  act.handle = grid
  return <>
    <output>{felled} felled, {selected} selected, {passing} passing, by {arrangement?.order.map(({ column }) => column).join() ?? 'nothing'}</output>
    <button onClick={() => arrange({ order: [{ column: 'name', direction: 'ascending' }] })}>by name</button>
    <VastMeadow<Tree> key={round} ref={setGrid} style={{ height: 400 }} rows={given ? ROWS.map(row => ({ ...row })) : []}
      definition={given ? { ...DEFINITION } : undefined}
      cells={{ height: ({ text, valueOf }) => {
        if (act.unlucky && valueOf('id') === 13) throw new Error('unlucky')
        return <button className="fell" onClick={() => fell(before => before + 1)}>{text} m, {felled}</button>
      } }}
      onFlow={({ report }) => setPassing(report.passing)} onRow={({ record }) => console.log(record.name)} />
  </>
}
const root = document.querySelector('#app')
if (root) createRoot(root).render(<StrictMode><App /></StrictMode>)
`,
  },
  element: {
    'main.tsx': `
import type {} from '@vast-meadow/grid/react'
import '@vast-meadow/grid/element'
import type { VastMeadowElement } from '@vast-meadow/grid/element'
import { useState } from 'react'
import { createRoot } from 'react-dom/client'
import { act, DEFINITION, ROWS } from './trees'

function App() {
  const [given, give] = useState(false)
  const [round, setRound] = useState(0)
  const [selected, setSelected] = useState(0)
  act.renders++
  act.give = () => give(true)
  act.remount = () => setRound(before => before + 1)
  const take = (element: VastMeadowElement | null) => void (act.handle = element?.handle ?? null)
  return <>
    <p>{selected}</p>
    <vast-meadow key={round} ref={take} style={{ height: 400 }} rows={given ? [...ROWS] : []}
      definition={given ? { ...DEFINITION } : undefined} onmeadow-selection={event => setSelected(event.detail.count)} />
  </>
}
const root = document.querySelector('#app')
if (root) createRoot(root).render(<App />)
`,
  },
  svelte: {
    'App.svelte': `
<script lang="ts">
  import { mountMeadow, type DefinitionInput } from '@vast-meadow/grid'
  import { act, DEFINITION, ROWS, type Tree } from './trees'
  let rows: Tree[] = $state([])
  let definition: DefinitionInput | null = $state(null)
  let round = $state(0)
  act.give = () => { rows = ROWS.map(row => ({ ...row })); definition = { ...DEFINITION } }
  act.remount = () => void round++
  function grid(host: HTMLElement) {
    const handle = (act.handle = mountMeadow<Tree>(host))
    $effect(() => void handle.setRows(rows))
    $effect(() => void handle.setDefinition(definition))
    return { destroy: () => handle.unmount() }
  }
</script>
{#key round}<div use:grid style="height: 400px"></div>{/key}
`,
    'main.ts': `
import { mount } from 'svelte'
import App from './App.svelte'
const target = document.querySelector('#app')
if (target) mount(App, { target })
`,
  },
  vue: {
    'main.ts': `
import { createApp, defineComponent, h, ref, shallowRef } from 'vue'
import { VastMeadow, type DefinitionInput, type VastMeadowExposed } from '@vast-meadow/vue'
import { act, DEFINITION, ROWS, type Tree } from './trees'
const App = defineComponent(() => {
  const rows = ref<Tree[]>([])
  const definition = ref<DefinitionInput>()
  const round = ref(0)
  const grid = shallowRef<VastMeadowExposed<Tree> | null>(null)
  act.give = () => { rows.value = ROWS.map(row => ({ ...row })); definition.value = { ...DEFINITION } }
  act.remount = () => void round.value++
  Object.defineProperty(act, 'handle', { get: () => grid.value?.handle ?? null })
  return () => { act.renders++; return h(VastMeadow, { key: round.value, ref: grid, rows: rows.value, definition: definition.value, style: 'height: 400px' }) }
})
createApp(App).mount('#app')
`,
  },
}

interface Scope {
  act: {
    renders: number
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
  for (const [host, files] of Object.entries(HOSTS)) {
    mkdirSync(join(folder, host))
    for (const [name, text] of Object.entries({ ...files, 'trees.ts': TYPES }))
      writeFileSync(join(folder, host, name), text)
    const script = 'main.ts' in files ? 'main.ts' : 'main.tsx'
    writeFileSync(
      join(folder, host, 'index.html'),
      `<!doctype html><html lang="en"><meta charset="utf-8"><title>${host}</title><link rel="icon" href="data:,"><div id="app"></div><script type="module" src="./${script}"></script></html>`,
    )
  }
  writeFileSync(
    join(folder, 'vite.config.mjs'),
    `import { svelte } from '@sveltejs/vite-plugin-svelte'
export default { base: './', logLevel: 'error', esbuild: { jsx: 'automatic' }, plugins: [svelte()], build: { emptyOutDir: true, chunkSizeWarningLimit: 2000 } }
`,
  )
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
  const include = ['react', 'element', 'vue']
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions: options, include }))
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
    run('vite', 'build', host, '--outDir', `../out-${host}`, '--emptyOutDir', '--config', 'vite.config.mjs')
    const policy = "default-src 'self'; script-src 'self'; style-src 'self'; img-src data:; worker-src 'self'"
    const served = await serveStatic(join(folder, `out-${host}`), {
      // Frameworks write the style attribute of markup themselves, where they do.
      'content-security-policy': `${policy}; style-src-attr 'unsafe-inline'`,
    })
    try {
      await goThrough(page, served.url)
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
  await cycle(20)
  const before = await counts()
  await cycle(200)
  const after = await counts()
  expect(after.workers).toBeLessThanOrEqual(before.workers)
  expect(after.jsEventListeners).toBeLessThanOrEqual(before.jsEventListeners + 5)
  expect(after.nodes - before.nodes).toBeLessThanOrEqual(30)
  expect(after.bytes - before.bytes).toBeLessThan(200_000)
}

test('cells that React draws, and what it hears of the grid', ALL, async ({ page }) => {
  // As it is developed with: React mounts everything twice.
  const options = { cwd: folder, env: { ...process.env, NODE_ENV: 'development' } }
  const vite = join(folder, 'node_modules/.bin/vite')
  const out = ['--outDir', '../out-developed', '--emptyOutDir', '--config', 'vite.config.mjs']
  execFileSync(vite, ['build', 'react', '--mode', 'development', ...out], options)
  const served = await serveStatic(join(folder, 'out-developed'))
  await page.goto(served.url)
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
  mkdirSync(join(folder, 'out-react/outer'), { recursive: true })
  writeFileSync(
    join(folder, 'out-react/outer/index.html'),
    '<!doctype html><title>outer</title><link rel="icon" href="data:,"><iframe src="../index.html" style="inline-size: 560px; block-size: 430px"></iframe>',
  )
  const served = await serveStatic(join(folder, 'out-react'))
  await page.goto(`${served.url}/outer/index.html`)
  const frame = page.frameLocator('iframe')
  await page.frames()[1].waitForFunction(() => (window as Partial<Scope>).act?.give)
  await page.frames()[1].evaluate(() => window.act.give())
  await expect(frame.locator('.foot .count')).toContainText('6,000 rows')
  await frame.getByRole('columnheader', { name: 'Tree' }).click()
  await expect(frame.getByRole('columnheader', { name: 'Tree' })).toHaveAttribute('aria-sort', 'ascending')
  served.close()
})
