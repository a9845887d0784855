import { strToU8, zip } from 'fflate'
import { GRID_IN_ZIP } from '~/intake/import-grid'
import type { SavedGrid } from '~/storage/saved-grid'
import { download, fileName } from './download'
import { shipped } from '~/start/start-of'
import { rowsName } from './handed-grid'

/** A grid's definition, what is arranged in Build being its start, for `.grid.json`. */
function definitionFile({ title, definition, arrangement }: SavedGrid): Blob {
  const begun = definition && arrangement ? shipped(definition, arrangement) : definition
  const whole = { ...begun, title: definition?.title || title }
  return new Blob([JSON.stringify(whole, null, 2)], { type: 'application/json' })
}

/** What was only tried, by builder or reader, stays here, and so does what was handed over. */
const withoutTried = ({ definition, arrangement, handedOver: _, ...grid }: SavedGrid): SavedGrid => ({
  ...grid,
  definition: definition && arrangement ? shipped(definition, arrangement) : definition,
  arrangement: null,
  reader: null,
})

/** Saves a grid as a zip with its rows, or as its definition alone where they are not at hand. */
export async function exportGrid(grid: SavedGrid, rows: Blob | undefined): Promise<void> {
  const needsRows = grid.origin.kind === 'file'
  if (grid.origin.kind === 'none' || (needsRows && !rows))
    return download(definitionFile(grid), `${fileName(grid.title)}.grid.json`)
  const files: Record<string, Uint8Array> = {
    [GRID_IN_ZIP]: strToU8(JSON.stringify(withoutTried(grid), null, 2)),
  }
  if (rows && needsRows) files[rowsName(grid.origin)] = new Uint8Array(await rows.arrayBuffer())
  const packed = await new Promise<Uint8Array>((resolve, reject) =>
    zip(files, { level: 6, consume: true }, (error, data) => (error ? reject(error) : resolve(data))),
  )
  download(
    new Blob([packed as Uint8Array<ArrayBuffer>], { type: 'application/zip' }),
    `${fileName(grid.title)}.zip`,
  )
}
