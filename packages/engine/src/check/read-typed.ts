import type { CheckProblem } from './check-problem.ts'
import { textParser, type DateOrder } from '../read/types/text-style.ts'
import { DAY_MS, dayNumber, daysInMonth, isoClock, isoDay, isoTime } from '../table/calendar.ts'
import type { Field, Value } from '../table/column.ts'
import { DEFAULT_LOCALE } from '../table/default-locale.ts'
import { isToldByDouble, plainNumber } from '../table/digits.ts'
import type { Format } from '../table/format.ts'
import { numberSigns, plainDigits } from '../table/read-number.ts'
import { tagsOf } from '../table/shown-text.ts'
import { zoneOffset } from '../table/zone.ts'

/** What a text says, typed or pasted into a cell. */
export type Typed =
  { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: CheckProblem }

/**
 * Reads a text as a column writes its values, or as programs do: numbers with the locale's signs, days in the locale's
 * order or as ISO 8601 has them, instants without an offset in the format's zone. An empty text is no value.
 */
export function readTyped(text: string, field: Field, format: Format): Typed {
  const trimmed = text.trim()
  if (trimmed === '') return { ok: true, value: null }
  const value = valueOf(text, trimmed, field, format)
  if (value === null) return { ok: false, problem: { code: 'not-of-type', type: field.type, text } }
  const isNumber = field.type === 'integer' || field.type === 'number'
  if (isNumber && typeof value === 'string' && !field.wide) {
    if (!isToldByDouble(value)) return { ok: false, problem: { code: 'too-many-digits', text } }
    return { ok: true, value: Number(value) }
  }
  return { ok: true, value }
}

/** null: the text says no value of the type. Numbers as their digits. */
function valueOf(text: string, trimmed: string, field: Field, format: Format): Value {
  switch (field.type) {
    case 'text':
      return text
    case 'tags':
      return tagsText(trimmed.split(','))
    case 'integer':
    case 'number':
      return digitsIn(trimmed, format)
    case 'boolean':
      return truthIn(trimmed, format)
    case 'date':
      return dayIn(trimmed, format)
    case 'time':
      return clockIn(trimmed)
    case 'datetime':
      return momentIn(trimmed, field, format)
  }
}

/** Tags as they are kept: without spaces around them, none empty, none twice. */
export function tagsText(tags: readonly string[]): string | null {
  const told = [...new Set(tags.map(tag => tag.trim()).filter(Boolean))]
  return told.length > 0 ? JSON.stringify(told) : null
}

function digitsIn(text: string, format: Format): string | null {
  const signs = numberSigns({ ...format, number: format.number === 'plain' ? undefined : format.number })
  const locale = signs ?? numberSigns({ ...format, number: 'grouped' })
  // As programs write it, which some locales would take for thousands; a column that writes so is read so first.
  const asWritten = locale ? plainDigits(text, locale) : text
  return (signs ? null : plainNumber(text)) ?? plainNumber(asWritten) ?? plainNumber(text)
}

const TRUTHS: Readonly<Record<string, boolean>> = {
  true: true,
  yes: true,
  '1': true,
  false: false,
  no: false,
  '0': false,
}

function truthIn(text: string, { yes = 'yes', no = 'no' }: Format): boolean | null {
  const said = text.toLocaleLowerCase()
  if (said === yes.toLocaleLowerCase()) return true
  if (said === no.toLocaleLowerCase()) return false
  return Object.hasOwn(TRUTHS, said) ? TRUTHS[said] : null
}

const parseClock = textParser({ type: 'time' })
const clockIn = (text: string): number | null => {
  const short = /^\d{1,2}$/.test(text) ? `${text}:00` : text
  return numberOrNull(parseClock(short))
}

const numberOrNull = (read: number | string | null): number | null => (typeof read === 'number' ? read : null)

function dayIn(text: string, { locale = DEFAULT_LOCALE }: Format): number | null {
  for (const dateOrder of new Set<DateOrder>([...dateOrderOf(locale), 'ymd'])) {
    const day = numberOrNull(textParser({ type: 'date', dateOrder })(text))
    if (day !== null) return day
  }
  return namedDay(text, locale)
}

/** The order in which a locale writes a day; none where it is another than these. */
function dateOrderOf(locale: string): DateOrder[] {
  const parts = new Intl.DateTimeFormat(locale, { day: '2-digit', month: '2-digit', year: 'numeric' })
    .formatToParts(0)
    .map(({ type }) => type)
    .filter(type => type === 'day' || type === 'month' || type === 'year')
    .map(type => type[0])
    .join('')
  return parts === 'ymd' || parts === 'dmy' || parts === 'mdy' ? [parts] : []
}

/** A day with the name of its month: `14 Jun 2024`, `Friday, 14 June 2024`. */
function namedDay(text: string, locale: string): number | null {
  const words = text.toLocaleLowerCase(locale).split(/[\s,]+/)
  const month = words.map(word => monthNamed(word.replace(/\.$/, ''), locale)).find(found => found > 0)
  const year = words.find(word => /^\d{4}$/.test(word))
  const day = words.map(word => /^(\d{1,2})\.?$/.exec(word)?.[1]).find(found => found !== undefined)
  if (!month || !year || !day) return null
  const [y, d] = [Number(year), Number(day)]
  return d >= 1 && d <= daysInMonth(y, month) ? dayNumber(y, month, d) : null
}

const monthNames = new Map<string, readonly string[]>()

/** 1 to 12; 0: no month is called so. */
function monthNamed(word: string, locale: string): number {
  let names = monthNames.get(locale)
  if (!names) {
    names = (['short', 'long'] as const).flatMap(month => {
      const intl = new Intl.DateTimeFormat(locale, { month, day: 'numeric', timeZone: 'UTC' })
      return Array.from({ length: 12 }, (_, i) => {
        const parts = intl.formatToParts(Date.UTC(2024, i, 15))
        return (parts.find(({ type }) => type === 'month')?.value ?? '')
          .toLocaleLowerCase(locale)
          .replace(/\.$/, '')
      })
    })
    monthNames.set(locale, names)
  }
  const at = names.indexOf(word)
  return at < 0 ? 0 : (at % 12) + 1
}

function momentIn(text: string, field: Field, format: Format): number | null {
  const zoned = field.zoned ?? false
  const orders = [...dateOrderOf(format.locale ?? DEFAULT_LOCALE), 'ymd' as const]
  if (zoned)
    for (const dateOrder of orders) {
      const instant = numberOrNull(textParser({ type: 'datetime', dateOrder, zoned })(text))
      if (instant !== null) return instant
    }
  // What stands behind is the name of the zone that the column shows.
  const bare = zoned ? text.replace(/ [A-Z][A-Z+\-0-9]*$/, '') : text
  const parted = /^(.*?)(?:[Tt]|,? +)(\d{1,2}:\S+)$/.exec(bare)
  const day = dayIn(parted ? parted[1] : bare, format)
  const clock = parted ? clockIn(parted[2]) : 0
  if (day === null || clock === null) return null
  const wall = day * DAY_MS + clock
  return zoned ? instantOf(wall, format.zone) : wall
}

/** The instant at which a zone's clocks show a wall time; where they show it twice, the first. */
export function instantOf(wall: number, zone: string | undefined): number {
  const offset = zone ? zoneOffset(zone) : null
  if (!offset) return wall
  const before = wall - offset(wall - DAY_MS)
  if (before + offset(before) === wall) return before
  return wall - offset(wall - offset(wall))
}

/** The text with which an editor begins: it reads back as the value. */
export function textToEdit(value: Value, field: Field, format: Format): string {
  if (value === null) return ''
  switch (field.type) {
    case 'text':
      return String(value)
    case 'tags':
      return tagsOf(String(value)).join(', ')
    case 'boolean':
      return value ? (format.yes ?? 'yes') : (format.no ?? 'no')
    case 'integer':
    case 'number':
      return numberToEdit(value, format)
    case 'date':
      return isoDay(Number(value))
    case 'time':
      return isoClock(Number(value))
    case 'datetime': {
      const offset = field.zoned && format.zone ? zoneOffset(format.zone) : null
      return isoTime(Number(value) + (offset?.(Number(value)) ?? 0))
    }
  }
}

/** Digits and a decimal sign, as the column writes them; a share as percent where it does. */
function numberToEdit(value: Value, format: Format): string {
  const signs = numberSigns(format)
  const percent = signs?.percent ?? false
  const text =
    percent && typeof value === 'number' ? String(Number((value * 100).toPrecision(15))) : String(value)
  return `${signs && !/e/i.test(text) ? text.replace('.', signs.decimal) : text}${percent ? '%' : ''}`
}
