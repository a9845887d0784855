import {
  readTyped,
  refOf,
  textToEdit,
  type CellContent,
  type RowRef,
  type Step,
} from '@vast-meadow/engine/editing'
import { asLine, editableKey } from '@vast-meadow/engine/client'
import type {
  ColumnDefinition,
  Field,
  Format,
  KeyValue,
  RowId,
  SaveAbilities,
  Value,
} from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'
import type { CellBox, Place } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { PageLine } from '../../kernel/page-line.ts'
import { isNewRow, type PendingRows } from './pending-rows.ts'
import type { TargetRow } from './target-cells.ts'

/** Why a cell cannot be changed. */
export type Hindrance = keyof EditingTexts['cannotEdit']

/** A cell that is to be written to. */
export interface CellTarget {
  readonly ref: RowRef
  readonly id: RowId
  readonly column: string
  /** What is saved there. */
  readonly saved: Value
}

export interface Write {
  readonly target: CellTarget
  readonly content: CellContent
}

export const EMPTY: CellContent = { value: null, text: null }

/** What every change of cells and rows is made with: what may be changed, what names it, and the act that it is. */
export class EditActs {
  readonly kernel: Kernel
  readonly pending: PendingRows
  readonly texts: EditingTexts
  private formats: { readonly of: unknown; readonly by: Readonly<Record<string, Format>> } | null = null
  private readonly after: (steps: readonly Step[]) => void
  private readonly goTo: (name: string, column: string) => Promise<void>

  /** `after`: something was done, or taken back. */
  constructor(
    kernel: Kernel,
    pending: PendingRows,
    texts: EditingTexts,
    after: (steps: readonly Step[]) => void,
    goTo: (name: string, column: string) => Promise<void>,
  ) {
    this.kernel = kernel
    this.pending = pending
    this.texts = texts
    this.after = after
    this.goTo = goTo
  }

  columnOf(column: string): ColumnDefinition | undefined {
    return this.kernel.model.columnOf(column)
  }

  fieldOf(column: string): Field | undefined {
    return this.kernel.model.fieldOf(column)
  }

  formatOf(column: string): Format {
    const { model } = this.kernel
    // Asked for each of many cells; formats follow from the definition alone.
    if (this.formats?.of !== model.definition)
      this.formats = { of: model.definition, by: model.binding.formats }
    return this.formats.by[column] ?? {}
  }

  /** Whether cells of a column can be changed at all. */
  canEditColumn(column: string): boolean {
    const field = this.fieldOf(column)
    return this.columnOf(column)?.edit !== undefined && field !== undefined && !field.computed
  }

  /** Whether a column is what names a row; of a saved one it stays. */
  isKey(column: string): boolean {
    return this.kernel.model.keyFields.includes(column)
  }

  /** What the source saves by itself; null: the page saves, or changes stay here. */
  get saves(): SaveAbilities | null {
    const { options, model } = this.kernel
    return options.parts?.save ? null : (model.description?.can.save ?? null)
  }

  /** Whether what saves rows takes another value of a column in rows that are there. */
  private isTaken(column: string): boolean {
    const { saves } = this
    return saves === null || (saves.update === true && !saves.fixed.includes(column))
  }

  /** Why a cell on a line cannot be changed; null: it can. */
  hindrance({ line, column }: Place): Hindrance | null {
    const { lines } = this.kernel
    const shown = line >= 0 ? lines.line(line) : undefined
    if (shown?.kind !== 'row' && shown?.kind !== 'new') return 'group'
    if (!this.canEditColumn(column)) return 'column'
    if (shown.kind === 'row' && this.isKey(column)) return 'key'
    if (shown.kind === 'row' && !this.isTaken(column)) return 'service'
    const row = this.pending.rowOf(shown.row)
    if (row?.removed) return 'removed'
    if (row?.state === 'saving') return 'saving'
    const asksRow = this.columnOf(column)?.edit?.when !== undefined && shown.kind === 'row'
    if (!asksRow) return null
    // While the cells of a line are on their way nobody knows; what is typed meanwhile must not be lost.
    const told = lines.value(line, shown.row, editableKey(column))
    return told === undefined || told === true ? null : 'row'
  }
  /** Says of rows whether a column can be changed there, by the expressions of the columns. */
  async mayEdit(ids: readonly RowId[]): Promise<(id: RowId, column: string) => boolean> {
    const { model } = this.kernel
    const asking = (model.definition?.columns ?? []).filter(({ edit }) => edit?.when !== undefined)
    const there = ids.filter(id => !isNewRow(id))
    const columns = asking.map(({ key }) => editableKey(key))
    const cells =
      asking.length > 0 && there.length > 0
        ? await model.ask('rowCells', { rows: there, columns, binding: model.binding })
        : undefined
    const rowAt = new Map(there.map((id, nth) => [id, nth]))
    return (id, column) => {
      if (!this.canEditColumn(column)) return false
      if (!isNewRow(id) && (this.isKey(column) || !this.isTaken(column))) return false
      const row = this.pending.rowOf(id)
      if (row && (row.removed || row.state === 'saving')) return false
      const at = columns.indexOf(editableKey(column))
      const nth = rowAt.get(id)
      return at < 0 || nth === undefined || cells?.values[nth * columns.length + at] === true
    }
  }
  editText(column: string, value: Value): string {
    const field = this.fieldOf(column)
    return field ? textToEdit(value, field, this.formatOf(column)) : ''
  }
  /** What a text comes to in a column: a value, or the text itself where it says none. */
  contentOf(text: string, field: Field): CellContent {
    const read = readTyped(text, field, this.formatOf(field.key))
    return read.ok ? { value: read.value, text: null } : { value: null, text }
  }
  /** What names a row on a line; asked for only where its key was not read along. */
  refOnLine(id: RowId, line: PageLine): RowRef | Promise<RowRef> {
    const { lines, model } = this.kernel
    const name = this.pending.nameOf(id)
    if (name !== undefined) return { name, key: this.pending.typed.row(name)?.key ?? keyIn(name) }
    const parts = model.keyFields.map(field => lines.value(line, id, field))
    const read = parts.filter(part => part !== undefined)
    if (read.length < parts.length || parts.length === 0) return this.refOf(id)
    return refOf(read.length === 1 ? read[0] : read)
  }

  /** What names a row that is there, or is new. */
  async refOf(id: RowId): Promise<RowRef> {
    return (await this.refsOf([id]))[0]
  }

  async refsOf(ids: readonly RowId[]): Promise<RowRef[]> {
    const { model } = this.kernel
    const unknown = ids.filter(id => this.pending.nameOf(id) === undefined)
    const keys =
      unknown.length > 0
        ? ((await model.ask('keysOf', {
            keyFields: model.keyFields,
            rows: { kind: 'list', rows: unknown },
          })) ?? [])
        : []
    const refs = new Map(unknown.map((id, nth) => [id, refOf(keys[nth] ?? null)]))
    return ids.map(id => {
      const name = this.pending.nameOf(id)
      return name === undefined
        ? (refs.get(id) ?? refOf(null))
        : { name, key: this.pending.typed.row(name)?.key ?? keyIn(name) }
    })
  }

  /** Writes into cells, as one act. */
  write(writes: readonly Write[], said: string): void {
    const steps: Step[] = []
    for (const { target, content } of writes) {
      if (!isNewRow(target.id)) this.pending.bind(target.ref.name, target.id)
      const step = this.pending.typed.write(target.ref, target.column, target.saved, content)
      if (step) steps.push(step)
    }
    this.acted(steps, said)
  }

  /** Something was done: it can be taken back, is checked, seen and saved as the definition says. */
  acted(steps: readonly Step[], said: string): void {
    if (steps.length === 0) return
    this.kernel.features.all(feature =>
      feature.noteAct?.({
        said,
        undo: () => this.retrace(steps, 'back'),
        redo: () => this.retrace(steps, 'again'),
      }),
    )
    this.after(steps)
  }
  async retrace(steps: readonly Step[], way: 'back' | 'again'): Promise<boolean> {
    const cells = steps.flatMap(step => (step.kind === 'cell' && step.row.key !== null ? [step] : []))
    const keys = new Map(cells.map(({ row }) => [row.name, row.key]))
    const columns = [...new Set(cells.map(({ field }) => field))]
    const { model } = this.kernel
    const saved =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys: [...keys.values()], columns })) ?? []
    const byName = new Map([...keys.keys()].map((name, nth) => [name, saved[nth] ?? null]))
    for (const [name, row] of byName) if (row) this.pending.bind(name, row.id)
    const made = this.pending.typed.retrace(
      steps,
      way,
      (row, field) => byName.get(row.name)?.values[columns.indexOf(field)] ?? null,
    )
    this.after(made)
    const first = made.find(step => step.kind === 'cell')
    if (first) await this.goTo(first.row.name, first.field)
    return made.length > 0
  }

  boxes(): readonly CellBox[] | null {
    return (
      this.kernel.features.all(feature => feature.cellBoxes?.() ?? null).find(boxes => boxes !== null) ?? null
    )
  }
  targetOf(ref: RowRef, row: TargetRow, column: string): CellTarget {
    const saved = this.pending.typed.cell(ref.name, column)?.before ?? row.values.get(column) ?? null
    return { ref, id: row.id, column, saved }
  }

  /** A cell as a rectangle; none where it is no row of the view. */
  boxOf({ line, column }: Place): CellBox[] {
    const from = this.kernel.pager.ofView(line)
    return from < 0 || isOwnColumn(column) ? [] : [{ from, to: asLine(from + 1), columns: [column] }]
  }
}

/** What code gives for a cell, as a text that reads as the column writes its values. */
export function textGiven(given: unknown): string {
  if (given === null || given === undefined) return ''
  if (Array.isArray(given)) return given.join(', ')
  if (given instanceof Date) return given.toISOString()
  if (typeof given === 'string') return given
  if (typeof given === 'number' || typeof given === 'boolean' || typeof given === 'bigint')
    return String(given)
  return JSON.stringify(given) ?? ''
}

/** The key in a row's name. */
const keyIn = (name: string): KeyValue =>
  name.startsWith('k') ? (JSON.parse(name.slice(1)) as KeyValue) : null
