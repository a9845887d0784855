// One file that holds the whole grid, its worker and all that is loaded later, for pages without a bundler.
import { build } from 'esbuild'
import { join } from 'node:path'

export async function buildStandalone(root) {
  await build({
    entryPoints: [join(root, 'packages/grid/dist/standalone-entry.js')],
    outfile: join(root, 'packages/grid/dist/standalone.js'),
    bundle: true,
    format: 'esm',
    minify: true,
    target: 'es2022',
    legalComments: 'none',
  })
}
