// What is loaded only when it is needed becomes one file each that stands complete beside the engine, so that a bundler
// can leave it where it is: the decoders of column files, the parser of expressions, and patterns.
import { build } from 'esbuild'
import { join } from 'node:path'

/** Where these files stand in the engine's built folder. */
export const LOADED_LATER = [
  'read/columnar/arrow.js',
  'read/columnar/parquet.js',
  'expression/parser.js',
  'expression/pattern.js',
]

export async function buildLoadedLater(root) {
  for (const name of LOADED_LATER) {
    const file = join(root, 'packages/engine/dist', name)
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
