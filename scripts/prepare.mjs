// Installs and builds what is missing or out of date, and nothing else. `install`: only the packages.
import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const stamps = join(root, '.cache')
const SKIPPED = new Set(['node_modules', 'dist', '.nuxt', '.output', '.cache', 'test'])
const SOURCES = ['packages', 'workshop', 'demo', 'scripts', 'package-lock.json', 'tsconfig.base.json']

function digest(paths) {
  const hash = createHash('sha256')
  const visit = path => {
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const full = join(path, entry.name)
      if (entry.isDirectory()) {
        if (!SKIPPED.has(entry.name)) visit(full)
      } else hash.update(full.slice(root.length)).update(readFileSync(full))
    }
  }
  for (const path of paths) {
    const full = join(root, path)
    if (path.includes('.')) hash.update(readFileSync(full))
    else visit(full)
  }
  return hash.digest('hex')
}

/** Does a task unless it was done for the same digest; notes the digest when it is done. */
function once(name, value, outcome, task) {
  const stamp = join(stamps, name)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === value && existsSync(join(root, outcome))) return
  task()
  mkdirSync(stamps, { recursive: true })
  writeFileSync(stamp, value)
}

const run = (command, ...args) => execFileSync(command, args, { cwd: root, stdio: 'inherit' })

once('installed', digest(['package-lock.json']), 'node_modules/typescript', () =>
  run('npm', 'ci', '--prefer-offline', '--no-audit', '--no-fund', '--loglevel=error'),
)
if (!process.argv.includes('install')) {
  once('built', digest(SOURCES), 'workshop/.output/server/index.mjs', () =>
    run('npm', 'run', '--silent', 'build'),
  )
}
