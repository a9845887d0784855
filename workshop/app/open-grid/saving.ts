import type { Scene } from '@vast-meadow/engine'
import { keepFile, keepGrid, storageProblem } from '~/storage/database'
import { pictureOf } from '~/storage/grid-picture'
import type { HandOver } from '~/handover/hand-over'
import type { SavedGrid } from '~/storage/saved-grid'
import { heldFile } from '~/stores/shelf'
import type { OpenGridState } from './state'

const SAVE_AFTER_MS = 400

/** Keeps the open grid on the shelf, a moment after each change. */
export function savingOf(state: OpenGridState) {
  const { saved, handle, start, built, readers, report, ownFields, mode, saving, saveProblem } = state
  let timer = 0
  let storedFile: Blob | null = null

  function saveLater(): void {
    saving.value = 'saving'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void save(), SAVE_AFTER_MS)
  }

  function present(): SavedGrid | null {
    const grid = saved.value
    if (!grid || !start.value || !built.value) return null
    return {
      ...grid,
      definition: start.value,
      arrangement: built.value,
      reader: readers.value,
      rows: report.value?.total ?? grid.rows,
      columns: ownFields.value.length || grid.columns,
      changed: Date.now(),
    }
  }

  async function save(): Promise<void> {
    const before = present()
    if (!before) return
    const picture =
      mode.value === 'use' || !handle.value
        ? before.picture
        : await pictureOf(handle.value).catch(() => before.picture)
    // What was changed while the picture was made counts as well; another grid may be open by now.
    const next = saved.value?.id === before.id ? present() : null
    await keep({ ...(next ?? before), picture }, next !== null)
  }

  async function keep(kept: SavedGrid, open: boolean): Promise<void> {
    if (open) saved.value = kept
    try {
      await storeFile(kept)
      await keepGrid(JSON.parse(JSON.stringify(kept)) as SavedGrid)
      saving.value = 'saved'
      saveProblem.value = ''
    } catch (error) {
      saving.value = 'not saved'
      saveProblem.value = storageProblem(error)
    }
  }

  /** A file that may be kept is stored once, and again when another takes its place. */
  async function storeFile({ id, origin }: SavedGrid): Promise<void> {
    const file = heldFile(id)
    if (!file || file === storedFile || origin.kind !== 'file' || !origin.kept) return
    await keepFile(id, file)
    storedFile = file
  }

  /** Writes what is pending at once, with the picture that there is; for when the page is left. */
  function saveNow(): void {
    if (saving.value !== 'saving') return
    window.clearTimeout(timer)
    const next = present()
    if (next) void keep(next, true)
  }

  function retitle(title: string): void {
    if (!saved.value || title.trim() === '') return
    saved.value = { ...saved.value, title: title.trim() }
    saveLater()
  }

  function keepScenes(scenes: readonly Scene[]): void {
    if (!saved.value) return
    saved.value = { ...saved.value, scenes }
    saveLater()
  }

  function handOver(handedOver: HandOver): void {
    if (!saved.value) return
    saved.value = { ...saved.value, handedOver }
    saveLater()
  }

  /** Another grid is open from here on. */
  function forget(): void {
    storedFile = null
  }

  return { saveLater, saveNow, present, retitle, handOver, keepScenes, forget }
}

export type Saving = ReturnType<typeof savingOf>
