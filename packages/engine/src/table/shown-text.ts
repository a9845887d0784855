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
      return value => value as string
    case 'tags':
      return value => tagsOf(value as string).join(', ')
    case 'boolean': {
      const { yes = 'yes', no = 'no' } = format
      return value => (value ? yes : no)
    }
    case 'integer':
    case 'number':
      return field.wide && !format.number ? String : numberShow(field, format)
    case 'date':
      return remembered(showDay(format))
    case 'time':
      return (format.date ?? 'iso') === 'iso'
        ? (showTimeOfDay(format) as (value: unknown) => string)
        : remembered(showTimeOfDay(format))
    case 'datetime': {
      const show = showTime(field.zoned ?? false, format)
      // Instants hardly recur; where the locale's help is not needed for each, writing is quicker than remembering.
      return format.date === 'relative' || format.zone
        ? remembered(show)
        : (show as (value: unknown) => string)
    }
  }
}

function numberShow(field: Field, format: Format): (value: string | number | boolean) => string {
  const show = showNumber(format, field.decimals ?? 0)
  // Plain digits are written faster than they are looked up.
  return format.number && format.number !== 'plain' ? remembered(show) : (show as (value: unknown) => string)
}

/** The texts of a tags value. */
export const tagsOf = (value: string): readonly string[] => JSON.parse(value) as string[]

/** Values recur: each is written once. */
function remembered(write: (value: number) => string): (value: string | number | boolean) => string {
  const known = new Map<number, string>()
  return value => {
    const number = value as number
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
