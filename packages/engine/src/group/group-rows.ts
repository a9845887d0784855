import { countingSort, isCountable, sortByCodes, type Codes } from '../order/counting.ts'
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
  if (isCountable(by, rows ? rows.length : by.codes.length)) {
    const counted = yield* countingSort(by, rows, false)
    return { rows: counted.rows, starts: startsFromEnds(counted.ends) }
  }
  const gathered = yield* sortByCodes(by, rows, false)
  return { rows: gathered, starts: yield* startsOfRuns(by.codes, gathered) }
}

/** The counting pass knows where each code's rows end; looking at every row again cost five times as much. */
function startsFromEnds(ends: Uint32Array): Uint32Array {
  const starts = new Uint32Array(ends.length + 1)
  let groups = 0
  let before = 0
  for (const end of ends) {
    if (end > before) starts[++groups] = end
    before = end
  }
  return starts.slice(0, groups + 1)
}

/** Where runs of equal codes start among gathered rows, and past the last one. */
function* startsOfRuns(codes: Uint32Array, gathered: Uint32Array): Work<Uint32Array> {
  const starts: number[] = []
  let before = -1
  for (let i = 0; i < gathered.length; i++) {
    const code = codes[gathered[i]]
    if (code !== before) starts.push(i)
    before = code
    if (i % SLICE === SLICE - 1) yield
  }
  return Uint32Array.from([...starts, gathered.length])
}
