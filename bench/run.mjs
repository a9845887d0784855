// `npm run bench`: everything measured, beside its baselines, in one run. Writes results.json and RESULTS.md.
// Arguments: `--quick` for one small size and few rounds; `--only=engine|reading|exports|service|render|first|changing`; `--rows=100000,1000000` for some
// sizes, the others' figures being kept; `--operation=search` for some operations, likewise. `--small`: every part once
// over few rows, written nowhere, to see that it runs; rivals only where they are installed, or with `--rivals`.
import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { fileURLToPath } from 'node:url'

const here = fileURLToPath(new URL('.', import.meta.url))
const quick = process.argv.includes('--quick')
const small = process.argv.includes('--small')
const only = process.argv.find(arg => arg.startsWith('--only='))?.slice(7)
const given = process.argv
  .find(arg => arg.startsWith('--rows='))
  ?.slice(7)
  .split(',')
  .map(Number)
const SIZES = given ?? (quick ? [100_000] : [100_000, 1_000_000, 5_000_000])
const roundsFor = rows => (quick ? 3 : rows > 1_000_000 ? 3 : 7)

const operation = process.argv.find(arg => arg.startsWith('--operation='))?.slice(12)
const run = (command, args, cwd = here) =>
  execFileSync(command, args, { cwd, stdio: ['ignore', 'pipe', 'inherit'], maxBuffer: 1 << 26 })
const lastLine = buffer => JSON.parse(buffer.toString().trim().split('\n').at(-1))

const hasRivals = () => existsSync(`${here}node_modules/@duckdb/node-api`)
if (!small) {
  execFileSync(process.execPath, ['scripts/prepare.mjs', 'install'], { cwd: `${here}..`, stdio: 'inherit' })
  run('npm', ['run', '--silent', 'build:packages'], `${here}..`)
}
// Not `npm ci`: it refuses lock files that leave out packages of other systems, as npm writes them for DuckDB.
if (!hasRivals() && (!small || process.argv.includes('--rivals')))
  run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error'])

const { engineInChromium, wasmInChromium } = await import('./engine/chromium.mjs')
const { CSV_ROWS } = await import('./engine/operations.mjs')
const { renderBench } = await import('./render/render.mjs')
const { firstPaintBench } = await import('./render/first-paint.mjs')
const { changingBench } = await import('./changing/changing.mjs')
const { writeReport } = await import('./report.mjs')

if (small) {
  await inSmall()
  process.exit(0)
}

const file = `${here}results.json`
const results = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {}
results.machine = {
  cpus: cpus().length,
  model: cpus()[0].model,
  node: process.version,
  when: new Date().toISOString().slice(0, 10),
  quick,
}
const keep = () => writeFileSync(file, JSON.stringify(results, null, 1) + '\n')

/** Puts newly measured operations in the old ones' place; the rivals' figures are compared with the new. */
function replace(operations, again) {
  for (const [name, { floor, meadow, helped, ...more }] of Object.entries(again)) {
    if (more.first) operations[name] = { ...more }
    if (!floor) continue
    operations[name] = { ...operations[name], floor, meadow, helped }
    for (const figure of Object.values(operations[name])) {
      if (figure?.oursTo) figure.oursTo = Math.round((meadow.median / figure.median) * 1000) / 1000
    }
  }
}

/** Adds rivals' figures to the operations', with their ratio to ours in the same run. */
function merge(operations, rivals, rows) {
  for (const [name, figures] of Object.entries(rivals)) {
    for (const [rival, figure] of Object.entries(figures)) {
      // Files are read by several threads, as the rivals read them.
      const ours = (name === 'read CSV' && operations[name]?.helped) || operations[name]?.meadow
      // Ours reads a part of the rows as CSV, the rivals read them all.
      const share = Math.max(1, rows / (CSV_ROWS[name] ?? rows))
      if (ours)
        operations[name][rival] = {
          ...figure,
          oursTo: Math.round(((ours.median * share) / figure.median) * 1000) / 1000,
        }
    }
  }
  return operations
}

if (operation) {
  for (const rows of SIZES) {
    const again = lastLine(
      run(
        process.execPath,
        ['--max-old-space-size=12000', 'engine/node.mjs', rows, roundsFor(rows), operation].map(String),
      ),
    )
    replace(results.node[rows], again)
    replace(results.chromium[rows], await engineInChromium(rows, roundsFor(rows), operation))
    keep()
  }
} else if (!only || only === 'engine') {
  results.node = given ? (results.node ?? {}) : {}
  results.chromium = given ? (results.chromium ?? {}) : {}
  for (const rows of SIZES) {
    const rounds = roundsFor(rows)
    const operations = lastLine(
      run(process.execPath, ['--max-old-space-size=12000', 'engine/node.mjs', String(rows), String(rounds)]),
    )
    const rivals =
      rows > 1_000_000 ? {} : lastLine(run(process.execPath, ['engine/node-rivals.mjs', String(rows), '3']))
    results.node[rows] = merge(operations, rivals, rows)
    keep()
    const inChromium = await engineInChromium(rows, rounds)
    results.chromium[rows] = merge(inChromium, rows > 1_000_000 ? {} : await wasmInChromium(rows, 2), rows)
    keep()
  }
}
if (!operation && (!only || only === 'reading')) {
  const args = [
    '--expose-gc',
    '--max-old-space-size=12000',
    'engine/reading.mjs',
    quick ? '20000' : '1000000',
    quick ? '3' : '1',
  ]
  results.reading = lastLine(run(process.execPath, args))
  keep()
}
if (!operation && (!only || only === 'exports')) {
  const args = ['--max-old-space-size=12000', 'exports/speed.mjs', quick ? '100000' : '1000000']
  results.exports = lastLine(run(process.execPath, args))
  keep()
}
if (!operation && (!only || only === 'service')) {
  const sizes = quick ? ['100000', '50000'] : ['1000000,20000000,100000000', '2000000']
  results.service = lastLine(run(process.execPath, ['service/speed.mjs', ...sizes]))
  keep()
}
if (!operation && (!only || only === 'render')) {
  results.render = await renderBench(quick ? 2 : 5)
  keep()
}
if (!operation && (!only || only === 'first')) {
  results.first = await firstPaintBench(quick ? 5 : 15)
  keep()
}
if (!operation && (!only || only === 'changing')) {
  results.changing = await changingBench(quick ? { rows: 100_000, seconds: 3 } : {})
  keep()
}
writeFileSync(`${here}RESULTS.md`, writeReport(results))

/** Runs every part once over few rows and fails where one gives no figures. */
async function inSmall() {
  const rows = 3000
  const parts = {
    'engine in Node': () => lastLine(run(process.execPath, ['engine/node.mjs', String(rows), '1'])),
    'engine in Chromium': () => engineInChromium(rows, 1),
    reading: () => lastLine(run(process.execPath, ['--expose-gc', 'engine/reading.mjs', '500', '1', '2000'])),
    render: () => renderBench(1, 20_000),
    'first paint': () => firstPaintBench(1),
    changing: () => changingBench({ rows: 20_000, seconds: 1, pasted: 200, keys: 6 }),
  }
  parts.service = () => {
    const { duckdb, cluster } = lastLine(
      run(process.execPath, ['service/speed.mjs', String(rows), String(rows)]),
    )
    return cluster ? { ...duckdb[0].figures, ...cluster.figures } : duckdb[0].figures
  }
  if (hasRivals()) {
    parts['rivals in Node'] = () =>
      lastLine(run(process.execPath, ['engine/node-rivals.mjs', String(rows), '1']))
    parts.exports = () => lastLine(run(process.execPath, ['exports/speed.mjs', String(rows)])).formats
    parts['rivals in Chromium'] = () => wasmInChromium(rows, 1)
  }
  for (const [name, part] of Object.entries(parts)) {
    const figures = await part()
    const measured = Object.keys(figures).length
    if (measured === 0 || JSON.stringify(figures).includes('null'))
      throw new Error(`${name}: ${JSON.stringify(figures)}`)
    console.log(`${name}: ${measured} measures`)
  }
}
