import { build } from 'esbuild'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Page } from '@playwright/test'
import { serveStatic, type Served } from './bare-page.ts'

const ROOT = fileURLToPath(new URL('../..', import.meta.url))
const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>first</title><link rel="icon" href="data:,">
<style>html,body{height:100%;margin:0;font-family:sans-serif}#grid{height:100%}</style><div id="grid"></div><script type="module" src="/app.js"></script>`
const APP = `import { mountFirst } from './packages/grid/dist/first/first.js'
Object.assign(window, { mountFirst })`

/** A page that has what shows the first rows and loads the grid itself behind, as a bundler takes the two apart. */
export async function serveFirst(): Promise<Served> {
  const folder = mkdtempSync(join(tmpdir(), 'meadow-first-'))
  await build({
    stdin: { contents: APP, resolveDir: ROOT },
    bundle: true,
    format: 'esm',
    splitting: true,
    entryNames: 'app',
    chunkNames: 'later-[name]-[hash]',
    outdir: folder,
    logLevel: 'error',
  })
  writeFileSync(join(folder, 'index.html'), PAGE)
  return serveStatic(folder)
}

/** Keeps back all that is loaded later until it is let go. */
export async function holdLater(page: Page): Promise<() => void> {
  let letGo: () => void = () => {}
  const gone = new Promise<void>(resolve => (letGo = resolve))
  await page.route(/\/later-/, async route => {
    await gone
    await route.continue()
  })
  return letGo
}
