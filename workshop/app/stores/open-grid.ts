import type {
  Arrangement,
  ArrangementChange,
  Definition,
  Facets,
  FlowReport,
  Progress,
  SourceDescription,
  SourceInput,
} from '@vast-meadow/engine'
import type { MeadowHandle, Measures } from '@vast-meadow/grid'
import { defineStore } from 'pinia'
import { fileOf, gridById, keepFile, keepGrid } from '~/storage/database'
import { KEPT_FILE_BYTES, type Origin, type SavedGrid } from '~/storage/saved-grid'
import { heldFile, holdFile, freshGrid } from './shelf'

export type PanelName = 'source' | 'columns' | 'search' | 'conditions' | 'order' | 'groups' | 'rows' | 'ship'

const SAVE_AFTER_MS = 400

/** The grid that is open in the workshop: what is saved of it, and what the live grid tells. */
export const useOpenGrid = defineStore('open-grid', () => {
  const saved = shallowRef<SavedGrid | null>(null)
  const input = shallowRef<SourceInput | null>(null)
  const handle = shallowRef<MeadowHandle | null>(null)
  const definition = shallowRef<Definition | null>(null)
  const arrangement = shallowRef<Arrangement | null>(null)
  const description = shallowRef<SourceDescription | null>(null)
  const report = shallowRef<FlowReport | null>(null)
  const measures = shallowRef<Measures | null>(null)
  const progress = shallowRef<Progress | null>(null)
  const selected = ref(0)
  const problem = ref('')
  const needsFile = ref(false)
  const saving = ref<'saved' | 'saving' | 'not saved'>('saved')
  const panel = ref<PanelName | null>('source')
  let timer = 0
  let storedFile: Blob | null = null

  async function load(id: string): Promise<boolean> {
    close()
    const grid = (await gridById(id).catch(() => undefined)) ?? freshGrid(id)
    if (!grid) return false
    saved.value = grid
    needsFile.value = false
    const source = await inputFor(grid)
    if (source) input.value = source
    else needsFile.value = true
    return true
  }

  async function inputFor({ id, origin }: SavedGrid): Promise<SourceInput | null> {
    if (origin.kind === 'file') {
      const blob = heldFile(id) ?? (await fileOf(id).catch(() => undefined))
      return blob ? { kind: 'file', blob } : null
    }
    return recipeInput(origin)
  }

  function attach(mounted: MeadowHandle): void {
    handle.value = mounted
  }

  function opened(told: SourceDescription): void {
    description.value = told
    problem.value = ''
    progress.value = null
  }

  function flowed(told: FlowReport): void {
    report.value = told
    const { value: mounted } = handle
    if (!mounted) return
    definition.value = mounted.definition
    arrangement.value = mounted.arrangement
    const grid = saved.value
    const columns = description.value?.fields.length ?? 0
    if (grid && (grid.rows !== told.total || grid.columns !== columns || !grid.definition)) saveLater()
  }

  function arranged(told: Arrangement): void {
    arrangement.value = told
    saveLater()
  }

  function saveLater(): void {
    saving.value = 'saving'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void save(), SAVE_AFTER_MS)
  }

  async function save(): Promise<void> {
    const grid = saved.value
    const mounted = handle.value
    if (!grid || !mounted?.definition) return
    const next: SavedGrid = {
      ...grid,
      definition: mounted.definition,
      arrangement: mounted.arrangement,
      rows: report.value?.total ?? grid.rows,
      columns: description.value?.fields.length ?? grid.columns,
      changed: Date.now(),
    }
    saved.value = next
    try {
      await storeFile(next)
      await keepGrid(JSON.parse(JSON.stringify(next)) as SavedGrid)
      saving.value = 'saved'
    } catch {
      saving.value = 'not saved'
    }
  }

  /** A file that may be kept is stored once, and again when another takes its place. */
  async function storeFile({ id, origin }: SavedGrid): Promise<void> {
    const file = heldFile(id)
    if (!file || file === storedFile || origin.kind !== 'file' || !origin.kept) return
    await keepFile(id, file)
    storedFile = file
  }

  /** Writes what is pending at once; for when the page is left. */
  function saveNow(): void {
    if (saving.value !== 'saving') return
    window.clearTimeout(timer)
    void save()
  }

  const change = (changed: ArrangementChange): void => void handle.value?.arrange(changed, 'builder')

  /** Puts other rows into the open grid. When they cannot be had, what is shown stays and the problem is told. */
  async function replaceRows(source: SourceInput, origin: Origin): Promise<boolean> {
    const mounted = handle.value
    problem.value = ''
    if (!mounted) return false
    try {
      await mounted.setRows(source)
    } catch {
      return false
    } finally {
      progress.value = null
    }
    const grid = saved.value!
    saved.value = { ...grid, origin }
    saveLater()
    return true
  }

  async function replaceFile(file: File): Promise<void> {
    const id = saved.value!.id
    const source: SourceInput = { kind: 'file', blob: file }
    const origin: Origin = {
      kind: 'file',
      name: file.name,
      bytes: file.size,
      kept: file.size <= KEPT_FILE_BYTES,
    }
    if (needsFile.value) {
      holdFile(id, file)
      needsFile.value = false
      input.value = source
      return
    }
    if (await replaceRows(source, origin)) holdFile(id, file)
  }

  function cancelLoading(): void {
    progress.value = null
    handle.value?.cancelLoading()
  }

  const facets = (column: string, limit: number): Promise<Facets> => {
    const mounted = handle.value
    if (!mounted?.source) return Promise.reject(new Error('No grid is open.'))
    return mounted.source.facets(mounted.request(), column, limit)
  }

  /** The rows as the file they came from, where they came from one. */
  async function fileForHandover(): Promise<Blob | null> {
    const id = saved.value?.id ?? ''
    return heldFile(id) ?? (await fileOf(id)) ?? null
  }

  function close(): void {
    saveNow()
    for (const held of [
      saved,
      input,
      handle,
      definition,
      arrangement,
      description,
      report,
      measures,
      progress,
    ]) {
      held.value = null
    }
    selected.value = 0
    problem.value = ''
  }

  const titleOf = (key: string): string =>
    definition.value?.columns.find(column => column.key === key)?.title || key

  return {
    saved,
    input,
    handle,
    definition,
    arrangement,
    description,
    report,
    measures,
    progress,
    selected,
    problem,
    needsFile,
    saving,
    panel,
    load,
    attach,
    opened,
    flowed,
    arranged,
    saveNow,
    change,
    replaceRows,
    replaceFile,
    cancelLoading,
    facets,
    fileForHandover,
    close,
    titleOf,
  }
})

export function recipeInput(origin: Extract<Origin, { kind: 'recipe' }>): SourceInput {
  const { recipe, computed, latencyMs } = origin
  return computed ? { kind: 'computed', recipe, latencyMs } : { kind: 'recipe', recipe }
}
