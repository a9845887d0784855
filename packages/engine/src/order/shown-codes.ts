import { hasBit, type Bits } from '../table/bits.ts'
import { valueAt, type Column } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import { textBlockOf } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Codes } from './counting.ts'
import type { SortTexts } from './sort-texts.ts'

/** Writing a value takes up to some microseconds. */
const VALUES_A_SLICE = 1 << 10

/**
 * Codes by what a column shows: values that are written alike have one code, codes sort as the collator sorts the
 * texts. `byValue`: the column's own codes; each different value is written once.
 */
export function* shownCodes(
  column: Column,
  byValue: Codes,
  show: Show,
  collator: Intl.Collator,
  sort: SortTexts,
): Work<Codes> {
  const { codes, size } = byValue
  const texts = yield* textsOf(column, byValue, show)
  const block = textBlockOf(texts)
  const sorted = yield* sort(block, collator)
  const ranks = new Uint32Array(size)
  let rank = -1
  for (let i = 0; i < sorted.length; i++) {
    if (i === 0 || texts[sorted[i]] !== texts[sorted[i - 1]]) rank++
    ranks[sorted[i]] = rank
    if (i % SLICE === SLICE - 1) yield
  }
  const out = new Uint32Array(codes.length)
  for (let from = 0; from < codes.length; from += SLICE) {
    const to = Math.min(codes.length, from + SLICE)
    for (let i = from; i < to; i++) out[i] = codes[i] === size ? rank + 1 : ranks[codes[i]]
    yield
  }
  return { codes: markedMissing(out, column.missing, rank + 1), size: rank + 1 }
}

/** By code: the text of the first row that has it; empty where no row does. */
function* textsOf(column: Column, { codes, size }: Codes, show: Show): Work<string[]> {
  const texts = new Array<string>(size).fill('')
  const written = new Uint8Array(size + 1)
  written[size] = 1
  let count = 0
  for (let row = 0; row < codes.length; row++) {
    const code = codes[row]
    if (written[code] === 0) {
      written[code] = 1
      texts[code] = show(valueAt(column, row))
      if (++count % VALUES_A_SLICE === 0) yield
    }
    if (row % SLICE === SLICE - 1) yield
  }
  return texts
}

function markedMissing(codes: Uint32Array, missing: Bits | null, size: number): Uint32Array {
  if (missing) for (let row = 0; row < codes.length; row++) if (hasBit(missing, row)) codes[row] = size
  return codes
}
