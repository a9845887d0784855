import { fileRows, optionsCode, rowsName, type HandedGrid } from './handed-grid'

/** The grid as a custom element, for a page with a bundler. */
export function elementCode(grid: HandedGrid): string {
  return `<vast-meadow id="grid" style="height: 600px"></vast-meadow>

<script type="module">
import '@vast-meadow/grid/element'

const options = ${optionsCode(grid)}
${fileRows(grid, `./${rowsName(grid.origin)}`)}document.querySelector('#grid').options = options
<\u002fscript>
`
}
