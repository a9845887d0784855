import { importsCode, givenOptions, membersCode } from '../code/imports-code'
import { wants } from '../code/handlers-code'
import { rowsAre } from '../code/rows-code'
import type { HandedGrid } from '../handed-grid'
import { projectFiles } from '../project/project-files'
import type { Host } from './host'

const PACKAGES = ['engine', 'grid']

/** The grid mounted by a script, in a project of its own. */
export const vite: Host = {
  packages: PACKAGES,
  rowsFolder: 'public/',
  files: grid =>
    projectFiles(grid, {
      host: 'vite',
      packages: PACKAGES,
      script: 'main.ts',
      files: [{ path: 'src/main.ts', text: mainCode(grid) }],
    }),
}

function mainCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const given = are === 'fetched' ? givenOptions(grid) : [...givenOptions(grid), [are, are] as const]
  // A list is there when the page is: its first rows need not wait for the grid.
  const mount = are === 'rows' ? 'mountFirst' : 'mountMeadow'
  return `import { ${mount} } from '@vast-meadow/grid${are === 'rows' ? '/first' : ''}'
${importsCode(grid)}

const place = document.querySelector<HTMLElement>('#app')
if (!place) throw new Error('There is no place for the grid')

const grid = ${are === 'rows' ? 'await ' : ''}${mount}<Row>(place, { ${membersCode(given)} })
${wants(grid).selects ? "grid.on('selection', onSelection)\n" : ''}${are === 'fetched' ? 'await grid.setRows(await fetchRows())\n' : ''}`
}
