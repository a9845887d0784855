// Builds the packages with the compiler, in the order in which they import one another, what is loaded later
// and the stand-alone file.
import { execFileSync } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { join } from 'node:path'
import { buildLoadedLater } from './build-loaded-later.mjs'
import { buildStandalone } from './build-standalone.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const tsc = join(root, 'node_modules/typescript/bin/tsc')

for (const name of ['engine', 'grid', 'vue', 'react', 'server']) {
  rmSync(join(root, 'packages', name, 'dist'), { recursive: true, force: true })
  execFileSync(process.execPath, [tsc, '-p', join(root, 'packages', name)], { stdio: 'inherit' })
  if (name === 'engine') {
    await buildLoadedLater(root)
    await writeSchemas()
  }
}
await buildStandalone(root)

/** The JSON Schemas of definitions and of changes, for editors and other tools. */
async function writeSchemas() {
  const engine = await import(join(root, 'packages/engine/dist/index.js'))
  const write = (name, schema) =>
    writeFileSync(join(root, 'packages/engine/dist', name), JSON.stringify(schema, null, 2) + '\n')
  write('definition.schema.json', engine.definitionJsonSchema())
  write('changes.schema.json', engine.changeListJsonSchema())
}
