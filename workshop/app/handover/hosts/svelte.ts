import { typeName } from '../code/code-text'
import { importsCode, givenOptions, membersCode } from '../code/imports-code'
import { wants } from '../code/handlers-code'
import { rowsAre } from '../code/rows-code'
import type { HandedGrid } from '../handed-grid'
import { projectFiles } from '../project/project-files'
import type { Host } from './host'

const PACKAGES = ['engine', 'grid']

/** The grid as a component of Svelte, in a project of its own. */
export const svelte: Host = {
  packages: PACKAGES,
  rowsFolder: 'public/',
  files: grid => {
    const name = typeName(grid.title)
    return projectFiles(grid, {
      host: 'svelte',
      packages: PACKAGES,
      script: 'main.ts',
      files: [
        { path: `src/${name}.svelte`, text: componentCode(grid) },
        { path: 'src/main.ts', text: mainCode(name) },
      ],
      plugin: { package: '@sveltejs/vite-plugin-svelte', name: 'svelte', isDefault: false },
      dependencies: [],
      devDependencies: ['svelte', 'svelte-check'],
      check: 'svelte-check --fail-on-warnings',
    })
  },
}

function componentCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const isFetched = are === 'fetched'
  const given = isFetched ? givenOptions(grid) : [...givenOptions(grid), [are, are] as const]
  return `<script lang="ts">
  import { mountMeadow } from '@vast-meadow/grid'
${importsCode(grid).replaceAll(/^/gm, '  ')}
${isFetched ? "\n  let problem = $state('')\n" : ''}
  /** The grid is there for as long as its element. */
  function mounted(place: HTMLElement) {
    const grid = mountMeadow<Row>(place, { ${membersCode(given)} })
${wants(grid).selects ? "    grid.on('selection', onSelection)\n" : ''}${isFetched ? FETCHED : ''}    return () => grid.unmount()
  }
<\u002fscript>

${isFetched ? '{#if problem}<p role="alert">{problem}</p>{/if}\n' : ''}<div {@attach mounted} style="block-size: 100%"></div>
`
}

const FETCHED = `    fetchRows()
      .then(rows => grid.setRows(rows))
      .catch((error: unknown) => (problem = String(error)))
`

const mainCode = (name: string): string => `import { mount } from 'svelte'
import ${name} from './${name}.svelte'

const target = document.querySelector('#app')
if (!target) throw new Error('There is no place for the grid')

mount(${name}, { target })
`
