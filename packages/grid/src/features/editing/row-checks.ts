import {
  checkValue,
  readTyped,
  rowRules,
  type CheckProblem,
  type TypedRow,
} from '@vast-meadow/engine/editing'
import type { Definition, Field, Format, RowId, Value } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { OwnCheck } from '../../painter.ts'
import { errorOf } from '@vast-meadow/engine/client'
import type { PendingRows } from './pending-rows.ts'

/** Says what is wrong with pending rows: at once what a value alone tells, and what takes longer when it is known. */
export class RowChecks {
  private readonly model: GridModel
  private readonly pending: PendingRows
  private readonly own: Readonly<Record<string, OwnCheck>>
  private readonly changed: () => void
  /** The newest check of each row: what an older one says does not count. */
  private readonly newest = new Map<string, number>()
  private asked = 0
  private running: Promise<unknown> = Promise.resolve()

  constructor(
    model: GridModel,
    pending: PendingRows,
    own: Readonly<Record<string, OwnCheck>>,
    changed: () => void,
  ) {
    this.model = model
    this.pending = pending
    this.own = own
    this.changed = changed
  }

  /** Resolves when all that was asked is answered. */
  async settled(): Promise<void> {
    let last: Promise<unknown> | null = null
    while (last !== this.running) {
      last = this.running
      await last
    }
  }

  /**
   * Checks rows. `whole`: new ones also in cells into which nothing was typed, as they are to be saved.
   */
  check(rows: readonly TypedRow[], whole = false): void {
    const { definition } = this.model
    if (!definition || rows.length === 0) return
    const mine = ++this.asked
    for (const row of rows) {
      this.newest.set(row.name, mine)
      this.checkValues(row, definition, whole)
    }
    const inOrder = this.running.then(() => this.checkFurther(rows, definition, mine))
    this.running = inOrder.catch(() => {})
  }

  private checkValues(row: TypedRow, { columns }: Definition, whole: boolean): void {
    const { typed } = this.pending
    for (const { key, edit } of columns) {
      const field = this.model.fieldOf(key)
      const cell = row.cells.get(key)
      if (!edit || !field || (!cell && !(whole && row.isNew))) continue
      const { value, text } = cell?.now ?? { value: null, text: null }
      typed.judge(row.name, key, text === null ? checkValue(value, edit, field) : this.misread(text, field))
    }
    typed.judge(row.name, null, null)
  }

  private misread(text: string, field: Field): CheckProblem {
    const read = readTyped(text, field, this.formatOf(field.key))
    return read.ok ? { code: 'not-of-type', type: field.type, text } : read.problem
  }

  formatOf(column: string): Format {
    return this.model.binding.formats[column] ?? {}
  }

  /** What needs the rows that are there: expressions, patterns, other rows; and what the host says. */
  private async checkFurther(
    asked: readonly TypedRow[],
    definition: Definition,
    mine: number,
  ): Promise<void> {
    const { typed } = this.pending
    const isNewest = (name: string): boolean => this.newest.get(name) === mine
    const now = asked.flatMap(({ name }) => {
      const row = typed.row(name)
      return row && isNewest(name) && !row.removed ? [row] : []
    })
    const rules = rowRules(definition)
    // Where no two rows may have the same, all pending ones are looked at beside the saved ones.
    const others = rules.unique.length > 0 ? typed.list().filter(row => !row.removed) : []
    const rows = [...new Set([...now, ...others])]
    const needed = rules.rules.length > 0 || rules.unique.length > 0 || rules.amongValuesOf.length > 0
    if (needed && rows.length > 0 && this.model.canTell('checkRows')) {
      const told =
        (await this.model.ask('checkRows', {
          rows: rows.map(row => ({ id: this.idOf(row), values: valuesOf(row) })),
          rules,
          computed: definition.columns.flatMap(({ key, expression }) =>
            expression === undefined ? [] : [{ key, expression }],
          ),
          without: typed.list().flatMap(row => (row.removed ? (this.pending.idOf(row.name) ?? []) : [])),
        })) ?? []
      const wrong = new Map<string, Map<string | null, CheckProblem>>()
      for (const { nth, field, problem } of told) {
        const { name } = rows[nth]
        wrong.set(name, (wrong.get(name) ?? new Map<string | null, CheckProblem>()).set(field, problem))
      }
      for (const { name } of rows) this.take(name, wrong.get(name) ?? new Map(), isNewest(name))
    }
    await Promise.all(now.map(row => this.askHost(row, definition, () => isNewest(row.name))))
    this.changed()
  }

  /** What is wrong by itself stays first; a cell that is not pending tells it of its row. */
  private take(name: string, wrong: ReadonlyMap<string | null, CheckProblem>, all: boolean): void {
    const { typed } = this.pending
    const row = typed.row(name)
    if (!row) return
    for (const [column, { problem }] of row.cells) {
      const found = wrong.get(column) ?? null
      if (found && problem === null) typed.judge(name, column, found)
      // Another row that had the same has something else now.
      else if (!found && problem?.code === 'not-unique') typed.judge(name, column, null)
    }
    if (!all) return
    const ofRow = [...wrong].find(([column]) => column === null || !row.cells.has(column))
    typed.judge(name, null, ofRow?.[1] ?? null)
  }

  private async askHost(row: TypedRow, { columns }: Definition, isNewest: () => boolean): Promise<void> {
    for (const { key, edit } of columns) {
      const cell = row.cells.get(key)
      const own = edit?.ownCheck === undefined ? undefined : this.own[edit.ownCheck]
      if (!own || !cell || cell.problem !== null || cell.now.text !== null) continue
      const said = await Promise.resolve()
        .then(() => own({ column: key, value: cell.now.value, key: row.key, values: valuesOf(row) }))
        .catch((error: unknown) => errorOf(error).message)
      const same = this.pending.typed.cell(row.name, key)?.now === cell.now
      if (typeof said === 'string' && said !== '' && same && isNewest())
        this.pending.typed.judge(row.name, key, { code: 'said', text: said })
    }
  }

  private idOf(row: TypedRow): RowId | null {
    return row.isNew ? null : (this.pending.idOf(row.name) ?? null)
  }
}

/** The values of a row that are some. */
const valuesOf = ({ cells }: TypedRow): Record<string, Value> =>
  Object.fromEntries(
    Array.from(cells, ([key, { now }]) => [key, now] as const)
      .filter(([, { text }]) => text === null)
      .map(([key, { value }]) => [key, value]),
  )
