import {
  arrangementFor,
  keyParts,
  readDefinition,
  renameColumn,
  type Arrangement,
  type ArrangementChange,
  type ColumnReadOptions,
  type Definition,
  type FlowReport,
  type KeyValue,
  type Progress,
  type ReadOptions,
  type SourceDescription,
  type SourceInput,
  type Why,
} from '@vast-meadow/engine'
import type { MeadowHandle, Measures } from '@vast-meadow/grid'
import { defineStore } from 'pinia'
import { changeName } from '~/history/change-name'
import {
  presentState,
  redoName,
  remember,
  startHistory,
  step,
  undoName,
  type History,
} from '~/history/history'
import { fileOf, gridById, keepFile, keepGrid, storageProblem } from '~/storage/database'
import { fileOrigin, inputOf, type FileOrigin, type Origin, type SavedGrid } from '~/storage/saved-grid'
import { pictureOf } from '~/storage/grid-picture'
import { changedFields, type FieldChanges } from '~/binding/field-changes'
import { differsFromStart, shipped } from '~/start/start-of'
import { heldFile, holdFile, freshGrid } from './shelf'

export type PanelName =
  | 'source'
  | 'columns'
  | 'search'
  | 'conditions'
  | 'order'
  | 'groups'
  | 'rows'
  | 'look'
  | 'ship'
  | 'findings'
  | 'trace'
export type Mode = 'build' | 'use'

/** What undo and redo walk along. */
interface Bound {
  readonly definition: Definition
  readonly arrangement: Arrangement
  readonly options: ReadOptions | undefined
}

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
  const fieldChanges = shallowRef<FieldChanges | null>(null)
  const history = shallowRef<History<Bound> | null>(null)
  const mode = ref<Mode>('build')
  const selected = ref(0)
  const problem = ref('')
  const needsFile = ref(false)
  const saving = ref<'saved' | 'saving' | 'not saved'>('saved')
  const saveProblem = ref('')
  const panel = ref<PanelName | null>('source')
  /** The column whose settings are open; null: the list of all. */
  const column = ref<string | null>(null)
  /** The key of the row that is traced, as it is typed; null: none yet. */
  const traced = ref<string | null>(null)
  let timer = 0
  let storedFile: Blob | null = null
  /** What is arranged in Build: what readers start with, also while the grid is tried as a reader. */
  const built = shallowRef<Arrangement | null>(null)
  /** What a reader has arranged in Use; null: nothing yet. */
  const readers = shallowRef<Arrangement | null>(null)
  /** The definition that readers are given, its start being what is arranged in Build. */
  const start = computed(() => definition.value && built.value && shipped(definition.value, built.value))
  const readerDiffers = computed(
    () => start.value !== null && readers.value !== null && differsFromStart(start.value, readers.value),
  )
  /** A state of the history is being put back; what the grid tells meanwhile is no change of its own. */
  let restoring = 0
  let acting: Promise<void> = Promise.resolve()
  /** The start was taken from a reader and is not in the history yet. */
  let tookStart = false

  /** The fields that come with the rows, without those that are worked out. */
  const ownFields = computed(() => description.value?.fields.filter(field => !field.computed) ?? [])

  async function load(id: string): Promise<boolean> {
    close()
    const grid = (await gridById(id).catch(() => undefined)) ?? freshGrid(id)
    if (!grid) return false
    const read = grid.definition ? readDefinition(grid.definition) : null
    if (read && !read.ok) problem.value = `Its definition could not be read: ${read.problems[0]!.message}`
    saved.value = { ...grid, definition: read?.ok ? read.definition : null }
    readers.value = grid.reader ?? null
    const file = heldFile(id) ?? (await fileOf(id).catch(() => undefined))
    input.value = inputOf(grid.origin, file)
    needsFile.value = input.value === null
    return true
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
    if (!mounted?.definition) return
    definition.value = mounted.definition
    arrangement.value = mounted.arrangement
    if (mode.value === 'build') built.value = mounted.arrangement
    history.value ??= startHistory(bound())
    const grid = saved.value
    const columns = ownFields.value.length
    if (grid && (grid.rows !== told.total || grid.columns !== columns || !grid.definition)) saveLater()
  }

  function arranged(told: Arrangement, why: Why): void {
    const before = arrangement.value
    arrangement.value = told
    if (mode.value === 'use') {
      if (why !== 'restore') readers.value = told
      return saveLater()
    }
    built.value = told
    const name = before && changeName(before, told)
    if (name && why !== 'restore') note(name)
    saveLater()
  }

  /** Definitions take a moment to take effect; what comes meanwhile waits, so that the last asked for is what stays. */
  function inTurn(act: () => Promise<void>): Promise<void> {
    const done = acting.then(act)
    acting = done.catch(() => {})
    return done
  }

  // ── Undo and redo ────────────────────────────────────────────────────────────────────────────────────────────

  const optionsNow = (): ReadOptions | undefined => {
    const origin = saved.value?.origin
    return origin?.kind === 'file' ? origin.options : undefined
  }

  const bound = (): Bound => ({
    definition: definition.value!,
    arrangement: arrangement.value!,
    options: optionsNow(),
  })

  function note(name: string): void {
    if (!history.value || restoring > 0 || mode.value === 'use') return
    history.value = remember(history.value, name, bound(), Date.now())
  }

  const undoable = computed(() => history.value && undoName(history.value))
  const redoable = computed(() => history.value && redoName(history.value))

  const walk = (by: 1 | -1): Promise<void> => inTurn(() => walkOne(by))

  async function walkOne(by: 1 | -1): Promise<void> {
    const mounted = handle.value
    if (!history.value || !mounted || mode.value === 'use') return
    const next = step(history.value, by)
    if (next === history.value) return
    history.value = next
    const { definition: wanted, arrangement: wantedArrangement, options } = presentState(next)
    restoring++
    try {
      if (JSON.stringify(options) !== JSON.stringify(optionsNow())) {
        await readAgain(options, wanted)
      } else if (wanted !== definition.value) await mounted.setDefinition(wanted)
      mounted.arrange(wantedArrangement, 'restore')
      definition.value = mounted.definition
      arrangement.value = built.value = mounted.arrangement
    } finally {
      restoring--
    }
    saveLater()
  }

  // ── The builder changes things ───────────────────────────────────────────────────────────────────────────────

  /** Opens the settings of a column. */
  function openColumn(key: string): void {
    if (mode.value === 'use') return
    column.value = key
    panel.value = 'columns'
  }

  const change = (changed: ArrangementChange): void => void handle.value?.arrange(changed, 'builder')

  /** Another definition; `name`: what was done, for undo. */
  const define = (name: string, wanted: Definition, wantedArrangement?: Arrangement): Promise<void> =>
    inTurn(() => defineOne(name, wanted, wantedArrangement))

  async function defineOne(name: string, wanted: Definition, wantedArrangement?: Arrangement): Promise<void> {
    const mounted = handle.value
    if (!mounted) return
    restoring++
    try {
      await mounted.setDefinition(wanted)
      if (wantedArrangement) mounted.arrange(wantedArrangement, 'builder')
      definition.value = mounted.definition
      arrangement.value = built.value = mounted.arrangement
    } finally {
      restoring--
    }
    note(name)
    saveLater()
  }

  /** A column shows another field, and what was said of it goes along. */
  async function rename(from: string, to: string): Promise<void> {
    const next = renameColumn(definition.value!, arrangement.value!, from, to)
    await define('column’s field', next.definition, next.arrangement)
    fieldChanges.value = fieldChanges.value && changedFields(definition.value!, description.value!.fields)
  }

  /** The rows' file is read otherwise. What cannot be read so is told, and nothing changes. */
  async function read(name: string, change: Partial<ReadOptions>): Promise<void> {
    const options = { ...optionsNow(), ...change }
    restoring++
    let done = false
    try {
      done = await readAgain(options)
    } finally {
      restoring--
    }
    if (done) note(name)
  }

  const readColumn = (key: string, as: ColumnReadOptions): Promise<void> =>
    read(`type of ${titleOf(key)}`, { columns: { ...optionsNow()?.columns, [key]: as } })

  async function readAgain(options: ReadOptions | undefined, wanted?: Definition): Promise<boolean> {
    const { origin, id } = saved.value!
    if (origin.kind !== 'file') return false
    const file = heldFile(id) ?? (await fileOf(id))
    const next: FileOrigin = { ...origin, options }
    const source = inputOf(next, file)
    return source !== null && (await replaceRows(source, next, wanted))
  }

  /** A search that readers start with; empty: none. What is typed in Build is only tried. */
  const startSearch = (search: string): Promise<void> =>
    define('search at the start', {
      ...definition.value!,
      start: { ...definition.value!.start, search: search.trim() || undefined },
    })

  // ── Build and Use ────────────────────────────────────────────────────────────────────────────────────────────

  /** Use begins where readers do, or where this reader left it; Build is as it was. */
  function setMode(wanted: Mode): void {
    const mounted = handle.value
    const begun = start.value
    if (mode.value === wanted || !mounted || !begun || !built.value) return
    mode.value = wanted
    const shown = wanted === 'use' ? arrangementFor(begun, readers.value ?? {}) : built.value
    mounted.arrange(shown, 'restore')
    arrangement.value = mounted.arrangement
    mounted.clearSelection()
    if (wanted === 'build' && tookStart) note('start')
    tookStart = false
  }

  /** What the reader arranged is given up. */
  function backToStart(): void {
    if (!start.value) return
    handle.value?.arrange(arrangementFor(start.value), 'restore')
    readers.value = null
    saveLater()
  }

  /** What the reader arranged, the search included, becomes what all readers start with. */
  async function takeAsStart(): Promise<void> {
    const taken = readers.value
    if (!taken) return
    built.value = { ...taken, page: 0 }
    tookStart = true
    readers.value = null
    if ((definition.value!.start.search ?? '') !== taken.search) await startSearch(taken.search)
    saveLater()
  }

  // ── Rows come and go ─────────────────────────────────────────────────────────────────────────────────────────

  /** Puts other rows into the open grid. When they cannot be had, what is shown stays and the problem is told. */
  async function replaceRows(source: SourceInput, origin: Origin, wanted?: Definition): Promise<boolean> {
    const mounted = handle.value
    problem.value = ''
    if (!mounted) return false
    const before = ownFields.value
    try {
      await mounted.setRows(source, wanted ?? definition.value ?? undefined)
    } catch {
      return false
    } finally {
      progress.value = null
    }
    saved.value = { ...saved.value!, origin }
    definition.value = mounted.definition
    const fields = ownFields.value
    const sameFields =
      JSON.stringify(before.map(({ key }) => key)) === JSON.stringify(fields.map(({ key }) => key))
    fieldChanges.value = sameFields ? null : changedFields(definition.value!, fields)
    // What became of the columns is told, and asked, beside the source.
    if (fieldChanges.value) panel.value = 'source'
    saveLater()
    return true
  }

  async function replaceFile(file: File, more: Partial<FileOrigin> = {}): Promise<void> {
    const id = saved.value!.id
    const before = saved.value!.origin
    // What was said about reading holds for the new file as well; its fields may have been named.
    const options = before.kind === 'file' ? before.options : undefined
    const origin = fileOrigin(file, file.name, { options, ...more })
    const source = inputOf(origin, file)!
    if (needsFile.value) {
      holdFile(id, file)
      saved.value = { ...saved.value!, origin }
      needsFile.value = false
      input.value = source
      return
    }
    if (!(await replaceRows(source, origin))) return
    holdFile(id, file)
    // Rows themselves are not kept in the history: from here on it begins anew.
    history.value = startHistory(bound())
  }

  async function grow(times: number): Promise<void> {
    const { origin, id } = saved.value!
    if (origin.kind !== 'file') return
    const next = { ...origin, times }
    const source = inputOf(next, heldFile(id) ?? (await fileOf(id)))
    if (source) await replaceRows(source, next)
  }

  function cancelLoading(): void {
    progress.value = null
    handle.value?.cancelLoading()
  }

  // ── Saving ───────────────────────────────────────────────────────────────────────────────────────────────────

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
    const next = present()
    if (!next) return
    const picture =
      mode.value === 'use' ? next.picture : await pictureOf(handle.value!).catch(() => next.picture)
    if (saved.value?.id !== next.id) return
    const kept = { ...next, picture }
    saved.value = kept
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

  /** Writes what is pending at once; for when the page is left. */
  function saveNow(): void {
    if (saving.value !== 'saving') return
    window.clearTimeout(timer)
    void save()
  }

  function retitle(title: string): void {
    if (!saved.value || title.trim() === '') return
    saved.value = { ...saved.value, title: title.trim() }
    saveLater()
  }

  /** Shows why the row with the key is where it is. */
  function traceKey(key: KeyValue): void {
    const fields = definition.value?.key ?? []
    traced.value = fields.length === 0 ? String(Number(key) + 1) : keyParts(key).join(', ')
    panel.value = 'trace'
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
      fieldChanges,
      history,
    ]) {
      held.value = null
    }
    selected.value = 0
    column.value = null
    problem.value = ''
    mode.value = 'build'
    built.value = readers.value = null
    tookStart = false
    storedFile = null
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
    fieldChanges,
    history,
    undoable,
    redoable,
    mode,
    selected,
    problem,
    needsFile,
    saving,
    saveProblem,
    panel,
    column,
    openColumn,
    load,
    attach,
    opened,
    flowed,
    arranged,
    walk,
    saveNow,
    retitle,
    present,
    change,
    define,
    rename,
    read,
    readColumn,
    startSearch,
    start,
    setMode,
    readerDiffers,
    backToStart,
    takeAsStart,
    replaceRows,
    replaceFile,
    grow,
    cancelLoading,
    traced,
    traceKey,
    fileForHandover,
    close,
    titleOf,
    ownFields,
  }
})
