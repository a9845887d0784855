import { words } from '~/words'
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { SavedGrid } from './saved-grid'

interface ShelfSchema extends DBSchema {
  grids: { key: string; value: SavedGrid }
  files: { key: string; value: Blob }
}

let opening: Promise<IDBPDatabase<ShelfSchema>> | null = null

function database(): Promise<IDBPDatabase<ShelfSchema>> {
  opening ??= openDB<ShelfSchema>('vast-meadow', 2, {
    async upgrade(db, from, _to, transaction) {
      if (from < 1) {
        db.createObjectStore('grids', { keyPath: 'id' })
        db.createObjectStore('files')
        return
      }
      // Files were called by the one format that was read.
      const grids = transaction.objectStore('grids')
      for (const grid of await grids.getAll()) {
        if ((grid.origin.kind as string) === 'csv') {
          await grids.put({ ...grid, origin: { ...grid.origin, kind: 'file' } as SavedGrid['origin'] })
        }
      }
    },
  })
  opening.catch(() => (opening = null))
  return opening
}

/** Saved grids, the one changed last first. */
export async function allGrids(): Promise<SavedGrid[]> {
  const grids = await (await database()).getAll('grids')
  return grids.sort((a, b) => b.changed - a.changed)
}

export const gridById = async (id: string): Promise<SavedGrid | undefined> =>
  (await database()).get('grids', id)

export const fileOf = async (id: string): Promise<Blob | undefined> => (await database()).get('files', id)

export async function keepGrid(grid: SavedGrid): Promise<void> {
  await (await database()).put('grids', grid)
}

export async function keepFile(id: string, file: Blob): Promise<void> {
  await (await database()).put('files', file, id)
}

/** Removes a grid with its file, both or neither. */
export async function removeGrid(id: string): Promise<void> {
  const transaction = (await database()).transaction(['grids', 'files'], 'readwrite')
  await Promise.all([
    transaction.objectStore('grids').delete(id),
    transaction.objectStore('files').delete(id),
  ])
  await transaction.done
}

/** Why the browser did not take what was to be stored, and what can be done. */
export function storageProblem(error: unknown): string {
  const name = error instanceof Error ? error.name : ''
  return name === 'QuotaExceededError'
    ? words.database.theBrowserHasNoRoom
    : words.database.theBrowserDoesNotLet
}
