import { SLICE, type Work } from '../work/work.ts'
import { hasBit } from './bits.ts'
import type { NumberColumn } from './column.ts'

interface Extent {
  readonly low: number
  readonly high: number
}

/** Smallest and largest value of the rows that have one; Infinity, −Infinity where none has. */
export function* extent(column: NumberColumn): Work<Extent> {
  const { values, missing } = column
  let low = Infinity
  let high = -Infinity
  for (let from = 0; from < values.length; from += SLICE) {
    const to = Math.min(values.length, from + SLICE)
    for (let i = from; i < to; i++) {
      const value = values[i]
      if (value < low && !(missing && hasBit(missing, i))) low = value
      if (value > high && !(missing && hasBit(missing, i))) high = value
    }
    yield
  }
  return { low, high }
}
