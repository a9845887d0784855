import { spawnSync } from 'node:child_process'
import { copyFileSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { serveStatic } from '../support/bare-page.ts'
import { installPacked } from '../support/packed.ts'

// Every example of the guides is compiled under strict, as a host would, and run.

test.describe.configure({ mode: 'serial' })

const ROOT = fileURLToPath(new URL('../..', import.meta.url))

interface Example {
  /** The guide that it stands in, and which of its examples it is. */
  readonly name: string
  readonly language: string
  readonly text: string
}

function examples(): Example[] {
  const guides = [
    'README.md',
    ...['engine', 'grid', 'vue', 'react', 'server'].map(name => `packages/${name}/README.md`),
    ...readdirSync(join(ROOT, 'docs'))
      .filter(name => name.endsWith('.md'))
      .map(name => `docs/${name}`),
  ]
  return guides.flatMap(guide => {
    const blocks = readFileSync(join(ROOT, guide), 'utf8').matchAll(/^```([a-z ]+)\n([^]*?)^```$/gm)
    return [...blocks].map(([, language, text], nth) => ({
      name: `${guide.replace(/\W/g, '-')}-${nth}`,
      language,
      text,
    }))
  })
}

/** What the guides take for granted: an element, rows, a definition, a file, a grid that is mounted. */
const PRELUDE = `
import * as zod from 'zod'
import { mountMeadow as mount, type DefinitionInput, type MeadowHandle } from '@vast-meadow/grid'

declare global {
  var host: HTMLElement
  var rows: readonly { plot: string; cover: number; depth: number; rating: number; site: string; name: string }[]
  var row: { plot: string; cover: number }
  var definition: DefinitionInput
  var blob: Blob
  var grid: MeadowHandle
  var mountMeadow: typeof mount
  var z: typeof zod
}
const element = (): HTMLElement => {
  const made = document.createElement('div')
  made.style.height = '300px'
  document.body.append(made)
  return made
}
export async function prepare(): Promise<void> {
  const rows = ['P1', 'P2', 'P3'].map((plot, i) => ({ plot, cover: i + 0.5, depth: 10 + i, rating: i, site: 'Ings', name: plot }))
  const keys = ['plot', 'cover', 'depth', 'rating', 'site', 'name']
  const definition: DefinitionInput = { format: 'vast-meadow-grid', version: 3, key: 'plot', columns: keys.map(key => ({ key, title: key })) }
  Object.assign(globalThis, { z: zod, mountMeadow: mount, rows, definition, row: { ...rows[0], plot: 'P9' }, host: element() })
  Object.assign(globalThis, { blob: new Blob(['plot;cover\\nP1;1,5\\n']), grid: mount(element(), { rows, definition }) })
  await grid.ready
}
`

/** What the service of the guides says of itself. */
const SERVICE = {
  $Version: '4.01',
  $EntityContainer: 'Rows.Container',
  Rows: {
    sighting: {
      $Kind: 'EntityType',
      $Key: ['sighting'],
      sighting: { $Type: 'Edm.Int32' },
      site: { $Nullable: true },
    },
    Container: { $Kind: 'EntityContainer', sightings: { $Collection: true, $Type: 'Rows.sighting' } },
  },
}

let folder = ''
const all = examples()
const scripts = all.filter(({ language }) => language === 'ts')
const components = all.filter(({ language }) => language === 'vue')
const functions = all.filter(({ language }) => language === 'tsx')

test.beforeAll(() => {
  test.setTimeout(300_000)
  if (!process.env.CHECK_ALL) return
  const tools = ['vite@7', 'vue@3', '@vitejs/plugin-vue@6', 'vue-tsc@3', 'typescript@5.9', 'zod@4']
  const react = ['react@19', 'react-dom@19', '@types/react@19', '@types/react-dom@19']
  folder = installPacked(['engine', 'grid', 'vue', 'react'], [...tools, ...react])
  mkdirSync(join(folder, 'src'))
  const write = (name: string, text: string): void => writeFileSync(join(folder, 'src', name), text)
  write('prelude.ts', PRELUDE)
  write(
    'conditions.ts',
    'import type { OwnConditions } from "@vast-meadow/engine"\nexport const conditions: OwnConditions = {}\n',
  )
  for (const { name, text } of scripts) write(`${name}.ts`, `${text}\nexport {}\n`)
  for (const { name, text } of all.filter(({ language }) => language === 'ts worker'))
    write(`${name}.ts`, text)
  for (const { name, text } of components) write(`${name}.vue`, text)
  for (const { name, text } of functions) write(`${name}.tsx`, text)
  write(
    'main.ts',
    `import { createElement, type FunctionComponent } from 'react'
import { createRoot } from 'react-dom/client'
import { createApp, type Component } from 'vue'
import { prepare } from './prelude'
const components: Record<string, Component> = {}
${components.map(({ name }, i) => `import component${i} from './${name}.vue'\ncomponents['${name}'] = component${i}`).join('\n')}
const functions: Record<string, () => Promise<object>> = {
${functions.map(({ name }) => `  '${name}': () => import('./${name}'),`).join('\n')}
}
const scripts: Record<string, () => Promise<unknown>> = {
${scripts.map(({ name }) => `  '${name}': () => import('./${name}'),`).join('\n')}
}
const done: string[] = []
for (const [name, load] of Object.entries(scripts)) {
  document.body.innerHTML = '<div id="grid" style="height: 300px"></div>'
  await prepare()
  await load()
  done.push(name)
}
for (const [name, component] of Object.entries(components)) {
  const app = document.createElement('div')
  document.body.append(app)
  createApp(component).mount(app)
  done.push(name)
}
for (const [name, load] of Object.entries(functions)) {
  const app = document.createElement('div')
  app.className = name
  document.body.append(app)
  const [component] = Object.values(await load()) as FunctionComponent<{ rows: typeof rows }>[]
  createRoot(app).render(createElement(component, { rows }))
  done.push(name)
}
Object.assign(window, { done })
`,
  )
  const compilerOptions = {
    strict: true,
    noEmit: true,
    module: 'esnext',
    moduleResolution: 'bundler',
    target: 'esnext',
    jsx: 'react-jsx',
    lib: ['esnext', 'dom', 'dom.iterable'],
    types: [],
  }
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions, include: ['src'] }))
  writeFileSync(
    join(folder, 'vite.config.mjs'),
    `import vue from '@vitejs/plugin-vue'
export default { logLevel: 'error', esbuild: { jsx: 'automatic' }, plugins: [vue()], build: { target: 'esnext', chunkSizeWarningLimit: 2000 } }
`,
  )
  writeFileSync(
    join(folder, 'index.html'),
    '<!doctype html><html lang="en"><meta charset="utf-8"><title>guides</title><link rel="icon" href="data:,"><body><script type="module" src="./src/main.ts"></script></body></html>',
  )
})

/** Runs a tool of the host's; what it prints stands in the failure. */
function run(bin: string, ...args: string[]): void {
  const { status, stdout, stderr } = spawnSync(join(folder, 'node_modules/.bin', bin), args, {
    cwd: folder,
    encoding: 'utf8',
  })
  expect(status, `${bin}: ${stdout}${stderr}`).toBe(0)
}

test('examples of the guides compile under strict', ALL, () => {
  expect(scripts.length).toBeGreaterThan(6)
  expect(components.length).toBeGreaterThan(1)
  expect(functions.length).toBeGreaterThan(2)
  run('vue-tsc', '-p', '.')
})

test('examples of the guides run', ALL, async ({ page }) => {
  run('vite', 'build')
  const said: string[] = []
  page.on('console', message => {
    if (['error', 'warning'].includes(message.type())) said.push(message.text())
  })
  page.on('pageerror', error => said.push(error.message))
  const served = await serveStatic(join(folder, 'dist'))
  await page.route('**/odata/**', route => {
    const { pathname } = new URL(route.request().url())
    const asked = pathname.split('/odata/')[1]
    if (asked === 'sightings/$count') return route.fulfill({ contentType: 'text/plain', body: '1' })
    return route.fulfill({
      json: asked === '$metadata' ? SERVICE : { value: [{ sighting: 1, site: 'Ings' }] },
    })
  })
  await page.route('**/api/plots*', route =>
    route.fulfill({ json: { data: { items: [{ id: 1, site: 'Ings' }] }, meta: { total: 1 } } }),
  )
  await page.goto(served.url)
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { done?: string[] }).done))
    .toEqual([...scripts, ...components, ...functions].map(({ name }) => name))
  for (const { name } of functions) await expect(page.locator(`.${name} .foot .count`)).toContainText('rows')
  await expect(page.getByText('Ragged robin').first()).toBeVisible()
  expect(said).toEqual([])
  served.close()
})

test('the page of one file and a file of rows is as its guide has it', ALL, async ({ page }) => {
  const example = all.find(({ language, text }) => language === 'html' && text.includes('standalone.js'))
  const out = join(folder, 'one-file')
  mkdirSync(out)
  copyFileSync(join(folder, 'node_modules/@vast-meadow/grid/dist/standalone.js'), join(out, 'standalone.js'))
  writeFileSync(join(out, 'rows.csv'), 'plot,cover\nP1,4\nP2,5\n')
  writeFileSync(join(out, 'index.html'), `<!doctype html><title>one</title>${example?.text}`)
  const served = await serveStatic(out)
  await page.goto(served.url)
  await expect(page.locator('.foot .count')).toContainText('2 rows')
  served.close()
})
