// Builds the packages with the compiler, in the order in which they import one another, what is loaded later, what shows
// the first rows, and the stand-alone file.
import { execFileSync } from 'node:child_process'
import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { join } from 'node:path'
import { buildFirst } from './build-first.mjs'
import { buildLoadedLater } from './build-loaded-later.mjs'
import { buildStandalone } from './build-standalone.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const tsc = join(root, 'node_modules/typescript/bin/tsc')

const PACKAGES = ['engine', 'grid', 'vue', 'react', 'server']

for (const name of PACKAGES) {
  rmSync(join(root, 'packages', name, 'dist'), { recursive: true, force: true })
  execFileSync(process.execPath, [tsc, '-p', join(root, 'packages', name)], { stdio: 'inherit' })
  if (name === 'engine') {
    await buildLoadedLater(root)
    await writeSchemas()
  }
}
await buildFirst(root)
await buildStandalone(root)
packTarballs()

/** The packages as they are installed where no registry has them: the workshop puts them into what it hands over. */
function packTarballs() {
  const folder = join(root, 'workshop/public/packages')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  for (const name of PACKAGES)
    execFileSync('npm', ['pack', '--silent', '--pack-destination', folder], {
      cwd: join(root, 'packages', name),
      stdio: ['ignore', 'ignore', 'inherit'],
    })
}

/** The JSON Schemas of definitions and of changes, for editors and other tools. */
async function writeSchemas() {
  const engine = await import(join(root, 'packages/engine/dist/index.js'))
  const write = (name, schema) =>
    writeFileSync(join(root, 'packages/engine/dist', name), JSON.stringify(schema, null, 2) + '\n')
  write('definition.schema.json', engine.definitionJsonSchema())
  write('changes.schema.json', engine.changeListJsonSchema())
}
