import type { HandedGrid } from '../handed-grid'
import { fileSource, rowsAre } from './rows-code'
import { rowsFile } from '../handed-grid'
import type { FileOrigin } from '~/storage/saved-grid'

/** A test beside the code: it fails when definition and rows no longer fit each other. */
export function testCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const file = rowsFile(grid)
  const isListed = are === 'rows'
  const canOpen = isListed || file !== null
  const input = isListed ? "{ kind: 'rows', rows }" : fileSource(grid.origin as FileOrigin, 'file')
  const read = file === null ? '' : `  const file = new Blob([await readFile('public/${file}')])\n`
  return [
    file === null ? '' : "import { readFile } from 'node:fs/promises'\n",
    canOpen
      ? "import { bindingFindings, openSource, readDefinition, type Definition } from '@vast-meadow/engine'\n"
      : "import { readDefinition, type Definition } from '@vast-meadow/engine'\n",
    "import { expect, test } from 'vitest'\n",
    "import { definition } from './definition'\n",
    isListed ? "import { rowSchema } from './row'\nimport { rows } from './rows'\n" : '',
    `
function checked(): Definition {
  const read = readDefinition(definition)
  if (!read.ok) throw new Error(JSON.stringify(read.problems, null, 2))
  return read.definition
}

test('the definition is one', () => {
  expect(checked().columns.length).toBe(definition.columns.length)
})
`,
    canOpen
      ? `
test('the definition fits the rows', async () => {
${read}  const source = await openSource(${input}, { engine: 'page' })
  const { fields, samples } = await source.open()
  const nothingElse = { readings: [], key: null, proposedKeys: [] }
  const found = bindingFindings({ definition: checked(), fields, samples, ...nothingElse })
  expect(found.filter(({ severity }) => severity === 'problem')).toEqual([])
  source.close()
})
`
      : '',
    isListed
      ? `
test('rows are as their type says', () => {
  for (const row of rows) rowSchema.parse(row)
})
`
      : '',
  ].join('')
}
