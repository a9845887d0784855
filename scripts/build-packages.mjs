// Builds the packages with the compiler, in the order in which they import one another, the decoders of column files
// and the stand-alone file.
import { execFileSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { join } from 'node:path'
import { buildDecoders } from './build-decoders.mjs'
import { buildStandalone } from './build-standalone.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const tsc = join(root, 'node_modules/typescript/bin/tsc')

for (const name of ['engine', 'grid', 'vue']) {
  rmSync(join(root, 'packages', name, 'dist'), { recursive: true, force: true })
  execFileSync(process.execPath, [tsc, '-p', join(root, 'packages', name)], { stdio: 'inherit' })
  if (name === 'engine') await buildDecoders(root)
}
await buildStandalone(root)
