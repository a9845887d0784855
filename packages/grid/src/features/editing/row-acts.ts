import { type RowRef, type Step } from '@vast-meadow/engine/editing'
import type { RowId, Value } from '@vast-meadow/engine'
import { askFirst } from '../../kernel/confirm-view.ts'
import { textGiven, type EditActs } from './edit-acts.ts'
import { isNewRow } from './pending-rows.ts'

/** Names told in a question. */
const MOST_NAMED = 3

/** Rows are new, copied, and marked to be deleted. */
export class RowActs {
  private readonly acts: EditActs
  private readonly open: (name: string) => Promise<void>

  /** `open`: goes to a new row and opens its first cell. */
  constructor(acts: EditActs, open: (name: string) => Promise<void>) {
    this.acts = acts
    this.open = open
  }

  get mayAdd(): boolean {
    const { model } = this.acts.kernel
    const isTaken = (this.acts.saves?.insert ?? true) === true
    return model.definition?.editing.newRows !== undefined && model.keyFields.length > 0 && isTaken
  }

  get mayRemove(): boolean {
    const { model } = this.acts.kernel
    const isTaken = (this.acts.saves?.remove ?? true) === true
    return (model.definition?.editing.remove ?? false) && model.keyFields.length > 0 && isTaken
  }

  /** What a new row begins with. */
  startValues(): Map<string, Value> {
    const values = new Map<string, Value>()
    for (const { key, edit } of this.acts.kernel.model.definition?.columns ?? []) {
      const field = this.acts.fieldOf(key)
      if (edit?.start === undefined || edit.start === null || !field) continue
      const { value, text } = this.acts.contentOf(String(edit.start), field)
      if (text === null && value !== null) values.set(key, value)
    }
    return values
  }

  /** A new row, with what the definition and `values` say; the keyboard goes to it. Answers its name. */
  addRow(values: ReadonlyMap<string, Value> = new Map()): string {
    const step = this.acts.pending.typed.add(
      new Map([...this.startValues(), ...this.groupValues(), ...values]),
    )
    this.standInGroup(step.row.name)
    this.acts.acted([step], this.acts.texts.added)
    void this.open(step.row.name).catch(this.acts.kernel.failed)
    return step.row.name
  }

  /** A new row from code: texts are read as columns write their values. */
  addFromCode(given: Readonly<Record<string, unknown>>): string {
    const step = this.acts.pending.typed.add(this.startValues())
    const steps: Step[] = [step]
    for (const [column, value] of Object.entries(given)) {
      const field = this.acts.fieldOf(column)
      if (!field) throw new RangeError(`There is no column "${column}".`)
      const text = textGiven(value)
      const written = this.acts.pending.typed.write(step.row, column, null, this.acts.contentOf(text, field))
      if (written) steps.push(written)
    }
    this.acts.acted(steps, this.acts.texts.added)
    return step.row.name
  }
  /** A new row stands in the group that the keyboard is in, where the builder wants it so. */
  private standInGroup(name: string): void {
    const { kernel, pending } = this.acts
    const { navigator, lines, model } = kernel
    if (model.definition?.editing.newRows !== 'group' || navigator.line < 0) return
    const head = lines.groupsAt?.(navigator.line)?.at(-1)
    if (!head) return
    pending.begunIn(name, head.path)
    kernel.holdGroup(head)
  }

  /** In the group that the keyboard is in, its value. */
  private groupValues(): Map<string, Value> {
    const { navigator, lines, model } = this.acts.kernel
    const values = new Map<string, Value>()
    if (navigator.line < 0) return values
    for (const head of lines.groupsAt?.(navigator.line) ?? []) {
      const level = model.arrangement.groups.at(head.level)
      if (level?.bucket.by === 'value' && this.acts.canEditColumn(head.column))
        values.set(head.column, head.value)
    }
    return values
  }

  /** A new row with what another has, but for its key. */
  async copyRow(id: RowId): Promise<void> {
    const { model } = this.acts.kernel
    const columns = (model.definition?.columns ?? [])
      .map(({ key }) => key)
      .filter(key => this.acts.canEditColumn(key))
    const shown = isNewRow(id)
      ? undefined
      : await model.ask('rowCells', { rows: [id], columns, binding: model.binding })
    const values = new Map(
      columns.flatMap((column, nth): [string, Value][] => {
        const unique = model.keyFields.includes(column) || this.acts.columnOf(column)?.edit?.unique
        const cell = this.acts.pending.cellOf(id, column)
        const value = cell ? cell.now.value : (shown?.values[nth] ?? null)
        return unique || value === null ? [] : [[column, value]]
      }),
    )
    this.addRow(values)
  }

  /** Marks rows to be deleted, once the reader and the host agree; new ones go at once. */
  async removeRows(ids: readonly RowId[], asks = true): Promise<void> {
    const { kernel, texts } = this.acts
    const refs = await this.acts.refsOf(ids)
    const keys = refs.flatMap(({ key }) => (key === null ? [] : [key]))
    if (keys.length > 0 && !((await kernel.allow.delete?.({ keys })) ?? true)) return
    if (asks) {
      const names = refs.slice(0, MOST_NAMED).map(ref => this.nameOf(ref))
      const question = texts.askDelete(names.join(', '), Math.max(0, refs.length - MOST_NAMED))
      if (!(await askFirst(kernel.frame, kernel.texts, question, texts.delete))) return
    }
    const steps = refs.flatMap((ref, nth) => {
      if (!isNewRow(ids[nth])) this.acts.pending.bind(ref.name, ids[nth])
      return this.acts.pending.typed.remove(ref) ?? []
    })
    this.acts.acted(steps, texts.deleted(kernel.format(steps.length), steps.length))
  }

  async removeSelected(): Promise<void> {
    const packed = this.acts.kernel.features
      .all(feature => feature.ticked?.() ?? null)
      .find(rows => rows !== null)
    if (!packed) return
    const { model } = this.acts.kernel
    const keys =
      (await model.ask('keysOf', { keyFields: model.keyFields, rows: { kind: 'set', ...packed } })) ?? []
    const found = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
    await this.removeRows(found.filter(id => id !== null))
  }

  keepRow(id: RowId): void {
    const name = this.acts.pending.nameOf(id)
    const row = name === undefined ? undefined : this.acts.pending.typed.row(name)
    const step = row && this.acts.pending.typed.remove(row, false)
    if (step) this.acts.acted([step], this.acts.texts.keepRow)
  }

  nameOf({ key, name }: RowRef): string {
    if (key === null) {
      const row = this.acts.pending.typed.row(name)
      const first = row && [...row.cells.values()].find(({ now }) => now.value !== null)
      return first ? `${this.acts.texts.newRowNamed} ${first.now.value}` : this.acts.texts.newRowNamed
    }
    return Array.isArray(key) ? key.join(', ') : String(key)
  }
}
