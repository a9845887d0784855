import { plainName, typeName } from '../code/code-text'
import { wants } from '../code/handlers-code'
import { scenesFiles } from '../code/scenes-code'
import { rowsAre } from '../code/rows-code'
import { rowsFile, type HandedGrid } from '../handed-grid'
import type { HostName } from '../hand-over'

const BUILT_BY: Readonly<Partial<Record<HostName, string>>> = {
  vue: 'Vue, Vite and TypeScript',
  react: 'React, Vite and TypeScript',
  svelte: 'Svelte, Vite and TypeScript',
  angular: 'Angular',
}

/** What is in the zip, and what to do with it. */
export function readme(grid: HandedGrid, host: HostName): string {
  const text = host === 'page' ? pageReadme(grid) : projectReadme(grid, host)
  return `# ${grid.title.replaceAll(/\s+/g, ' ')}\n\n${text}`
}

function pageReadme(grid: HandedGrid): string {
  const file = rowsFile(grid)
  return `A page with a data grid that runs from any static server; nothing has to be installed or built.

    python3 -m http.server 8000     # or any other static server

| file | is |
| --- | --- |
| \`index.html\`, \`page.css\` | the page, and its styles |
| \`page.js\` | what gives the grid its options${file ? ' and its rows' : ''} |
| \`grid.json\` | the options: the definition, ${file ? 'and nothing of the rows' : 'and where rows come from'} |
${file ? `| \`${file}\` | the rows |\n` : ''}| \`vast-meadow.js\` | the grid with all that it loads later, its worker included |
| \`workshop.json\` | for the workshop: choose this zip on its shelf to go on |

Opened from a folder (\`file://\`) browsers refuse to load scripts: it takes a server.
`
}

function projectReadme(grid: HandedGrid, host: HostName): string {
  const name = typeName(grid.title)
  const folder = host === 'angular' ? `src/app/${plainName(grid.title)}` : 'src'
  const component = {
    angular: `${plainName(grid.title)}.ts`,
    vue: `${name}.vue`,
    react: `${name}.tsx`,
    svelte: `${name}.svelte`,
  }[host as 'vue']
  const first = component
    ? `| \`${folder}/${component}\` | the component: take it, and what stands beside it, to your own project; it is as high as the element around it |`
    : '| `src/main.ts` | puts the grid into the page |'
  return `A data grid in a project of ${BUILT_BY[host] ?? 'Vite and TypeScript'}.

    npm install
    npm run dev        # at the address that it says
    npm test           # definition and rows fit each other
    npm run build      # types checked, the page in dist/

Node 20.19 or later.

| file | is |
| --- | --- |
${first}
${besideIt(grid, folder)}
${packagesText}`
}

function besideIt(grid: HandedGrid, folder: string): string {
  const file = rowsFile(grid)
  const rows = {
    rows: 'the first rows as an example: give yours in their place',
    source: 'where the rows are',
    fetched: 'fetches the rows, and says where they are missing',
  }[rowsAre(grid)]
  return `| \`${folder}/definition.ts\` | what the grid shows: columns, and what readers start with |
${wants(grid).names.length > 0 ? `| \`${folder}/handlers.ts\` | the functions that the grid calls, to be filled in |\n` : ''}| \`${folder}/rows.ts\` | ${rows} |
| \`${folder}/row.ts\` | the type of a row, and a schema that checks rows |
| \`${folder}/grid.test.ts\` | fails when definition and rows no longer fit each other |
${scenesFiles(grid, folder).length > 0 ? `| \`${folder}/scenes.json\`, \`scenes.test.ts\` | what arrangements showed, and the test that replays them; \`UPDATE_SCENES=1 npm test\` takes what they show now |\n` : ''}${file ? `| \`public/${file}\` | the rows |\n` : ''}| \`vendor/\` | the grid's packages, until they come from a registry |
`
}

const packagesText = `A definition in a file of its own can be changed by hand, or in the workshop and handed over again. Its words are in the
types: every member says what it does.
`
