// Files of the packages and the workshop that import each other in a circle, types included: there must be none.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript'

const root = fileURLToPath(new URL('..', import.meta.url))
const files = new Map()
for (const folder of [
  'packages/engine/src',
  'packages/grid/src',
  'packages/vue/src',
  'packages/react/src',
  'workshop/app',
])
  for (const path of readdirSync(join(root, folder), { recursive: true }))
    if (path.endsWith('.ts')) files.set(join(root, folder, path), [])
for (const [path, imports] of files) {
  for (const { fileName } of ts.preProcessFile(readFileSync(path, 'utf8'), true).importedFiles) {
    const base = fileName.startsWith('~/')
      ? join(root, 'workshop/app', fileName.slice(2))
      : join(dirname(path), fileName)
    const found = [base, `${base}.ts`].find(file => files.has(file))
    if (/^[.~]/.test(fileName) && found) imports.push(found)
  }
}

const done = new Set()
const circles = []
function visit(path, above) {
  const at = above.indexOf(path)
  if (at >= 0) circles.push([...above.slice(at), path].map(file => relative(root, file)).join(' > '))
  if (at >= 0 || done.has(path)) return
  for (const next of files.get(path)) visit(next, [...above, path])
  done.add(path)
}
for (const path of files.keys()) visit(path, [])
if (circles.length > 0) {
  console.error(`Files import each other in a circle:\n${circles.join('\n')}`)
  process.exit(1)
}
