import { codeOf, textCode } from '../code/code-text'
import { partsCode } from '../code/parts-code'
import { answerCode, fileSource } from '../code/rows-code'
import { fileName } from '../download'
import { keepsArrangements, optionsJson, rowsFile, type HandedGrid } from '../handed-grid'
import { pageOf, pageStyles } from '../project/page-of'
import { readme } from '../project/readme'
import type { FileOrigin } from '~/storage/saved-grid'
import type { Host } from './host'

/** A page with the grid as a custom element, which runs from any static server. */
export const page: Host = {
  packages: [],
  rowsFolder: '',
  files: grid => [
    {
      path: 'index.html',
      text: pageOf(grid, '<vast-meadow id="grid"></vast-meadow>', HEAD),
    },
    { path: 'page.css', text: pageStyles('vast-meadow') },
    { path: 'page.js', text: script(grid) },
    { path: 'grid.json', text: `${JSON.stringify(optionsJson(grid), null, 2)}\n` },
    { path: 'README.md', text: readme(grid, 'page') },
  ],
}

const HEAD = `<link rel="stylesheet" href="./page.css" />
    <script type="module" src="./page.js"></script>`

function script(grid: HandedGrid): string {
  const keeps = keepsArrangements(grid)
  const parts = partsCode(grid, 'javascript')
  const file = rowsFile(grid)
  const lines = [
    `import ${keeps ? '{ localArrangements } from ' : ''}'./vast-meadow.js'\n`,
    "\nconst options = await (await fetch('./grid.json')).json()\n",
    file === null
      ? ''
      : `${answerCode(`./${file}`)}options.source = ${fileSource(grid.origin as FileOrigin, 'await answer.blob()')}\n`,
    grid.rowsFrom === 'array' || grid.origin.kind === 'none' ? `options.rows = ${codeOf(grid.sample)}\n` : '',
    keeps ? `options.storage = localArrangements(${textCode(fileName(grid.title))})\n` : '',
    parts ? `options.parts = ${parts}\n` : '',
    "document.querySelector('#grid').options = options\n",
  ]
  return lines.join('')
}
