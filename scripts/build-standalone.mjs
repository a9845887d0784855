// One file that holds the whole grid with its worker inside, for pages without a bundler.
import { build } from 'esbuild'
import { copyFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { LOADED_LATER } from './build-loaded-later.mjs'

export async function buildStandalone(root) {
  const common = { bundle: true, format: 'esm', minify: true, target: 'es2022', legalComments: 'none' }
  const worker = await build({
    ...common,
    entryPoints: [join(root, 'packages/engine/dist/worker/entry.js')],
    write: false,
  })
  // What is loaded later stands beside the one file.
  for (const name of LOADED_LATER)
    copyFileSync(join(root, 'packages/engine/dist', name), join(root, 'packages/grid/dist', basename(name)))
  await build({
    ...common,
    entryPoints: [join(root, 'packages/grid/dist/standalone-entry.js')],
    outfile: join(root, 'packages/grid/dist/standalone.js'),
    define: { 'globalThis.__MEADOW_WORKER__': JSON.stringify(worker.outputFiles[0].text) },
  })
}
