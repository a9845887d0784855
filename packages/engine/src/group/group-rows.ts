import type { Codes } from '../order/counting.ts'
import { sortByCodes } from '../order/counting.ts'
import { SLICE, type Work } from '../work/work.ts'

/** Rows gathered by the value of one column. Group `g` is `rows[starts[g]]` up to `rows[starts[g + 1]]`. */
export interface Grouping {
  readonly rows: Uint32Array
  readonly starts: Uint32Array
}

/**
 * Gathers rows (null: all) by their codes: groups in the order of their value, missing values last, and within a
 * group the order in which the rows came. Only groups that hold a row are listed.
 */
export function* groupRows(by: Codes, rows: Uint32Array | null): Work<Grouping> {
  const gathered = yield* sortByCodes(by, rows, false)
  const { codes } = by
  let starts = new Uint32Array(256)
  let groups = 0
  let before = -1
  for (let from = 0; from < gathered.length; from += SLICE) {
    const to = Math.min(gathered.length, from + SLICE)
    for (let i = from; i < to; i++) {
      const code = codes[gathered[i]]
      if (code === before) continue
      before = code
      if (groups + 1 >= starts.length) starts = larger(starts)
      starts[groups++] = i
    }
    yield
  }
  starts[groups] = gathered.length
  return { rows: gathered, starts: starts.slice(0, groups + 1) }
}

function larger(array: Uint32Array<ArrayBuffer>): Uint32Array<ArrayBuffer> {
  const out = new Uint32Array(array.length * 2)
  out.set(array)
  return out
}
