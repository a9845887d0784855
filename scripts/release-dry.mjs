// Packs the packages as a registry would have them, and tries them in a fresh folder: types without `skipLibCheck`, a
// script in Node, publint. Nothing is published. The tarballs stay in `release/`.
import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const release = join(root, 'release')
const PACKAGES = ['engine', 'grid', 'vue', 'react', 'server']

const told = PACKAGES.map(name =>
  JSON.parse(readFileSync(join(root, 'packages', name, 'package.json'), 'utf8')),
)
const [{ version }] = told
for (const { name, version: own, dependencies = {} } of told) {
  if (own !== version) throw new Error(`${name} is ${own}, not ${version}: all packages have one version.`)
  for (const [other, wanted] of Object.entries(dependencies))
    if (other.startsWith('@vast-meadow/') && wanted !== version)
      throw new Error(`${name} wants ${other} ${wanted}, not ${version}.`)
}
if (!readFileSync(join(root, 'CHANGELOG.md'), 'utf8').includes(`\n## ${version}\n`))
  throw new Error(`CHANGELOG.md says nothing of ${version}.`)

const run = (command, args, cwd) => execFileSync(command, args, { cwd, stdio: ['ignore', 'pipe', 'inherit'] })

run('node', ['scripts/build-packages.mjs'], root)
rmSync(release, { recursive: true, force: true })
mkdirSync(release)
for (const name of PACKAGES)
  run('npm', ['pack', '--silent', '--pack-destination', release], join(root, 'packages', name))
const tarballs = readdirSync(release).map(name => join(release, name))
for (const path of tarballs)
  console.log(`${path.slice(release.length + 1)}: ${Math.round(statSync(path).size / 1000)} kB`)

const folder = mkdtempSync(join(tmpdir(), 'meadow-release-'))
writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }')
const tools = ['typescript@6.0.3', 'publint', 'vue@3', 'react@19', 'react-dom@19', '@types/react@19']
run('npm', ['install', '--silent', '--no-audit', '--no-fund', ...tarballs, ...tools], folder)
writeFileSync(
  join(folder, 'all.ts'),
  `import { definitionSchema } from '@vast-meadow/engine'
import { mountMeadow, type MeadowHandle } from '@vast-meadow/grid'
import { VastMeadow as InReact } from '@vast-meadow/react'
import { serveTables } from '@vast-meadow/server'
import { VastMeadow as InVue } from '@vast-meadow/vue'
export const all: readonly unknown[] = [definitionSchema, mountMeadow, InReact, InVue, serveTables]
export type Handle = MeadowHandle<{ readonly a: number }>
`,
)
const compilerOptions = {
  strict: true,
  noEmit: true,
  skipLibCheck: false,
  module: 'esnext',
  moduleResolution: 'bundler',
  target: 'es2023',
  lib: ['es2023', 'dom', 'dom.iterable'],
  types: [],
}
writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions, include: ['all.ts'] }))
const bin = name => join(folder, 'node_modules/.bin', name)
run(bin('tsc'), ['-p', '.'], folder)
for (const name of PACKAGES)
  run(bin('publint'), [`node_modules/@vast-meadow/${name}`, '--strict', '--pack', 'npm'], folder)
const script = `
const { readDefinition } = await import('@vast-meadow/engine')
const { serveTables } = await import('@vast-meadow/server')
const { VastMeadow } = await import('@vast-meadow/react')
const { createElement } = await import('react')
const { renderToString } = await import('react-dom/server')
if (!readDefinition || !serveTables) throw new Error('something that is exported is not there')
const html = renderToString(createElement(VastMeadow, { rows: [] }))
if (!html.startsWith('<div')) throw new Error('React renders nothing on a server: ' + html)
`
run('node', ['--input-type=module', '-e', script], folder)
rmSync(folder, { recursive: true, force: true })
console.log(`${version} is ready: ${PACKAGES.length} packages, tried in a fresh folder.`)
