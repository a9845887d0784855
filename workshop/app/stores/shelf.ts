import type { DefinitionInput } from '@vast-meadow/engine'
import { readDefinition } from '@vast-meadow/engine'
import { defineStore } from 'pinia'
import type { Demo } from '~/demo/demos'
import { allGrids, removeGrid } from '~/storage/database'
import { KEPT_FILE_BYTES, type Origin, type SavedGrid } from '~/storage/saved-grid'

/** Files of this visit, for as long as this page is open. */
const heldFiles = new Map<string, Blob>()
/** Grids of this visit that are not stored yet, or could not be. */
const fresh = new Map<string, SavedGrid>()

export const heldFile = (id: string): Blob | undefined => heldFiles.get(id)
export const holdFile = (id: string, file: Blob): void => void heldFiles.set(id, file)
export const freshGrid = (id: string): SavedGrid | undefined => fresh.get(id)

/** The saved grids, and how new ones come onto the shelf. */
export const useShelf = defineStore('shelf', () => {
  const grids = shallowRef<readonly SavedGrid[]>([])
  const problem = ref('')

  async function refresh(): Promise<void> {
    try {
      grids.value = await allGrids()
    } catch {
      problem.value = 'This browser does not let pages store data here, so grids are not kept.'
    }
  }

  /** A new grid is stored once its rows are there; until then it is only this page's. */
  function add(title: string, origin: Origin, definition: DefinitionInput | null, file: Blob | null): string {
    const id = crypto.randomUUID()
    const read = definition ? readDefinition(definition) : null
    if (file) holdFile(id, file)
    fresh.set(id, {
      id,
      title,
      origin,
      definition: read?.ok ? read.definition : null,
      arrangement: null,
      rows: 0,
      columns: 0,
      changed: Date.now(),
    })
    return id
  }

  async function addDemo(demo: Demo, rows: number): Promise<string> {
    const { origin, definition, file } = await demo.open(rows)
    return add(demo.title, origin, definition, file)
  }

  function addFile(file: File): string {
    const kept = file.size <= KEPT_FILE_BYTES
    const title = file.name.replace(/\.\w+$/, '')
    return add(title, { kind: 'file', name: file.name, bytes: file.size, kept }, null, file)
  }

  async function remove(id: string): Promise<void> {
    await removeGrid(id)
    heldFiles.delete(id)
    fresh.delete(id)
    await refresh()
  }

  return { grids, problem, refresh, addDemo, addFile, remove }
})
