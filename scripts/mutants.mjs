// `npm run mutants`: changes small things in the code of the core and looks whether any test notices. A sample by a seed
// (`--seed=7`, default 1) of so many lines (`--lines=260`), so that it ends within 20 minutes; at least 80 % must be noticed.
import { readdirSync, readFileSync, writeFileSync, mkdirSync } from 'node:fs'
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const argument = (name, otherwise) =>
  Number(process.argv.find(arg => arg.startsWith(`--${name}=`))?.split('=')[1] ?? otherwise)
const seed = argument('seed', 1)
const lines = argument('lines', 260)
/** Lines that are looked at in one place. */
const RUN = 6
const ROOMS = [
  ...['condition', 'order', 'flow', 'layout', 'edit', 'selection', 'group', 'summary', 'question'].map(
    room => `packages/engine/src/${room}`,
  ),
  'packages/engine/src/table/row-id.ts',
  'packages/engine/src/work/memo.ts',
  'packages/grid/src/kernel/feature.ts',
  'packages/grid/src/kernel/grid-model.ts',
  'packages/grid/src/kernel/row-changes.ts',
  'packages/grid/src/kernel/row-loader.ts',
  'packages/grid/src/kernel/pager.ts',
  'packages/grid/src/kernel/place-keeper.ts',
]

function* filesIn(path) {
  if (path.endsWith('.ts')) {
    yield path
    return
  }
  for (const entry of readdirSync(join(root, path), { withFileTypes: true }))
    if (entry.isDirectory() || entry.name.endsWith('.ts')) yield* filesIn(`${path}/${entry.name}`)
}

// Mulberry32: a small generator of even numbers from a seed (public domain).
let state = seed
function chance() {
  state = (state + 0x6d2b79f5) | 0
  let t = Math.imul(state ^ (state >>> 15), 1 | state)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
}

const files = ROOMS.flatMap(room => [...filesIn(room)]).map(path => ({
  path,
  lines: readFileSync(join(root, path), 'utf8').split('\n').length,
}))
const total = files.reduce((sum, file) => sum + file.lines, 0)
const picked = new Set()
while (picked.size < lines / RUN) {
  let at = Math.floor(chance() * total)
  const file = files.find(({ lines }) => (at -= lines) < 0)
  const from = Math.max(1, file.lines + at)
  picked.add(`${file.path}:${from}-${Math.min(file.lines, from + RUN - 1)}`)
}

mkdirSync(join(root, '.cache'), { recursive: true })
const config = join(root, '.cache/mutants.json')
writeFileSync(
  config,
  JSON.stringify({
    testRunner: 'vitest',
    vitest: { configFile: 'vitest.config.ts' },
    plugins: ['@stryker-mutator/vitest-runner'],
    mutate: [...picked],
    coverageAnalysis: 'perTest',
    ignoreStatic: true,
    concurrency: 2,
    timeoutMS: 20_000,
    tempDirName: '.cache/mutants',
    incremental: false,
    reporters: ['clear-text', 'json'],
    jsonReporter: { fileName: '.cache/mutants-report.json' },
    thresholds: { high: 90, low: 80, break: 80 },
    ignorePatterns: ['**/dist', 'workshop', 'bench', 'e2e', 'docs/screenshots'],
    clearTextReporter: { allowColor: false, reportTests: false },
  }),
)
const { status } = spawnSync('npx', ['stryker', 'run', config], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, MUTANTS: 'yes' },
})
process.exit(status ?? 1)
