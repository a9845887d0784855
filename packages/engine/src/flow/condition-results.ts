import type { Bits } from '../table/bits.ts'
import type { Field } from '../table/column.ts'
import { today, type Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import type { Met } from '../condition/match-rows.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import type { Work } from '../work/work.ts'
import { timedWork } from './timed-work.ts'

/** The rows that meet a column's condition, and what came of asking. */
export interface ConditionResult {
  readonly signature: string
  readonly condition: Condition
  readonly clock: Clock
  readonly rows: Bits
  readonly problems: readonly PartProblem[]
  /** Milliseconds that asking took. */
  readonly ms: number
}

/** The last result of each column's condition; it holds until the condition, or the day it is reckoned by, changes. */
export class ConditionResults {
  private readonly kept = new Map<string, ConditionResult>()

  entries(): Iterable<[string, ConditionResult]> {
    return this.kept.entries()
  }

  /** `patterns`: whether patterns can be asked. `ask` is run where the last result does not hold. `fresh`: it was. */
  *meet(
    condition: Condition,
    clock: Clock,
    field: Field,
    patterns: boolean,
    ask: () => Work<Met>,
  ): Work<{ readonly result: ConditionResult; readonly fresh: boolean }> {
    const { key } = field
    const signature = signatureOf(condition, field, clock, patterns)
    const known = this.kept.get(key)
    if (known?.signature === signature) return { result: known, fresh: false }
    const { value, ms } = yield* timedWork(ask())
    const result = { signature, condition, clock, ...value, ms }
    this.kept.set(key, result)
    return { result, fresh: true }
  }

  get(key: string): ConditionResult | undefined {
    return this.kept.get(key)
  }

  set(key: string, result: ConditionResult): void {
    this.kept.set(key, result)
  }

  forget(key: string): void {
    this.kept.delete(key)
  }

  /** Keeps only the results of conditions that are asked. */
  keepOnly(asked: Readonly<Record<string, unknown>>): void {
    for (const key of [...this.kept.keys()]) if (!(key in asked)) this.kept.delete(key)
  }

  clear(): void {
    this.kept.clear()
  }
}

/** What a result depends on: the condition and, of dates, the day and the zone it is reckoned by. */
function signatureOf(condition: Condition, { type }: Field, clock: Clock, patterns: boolean): string {
  const dated = type === 'date' || type === 'datetime'
  return JSON.stringify([condition, dated ? [today(clock), clock.zone] : 0, patterns])
}
