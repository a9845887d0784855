import { words } from '~/words/english'
import { strToU8, zip } from 'fflate'
import standaloneUrl from '@vast-meadow/grid/standalone?url'
import { GRID_IN_ZIP } from '~/intake/import-grid'
import { partsCode } from './parts-code'
import {
  fileRows,
  keepsArrangements,
  optionsJson,
  rowsName,
  storageCode,
  type HandedGrid,
} from './handed-grid'

/** A zip with a page that runs from any static server: everything is in it, the worker included. */
export async function packGrid(grid: HandedGrid, rows: Blob | null): Promise<Blob> {
  const files: Record<string, Uint8Array> = {
    'index.html': strToU8(page(grid.title)),
    'page.js': strToU8(pageScript(grid)),
    'grid.json': strToU8(JSON.stringify(optionsJson(grid), null, 2)),
    [GRID_IN_ZIP]: strToU8(JSON.stringify(grid, null, 2)),
    'vast-meadow.js': await scriptAt(standaloneUrl),
  }
  if (grid.origin.kind === 'file') {
    if (!rows) throw new Error(words.packGrid.theRowsOfAreNo(grid.origin.name))
    files[rowsName(grid.origin)] = new Uint8Array(await rows.arrayBuffer())
  }
  return new Blob([await zipped(files)], { type: 'application/zip' })
}

async function scriptAt(url: string): Promise<Uint8Array> {
  const script = await fetch(url)
  if (!script.ok) throw new Error(words.packGrid.theGridsScriptCouldNot)
  return new Uint8Array(await script.arrayBuffer())
}

function zipped(files: Record<string, Uint8Array>): Promise<Uint8Array<ArrayBuffer>> {
  return new Promise((resolve, reject) => {
    // The synchronous coder works in the page in one piece; this one in slices, without a worker of its own.
    zip(files, { level: 6, consume: true }, (error, data) =>
      error ? reject(error) : resolve(data as Uint8Array<ArrayBuffer>),
    )
  })
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')

function page(title: string): string {
  return `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <title>${escaped(title)}</title>
    <link rel="icon" href="data:," />
    <style>
      :root { color-scheme: light dark; font-family: system-ui, sans-serif; }
      html, body { height: 100%; margin: 0; }
      vast-meadow { height: 100%; }
    </style>
    <script type="module" src="./page.js"></script>
  </head>
  <body>
    <vast-meadow id="grid"></vast-meadow>
  </body>
</html>
`
}

function pageScript(grid: HandedGrid): string {
  const parts = partsCode(grid, 'javascript')
  return `import ${keepsArrangements(grid) ? '{ localArrangements } from ' : ''}'./vast-meadow.js'

const options = await (await fetch('./grid.json')).json()
${fileRows(grid, `./${rowsName(grid.origin)}`)}${storageCode(grid)}${parts ? `options.parts = ${parts}\n` : ''}document.querySelector('#grid').options = options
`
}
