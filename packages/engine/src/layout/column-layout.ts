import { lastStartAt } from './last-start.ts'

/** A run of columns side by side: keys and the inline offset of each, with the whole width last. */
export interface ColumnRun {
  readonly keys: readonly string[]
  /** One more than the keys: `offsets[i]` is where column `i` starts, in CSS px from the run's start. */
  readonly offsets: Float64Array
}

export function columnRun(keys: readonly string[], widthOf: (key: string) => number): ColumnRun {
  const offsets = new Float64Array(keys.length + 1)
  keys.forEach((key, i) => (offsets[i + 1] = offsets[i] + widthOf(key)))
  return { keys, offsets }
}

export const runWidth = (run: ColumnRun): number => run.offsets[run.keys.length]

/** The columns that lie in the window from `from` to `to` px, as a range without its end. */
export function columnsBetween(run: ColumnRun, from: number, to: number): { first: number; end: number } {
  const count = run.keys.length
  if (count === 0 || to <= from) return { first: 0, end: 0 }
  const first = lastStartAt(run.offsets, count, Math.max(0, from))
  let end = first
  while (end < count && run.offsets[end] < to) end++
  return { first, end }
}

/** The most columns that a window of the given width can ever show at once. */
export function mostColumns(run: ColumnRun, width: number): number {
  let most = 0
  let end = 0
  for (let first = 0; first < run.keys.length; first++) {
    // The window may start just before the first column's end.
    const reach = run.offsets[first + 1] + width
    while (end < run.keys.length && run.offsets[end] < reach) end++
    most = Math.max(most, end - first)
  }
  return most
}
