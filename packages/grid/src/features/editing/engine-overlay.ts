import { keyName, plainValue, type TypedRow } from '@vast-meadow/engine/editing'
import type { ChangeSet, Field, KeyValue, Value } from '@vast-meadow/engine'

/** A row's key as the fields that name it. */
export function keyRow(keyFields: readonly string[], key: KeyValue): Record<string, unknown> {
  const parts = Array.isArray(key) ? (key as readonly Value[]) : [key as Value]
  return Object.fromEntries(keyFields.map((field, nth) => [field, parts[nth] ?? null]))
}

/**
 * What the engine was told of pending changes, so that conditions, order, groups and summaries see them: only what is
 * right, and of each row only what differs from what it was told before.
 */
export class EngineOverlay {
  private readonly told = new Map<string, { readonly key: KeyValue; readonly cells: Map<string, Value> }>()

  /**
   * The change set by which the engine comes to see these rows, and gives up those it should not; null: it does already.
   * `held`: the name of a row of which it goes on seeing what it did.
   */
  changesFor(
    rows: readonly TypedRow[],
    held: string | null,
    keyFields: readonly string[],
    fieldOf: (key: string) => Field | undefined,
  ): ChangeSet | null {
    const pending: Record<string, unknown>[] = []
    const giveBack: KeyValue[] = []
    const wanted = new Map(rows.filter(({ isNew, gone }) => !isNew && !gone).map(row => [row.name, row]))
    for (const [name, { key, cells }] of this.told) {
      const row = wanted.get(name)
      const stays = row && [...cells.keys()].every(field => row.cells.get(field)?.now.text === null)
      if (stays || name === held) continue
      giveBack.push(key)
      this.told.delete(name)
    }
    const again = new Set(giveBack.map(key => keyName(key)))
    for (const [name, row] of wanted) {
      const { key } = row
      if (key === null || again.has(name) || name === held) continue
      const known = this.told.get(name)?.cells ?? new Map<string, Value>()
      const change = keyRow(keyFields, key)
      let differs = false
      for (const [column, { now }] of row.cells) {
        const field = fieldOf(column)
        // A row that is called otherwise is another to the engine until it is saved.
        if (now.text !== null || !field || keyFields.includes(column) || known.get(column) === now.value)
          continue
        change[column] = plainValue(now.value, field)
        known.set(column, now.value)
        differs = true
      }
      if (!differs) continue
      pending.push(change)
      this.told.set(name, { key, cells: known })
    }
    if (pending.length === 0 && giveBack.length === 0) return null
    return { ...(pending.length > 0 && { pending }), ...(giveBack.length > 0 && { giveBack }) }
  }

  /** The engine gave up what it saw of a row. */
  forget(name: string): void {
    this.told.delete(name)
  }

  /** Other rows are there, which know of nothing. */
  clear(): void {
    this.told.clear()
  }
}
