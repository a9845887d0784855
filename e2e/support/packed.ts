import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const ROOT = fileURLToPath(new URL('../..', import.meta.url))

/** A folder of a host's own: our packages installed from their tarballs, and the tools that it builds with. */
export function installPacked(packages: readonly string[], tools: readonly string[]): string {
  const folder = mkdtempSync(join(tmpdir(), 'meadow-hosts-'))
  for (const name of packages)
    execFileSync('npm', ['pack', '--silent', '--pack-destination', folder], {
      cwd: join(ROOT, 'packages', name),
    })
  const tarballs = readdirSync(folder).map(name => `./${name}`)
  writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }')
  execFileSync(
    'npm',
    ['install', '--silent', '--no-audit', '--no-fund', '--prefer-offline', ...tarballs, ...tools],
    { cwd: folder },
  )
  return folder
}
