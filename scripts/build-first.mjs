// What shows the first rows becomes one small file: taken apart by a bundler it would be many, each of which a page waits for.
import { build } from 'esbuild'
import { readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'

export async function buildFirst(root) {
  const folder = join(root, 'packages/grid/dist/first')
  const outfile = join(folder, 'first.js')
  await build({
    entryPoints: [outfile],
    outfile,
    allowOverwrite: true,
    bundle: true,
    format: 'esm',
    minify: true,
    target: 'es2022',
    legalComments: 'none',
    sourcemap: 'linked',
    // The grid itself is what comes later.
    external: ['../index.js'],
  })
  // What stands complete inside of it.
  for (const name of readdirSync(folder))
    if (/\.js(\.map)?$/.test(name) && !name.startsWith('first.js')) rmSync(join(folder, name))
}
