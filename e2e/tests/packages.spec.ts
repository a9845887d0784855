import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { ALL } from '../support/all.ts'

const root = fileURLToPath(new URL('../..', import.meta.url))

test('the packed packages install outside the repository and work in Node without a DOM', ALL, () => {
  test.setTimeout(240_000)
  const folder = mkdtempSync(join(tmpdir(), 'meadow-packed-'))
  const run = (command: string, args: string[], cwd: string): string =>
    execFileSync(command, args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })
  for (const name of ['engine', 'grid', 'vue'])
    run('npm', ['pack', '--silent', '--pack-destination', folder], join(root, 'packages', name))
  const tarballs = readdirSync(folder).map(name => `./${name}`)
  expect(tarballs).toHaveLength(3)
  writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }')
  run(
    'npm',
    [
      'install',
      '--silent',
      '--no-audit',
      '--no-fund',
      '--prefer-offline',
      ...tarballs,
      'vue@3.5.45',
      'typescript@6.0.3',
    ],
    folder,
  )
  writeFileSync(
    join(folder, 'use.mjs'),
    `import { Flow, finish, tableFromRows, lineCountOf } from '@vast-meadow/engine'
import { mountMeadow } from '@vast-meadow/grid'
import { VastMeadow } from '@vast-meadow/vue'
const flow = new Flow(finish(tableFromRows([{ a: 2 }, { a: 1 }])))
const { view } = finish(flow.arrange({ order: [{ column: 'a', direction: 'ascending' }], conditions: {}, search: '', searchColumns: [], groups: [], open: { levels: null, except: [] } }))
console.log(JSON.stringify([[...view.rows], lineCountOf(view), typeof mountMeadow, VastMeadow.name, typeof HTMLElement]))
`,
  )
  expect(JSON.parse(run('node', ['use.mjs'], folder))).toEqual([
    [1, 0],
    2,
    'function',
    'VastMeadow',
    'undefined',
  ])
  writeFileSync(
    join(folder, 'use.ts'),
    `import { mountMeadow, type MeadowHandle } from '@vast-meadow/grid'
import '@vast-meadow/grid/element'
import { readDefinition } from '@vast-meadow/engine'
import { VastMeadow } from '@vast-meadow/vue'
export const handle: MeadowHandle = mountMeadow(document.body, { rows: [{ a: 1 }] })
export const ok: boolean = readDefinition({}).ok
export { VastMeadow }
// @ts-expect-error a title is no row
mountMeadow(document.body, { rows: 'title' })
`,
  )
  run(
    'npx',
    [
      'tsc',
      '--noEmit',
      '--strict',
      '--skipLibCheck',
      '--module',
      'esnext',
      '--moduleResolution',
      'bundler',
      '--target',
      'es2022',
      '--lib',
      'es2023,dom,dom.iterable',
      'use.ts',
    ],
    folder,
  )
})
