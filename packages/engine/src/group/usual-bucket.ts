import { DAY_MS } from '../table/calendar.ts'
import type { Field } from '../table/column.ts'
import type { Bucket, DatePart } from './bucket.ts'

/** A bucket for a column at the first asking: never a group a value by surprise. */
export function usualBucket(
  field: Field,
  known: { readonly low: number | null; readonly high: number | null; readonly distinct: number | null },
): Bucket {
  if (known.low === null || known.high === null) return { by: 'value' }
  const span = known.high - known.low
  switch (field.type) {
    case 'date':
      return { by: 'date', part: partFor(span), every: false }
    case 'datetime':
      return { by: 'date', part: partFor(span / DAY_MS), every: false }
    case 'time':
      return { by: 'date', part: 'hour', every: false }
    case 'integer':
    case 'number':
      return (known.distinct !== null && known.distinct <= FEW_VALUES) || span <= 0
        ? { by: 'value' }
        : { by: 'range', step: roundStep(span / WANTED_RANGES), origin: 0 }
    default:
      return { by: 'value' }
  }
}

/** So many different numbers are groups of their own. */
const FEW_VALUES = 12
const WANTED_RANGES = 10

/** Months, where dates span years; parts of which there are some, and no flood. */
function partFor(days: number): DatePart {
  if (days > 366 * 30) return 'year'
  if (days > 92) return 'month'
  if (days > 21) return 'week'
  return days > 2 ? 'day' : 'hour'
}

/** The least of 1, 2 and 5 times a power of ten that is not below. */
function roundStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least))
  for (const times of [1, 2, 5])
    if (times * power >= least * (1 - 1e-9)) return Number((times * power).toPrecision(1))
  return Number((10 * power).toPrecision(1))
}
