import { partsCode } from './parts-code'
import {
  fileRows,
  keepsArrangements,
  optionsCode,
  rowsName,
  storageCode,
  type HandedGrid,
} from './handed-grid'

/** The grid as a custom element, for a page with a bundler. */
export function elementCode(grid: HandedGrid): string {
  const keeps = keepsArrangements(grid)
  const parts = partsCode(grid, 'javascript')
  return `<vast-meadow id="grid" style="height: 600px"></vast-meadow>

<script type="module">
import '@vast-meadow/grid/element'
${keeps ? "import { localArrangements } from '@vast-meadow/grid'\n" : ''}
const options = ${optionsCode(grid)}
${fileRows(grid, `./${rowsName(grid.origin)}`)}${storageCode(grid)}${parts ? `options.parts = ${parts}\n` : ''}document.querySelector('#grid').options = options
<\u002fscript>
`
}
