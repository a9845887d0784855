import type { Column, Field, Value } from './column.ts'
import { valueAt } from './column.ts'
import type { Format } from './format.ts'
import { showDay, showTime, showTimeOfDay } from './show-date.ts'
import { showNumber } from './show-number.ts'

/** Writes a value as the reader sees it; a missing one is the empty text. */
export type Show = (value: Value) => string

/** The writer for a field in a format. Cheap to call; made once per column. */
export function shower(field: Field, format: Format = {}): Show {
  const show = showPresent(field, format)
  return value => (value === null ? '' : show(value))
}

/** Beyond this many different values what was written is forgotten, so that memory is bounded. */
const MOST_REMEMBERED = 32_768

function showPresent(field: Field, format: Format): (value: string | number | boolean) => string {
  switch (field.type) {
    case 'text':
      return String
    case 'tags':
      return value => tagsOf(String(value)).join(', ')
    case 'boolean': {
      const { yes = 'yes', no = 'no' } = format
      return value => (value ? yes : no)
    }
    case 'integer':
    case 'number':
      return field.wide && field.type === 'integer' && !format.number ? String : numberShow(field, format)
    case 'date': {
      const day = showDay(format)
      return remembered(value => day(Number(value)))
    }
    case 'time': {
      const timeOfDay = showTimeOfDay(format)
      return (format.date ?? 'iso') === 'iso'
        ? value => timeOfDay(Number(value))
        : remembered(value => timeOfDay(Number(value)))
    }
    case 'datetime': {
      const time = showTime(field.zoned ?? false, format)
      const show = (value: string | number | boolean): string => time(Number(value))
      // Instants hardly recur; where the locale's help is not needed for each, writing is quicker than remembering.
      return format.date === 'relative' || format.zone ? remembered(show) : show
    }
  }
}

function numberShow(field: Field, format: Format): (value: string | number | boolean) => string {
  const show = showNumber(format, field.decimals ?? 0)
  // Plain digits are written faster than they are looked up.
  return format.number && format.number !== 'plain' ? remembered(show) : value => show(numberIn(value))
}

/** The texts of a tags value. */
export const tagsOf = (value: string): readonly string[] => JSON.parse(value) as string[]

/** Whole numbers of 64 bits come as their digits. */
const numberIn = (value: string | number | boolean): string | number =>
  typeof value === 'boolean' ? Number(value) : value

/** Values recur: each is written once. */
function remembered(write: (value: number | string) => string): (value: string | number | boolean) => string {
  const known = new Map<number | string, string>()
  return value => {
    const number = numberIn(value)
    // A map takes minus nought for nought.
    if (Object.is(number, -0)) return write(number)
    let text = known.get(number)
    if (text === undefined) {
      text = write(number)
      if (known.size > MOST_REMEMBERED) known.clear()
      known.set(number, text)
    }
    return text
  }
}

/** The shown text of one cell. */
export function shownAt(column: Column, row: number, show: Show): string {
  return show(valueAt(column, row))
}
