import { words } from '~/words'
import type { Arrangement, Definition, DefinitionInput, RecipeInput } from '@vast-meadow/engine'
import { readDefinition } from '@vast-meadow/engine'
import { defineStore } from 'pinia'
import type { Demo } from '~/demo/demos'
import { fetchAddress } from '~/intake/fetch-address'
import { importGrid, isGridFile } from '~/intake/import-grid'
import { allGrids, fileOf, keepFile, keepGrid, removeGrid, storageProblem } from '~/storage/database'
import { fileOrigin, type ListingOrigin, type Origin, type SavedGrid } from '~/storage/saved-grid'

/** Files of this visit, for as long as this page is open. */
const heldFiles = new Map<string, Blob>()
/** Grids of this visit that are not stored yet, or could not be. */
const fresh = new Map<string, SavedGrid>()
/** Those of them that were not opened yet: nothing else can be known of them. */
const unopened = new Set<string>()

export const heldFile = (id: string): Blob | undefined => heldFiles.get(id)
export const holdFile = (id: string, file: Blob): void => void heldFiles.set(id, file)
export const freshGrid = (id: string): SavedGrid | undefined => fresh.get(id)

/** A grid that is opened for the first time, which no storage need be asked for; undefined: it is not. */
export const firstOpened = (id: string): SavedGrid | undefined =>
  unopened.delete(id) ? fresh.get(id) : undefined

interface NewGrid {
  readonly title: string
  readonly origin: Origin
  readonly definition?: DefinitionInput | Definition | null
  readonly arrangement?: Arrangement | null
  readonly file?: Blob | null
  readonly scenes?: SavedGrid['scenes']
}

/** The saved grids, and how new ones come onto the shelf. */
export const useShelf = defineStore('shelf', () => {
  const grids = shallowRef<readonly SavedGrid[]>([])
  const problem = ref('')
  const removed = shallowRef<{ readonly grid: SavedGrid; readonly file: Blob | undefined } | null>(null)

  async function refresh(): Promise<void> {
    try {
      grids.value = await allGrids()
    } catch (error) {
      problem.value = storageProblem(error)
    }
  }

  /** A new grid is stored once its rows are there; until then it is only this page's. */
  function add({ title, origin, definition, arrangement = null, file, scenes }: NewGrid): string {
    const id = crypto.randomUUID()
    const read = definition ? readDefinition(definition) : null
    if (file) holdFile(id, file)
    unopened.add(id)
    fresh.set(id, {
      id,
      title,
      origin,
      definition: read?.ok ? read.definition : null,
      arrangement,
      ...(scenes ? { scenes } : {}),
      rows: 0,
      columns: 0,
      changed: Date.now(),
    })
    return id
  }

  async function addDemo(demo: Demo, rows: number): Promise<string> {
    const { origin, definition, file } = await demo.open(rows)
    return add({ title: demo.title, origin, definition, file })
  }

  /** A file of rows, a definition, or a grid that was exported. Throws with a sentence that says what is wrong. */
  async function addFile(file: File, more: { title?: string; address?: string } = {}): Promise<string> {
    if (isGridFile(file.name)) return add(await importGrid(file))
    const title = more.title ?? (file.name.replace(/\.(gz|\w+)$/g, '').replace(/\.\w+$/, '') || file.name)
    return add({ title, origin: fileOrigin(file, file.name, { address: more.address }), file })
  }

  async function addAddress(address: string): Promise<string> {
    const file = await fetchAddress(address)
    return await addFile(new File([file], file.name.replace(/\.zip$/, '')), {
      address,
      title: hostOf(address),
    })
  }

  const addService = (address: string, rows: string): string =>
    add({ title: rows, origin: { kind: 'service', address, rows } })

  const addListing = (origin: ListingOrigin): string =>
    add({ title: /([^/?]*)(\?|$)/.exec(origin.address)?.[1] || origin.address, origin })

  const addMadeUp = (recipe: RecipeInput): string =>
    add({ title: recipe.name, origin: { kind: 'recipe', recipe, computed: false, latencyMs: 0 } })

  async function duplicate(grid: SavedGrid): Promise<void> {
    const copy = {
      ...grid,
      id: crypto.randomUUID(),
      title: words.savedGridItem.copyOf(grid.title),
      changed: Date.now(),
    }
    await store(copy, heldFile(grid.id) ?? (await fileOf(grid.id)))
  }

  async function rename(grid: SavedGrid, title: string): Promise<void> {
    if (title.trim() && title !== grid.title) await store({ ...grid, title: title.trim() }, undefined)
  }

  /** Takes a grid from the shelf; `restore` puts it back as long as nothing else was deleted. */
  async function remove(grid: SavedGrid): Promise<void> {
    const file = heldFile(grid.id) ?? (await fileOf(grid.id).catch(() => undefined))
    await removeGrid(grid.id)
    heldFiles.delete(grid.id)
    fresh.delete(grid.id)
    removed.value = { grid, file }
    await refresh()
  }

  async function restore(): Promise<void> {
    if (!removed.value) return
    const { grid, file } = removed.value
    removed.value = null
    await store(grid, file)
  }

  async function store(grid: SavedGrid, file: Blob | undefined): Promise<void> {
    try {
      if (file && grid.origin.kind === 'file' && grid.origin.kept) await keepFile(grid.id, file)
      await keepGrid(grid)
      if (file) holdFile(grid.id, file)
    } catch (error) {
      problem.value = storageProblem(error)
    }
    await refresh()
  }

  return {
    grids,
    problem,
    removed,
    refresh,
    addDemo,
    addFile,
    addAddress,
    addService,
    addListing,
    addMadeUp,
    duplicate,
    rename,
    remove,
    restore,
  }
})

const hostOf = (address: string): string => {
  const { host, pathname } = new URL(address, location.href)
  return `${pathname.split('/').filter(Boolean).at(-1) ?? 'rows'} of ${host}`
}
