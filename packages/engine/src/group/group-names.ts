import { civilDay, dayNumber, DAY_MS } from '../table/calendar.ts'
import type { Field, Value } from '../table/column.ts'
import { DEFAULT_LOCALE } from '../table/default-locale.ts'
import type { Format } from '../table/format.ts'
import type { Show } from '../table/shown-text.ts'
import { showNumber } from '../table/show-number.ts'
import type { Bucket, DatePart } from './bucket.ts'

/** Writes what names a group: the key of its bucket. `next`: the key of the bucket behind it, where there is one. */
export type ShowKey = (key: NonNullable<Value>, next: NonNullable<Value> | undefined) => string

const HOUR_MS = 3_600_000
/** A day whose month is that number: of a year that begins with a Monday, so that days serve for weekdays too. */
const someDay = (month: number, day: number): number => dayNumber(2024, month, day)
const two = (number: number): string => String(number).padStart(2, '0')

/** How the groups of a bucket are called. Of ranges, what stands between their ends; words only of the calendar. */
export function keyShower(bucket: Bucket, field: Field, show: Show, format: Format = {}): ShowKey {
  switch (bucket.by) {
    case 'range': {
      const end = rangeEnd(field, format, bucket.step)
      return key => `${end(Number(key))} – ${end(Number(key) + bucket.step)}`
    }
    case 'breaks': {
      const { at } = bucket
      return key => {
        if (key === -Infinity) return `< ${show(at[0])}`
        const next = at[at.indexOf(Number(key)) + 1] as number | undefined
        return next === undefined ? `≥ ${show(key)}` : `${show(key)} – ${show(next)}`
      }
    }
    case 'parts':
      return (key, next) => (next === undefined ? `≥ ${show(key)}` : `${show(key)} – ${show(next)}`)
    case 'date':
      return dateShower(bucket, field, show, format)
    default:
      return key => show(key)
  }
}

/** Ends of ranges need as many decimals as their steps, not as their column. */
function rangeEnd(field: Field, format: Format, step: number): (value: number) => string {
  const decimals = (/\.(\d+)$/.exec(String(step))?.[1] ?? '').length
  const { decimals: _, ...rest } = format
  const write = showNumber(
    { ...rest, ...(format.number === 'percent' ? { decimals: Math.max(0, decimals - 2) } : { decimals }) },
    decimals,
  )
  return value => write(Number(value.toFixed(Math.max(decimals, field.decimals ?? 0))))
}

function dateShower(
  { part, every }: Extract<Bucket, { by: 'date' }>,
  field: Field,
  show: Show,
  format: Format,
): ShowKey {
  const { locale = DEFAULT_LOCALE, date: style = 'iso' } = format
  const written = (options: Intl.DateTimeFormatOptions): ((day: number) => string) => {
    const intl = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options })
    return day => intl.format(day * DAY_MS)
  }
  if (every || part === 'weekday' || field.type === 'time') return recurring(part, written)
  const dayOf = (key: NonNullable<Value>): number =>
    field.type === 'date' ? Number(key) : Math.floor(Number(key) / DAY_MS)
  const month = written({ month: 'long', year: 'numeric' })
  return key => {
    const day = dayOf(key)
    const { year, month: nth } = civilDay(day)
    switch (part) {
      case 'year':
        return String(year)
      case 'quarter':
        return `${year} Q${Math.floor((nth - 1) / 3) + 1}`
      case 'month':
        return style === 'iso' ? `${year}-${two(nth)}` : month(day)
      case 'week': {
        const { year: ofYear } = civilDay(day + 3)
        return `${ofYear}-W${two(Math.floor((day + 3 - dayNumber(ofYear, 1, 1)) / 7) + 1)}`
      }
      case 'hour':
        return `${isoDay(day)} ${two((((Number(key) / HOUR_MS) % 24) + 24) % 24)}:00`
      default:
        return field.type === 'date' ? show(key) : isoDay(day)
    }
  }
}

const isoDay = (day: number): string => {
  const { year, month, day: ofMonth } = civilDay(day)
  return `${year}-${two(month)}-${two(ofMonth)}`
}

function recurring(
  part: DatePart,
  written: (options: Intl.DateTimeFormatOptions) => (day: number) => string,
): ShowKey {
  const month = written({ month: 'long' })
  const weekday = written({ weekday: 'long' })
  return key => {
    const number = Number(key)
    switch (part) {
      case 'quarter':
        return `Q${number}`
      case 'month':
        return month(someDay(number, 1))
      case 'week':
        return `W${two(number)}`
      case 'weekday':
        // 2024 began with a Monday.
        return weekday(someDay(1, number))
      case 'hour':
        return `${two(number)}:00`
      default:
        return String(number)
    }
  }
}
