// What a page loads: the smallest app with the grid, and each part that comes later. `bench/SIZES.md` holds the figures
// and `./check` holds them to it: nothing grows without a reason beside it. `npm run sizes -- "reason"` writes them anew.
import { build } from 'esbuild'
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const table = join(root, 'bench/SIZES.md')
/** What another version of the bundler may make of the same code. */
const TOLERANCE = 1.01

/** The smallest app, as a bundler makes it; `more`: what it imports besides. */
const smallest = more =>
  build({
    stdin: {
      contents: `import { mountMeadow } from './packages/grid/dist/index.js'
${more.map(name => `import './packages/grid/dist/${name}'\n`).join('')}
mountMeadow(document.body, { rows: [{ a: 1 }] })`,
      resolveDir: root,
      sourcefile: 'smallest-app.js',
    },
    bundle: true,
    minify: true,
    format: 'esm',
    splitting: true,
    metafile: true,
    write: false,
    outdir: join(root, '.cache/sizes'),
    legalComments: 'none',
  })
const { outputFiles, metafile } = await smallest([])

const files = new Map(outputFiles.map(({ path, contents }) => [path, contents]))
const outputs = new Map(Object.entries(metafile.outputs).map(([path, output]) => [join(root, path), output]))

/** A file and all that it cannot do without. */
function withImports(path, seen = new Set()) {
  if (seen.has(path)) return seen
  seen.add(path)
  for (const { path: other, kind } of outputs.get(path).imports)
    if (kind === 'import-statement') withImports(join(root, other), seen)
  return seen
}
const weigh = contents => ({ raw: contents.length, packed: gzipSync(contents, { level: 9 }).length })
const sum = parts => parts.reduce((a, b) => ({ raw: a.raw + b.raw, packed: a.packed + b.packed }))
const weighAll = paths => sum([...paths].map(path => weigh(files.get(path))))

const first = [...outputs].find(([, { entryPoint }]) => entryPoint?.includes('smallest-app'))[0]
const atFirst = withImports(first)
const later = name => {
  const path = [...files.keys()].find(file => file.includes(name))
  return weighAll([...withImports(path)].filter(file => !atFirst.has(file)))
}
/** What an import adds to the first view. */
async function added(name) {
  const { outputFiles: all } = await smallest([name])
  const whole = sum(all.map(({ contents }) => weigh(contents)))
  const without = sum(outputFiles.map(({ contents }) => weigh(contents)))
  return { raw: whole.raw - without.raw, packed: whole.packed - without.packed }
}
const dist = name => weigh(readFileSync(join(root, 'packages', name)))

const measured = {
  'the first rows, before the grid': dist('grid/dist/first/first.js'),
  'the smallest app': weighAll(atFirst),
  '+ German': await added('languages/add-german.js'),
  '+ Arabic': await added('languages/add-arabic.js'),
  "+ a column's card is opened": later('/column-card-'),
  '+ the list of columns': later('/columns-menu-'),
  '+ arrangements by name': later('/arrangements-menu-'),
  '+ going to a place': later('/go-to-view-'),
  '+ the card of a group': later('/level-card-'),
  '+ the looks of what opens': later('/card-styles-'),
  '+ the box of the export': later('/export-view-'),
  '+ cells are changed': later('/edit-work-'),
  '+ printing': sum(['/printed-lines-', '/print-sheet-', '/print-table-'].map(later)),
  '+ rows as objects are read': later('/read-rows-'),
  '+ the engine runs in the page': later('/page-source-'),
  '+ cells made on demand': later('/recipe-source-'),
  '+ expressions are parsed': dist('engine/dist/expression/parser.js'),
  '+ patterns': dist('engine/dist/expression/pattern.js'),
  '+ Parquet is written': dist('engine/dist/export/parquet-encoder.js'),
  '+ Arrow is written': dist('engine/dist/export/arrow-encoder.js'),
  '+ workbooks are written': dist('engine/dist/export/workbook-file.js'),
  '+ Arrow files': dist('engine/dist/read/column-files/arrow/arrow.js'),
  '+ Parquet files': dist('engine/dist/read/column-files/parquet/parquet.js'),
  'the stand-alone file, worker inside': dist('grid/dist/standalone.js'),
}

/** By part: what the table allows, and why it is as large as it is. */
function allowed() {
  if (!existsSync(table)) return {}
  const rows = readFileSync(table, 'utf8').matchAll(/^\| (.+?) +\| +(\d+) +\| +(\d+) +\| ?(.*?) *\|$/gm)
  return Object.fromEntries(
    [...rows].map(([, part, raw, packed, why]) => [part, { raw: +raw, packed: +packed, why }]),
  )
}

const before = allowed()
const reason = process.argv[2]
const grown = Object.entries(measured).filter(
  ([part, { packed }]) => packed > (before[part]?.packed ?? 0) * TOLERANCE,
)
if (reason !== undefined) {
  const rows = Object.entries(measured).map(([part, { raw, packed }]) => {
    const why = grown.some(([name]) => name === part) ? reason : (before[part]?.why ?? '')
    return `| ${part} | ${raw} | ${packed} | ${why} |`
  })
  writeFileSync(
    table,
    `# What a page loads\n\nBytes, minified, as they are and with gzip; measured by \`npm run sizes\`, held by \`./check\`. Nothing grows by more than a
hundredth without a reason beside it.\n\n| part | bytes | gzip | why it grew last |\n| --- | --- | --- | --- |\n${rows.join('\n')}\n`,
  )
  console.log(`Written: ${table}, ${statSync(table).size} bytes.`)
} else if (grown.length > 0) {
  for (const [part, { packed }] of grown)
    console.error(`${part}: ${packed} bytes, ${before[part]?.packed ?? 'none'} are written down.`)
  console.error('Make it smaller, or say why: npm run sizes -- "reason".')
  process.exit(1)
} else
  console.log(
    Object.entries(measured)
      .map(([part, { packed }]) => `${part}: ${packed}`)
      .join('\n'),
  )
