/** The last index from `from` up to `to` whose value is at or below `at`; the values ascend there. Logarithmic. */
export function lastAt(values: ArrayLike<number>, from: number, to: number, at: number): number {
  let [low, high] = [from, to]
  while (high - low > 1) {
    const middle = (low + high) >>> 1
    if (values[middle] <= at) low = middle
    else high = middle
  }
  return low
}

/** The last index whose start is at or before `at`; the starts ascend and the first is 0. */
export const lastStartAt = (starts: ArrayLike<number>, count: number, at: number): number =>
  lastAt(starts, 0, count, at)
