import { shownColumns } from '@vast-meadow/engine'
import type { MeadowHandle } from '@vast-meadow/grid'
import type { GridPicture } from './saved-grid'

const ROWS = 6
const COLUMNS = 5
const MOST_CHARACTERS = 18

/** The first cells that a grid shows now, in its own words. */
export async function pictureOf(handle: MeadowHandle): Promise<GridPicture | null> {
  const { source, definition, arrangement } = handle
  if (!source || !definition) return null
  const { start, middle, end } = shownColumns(arrangement)
  const keys = [...start, ...middle, ...end].slice(0, COLUMNS)
  const columns = keys.map(key => definition.columns.find(column => column.key === key))
  const rows = await handle.textsOfFirstRows(keys, ROWS)
  return {
    titles: columns.map((column, i) => (column?.title || keys[i]).slice(0, MOST_CHARACTERS)),
    rows: rows.map(texts => texts.map(text => text.slice(0, MOST_CHARACTERS))),
    ends: columns.map(column => column?.align === 'end'),
  }
}
