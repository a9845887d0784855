import { countRows, isRecord, rowsIn } from '@vast-meadow/engine/client'
import type { KeyValue, RowSource, Value } from '@vast-meadow/engine'
import { keysOfPlace, type KeyPlace, type RowPlace } from './place-keeper.ts'

/** Selected rows that a kept place names at most; more are not kept. */
const MOST_SELECTED = 100_000

/** Where a reader was in a grid: what `handle.place()` gives and `options.place` takes. Plain JSON; hosts only keep it. */
export interface KeptPlace {
  readonly version: 1
  readonly page: number
  readonly keys: KeyPlace
  readonly column: string
  /** How far columns were moved sideways, in CSS px. */
  readonly shift: number
}

/** The place of a reader by the keys of rows; where rows have none, by what names them until they are replaced. */
export async function keepPlace(
  source: RowSource,
  keyFields: readonly string[],
  place: RowPlace,
  at: Pick<KeptPlace, 'page' | 'column' | 'shift'>,
): Promise<KeptPlace> {
  const { selected } = place
  const count = selected === null ? 0 : countRows(selected)
  const few = { ...place, selected: count > MOST_SELECTED ? null : selected }
  const keys = keyFields.length > 0 ? await keysOfPlace(source, keyFields, few) : namesOf(few)
  return { version: 1, ...at, keys: keys ?? { selected: [], open: [], top: null, focused: null } }
}

/** Rows without a key are named by what the source calls them. */
const namesOf = ({ selected, open, top, focused }: RowPlace): KeyPlace => ({
  selected: selected ? [...rowsIn(selected)] : [],
  open,
  top: top && { key: top.row, into: top.into },
  focused,
})

const isKeyPart = (given: unknown): given is Value =>
  given === null || ['string', 'number', 'boolean'].includes(typeof given)
const isKey = (given: unknown): given is KeyValue =>
  isKeyPart(given) || (Array.isArray(given) && given.every(isKeyPart))

/** A kept place as it came from a host's store; null where it is none. */
export function readPlace(given: unknown): KeptPlace | null {
  if (!isRecord(given) || given.version !== 1 || !isRecord(given.keys)) return null
  const { page, column, shift, keys } = given
  const { selected, open = [], top, focused } = keys
  if (typeof page !== 'number' || !Number.isInteger(page) || page < 0) return null
  if (typeof column !== 'string' || typeof shift !== 'number' || !Array.isArray(selected)) return null
  const isTop = isRecord(top) && isKey(top.key) && typeof top.into === 'number'
  if (
    !Array.isArray(open) ||
    !open.every(isKey) ||
    !selected.every(isKey) ||
    !isKey(focused) ||
    !(top === null || isTop)
  )
    return null
  return {
    version: 1,
    page,
    column,
    shift,
    keys: {
      selected,
      open,
      focused,
      top: isTop ? { key: top.key as KeyValue, into: Number(top.into) } : null,
    },
  }
}
