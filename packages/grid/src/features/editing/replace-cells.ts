import {
  checkValue,
  replacer,
  type CellContent,
  type Replacing,
  type TypedCell,
} from '@vast-meadow/engine/editing'
import { NO_LINE, sure } from '@vast-meadow/engine/client'
import type { Field, PackedRows, RowId, Value } from '@vast-meadow/engine'
import type { EditActs, Write } from './edit-acts.ts'
import { isNewRow } from './pending-rows.ts'

/** Cells that are replaced as one act; more would not be looked over by anybody. */
export const MOST_REPLACED = 100_000

/** What a replacement comes to in one cell. */
export interface ReplacedCell {
  readonly id: RowId
  readonly before: Value
  readonly text: string
  readonly content: CellContent
  /** Whether the text says no value of the column, or one that it may not have. */
  readonly isWrong: boolean
}

export interface Replacement {
  /** Cells in which it is found, whether they can be changed or not. */
  readonly found: number
  readonly cells: readonly ReplacedCell[]
  /** Cells that cannot be changed. */
  readonly fixed: number
  readonly wrong: number
}

/** Looks through a column for a text and puts another in its place: first to be looked at, then done. */
export class ReplaceCells {
  private readonly acts: EditActs

  constructor(acts: EditActs) {
    this.acts = acts
  }

  /** What would change. `among`: only these of the rows that pass; null: all. */
  async preview(column: string, replacing: Replacing, among: PackedRows | null): Promise<Replacement> {
    const { kernel, pending } = this.acts
    const { model } = kernel
    await kernel.settled()
    const { view } = kernel
    const field = this.acts.fieldOf(column)
    if (!view || !field) return { found: 0, cells: [], fixed: 0, wrong: 0 }
    const told = await model.ask('cellsHolding', {
      view: view.id,
      column,
      format: this.acts.formatOf(column),
      replacing,
      among,
      limit: MOST_REPLACED,
    })
    const replace = replacer(replacing)
    // What is pending may not be seen by the engine, or is no value at all.
    const saved = (told?.rows ?? []).flatMap((id, nth) =>
      pending.cellOf(id, column) ? [] : [{ id, value: sure(told).values[nth], text: null as string | null }],
    )
    const typed = (await this.pendingIn(column, among)).map(({ id, cell }) => ({
      id,
      value: cell.now.value,
      text: cell.now.text,
    }))
    const hidden = (told?.rows.length ?? 0) - saved.length
    const candidates = [...saved, ...typed].flatMap(({ id, value, text }) => {
      const changed = replace(text ?? this.acts.editText(column, value))
      return changed === null ? [] : [{ id, value, changed }]
    })
    const may = await this.acts.mayEdit(candidates.map(({ id }) => id))
    const cells = candidates
      .filter(({ id }) => may(id, column))
      .map(({ id, value, changed }) => this.replaced(id, value, changed, field))
    return {
      found: (told?.total ?? 0) - hidden + candidates.length - saved.length,
      cells,
      fixed: candidates.length - cells.length,
      wrong: cells.filter(({ isWrong }) => isWrong).length,
    }
  }

  private replaced(id: RowId, before: Value, text: string, field: Field): ReplacedCell {
    const content = this.acts.contentOf(text, field)
    const edit = this.acts.columnOf(field.key)?.edit
    const problem = content.text === null && edit ? checkValue(content.value, edit, field) : null
    return { id, before, text, content, isWrong: content.text !== null || problem !== null }
  }

  /** What is typed in a column, in rows that pass or are new. */
  private async pendingIn(
    column: string,
    among: PackedRows | null,
  ): Promise<{ readonly id: RowId; readonly cell: TypedCell }[]> {
    const { kernel, pending } = this.acts
    const cells = pending.typed.list().flatMap(({ name, removed }) => {
      const [id, cell] = [pending.idOf(name), pending.typed.cell(name, column)]
      return id !== undefined && cell && !removed ? [{ id, cell }] : []
    })
    const there = cells.filter(({ id }) => !isNewRow(id))
    const { view } = kernel
    const rows = there.map(({ id }) => id)
    const lines =
      view && rows.length > 0 ? ((await kernel.model.ask('linesOf', { view: view.id, rows })) ?? []) : []
    const isSelected = (id: RowId): boolean => kernel.features.some(feature => feature.selects?.(id) ?? false)
    const passing = there.filter(({ id }, nth) => (lines[nth] ?? NO_LINE) >= 0 && (!among || isSelected(id)))
    return among ? passing : [...cells.filter(({ id }) => isNewRow(id)), ...passing]
  }

  /** Writes what was looked at, as one act. */
  async apply(column: string, { cells }: Replacement): Promise<void> {
    const { kernel, texts, pending } = this.acts
    const refs = await this.acts.refsOf(cells.map(({ id }) => id))
    const writes = cells.map(({ id, before, content }, nth): Write => {
      const saved = isNewRow(id) ? null : before
      return {
        target: { ref: refs[nth], id, column, saved: pending.cellOf(id, column)?.before ?? saved },
        content,
      }
    })
    const said = texts.replaced(kernel.format(writes.length), writes.length)
    this.acts.write(writes, said)
    kernel.announcer.say(said)
  }
}
