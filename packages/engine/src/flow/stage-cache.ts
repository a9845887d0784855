import type { ColumnIndex, Field } from '../table/column.ts'
import { clearBit, hasBit, lengthened, setBit, type Bits } from '../table/bits.ts'
import type { Show } from '../table/shown-text.ts'
import { today, type Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import { changedRows, type TableEdit } from '../edit/table-edit.ts'
import { mergeRows, rowComparer } from '../order/merge-rows.ts'
import type { OrderBy } from '../order/order-rows.ts'
import { Memo } from '../work/memo.ts'
import type { Work } from '../work/work.ts'
import type { FlowView } from './view.ts'

/** The rows that a search finds in some columns, by their places; null: it asks for nothing. */
export interface Found {
  readonly search: string
  readonly columns: readonly ColumnIndex[]
  readonly rows: Bits | null
}

/** The rows that meet a column's condition, and what came of asking. */
export interface ConditionResult {
  readonly key: string
  readonly condition: Condition
  readonly clock: Clock
  readonly rows: Bits
  readonly problems: readonly PartProblem[]
  /** Milliseconds that asking took. */
  readonly ms: number
}

export interface Passing {
  /** null: every row. */
  readonly bits: Bits | null
  readonly count: number
}

/** Who looks at changed rows alone. */
export interface Prober {
  rowsMeeting(rows: Uint32Array, result: ConditionResult): Work<Bits | null>
  rowsFound(rows: Uint32Array, found: Found): Work<Bits | null>
  collation(natural: boolean): Intl.Collator
  readonly shows: readonly Show[]
  columnIndex(key: string): ColumnIndex
}

/** Results of a stage that cost a bit a row. */
const KEPT_BITS = 32
/** Results of a stage that cost four bytes a row: the present one and the one before, to which readers go back. */
const KEPT_ROWS = 2

/** What stages came to, by the signatures of what they came from. */
export class StageCache {
  readonly found = new Memo<Found>(3)
  conditions = new Memo<ConditionResult>(KEPT_BITS)
  readonly passing = new Memo<Passing>(KEPT_ROWS)
  readonly sorted = new Memo<{ readonly keys: readonly OrderBy[]; readonly rows: Uint32Array }>(1)
  readonly ordered = new Memo<{ readonly rows: Uint32Array | null }>(KEPT_ROWS)
  readonly lines = new Memo<FlowView>(KEPT_ROWS)
  private room = KEPT_BITS

  /** So many conditions are asked at once: their results must not push one another out. */
  makeRoom(conditions: number): void {
    if (conditions * 2 <= this.room) return
    this.room = conditions * 2
    const met = new Memo<ConditionResult>(this.room)
    for (const [signature, result] of this.conditions.entries()) met.set(signature, result)
    this.conditions = met
  }

  /** Texts are ordered otherwise now. */
  forgetOrders(): void {
    this.sorted.clear()
    this.forgetRows()
  }

  /** Values are written otherwise now. */
  forgetShown(): void {
    this.found.clear()
    this.passing.clear()
    this.sorted.keepOnly(({ keys }) => !keys.some(key => key.shown || key.natural))
    this.forgetRows()
  }

  /** Columns are written otherwise in every row. */
  forgetColumns(places: readonly ColumnIndex[], columnIndex: (key: string) => ColumnIndex): void {
    if (places.length === 0) return
    this.conditions.keepOnly(({ key }) => !places.includes(columnIndex(key)))
    this.found.clear()
    const goesByShown = ({ column, shown, natural }: OrderBy): boolean =>
      Boolean(shown || natural) && places.includes(column)
    this.sorted.keepOnly(({ keys }) => !keys.some(goesByShown))
  }

  /** Takes over what another flow over the same rows knows of columns that are the same there. */
  adopt(
    other: StageCache,
    same: (place: ColumnIndex) => boolean,
    columnIndex: (key: string) => ColumnIndex,
  ): void {
    for (const [signature, result] of other.conditions.entries())
      if (same(columnIndex(result.key))) this.conditions.set(signature, result)
    for (const [signature, found] of other.found.entries())
      if (found.columns.every(same)) this.found.set(signature, found)
  }

  /** Brings what is kept up to date with a change of the table by looking at the changed rows alone, unless they are many. */
  *follow(edit: TableEdit, prober: Prober): Work<void> {
    const { table } = edit
    this.passing.clear()
    this.forgetRows()
    const changed = (places: Iterable<number>): Uint32Array => changedRows(edit, places)
    if (changed(edit.touched.keys()).length * 4 > table.rows) {
      this.conditions.clear()
      this.found.clear()
      this.sorted.clear()
    }
    for (const [signature, result] of this.conditions.entries()) {
      const rows = changed([prober.columnIndex(result.key)])
      const part = yield* prober.rowsMeeting(rows, result)
      this.conditions.set(signature, { ...result, rows: patched(result.rows, part, rows, table.rows) })
    }
    for (const [signature, found] of this.found.entries()) {
      if (!found.rows) continue
      const rows = changed(found.columns)
      const part = yield* prober.rowsFound(rows, found)
      this.found.set(signature, { ...found, rows: patched(found.rows, part, rows, table.rows) })
    }
    for (const [signature, sorted] of this.sorted.entries()) {
      const compare = rowComparer(table, sorted.keys, natural => prober.collation(natural), prober.shows)
      const rows = changed(sorted.keys.map(key => key.column))
      if (rows.length === 0) continue
      const merged = yield* mergeRows(sorted.rows, rows, table.rows, compare)
      this.sorted.set(signature, { ...sorted, rows: merged })
    }
  }

  private forgetRows(): void {
    this.ordered.clear()
    this.lines.clear()
  }
}

/** What a condition's result depends on: column, condition and, of dates, the day and the zone it is reckoned by. */
export function signatureOf(
  condition: Condition,
  { key, type }: Field,
  clock: Clock,
  patterns: boolean,
): string {
  const dated = type === 'date' || type === 'datetime'
  return JSON.stringify([key, condition, dated ? [today(clock), clock.zone] : 0, patterns])
}

/** A set in which some rows are looked at anew: row `rows[i]` is in it as `i` is in `part`. */
function patched(bits: Bits, part: Bits | null, rows: Uint32Array, length: number): Bits {
  const out = lengthened(bits, length)
  for (let i = 0; part && i < rows.length; i++) {
    if (hasBit(part, i)) setBit(out, rows[i])
    else clearBit(out, rows[i])
  }
  return out
}
