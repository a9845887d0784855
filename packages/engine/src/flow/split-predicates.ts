import type { ColumnIndex, Table } from '../table/column.ts'
import { emptyBits, type Bits } from '../table/bits.ts'
import { sliceBits, sliceRows } from '../table/slice-rows.ts'
import type { Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import type { Met } from '../condition/match-rows.ts'
import type { TableEdit } from '../edit/table-edit.ts'
import { JOINED_ROWS } from '../search/joined-text.ts'
import type { Helper } from '../work/helper.ts'
import { begin, type Work } from '../work/work.ts'
import { HelperPredicates, type PredicatesTask } from './helper-predicates.ts'
import { OwnPredicates, type ConditionTools, type Predicates } from './predicates.ts'
import type { Formats } from './request.ts'

/**
 * Fewer rows than this a thread answers as soon alone. At a million rows two threads search 1.4 to 1.7 times as fast, at
 * a hundred thousand they are slower.
 */
export const SPLIT_FROM = 400_000

/** Predicates of a table: split with the helpers where there are any and the table is large. */
export function predicatesOf(
  table: Table,
  tools: ConditionTools,
  helpers: readonly Helper<PredicatesTask>[],
  least = SPLIT_FROM,
): Predicates {
  const alive = helpers.filter(helper => helper.alive)
  const shares = alive.length + 1
  // Shares begin where parts of joined text do.
  const each = Math.ceil(table.rows / shares / JOINED_ROWS) * JOINED_ROWS
  if (alive.length === 0 || table.rows < least || each * alive.length >= table.rows)
    return new OwnPredicates(table, tools)
  const own: Share = { from: 0, predicates: new OwnPredicates(sliceRows(table, 0, each), tools) }
  const others = alive.map((helper, i): Share => {
    const from = each * (i + 1)
    const to = i === alive.length - 1 ? table.rows : from + each
    return { from, predicates: new HelperPredicates(helper, sliceRows(table, from, to), tools) }
  })
  return new SplitPredicates(table, tools, [own, ...others])
}

/** A run of rows, from `from` up to where the next share begins, and who answers for it. */
interface Share {
  readonly from: number
  readonly predicates: Predicates
}

/**
 * Predicates of a table, each thread answering for its own run of rows: this one for the first, helpers for the
 * others. Whether a row holds a word never depends on another row, so that the answers do not depend on how many
 * threads there are.
 */
class SplitPredicates implements Predicates {
  private table: Table
  private readonly tools: ConditionTools
  private readonly shares: readonly Share[]

  constructor(table: Table, tools: ConditionTools, shares: readonly Share[]) {
    this.table = table
    this.tools = tools
    this.shares = shares
  }

  *rowsWith(words: readonly string[], columns: readonly ColumnIndex[]): Work<Bits> {
    return this.joined(yield* this.everywhere(share => share.rowsWith(words, columns)))
  }

  *rowsMeeting(place: ColumnIndex, condition: Condition, clock: Clock): Work<Met> {
    // A host's own condition may look at the whole column, or be there in this thread alone.
    if (condition.parts.some(({ kind }) => kind === 'own'))
      return yield* new OwnPredicates(this.table, this.tools).rowsMeeting(place, condition, clock)
    const met = yield* this.everywhere(share => share.rowsMeeting(place, condition, clock))
    return { rows: this.joined(met.map(({ rows }) => rows)), problems: met[0].problems }
  }

  *prepare(columns: readonly ColumnIndex[]): Work<void> {
    yield* this.everywhere(share => share.prepare(columns))
  }

  bind(formats: Formats): void {
    for (const { predicates } of this.shares) predicates.bind(formats)
  }

  *follow(edit: TableEdit): Work<void> {
    this.table = edit.table
    for (const [i, { from, predicates }] of this.shares.entries())
      yield* predicates.follow(sliceEdit(edit, from, this.end(i)))
  }

  withColumns(table: Table, same: readonly number[]): SplitPredicates {
    this.table = table
    const shares = this.shares.map(({ from, predicates }, i) => ({
      from,
      predicates: predicates.withColumns(sliceRows(table, from, this.end(i)), same),
    }))
    return new SplitPredicates(table, this.tools, shares)
  }

  private end(share: number): number {
    return this.shares[share + 1]?.from ?? this.table.rows
  }

  /** Asks the helpers first, so that they are at work while this thread does its own share. */
  private *everywhere<T>(ask: (predicates: Predicates) => Work<T>): Work<T[]> {
    const [own, ...others] = this.shares
    const asked = others.map(share => begin(ask(share.predicates)))
    try {
      const answers = [yield* ask(own.predicates)]
      for (const work of asked) answers.push(yield* work)
      return answers
    } finally {
      // Where this was given up, so is what the helpers do for it.
      for (const work of asked) work.return(undefined as never)
    }
  }

  private joined(parts: readonly Bits[]): Bits {
    const rows = emptyBits(this.table.rows)
    parts.forEach((part, i) => rows.set(part, this.shares[i].from >>> 5))
    return rows
  }
}

/** A change of a table as it changes its rows from `from` up to `to`. */
function sliceEdit(edit: TableEdit, from: number, to: number): TableEdit {
  const touched = new Map<number, Uint32Array>()
  for (const [place, rows] of edit.touched) {
    const within = rows.filter(row => row >= from && row < to).map(row => row - from)
    if (within.length > 0) touched.set(place, within)
  }
  const appendedFrom = Math.max(0, Math.min(edit.appendedFrom, to) - from)
  const absent = edit.absent && sliceBits(edit.absent, from, to)
  return { ...edit, table: sliceRows(edit.table, from, to), absent, touched, appendedFrom }
}
