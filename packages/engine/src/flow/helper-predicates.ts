import type { ColumnIndex, Table } from '../table/column.ts'
import { wordsFor, type Bits } from '../table/bits.ts'
import type { Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import type { Met } from '../condition/match-rows.ts'
import type { TableEdit } from '../edit/table-edit.ts'
import { Answer, type Helper } from '../work/helper.ts'
import type { Work } from '../work/work.ts'
import { OwnPredicates, type ConditionTools, type Predicates } from './predicates.ts'
import type { Formats } from './request.ts'

/** What a helper is handed of predicates. The table lies in shared memory; `answer` takes a bit a row. */
export type PredicatesTask =
  | { readonly call: 'take'; readonly table: Table; readonly formats: Formats }
  /** `same`: places of columns that are the same as before. */
  | { readonly call: 'columns'; readonly table: Table; readonly same: readonly number[] }
  | { readonly call: 'formats'; readonly formats: Formats }
  | { readonly call: 'follow'; readonly edit: TableEdit }
  | { readonly call: 'prepare'; readonly columns: readonly ColumnIndex[] }
  | {
      readonly call: 'rowsWith'
      readonly words: readonly string[]
      readonly columns: readonly ColumnIndex[]
      readonly answer: SharedArrayBuffer
    }
  | {
      readonly call: 'rowsMeeting'
      readonly place: ColumnIndex
      readonly condition: Condition
      readonly clock: Clock
      /** Whether patterns can be asked where the others are. */
      readonly patterns: boolean
      readonly answer: SharedArrayBuffer
    }

/** Predicates that a helper works out. What it cannot answer, this thread does. */
export class HelperPredicates implements Predicates {
  private readonly helper: Helper<PredicatesTask>
  private readonly tools: ConditionTools
  private table: Table
  private formats: Formats
  /** Answers in the helper's place, where it could not. */
  private spare: OwnPredicates | null = null

  constructor(helper: Helper<PredicatesTask>, table: Table, tools: ConditionTools, formats: Formats = {}) {
    this.helper = helper
    this.table = table
    this.tools = tools
    this.formats = formats
    helper.hand({ call: 'take', table, formats })
  }

  rowsWith(words: readonly string[], columns: readonly ColumnIndex[]): Work<Bits> {
    return this.ask(
      answer => ({ call: 'rowsWith', words, columns, answer }),
      own => own.rowsWith(words, columns),
    )
  }

  *rowsMeeting(place: ColumnIndex, condition: Condition, clock: Clock): Work<Met> {
    const patterns = this.tools.pattern !== null
    const rows = yield* this.ask(
      answer => ({ call: 'rowsMeeting', place, condition, clock, patterns, answer }),
      function* (own) {
        return (yield* own.rowsMeeting(place, condition, clock)).rows
      },
    )
    return { rows, problems: [] }
  }

  /** Hands it over and does not wait. */
  *prepare(columns: readonly ColumnIndex[]): Work<void> {
    this.helper.hand({ call: 'prepare', columns })
  }

  bind(formats: Formats): void {
    this.formats = formats
    this.spare = null
    this.helper.hand({ call: 'formats', formats })
  }

  *follow(edit: TableEdit): Work<void> {
    this.table = edit.table
    this.spare = null
    this.helper.hand({ call: 'follow', edit })
  }

  withColumns(table: Table, same: readonly number[]): this {
    this.table = table
    this.spare = null
    this.helper.hand({ call: 'columns', table, same })
    return this
  }

  private *ask(
    task: (answer: SharedArrayBuffer) => PredicatesTask,
    instead: (own: OwnPredicates) => Work<Bits>,
  ): Work<Bits> {
    const answer = new Answer(wordsFor(this.table.rows))
    this.helper.hand(task(answer.memory))
    if (yield* answer.arrived(this.helper)) return answer.words
    this.spare ??= new OwnPredicates(this.table, this.tools, this.formats)
    return yield* instead(this.spare)
  }
}
