// One file that holds the whole grid with its worker inside, for pages without a bundler.
import { build } from 'esbuild'
import { copyFileSync } from 'node:fs'
import { join } from 'node:path'

export async function buildStandalone(root) {
  const common = { bundle: true, format: 'esm', minify: true, target: 'es2022', legalComments: 'none' }
  const worker = await build({
    ...common,
    entryPoints: [join(root, 'packages/engine/dist/worker/entry.js')],
    write: false,
  })
  // The decoders of column files stand beside the one file; it loads them when such a file is opened.
  for (const name of ['arrow.js', 'parquet.js'])
    copyFileSync(
      join(root, 'packages/engine/dist/read/columnar', name),
      join(root, 'packages/grid/dist', name),
    )
  await build({
    ...common,
    entryPoints: [join(root, 'packages/grid/dist/standalone-entry.js')],
    outfile: join(root, 'packages/grid/dist/standalone.js'),
    define: { 'globalThis.__MEADOW_WORKER__': JSON.stringify(worker.outputFiles[0].text) },
  })
}
