import type { Column, Field, Value } from './column.ts'
import { valueAt } from './column.ts'
import { DAY_MS, isoClock, isoDay, isoTime } from './calendar.ts'

/** How a column's values are written. What is not given follows from the field. */
export interface Format {
  /** Digits after the point; default: as many as the data was written with. */
  readonly decimals?: number
  /** `iso`: 2024-06-14; `medium`: 14 Jun 2024 in the locale's own words. Default `iso`. */
  readonly date?: 'iso' | 'medium'
  readonly locale?: string
}

/** Writes a value as the reader sees it; a missing one is the empty text. */
export type Show = (value: Value) => string

/** The writer for a field in a format. Cheap to call; made once per column. */
export function shower(field: Field, format: Format = {}): Show {
  const show = showPresent(field, format)
  return value => (value === null ? '' : show(value))
}

function showPresent(field: Field, format: Format): (value: string | number | boolean) => string {
  switch (field.type) {
    case 'text':
      return value => value as string
    case 'tags':
      return value => tagsOf(value as string).join(', ')
    case 'boolean':
      return value => (value ? 'yes' : 'no')
    case 'integer':
      if (field.wide) return String
      return showNumber(format.decimals ?? field.decimals ?? 0)
    case 'number':
      return showNumber(format.decimals ?? field.decimals ?? 0)
    case 'date':
      return format.date === 'medium' ? remembered(mediumDay(format.locale)) : remembered(isoDay)
    case 'time':
      return value => isoClock(value as number)
    case 'datetime':
      return showTime(field, format)
  }
}

/** The texts of a tags value. */
export const tagsOf = (value: string): readonly string[] => JSON.parse(value) as string[]

function showNumber(decimals: number): (value: string | number | boolean) => string {
  // toFixed turns to exponents at 1e21 and would pad them with wrong digits before.
  return value => {
    const number = value as number
    if (!Number.isFinite(number) || Math.abs(number) >= 1e15) return String(number)
    return number.toFixed(decimals)
  }
}

function mediumDay(locale: string | undefined): (day: number) => string {
  const format = new Intl.DateTimeFormat(locale ?? 'en-GB', {
    day: '2-digit',
    month: 'short',
    year: 'numeric',
    timeZone: 'UTC',
  })
  return day => format.format(day * DAY_MS)
}

function showTime(field: Field, format: Format): (value: string | number | boolean) => string {
  const end = field.zoned ? ' UTC' : ''
  if (format.date !== 'medium') return value => isoTime(value as number) + end
  const day = remembered(mediumDay(format.locale))
  return value => {
    const ms = value as number
    return `${day(Math.floor(ms / DAY_MS))} ${isoClock(ms).slice(0, 5)}${end}`
  }
}

/** Days recur: each is written once. The memory is bounded by the days of about 90 years. */
function remembered(write: (day: number) => string): (value: string | number | boolean) => string {
  const known = new Map<number, string>()
  return value => {
    const day = value as number
    let text = known.get(day)
    if (text === undefined) {
      text = write(day)
      if (known.size > 32_768) known.clear()
      known.set(day, text)
    }
    return text
  }
}

/** The shown text of one cell. */
export function shownAt(column: Column, row: number, show: Show): string {
  return show(valueAt(column, row))
}
