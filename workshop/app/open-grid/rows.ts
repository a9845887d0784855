import { words } from '~/words'
import type { ColumnReadOptions, Definition, ReadOptions, SourceInput } from '@vast-meadow/engine'
import type { MeadowHandle } from '@vast-meadow/grid'
import { changedFields } from '~/binding/field-changes'
import { fileOf } from '~/storage/database'
import { fileOrigin, inputOf, type FileOrigin, type Origin } from '~/storage/saved-grid'
import { heldFile, holdFile } from '~/stores/shelf'
import type { Remembering } from './remembering'
import type { Saving } from './saving'
import type { OpenGridState } from './state'
import { sure } from '@vast-meadow/engine/client'

/** Whether any column shows something of the rows; else they are other rows altogether, and ask for columns of their own. */
function fits({ definition, description }: MeadowHandle): boolean {
  const there = new Set(description?.fields.map(({ key }) => key))
  return definition?.columns.some(({ key, expression }) => expression === undefined && there.has(key)) ?? true
}

/** Rows come and go, and are read in other ways. */
export function rowsOf(
  state: OpenGridState,
  { saveLater }: Saving,
  { inTurn, note, quietly, begin }: Remembering,
) {
  const { saved, input, handle, definition, report, progress, problem, needsFile, fieldChanges, panel } =
    state
  const { ownFields, titleOf, optionsNow } = state

  /** The rows' file is read otherwise. What cannot be read so is told, and nothing changes. */
  const read = (name: string, change: Partial<ReadOptions>): Promise<void> =>
    inTurn(() => readOne(name, change))

  const readColumn = (key: string, as: ColumnReadOptions): Promise<void> =>
    inTurn(() =>
      readOne(words.rows.typeOf(titleOf(key)), { columns: { ...optionsNow()?.columns, [key]: as } }),
    )

  async function readOne(name: string, change: Partial<ReadOptions>): Promise<void> {
    const options = { ...optionsNow(), ...change }
    if (await quietly(() => readAgain(options))) note(name)
  }

  async function readAgain(options: ReadOptions | undefined, wanted?: Definition): Promise<boolean> {
    const { origin, id } = sure(saved.value)
    if (origin.kind !== 'file') return false
    const file = heldFile(id) ?? (await fileOf(id))
    const next: FileOrigin = { ...origin, options }
    const source = inputOf(next, file)
    if (source && !report.value) {
      // Nothing could be read so far: the grid begins anew.
      saved.value = { ...sure(saved.value), origin: next }
      problem.value = ''
      input.value = source
      saveLater()
      return false
    }
    return source !== null && (await replaceRows(source, next, wanted))
  }

  /** Puts other rows into the open grid. When they cannot be had, what is shown stays and the problem is told. */
  async function replaceRows(source: SourceInput, origin: Origin, wanted?: Definition): Promise<boolean> {
    const mounted = handle.value
    problem.value = ''
    if (!mounted) return false
    const before = ownFields.value
    try {
      await mounted.setRows(source, wanted ?? definition.value ?? undefined)
      if (!fits(mounted)) await mounted.setDefinition(null)
    } catch {
      return false
    } finally {
      progress.value = null
    }
    saved.value = { ...sure(saved.value), origin }
    definition.value = mounted.definition
    const fields = ownFields.value
    const sameFields =
      JSON.stringify(before.map(({ key }) => key)) === JSON.stringify(fields.map(({ key }) => key))
    fieldChanges.value = sameFields ? null : changedFields(sure(definition.value), fields)
    // What became of the columns is told, and asked, beside the source.
    if (fieldChanges.value) panel.value = 'source'
    saveLater()
    return true
  }

  async function replaceFile(file: File, more: Partial<FileOrigin> = {}): Promise<void> {
    const { id, origin: before } = sure(saved.value)
    // What was said about reading holds for the new file as well; its fields may have been named.
    const options = before.kind === 'file' ? before.options : undefined
    const origin = fileOrigin(file, file.name, { options, ...more })
    const source = sure(inputOf(origin, file))
    if (needsFile.value) {
      holdFile(id, file)
      saved.value = { ...sure(saved.value), origin }
      needsFile.value = false
      input.value = source
      return
    }
    if (!(await replaceRows(source, origin))) return
    holdFile(id, file)
    begin()
  }

  async function grow(times: number): Promise<void> {
    const { origin, id } = sure(saved.value)
    if (origin.kind !== 'file') return
    const next = { ...origin, times }
    const source = inputOf(next, heldFile(id) ?? (await fileOf(id)))
    if (source) await replaceRows(source, next)
  }

  /** The first rows go: the others do not come. */
  function lose(): void {
    progress.value = null
    if (state.coming.value) state.description.value = null
  }

  function cancelLoading(): void {
    lose()
    handle.value?.cancelLoading()
  }

  /** The rows as the file they came from, where they came from one. */
  async function fileForHandover(): Promise<Blob | null> {
    const id = saved.value?.id ?? ''
    return heldFile(id) ?? (await fileOf(id)) ?? null
  }

  return { read, readColumn, readAgain, replaceRows, replaceFile, grow, lose, cancelLoading, fileForHandover }
}

export type RowsOfGrid = ReturnType<typeof rowsOf>
