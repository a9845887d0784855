import { hasBit, type Bits } from '../table/bits.ts'

/**
 * Line numbers of group heads: head of group `g` is line `heads[g]`, its rows (when open) the lines after it, and
 * the last entry counts all lines. Lines themselves are never listed.
 */
export function headLines(starts: Uint32Array, open: Bits): Uint32Array {
  const groups = starts.length - 1
  const heads = new Uint32Array(groups + 1)
  let line = 0
  for (let g = 0; g < groups; g++) {
    heads[g] = line
    line += 1 + (hasBit(open, g) ? starts[g + 1] - starts[g] : 0)
  }
  heads[groups] = line
  return heads
}

/** The last index whose start is at or before `at`; the starts ascend and the first is 0. Logarithmic. */
export function lastStartAt(starts: ArrayLike<number>, count: number, at: number): number {
  let low = 0
  let high = count
  while (high - low > 1) {
    const middle = (low + high) >>> 1
    if (starts[middle] <= at) low = middle
    else high = middle
  }
  return low
}
