import type { ChangeList, KeyValue, PendingCounts } from '@vast-meadow/engine'
import { errorOf } from '@vast-meadow/engine/client'
import type { Feature, MenuEntry, Place, PlacedCell } from '../../kernel/feature.ts'
import { make } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { plainJson } from '../../kernel/plain-json.ts'
import type { EditWork } from './edit-work.ts'

/** Of the grid's handle: changes of rows that are not saved yet. */
export interface EditingHandle {
  /** How much is changed and not saved. */
  readonly pendingCounts: PendingCounts
  /** What is changed and not saved, as one plain document. */
  changes(): ChangeList
  /** Takes in such a document, over what is changed already. Rejects where it is none. */
  takeChanges(list: unknown): Promise<void>
  /** Writes into a cell as a reader would: a text is read as the column writes its values. Rejects where it cannot be changed. */
  setCell(key: KeyValue, column: string, value: unknown): Promise<void>
  /** Opens the editor on the cell that the keyboard is on; false where it cannot be changed. */
  editCell(): boolean
  /** Adds a new row, by columns' keys; answers the name that it has until it is saved. */
  addRow(values?: Readonly<Record<string, unknown>>): Promise<string>
  /** Marks rows to be deleted with the next save, without asking the reader. */
  deleteRows(keys: readonly KeyValue[]): Promise<void>
  /** Saves all that can be saved; resolves when that is answered. */
  saveChanges(): Promise<void>
  /** Takes back all that is not saved, as one act. */
  discardChanges(): void
}

const NOTHING: PendingCounts = {
  changed: 0,
  added: 0,
  removed: 0,
  cells: 0,
  notValid: 0,
  conflicts: 0,
  refused: 0,
}
const NO_CHANGES: ChangeList = {
  format: 'vast-meadow-changes',
  version: 1,
  changed: [],
  added: [],
  removed: [],
  notValid: [],
}
/** What is kept of unsaved changes is written when they rest so long. */
const KEEP_MS = 150
/** So many frames a line is waited for into which is typed. */
const MOST_FRAMES = 120

/** Whether a key writes a character; names of keys are longer. */
const isCharacter = (key: string): boolean => /^.$/u.test(key)

/** Rows are changed where the definition lets them be; what does it is loaded with the first such definition. */
export function editing(kernel: Kernel): Feature {
  const { model, bar, options, disposal, features } = kernel
  let work: EditWork | null = null
  let loading: Promise<EditWork> | null = null
  let keepTimer = 0
  let toKeep: (() => ChangeList | null) | null = null

  const newRow = make('button', 'button new-row-button')
  newRow.type = 'button'
  newRow.hidden = true
  bar.addAtStart(newRow)
  disposal.listen(newRow, 'click', () => void work?.rows.addRow())

  function load(): Promise<EditWork> {
    loading ??= import('./edit-work.ts').then(async module => {
      const made = new module.EditWork(kernel, keepSoon)
      newRow.textContent = made.texts.newRow
      work = made
      await takeKept(made)
      return made
    })
    return loading
  }

  /** What was not saved on a visit before. */
  async function takeKept(made: EditWork): Promise<void> {
    const { unsaved } = options
    if (!unsaved) return
    try {
      const kept = await unsaved.load()
      if (kept !== null && kept !== undefined) await take(made, kept)
    } catch (error) {
      kernel.tell({ code: 'not-kept', message: made.texts.keptNotRead(errorOf(error).message) })
    }
  }

  async function take(made: EditWork, given: unknown): Promise<void> {
    const { changeListSchema } = await import('@vast-meadow/engine/editing')
    const read = changeListSchema.safeParse(plainJson(given))
    if (!read.success) {
      const [issue] = read.error.issues
      throw new TypeError(`${issue.path.join('.') || 'format'}: ${issue.message}`)
    }
    await made.takeList(read.data)
  }

  /** `list`: gives what is not saved when it is to be written down; null: there is nothing. */
  function keepSoon(list: () => ChangeList | null): void {
    if (!options.unsaved) return
    toKeep = list
    keepTimer ||= window.setTimeout(() => keepNow(), KEEP_MS)
  }
  function keepNow(): void {
    clearTimeout(keepTimer)
    keepTimer = 0
    const list = toKeep?.()
    toKeep = null
    if (list === undefined) return
    options.unsaved?.save(list).catch((error: unknown) => work?.failedToKeep(error))
  }
  disposal.add(() => keepNow())
  const page = kernel.root.ownerDocument.defaultView
  page?.addEventListener('pagehide', keepNow)
  disposal.add(() => page?.removeEventListener('pagehide', keepNow))

  const ready = async (): Promise<EditWork> => {
    await kernel.ready
    return await load()
  }
  const isEditable = (): boolean =>
    model.keyFields.length > 0 &&
    (model.definition?.columns.some(({ edit }) => edit !== undefined) === true ||
      model.definition?.editing.remove === true)

  const handle: EditingHandle = {
    get pendingCounts() {
      return work?.counts ?? NOTHING
    },
    changes: () => work?.pending.typed.toList(column => model.fieldOf(column)) ?? NO_CHANGES,
    takeChanges: async list => await take(await ready(), list),
    setCell: async (key, column, value) => await (await ready()).setCell(key, column, value),
    editCell: () => work?.typing.begin(kernel.navigator) ?? false,
    async addRow(values = {}) {
      const made = await ready()
      const name = made.rows.addFromCode(values)
      await made.checked()
      return name
    },
    async deleteRows(keys) {
      const made = await ready()
      const found = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
      const missing = keys.find((_, nth) => (found[nth] ?? null) === null)
      if (missing !== undefined)
        throw new RangeError(`There is no row with the key ${JSON.stringify(missing)}.`)
      await made.rows.removeRows(
        found.filter(id => id !== null),
        false,
      )
    },
    saveChanges: async () => await (await ready()).save(),
    discardChanges: () => work?.discardAll(),
  }

  /** What is typed while that is loaded into which it is typed. */
  let early = ''
  function typedEarly(key: string, { line, column }: Place): boolean {
    if (!isEditable() || model.columnOf(column)?.edit === undefined) return false
    const isFirst = early === ''
    early += key
    if (isFirst)
      void load().then(made => {
        const text = early
        early = ''
        made.typing.begin({ line, column }, text)
      }, kernel.failed)
    return true
  }

  /** What is typed while the line of the cell is on its way: the editor opens when it is there. */
  function typedAhead(made: EditWork, key: string, { line, column }: Place): boolean {
    const isFirst = early === ''
    early += key
    const open = (frames: number): void => {
      if (kernel.lines.line(line) === undefined && frames > 0) {
        requestAnimationFrame(() => open(frames - 1))
        return
      }
      const text = early
      early = ''
      made.typing.begin({ line, column }, text)
    }
    if (isFirst) open(MOST_FRAMES)
    return true
  }

  /** Letters, Enter, F2 and Delete on a cell. */
  function key(event: KeyboardEvent, at: Place): boolean {
    if (at.line < 0) return false
    const { key, ctrlKey, metaKey, altKey } = event
    if (ctrlKey || metaKey || altKey) return false
    if (!work) return isCharacter(key) && (key !== ' ' || early !== '') && typedEarly(key, at)
    // Enter does other things in cells that cannot be changed.
    if (key === 'F2' || (key === 'Enter' && work.acts.canEditColumn(at.column))) return work.typing.begin(at)
    if (key === 'Delete' || key === 'Backspace') {
      if (!work.acts.canEditColumn(at.column)) return false
      void work.blocks.clear(at).catch(kernel.failed)
      return true
    }
    const isText = isCharacter(key) && key !== ' '
    if (!isText || !work.acts.canEditColumn(at.column)) return false
    const isComing = early !== '' || kernel.lines.line(at.line) === undefined
    return isComing ? typedAhead(work, key, at) : work.typing.begin(at, key)
  }

  function cellMenu({ row, line, column, value }: PlacedCell): MenuEntry[] {
    const made = work
    if (!made) return []
    const { texts } = made
    const entries: MenuEntry[] = []
    const add = (text: string, act: () => unknown): void =>
      void entries.push({
        text,
        act: () =>
          void Promise.resolve()
            .then(() => act())
            .catch(kernel.failed),
      })
    const may = made.acts.hindrance({ line, column }) === null
    const pending = made.pending.rowOf(row)
    if (may) add(texts.edit, () => made.typing.begin({ line, column }))
    if (may) add(texts.clear, () => made.blocks.clear({ line, column }))
    if (
      features
        .all(feature => feature.cellBoxes?.() ?? null)
        .some(boxes => boxes?.some(({ from, to }) => to - from > 1))
    )
      add(texts.fillDown, () => made.blocks.fillDown())
    const ticked = features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    const count = made.countOf(ticked ?? null)
    if (count > 0 && made.acts.canEditColumn(column))
      add(texts.sameInSelected(kernel.format(count), count), () =>
        made.blocks.fillSelected(column, made.pending.cellOf(row, column)?.now.value ?? value),
      )
    if (made.acts.canEditColumn(column) && !made.acts.isKey(column) && model.canTell('cellsHolding'))
      add(texts.replaceIn(model.titleOf(column)), () => made.askToReplace(column, value))
    if (made.pending.cellOf(row, column) && pending)
      add(texts.takeBackCell, () => made.takeBack(pending.name, column))
    if (made.rows.mayAdd) {
      add(texts.newRow, () => made.rows.addRow())
      if (model.definition?.editing.copies) add(texts.copyRow, () => made.rows.copyRow(row))
    }
    if (made.rows.mayRemove) {
      if (pending?.removed) add(texts.keepRow, () => made.rows.keepRow(row))
      else add(texts.deleteRow, () => made.rows.removeRows([row]))
      if (count > 1) add(texts.deleteSelected(kernel.format(count), count), () => made.rows.removeSelected())
    }
    return entries
  }

  function offerNewRow(): void {
    newRow.hidden = !isEditable() || !(work?.rows.mayAdd ?? model.definition?.editing.newRows !== undefined)
  }

  function headingMenu(column: string): MenuEntry[] {
    if (!work?.acts.canEditColumn(column) || work.acts.isKey(column) || !model.canTell('cellsHolding'))
      return []
    const made = work
    return [{ text: made.texts.replaceIn(model.titleOf(column)), act: () => made.askToReplace(column, null) }]
  }

  return {
    name: 'editing',
    handle,
    defined() {
      const editable = isEditable()
      if (editable) void load().catch(kernel.failed)
      offerNewRow()
    },
    viewed() {
      // Only now is it known what the source takes.
      offerNewRow()
      void work?.followRows().catch(kernel.failed)
    },
    drawn: () => work?.typing.drawn(),
    key,
    doubleClick: at => work !== null && work.acts.canEditColumn(at.column) && work.typing.begin(at),
    cellMenu,
    headingMenu,
  }
}
