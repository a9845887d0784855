// Runs every check and counts what passed. The last line is the count alone. `--quick` leaves the browser out, `--all` adds
// the long cases and the rivals of the bench.
import { execFileSync, spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { installPostgres } from './postgres/servers.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const quick = process.argv.includes('--quick')
const all = process.argv.includes('--all')
if (all) process.env.CHECK_ALL = 'yes'
const CHROMIUM = '/usr/bin/chromium'
let passed = 0
let failed = 0
/** What failed, by name: said again at the very end, for whoever sees only that. */
const failures = []

function fail(name) {
  failed++
  failures.push(name)
}

/** Runs a command; counts it as one check unless a report tells more. */
function step(name, command, args, report) {
  console.log(`\n── ${name}`)
  const started = Date.now()
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' })
  const counts = status !== null && report ? report() : null
  if (counts) {
    passed += counts.passed
    failed += counts.failed
    failures.push(...(counts.names ?? []))
    // A run that fails without a failed test (a crash, an empty run) must not look like a pass.
    if (status !== 0 && counts.failed === 0) fail(name)
  } else if (status === 0) passed++
  else fail(name)
  console.log(
    `── ${name}: ${status === 0 ? 'ok' : 'FAILED'}, ${((Date.now() - started) / 1000).toFixed(1)} s`,
  )
  return status === 0
}

/** Runs commands side by side, each counted as one check; what they print stands together. */
async function beside(steps) {
  const started = Date.now()
  const ended = await Promise.all(
    steps.map(
      ([name, command, args]) =>
        new Promise(resolve => {
          const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
          let printed = ''
          for (const stream of [child.stdout, child.stderr]) stream.on('data', data => (printed += data))
          child.on('close', status => resolve({ name, status, printed, ms: Date.now() - started }))
        }),
    ),
  )
  for (const { name, status, printed, ms } of ended) {
    console.log(
      `\n── ${name}\n${printed}── ${name}: ${status === 0 ? 'ok' : 'FAILED'}, ${(ms / 1000).toFixed(1)} s`,
    )
    if (status === 0) passed++
    else fail(name)
  }
}

function readReport(path, count) {
  if (!existsSync(path)) return { passed: 0, failed: 1 }
  return count(JSON.parse(readFileSync(path, 'utf8')))
}

function installChromium() {
  if (existsSync(CHROMIUM)) return
  const apt = args =>
    execFileSync('apt-get', args, {
      stdio: 'inherit',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  apt(['update', '-qq'])
  apt([
    'install',
    '-y',
    '-qq',
    '--no-install-recommends',
    'chromium',
    'fonts-dejavu-core',
    'fonts-liberation',
  ])
}

/** The failed ones of a report of the unit tests: their file, name and first line of why. */
const failedUnits = report =>
  report.testResults.flatMap(file => {
    const path = relative(root, file.name)
    const tests = file.assertionResults.filter(test => test.status === 'failed')
    if (file.status === 'failed' && tests.length === 0) return [`${path}: ${firstLine(file.message)}`]
    return tests.map(test => `${path} › ${test.fullName}: ${firstLine(test.failureMessages[0])}`)
  })

/** The failed ones of a report of the end-to-end tests, whose files nest the groups of their tests. */
const failedEndToEnd = suites =>
  suites.flatMap(suite => [
    ...suite.specs.filter(spec => !spec.ok).map(spec => `${spec.file}:${spec.line} › ${spec.title}`),
    ...failedEndToEnd(suite.suites ?? []),
  ])

const firstLine = (text = '') => text.split('\n', 1)[0]

function finish() {
  if (failures.length) console.log(`\nFailed:\n${failures.map(name => `  ${name}`).join('\n')}`)
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exit(failed > 0 ? 1 : 0)
}

mkdirSync(join(root, '.cache'), { recursive: true })
if (!step('install', process.execPath, ['scripts/prepare.mjs', 'install'])) finish()
if (!step('packages', 'npm', ['run', '--silent', 'build:packages'])) finish()
// What looks at the workshop's files beside the types goes by what Nuxt writes about them.
if (!step('workshop', 'npx', ['nuxt', 'prepare', 'workshop', '--logLevel=silent'])) finish()
await beside([
  ['lint', 'npm', ['run', '--silent', 'lint']],
  ['types', 'npm', ['run', '--silent', 'types']],
])
// The server's tests run on it too; without it, they fail.
try {
  installPostgres()
} catch (error) {
  console.log(`PostgreSQL could not be installed: ${error instanceof Error ? error.message : error}`)
}
step('sizes', process.execPath, ['scripts/sizes.mjs'])
const unitReport = join(root, '.cache/unit.json')
step(
  'unit tests',
  'npx',
  ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${unitReport}`],
  () =>
    readReport(unitReport, report => ({
      passed: report.numPassedTests,
      failed: report.numFailedTests,
      names: failedUnits(report),
    })),
)
// The packages are built already; only the workshop is built on them.
if (!quick && step('build', 'npm', ['run', '--silent', 'build', '-w', 'workshop'])) {
  installChromium()
  const e2eReport = join(root, '.cache/e2e.json')
  step('end-to-end tests', 'npm', ['run', '--silent', 'e2e'], () =>
    readReport(e2eReport, ({ stats, suites }) => ({
      passed: stats.expected + stats.flaky,
      failed: stats.unexpected,
      names: failedEndToEnd(suites),
    })),
  )
  step('bench, in small', process.execPath, ['bench/run.mjs', '--small', ...(all ? ['--rivals'] : [])])
}
finish()
