import type { Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import type { FlowLevel, FlowOrderKey, OrderKey } from '../flow/request.ts'
import type { Binding, ViewRequest } from '../flow/view-request.ts'
import type { Level } from '../group/level.ts'
import type { Arrangement } from './arrangement-schema.ts'
import { shownColumns } from './arrangement.ts'
import { levelKey, orderKey, WHERE_KEY } from './binding.ts'
import type { Definition } from './definition.ts'

const HOLDS: Condition = { match: 'all', parts: [{ kind: 'equals', value: true }] }

/** What an arrangement asks of a source, by what the definition says of its columns; `binding`: of the same definition. */
export function requestOf(
  { columns, zone }: Pick<Definition, 'columns' | 'zone'>,
  arrangement: Arrangement,
  now: number,
  binding: Binding,
): ViewRequest {
  const { conditions, where, search, open, order, groups } = arrangement
  const clock: Clock = { now, zone }
  return {
    order: order.map(key => askedOrder(columns, key)),
    conditions: where.trim() ? { ...conditions, [WHERE_KEY]: HOLDS } : conditions,
    search,
    groups: groups.map(askedLevel),
    open,
    clock,
    searchColumns: searchColumns(columns, arrangement),
    binding,
  }
}

/** A key of the order with what the definition says of its column. */
function askedOrder(columns: Definition['columns'], key: OrderKey): FlowOrderKey {
  const rule = columns.find(column => column.key === key.column)?.order
  if (!rule) return key
  const { by, natural, missing } = rule
  if (by === 'expression') return { ...key, column: orderKey(key.column), missing }
  return { ...key, by, natural, missing }
}

/** A level as the source is asked for it: by an expression, it goes by the values of a column of its own. */
export function askedLevel(level: Level, nth: number): FlowLevel {
  return level.bucket.by === 'expression' ? { ...level, from: levelKey(nth) } : level
}

/** The columns that the search looks in: those that are shown, as far as the definition does not say otherwise. */
export function searchColumns(columns: Definition['columns'], arrangement: Arrangement): string[] {
  const { start, middle, end } = shownColumns(arrangement)
  const shown = [...start, ...middle, ...end]
  const rules = new Map(columns.map(({ key, searched }) => [key, searched]))
  const always = columns.filter(({ key, searched }) => searched === 'always' && !shown.includes(key))
  return [...shown.filter(key => rules.get(key) !== 'never'), ...always.map(({ key }) => key)]
}
