// What is loaded only when it is needed becomes one file each that stands complete beside the engine, so that a bundler
// can leave it where it is: the decoders of column files, the parser of expressions, and patterns.
import { build } from 'esbuild'
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** Where these files stand in the engine's built folder. */
export const LOADED_LATER = [
  'read/column-files/arrow/arrow.js',
  'read/column-files/parquet/parquet.js',
  'expression/parser.js',
  'expression/pattern.js',
  'export/arrow-encoder.js',
  'export/parquet-encoder.js',
  'export/workbook-file.js',
  'service/metadata-xml.js',
]

/** Stand complete inside those above, and would import packages that no host has. */
const ONLY_INSIDE = [
  ...['compression', 'flat-buffer', 'lz4-frame', 'messages', 'schema', 'vectors'].map(
    name => `read/column-files/arrow/${name}.js`,
  ),
  ...['assemble', 'hybrid', 'metadata', 'pages', 'raw-values', 'schema'].map(
    name => `read/column-files/parquet/${name}.js`,
  ),
  'export/packed-part.js',
  'export/zip-stream.js',
]

/** Writes these files, and beside them the licences of the packages that are in them. */
export async function buildLoadedLater(root) {
  const packages = new Set()
  for (const name of LOADED_LATER) {
    const file = join(root, 'packages/engine/dist', name)
    const { metafile } = await complete(file, {
      outfile: file,
      allowOverwrite: true,
      write: true,
      metafile: true,
      sourcemap: 'linked',
    })
    for (const input of Object.keys(metafile.inputs)) {
      const inside = /node_modules\/((?:@[^/]+\/)?[^/]+)\/(?!.*node_modules)/.exec(input)
      if (inside) packages.add(inside[1])
    }
  }
  await buildWorker(root)
  for (const name of ONLY_INSIDE)
    for (const end of ['', '.map']) rmSync(join(root, 'packages/engine/dist', name + end))
  const notices = [...packages].sort().map(name => noticeOf(join(root, 'node_modules', name), name))
  writeFileSync(join(root, 'packages/engine/dist/NOTICES.txt'), notices.join('\n\n'))
}

/**
 * The worker complete in one file, with all that it would load later: bundlers make a worker of it without splitting, as
 * some can only do. Once more as a text, for pages that cannot fetch its file; and what a host's own worker calls.
 */
async function buildWorker(root) {
  const folder = join(root, 'packages/engine/dist/worker')
  const mapped = { sourcemap: 'external', outdir: folder }
  const [entry, serve] = await Promise.all([
    complete(join(folder, 'entry.js'), mapped),
    complete(join(folder, 'serve.js')),
  ])
  const [map, code] = ['.map', '.js'].map(
    end => entry.outputFiles.find(({ path }) => path.endsWith(end)).text,
  )
  writeFileSync(join(folder, 'entry.js'), `${code}//# sourceMappingURL=entry.js.map\n`)
  writeFileSync(join(folder, 'entry.js.map'), map)
  writeFileSync(join(folder, 'entry-text.js'), `export const entryText = ${JSON.stringify(code)}\n`)
  rmSync(join(folder, 'entry-text.js.map'))
  // Under a name of its own: the engine's index has the same in parts.
  writeFileSync(join(folder, 'serve-complete.js'), serve.outputFiles[0].text)
}

/** A file and all that it imports as one module that imports nothing. */
const complete = (entryPoint, more = {}) =>
  build({
    entryPoints: [entryPoint],
    bundle: true,
    format: 'esm',
    target: 'es2022',
    minify: true,
    legalComments: 'none',
    // Node's own class: some bundlers install a package in its place wherever it is only asked for.
    define: { Buffer: 'undefined' },
    write: false,
    ...more,
  })

function noticeOf(folder, name) {
  const { license, version } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'))
  const file = readdirSync(folder).find(entry => /^(licen[cs]e|copying)/i.test(entry))
  const text = file ? `\n\n${readFileSync(join(folder, file), 'utf8').trim()}` : ''
  return `${name} ${version} (${license})${text}`
}
