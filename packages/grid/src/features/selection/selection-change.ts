import type { KeyValue, RowSet } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { SelectionChange } from '../../kernel/events.ts'
import type { TickedNow } from './selector.ts'

/** Keys that are told at most, where nobody says how many. */
export const MOST_KEYS = 10_000

/** The keys of rows, the first so many of them. */
export async function keysOf(model: GridModel, rows: RowSet, limit = MOST_KEYS): Promise<KeyValue[]> {
  const list = []
  for (const row of rows) {
    if (list.length >= limit) break
    list.push(row)
  }
  const asked = { keyFields: model.keyFields, rows: { kind: 'list' as const, rows: list } }
  return (await model.ask('keysOf', asked)) ?? []
}

/** What became of one act: how many rows came to be ticked and how many not, and on request their keys. */
export function selectionChange(
  model: GridModel,
  before: TickedNow,
  after: TickedNow,
  passing: number,
): SelectionChange {
  const added = after.beyond(before)
  const removed = before.beyond(after)
  return {
    count: after.size(passing),
    added: added.size,
    removed: removed.size,
    addedKeys: limit => keysOf(model, added, limit),
    removedKeys: limit => keysOf(model, removed, limit),
  }
}
