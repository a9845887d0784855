import { words } from '~/words'
import {
  keyParts,
  readDefinition,
  type Arrangement,
  type FlowReport,
  type KeyValue,
  type SourceDescription,
  type Why,
} from '@vast-meadow/engine'
import type { MeadowHandle } from '@vast-meadow/grid'
import { defineStore } from 'pinia'
import { changeName } from '~/history/change-name'
import { buildingOf } from '~/open-grid/building'
import { modesOf } from '~/open-grid/modes'
import { rememberingOf } from '~/open-grid/remembering'
import { rowsOf } from '~/open-grid/rows'
import { savingOf } from '~/open-grid/saving'
import { keptArrangement } from '~/storage/kept-arrangement'
import { openGridState } from '~/open-grid/state'
import { fileOf, gridById } from '~/storage/database'
import { inputOf } from '~/storage/saved-grid'
import { firstOpened, freshGrid, heldFile } from './shelf'

export type { Mode, PanelName } from '~/open-grid/state'

/** The grid that is open in the workshop. What it does stands in `open-grid`, a file a part; here is what the live grid tells. */
export const useOpenGrid = defineStore('open-grid', () => {
  const state = openGridState()
  const saver = savingOf(state)
  const remembering = rememberingOf(state)
  const rows = rowsOf(state, saver, remembering)
  const building = buildingOf(state, saver, remembering, rows)
  const modes = modesOf(state, saver, remembering, building)
  const { saved, input, handle, definition, arrangement, description, report, progress, history, problem } =
    state
  const { built, readers, mode, panel, traced, needsFile, ownFields } = state
  const { saveLater, saveNow } = saver

  async function load(id: string): Promise<boolean> {
    close()
    const grid = firstOpened(id) ?? (await gridById(id).catch(() => undefined)) ?? freshGrid(id)
    if (!grid) return false
    const read = grid.definition ? readDefinition(grid.definition) : null
    if (read && !read.ok) problem.value = words.openGrid.itsDefinitionCouldNotBe(read.problems[0].message)
    const known = read?.ok ? read.definition : null
    saved.value = { ...grid, definition: known, arrangement: keptArrangement(grid.arrangement, known) }
    readers.value = keptArrangement(grid.reader, known)
    const file = heldFile(id) ?? (await fileOf(id).catch(() => undefined))
    input.value = inputOf(grid.origin, file)
    needsFile.value = input.value === null
    return true
  }

  function attach(mounted: MeadowHandle): void {
    handle.value = mounted
    mounted.actAs(mode.value === 'build' ? 'builder' : 'reader')
  }

  function opened(told: SourceDescription): void {
    description.value = told
    problem.value = ''
    progress.value = null
  }

  function failed(message: string): void {
    problem.value = message
    // What was there were the first rows, and the others cannot be had.
    if (handle.value?.report === null) rows.lose()
  }

  function flowed(told: FlowReport): void {
    if (state.coming.value) return
    report.value = told
    const { value: mounted } = handle
    if (!mounted?.definition) return
    if (state.definitionsWaiting.value === 0) definition.value = mounted.definition
    arrangement.value = mounted.arrangement
    if (mode.value === 'build') built.value = mounted.arrangement
    if (!history.value) remembering.begin()
    const grid = saved.value
    const columns = ownFields.value.length
    if (grid && (grid.rows !== told.total || grid.columns !== columns || !grid.definition)) saveLater()
  }

  function arranged(told: Arrangement, why: Why): void {
    // With the last row it is taken as it is then.
    if (state.coming.value) return
    const before = arrangement.value
    arrangement.value = told
    if (mode.value === 'use') {
      if (why !== 'restore') readers.value = told
      return saveLater()
    }
    built.value = told
    const name = before && changeName(before, told)
    if (name && why !== 'restore') remembering.note(name)
    saveLater()
  }

  /** Shows why the row with the key is where it is. */
  function traceKey(key: KeyValue): void {
    const fields = definition.value?.key ?? []
    traced.value = fields.length === 0 ? String(Number(key) + 1) : keyParts(key).join(', ')
    panel.value = 'trace'
  }

  function close(): void {
    saveNow()
    state.clear()
    modes.forget()
    saver.forget()
  }

  const { undoable, redoable } = remembering
  const { read, readColumn, replaceRows, replaceFile, grow, cancelLoading, fileForHandover } = rows
  const { retitle, handOver, keepScenes, present } = saver
  const { setMode, backToStart, takeAsStart } = modes
  return {
    ...state,
    ...building,
    undoable,
    redoable,
    read,
    readColumn,
    replaceRows,
    replaceFile,
    grow,
    cancelLoading,
    fileForHandover,
    saveNow,
    retitle,
    handOver,
    keepScenes,
    present,
    setMode,
    backToStart,
    takeAsStart,
    load,
    attach,
    opened,
    failed,
    flowed,
    arranged,
    traceKey,
    close,
  }
})
