import { countBits, type Bits } from '../table/bits.ts'
import type { Table } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import { KeyIndex } from './key-index.ts'

/** How well some fields name the rows. */
export interface KeyCheck {
  readonly fields: readonly string[]
  /** Every row has a key, and none has another's. */
  readonly unique: boolean
  readonly missing: number
  readonly doubled: number
  /** Some rows (0-based) that have the key of an earlier one. */
  readonly examples: readonly { readonly first: number; readonly row: number }[]
}

/** Whether the fields name every row, and no two alike. Linear; unknown fields make it false for every row. */
export function* checkKey(
  table: Table,
  fields: readonly string[],
  absent: Bits | null = null,
): Work<KeyCheck> {
  const places = fields.map(key => table.fields.findIndex(field => field.key === key))
  const rows = table.rows - (absent ? countBits(absent) : 0)
  if (places.length === 0 || places.includes(-1))
    return { fields, unique: false, missing: rows, doubled: 0, examples: [] }
  const { missing, doubled, examples } = yield* KeyIndex.build(table, places, absent)
  return { fields, unique: missing === 0 && doubled === 0, missing, doubled, examples }
}

/** Proposals looked at; the check of each is a pass over the table. */
const MOST = 6
const LIKELY = /(^|[^a-z])(id|key|code|uuid|guid|number|nr|no)$/i

/** Fields that name every row, the likeliest first: those called so, then whole numbers and texts in their order. */
export function* proposeKeys(table: Table, absent: Bits | null = null): Work<KeyCheck[]> {
  const candidates = table.fields
    .map((field, place) => ({ field, column: table.columns[place] }))
    .filter(({ field, column }) => {
      if (column.missing || !['integer', 'text'].includes(field.type)) return false
      return column.kind !== 'coded' || column.texts.offsets.length - 1 >= table.rows
    })
    .sort((a, b) => Number(LIKELY.test(b.field.key)) - Number(LIKELY.test(a.field.key)))
    .slice(0, MOST)
  const found: KeyCheck[] = []
  for (const { field } of candidates) {
    const check = yield* checkKey(table, [field.key], absent)
    if (check.unique) found.push(check)
  }
  return found
}
