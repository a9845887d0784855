import { partsCode } from './parts-code'
import {
  arrangementsStore,
  fileRows,
  keepsArrangements,
  optionsCode,
  rowsName,
  type HandedGrid,
} from './handed-grid'

/** The grid mounted from a script in TypeScript. */
export function mountCode(grid: HandedGrid): string {
  const keeps = keepsArrangements(grid)
  const parts = partsCode(grid, 'typescript')
  const beside = [
    ...(parts ? ['parts'] : []),
    ...(grid.origin.kind === 'file' ? ['source'] : []),
    ...(keeps ? [`storage: ${arrangementsStore(grid)}`] : []),
  ]
  const given = beside.length > 0 ? `{ ...options, ${beside.join(', ')} }` : 'options'
  return `import { ${keeps ? 'localArrangements, ' : ''}mountMeadow, type MeadowOptions } from '@vast-meadow/grid'

const options: MeadowOptions = ${optionsCode(grid)}
${parts ? `const parts: MeadowOptions['parts'] = ${parts}\n` : ''}${mutable(fileRows(grid, `./${rowsName(grid.origin)}`))}
const handle = mountMeadow(document.querySelector<HTMLElement>('#grid')!, ${given})
handle.on('selection', ({ count }) => console.log(count, 'rows are selected'))
`
}

/** Options of a type are read only: what is fetched stands beside them. */
const mutable = (code: string): string =>
  code.replace(/^options\.source = (.*)$/m, 'const source: MeadowOptions["source"] = $1')

/** How the packages get into a project, and where rows lie. */
export function installText({ origin }: HandedGrid): string {
  const rows =
    origin.kind === 'file'
      ? `\n# ${rowsName(origin)} (that is ${origin.name}) goes where your server gives it out beside the page:\n# with Vite that is the folder public.`
      : ''
  return `# The packages as they are packed by: npm run release:dry (in the folder release)
npm install ./vast-meadow-engine-0.1.0.tgz ./vast-meadow-grid-0.1.0.tgz
# and for a component, one of these
npm install ./vast-meadow-vue-0.1.0.tgz
npm install ./vast-meadow-react-0.1.0.tgz${rows}
`
}
