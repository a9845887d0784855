// Each decoder becomes one file that stands complete beside the engine, so that a bundler can leave it where it is and
// a page loads it only when such a file is opened.
import { build } from 'esbuild'
import { join } from 'node:path'

export async function buildDecoders(root) {
  const rooms = join(root, 'packages/engine/dist/read/columnar')
  for (const name of ['arrow', 'parquet']) {
    const file = join(rooms, `${name}.js`)
    await build({
      entryPoints: [file],
      outfile: file,
      allowOverwrite: true,
      bundle: true,
      format: 'esm',
      target: 'es2022',
      minify: true,
      legalComments: 'none',
    })
  }
}
