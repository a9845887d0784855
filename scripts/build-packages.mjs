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

for (const name of ['engine', 'grid', 'vue']) {
  rmSync(join(root, 'packages', name, 'dist'), { recursive: true, force: true })
  execFileSync(process.execPath, [tsc, '-p', join(root, 'packages', name)], { stdio: 'inherit' })
  if (name === 'engine') {
    await buildLoadedLater(root)
    await writeSchema()
  }
}
await buildStandalone(root)

/** The definition's JSON Schema, for editors and other tools. */
async function writeSchema() {
  const { definitionJsonSchema } = await import(join(root, 'packages/engine/dist/index.js'))
  const file = join(root, 'packages/engine/dist/definition.schema.json')
  writeFileSync(file, JSON.stringify(definitionJsonSchema(), null, 2) + '\n')
}
