import { DAY_MS, isoClock, isoDay } from './calendar.ts'
import type { Field, Value } from './column.ts'
import { tagsOf, type Show } from './shown-text.ts'

/**
 * Writes a value as other programs read it, whatever it is shown as: numbers by their shortest digits, `true` and `false`, dates
 * and times as RFC 3339 has them, tags with commas between. A missing one is the empty text.
 */
export function plainWriter(field: Field): Show {
  const write = presentWriter(field)
  return value => (value === null ? '' : write(value))
}

type Present = Exclude<Value, null>

function presentWriter({ type, zoned = false, decimals }: Field): (value: Present) => string {
  switch (type) {
    case 'number':
      return decimals !== undefined && decimals > 0 && decimals <= MOST_DECIMALS
        ? decimalWriter(decimals)
        : String
    case 'date':
      return value => isoDay(Number(value))
    case 'time':
      return value => isoClock(Number(value))
    case 'datetime':
      return momentWriter(zoned)
    case 'tags':
      return value => tagsOf(String(value)).join(', ')
    default:
      return String
  }
}

/** Up to so many digits behind the point a number of them is whole when it is scaled, exactly. */
const MOST_DECIMALS = 6

/**
 * Numbers of few decimals are written from the whole number that they are when scaled, which takes a third of the time
 * that the shortest digits of any number take. Where that is not the very number, it is written as any other.
 */
function decimalWriter(decimals: number): (value: Present) => string {
  const scale = 10 ** decimals
  return value => {
    const number = Number(value)
    const whole = Math.round(number * scale)
    if (typeof value !== 'number' || whole / scale !== number || Math.abs(whole) > 1e15 || whole === 0)
      return String(value)
    const size = Math.abs(whole)
    const head = Math.floor(size / scale)
    let rest = size - head * scale
    const sign = whole < 0 ? '-' : ''
    if (rest === 0) return sign + String(head)
    let digits = decimals
    while (rest % 10 === 0) {
      rest /= 10
      digits--
    }
    return `${sign}${head}.${String(rest).padStart(digits, '0')}`
  }
}

/** Moments of the same day, which mostly follow one another, have their day written once. */
function momentWriter(zoned: boolean): (value: Present) => string {
  const end = zoned ? 'Z' : ''
  let last = NaN
  let text = ''
  return value => {
    const ms = Number(value)
    const day = Math.floor(ms / DAY_MS)
    if (day !== last) {
      last = day
      text = isoDay(day)
    }
    return `${text}T${isoClock(ms)}${end}`
  }
}
