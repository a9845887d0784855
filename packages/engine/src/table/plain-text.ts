import type { Field } from './column.ts'
import { isoClock, isoDay, isoTime } from './calendar.ts'
import { tagsOf, type Show } from './shown-text.ts'

/**
 * Writes a value as other programs read it, whatever it is shown as: numbers by their digits, `true` and `false`, dates
 * and times as RFC 3339 has them, tags with commas between. A missing one is the empty text.
 */
export function plainWriter({ type, zoned }: Field): Show {
  const write = (value: string | number | boolean): string => {
    switch (type) {
      case 'date':
        return isoDay(Number(value))
      case 'time':
        return isoClock(Number(value))
      case 'datetime':
        return isoTime(Number(value)).replace(' ', 'T') + (zoned ? 'Z' : '')
      case 'tags':
        return tagsOf(String(value)).join(', ')
      default:
        return String(value)
    }
  }
  return value => (value === null ? '' : write(value))
}
