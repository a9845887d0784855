import type { FileOrigin } from '~/storage/saved-grid'
import { rowsFile, type HandedGrid } from '../handed-grid'
import type { HandedFile } from '../hand-over'
import { fileSource, rowsAre } from './rows-code'

/** Whether the receiving project can open the very rows of which scenes were kept. */
const opensSameRows = (grid: HandedGrid): boolean =>
  rowsFile(grid) !== null || (rowsAre(grid) === 'source' && grid.origin.kind === 'recipe')

/** The scenes, and the test that replays them; none where there are none, or their rows are not at hand. */
export function scenesFiles(grid: HandedGrid, folder: string): readonly HandedFile[] {
  if (grid.scenes.length === 0 || !opensSameRows(grid)) return []
  return [
    { path: `${folder}/scenes.json`, text: `${JSON.stringify(grid.scenes, null, 2)}\n` },
    { path: `${folder}/scenes.test.ts`, text: scenesTest(grid, folder) },
  ]
}

function scenesTest(grid: HandedGrid, folder: string): string {
  const file = rowsFile(grid)
  const opened = file === null ? 'source' : fileSource(grid.origin as FileOrigin, 'file')
  return `import { ${file === null ? 'writeFile' : 'readFile, writeFile'} } from 'node:fs/promises'
import { openSource, readDefinition, readScene, replayScene, sceneDifferenceText } from '@vast-meadow/engine'
import { afterAll, expect, test } from 'vitest'
import { definition } from './definition'
${file === null ? "import { source } from './rows'\n" : ''}import scenes from './scenes.json'

// What the grid showed when it was handed over. Where it shall show something else from now on:
// UPDATE_SCENES=1 npm test
const updating = process.env.UPDATE_SCENES === '1'
const updated: unknown[] = []

test.each(scenes)('$name shows what it showed', async json => {
  const scene = readScene(json)
  if (!scene.ok) throw new Error(scene.problem)
  const read = readDefinition(definition)
  if (!read.ok) throw new Error(read.problems[0].message)
${file === null ? '' : `  const file = new Blob([await readFile('public/${file}')])\n`}  const rows = await openSource(${opened}, { engine: 'page' })
  const staged = { source: rows, description: await rows.open(), definition: read.definition }
  const { differences, shows } = await replayScene(scene.scene, staged)
  rows.close()
  updated.push({ ...json, shows })
  const titles = new Map(read.definition.columns.map(({ key, title }) => [key, title]))
  const said = differences.map(one => sceneDifferenceText(one, key => titles.get(key) ?? key))
  if (!updating) expect(said).toEqual([])
})

afterAll(async () => {
  if (updating) await writeFile('${folder}/scenes.json', \`\${JSON.stringify(updated, null, 2)}\\n\`)
})
`
}
