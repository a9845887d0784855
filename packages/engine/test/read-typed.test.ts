import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readTyped, textToEdit, type Typed } from '../src/editing.ts'
import { instantOf } from '../src/check/read-typed.ts'
import { dayNumber } from '../src/table/calendar.ts'
import type { Field, FieldType, Value } from '../src/table/column.ts'
import type { Format } from '../src/table/format.ts'
import { shower } from '../src/table/shown-text.ts'
import { zoneOffset } from '../src/table/zone.ts'
import { runs } from './support/runs.ts'

const field = (type: FieldType, more: Partial<Field> = {}): Field => ({ key: 'f', type, ...more })
const read = (text: string, type: FieldType, format: Format = {}, more: Partial<Field> = {}): unknown => {
  const typed = readTyped(text, field(type, more), format)
  return typed.ok ? typed.value : typed.problem.code
}

const LOCALES = ['en-GB', 'en-US', 'de-DE', 'fr-FR', 'de-CH', 'sv-SE', 'ja-JP'] as const
const locale = fc.constantFrom(...LOCALES)
const DAY = 86_400_000

interface Case {
  readonly field: Field
  readonly format: Format
  readonly value: Value
}

const numbers: fc.Arbitrary<Case> = fc
  .record({
    locale,
    number: fc.constantFrom('plain', 'grouped', 'percent', 'currency'),
    decimals: fc.nat({ max: 4 }),
    digits: fc.integer({ min: -1e9, max: 1e9 }),
  })
  .map(({ locale, number, decimals, digits }) => ({
    field: field('number', { decimals }),
    format: {
      locale,
      number,
      decimals: number === 'percent' ? Math.max(0, decimals - 2) : decimals,
    } as Format,
    value: digits / 10 ** decimals,
  }))
const days: fc.Arbitrary<Case> = fc
  .record({
    locale,
    date: fc.constantFrom('iso', 'short', 'medium', 'long'),
    value: fc.integer({ min: -300_000, max: 2_900_000 }),
  })
  .map(({ locale, date, value }) => ({ field: field('date'), format: { locale, date } as Format, value }))
const moments: fc.Arbitrary<Case> = fc
  .record({
    locale,
    zoned: fc.boolean(),
    zone: fc.constantFrom(undefined, 'UTC', 'Asia/Kathmandu', 'America/St_Johns'),
    minutes: fc.integer({ min: 0, max: 30_000_000 }),
  })
  .map(({ locale, zoned, zone, minutes }) => ({
    field: field('datetime', { zoned }),
    format: { locale, ...(zone && { zone }) } as Format,
    value: minutes * 60_000,
  }))
const others: fc.Arbitrary<Case> = fc.oneof(
  fc.boolean().map((value): Case => ({ field: field('boolean'), format: { yes: 'oui', no: 'non' }, value })),
  fc
    .integer({ min: 0, max: DAY / 1000 - 1 })
    .map((s): Case => ({ field: field('time'), format: {}, value: s * 1000 })),
  fc
    .string({ minLength: 1 })
    .filter(text => text.trim() !== '')
    .map((value): Case => ({ field: field('text'), format: {}, value })),
  fc
    .uniqueArray(fc.constantFrom('a', 'b c', 'Élan'), { minLength: 1 })
    .map((tags): Case => ({ field: field('tags'), format: {}, value: JSON.stringify(tags) })),
)

const taken = (value: Value): Typed => ({ ok: true, value })

describe('a text that is typed', () => {
  it('that an editor begins with reads as the value it was made of', () => {
    fc.assert(
      fc.property(fc.oneof(numbers, days, moments, others), ({ field, format, value }) => {
        // Twice a year a zone's clocks show a time again; what is shown of it does not say which.
        const offset =
          field.type === 'datetime' && field.zoned && format.zone ? zoneOffset(format.zone) : null
        const wall = Number(value) + (offset?.(Number(value)) ?? 0)
        const same = offset ? instantOf(wall, format.zone) : value
        if (offset) expect(wall - offset(Number(same))).toBe(same)
        expect(readTyped(textToEdit(value, field, format), field, format)).toEqual(
          taken(offset ? same : value),
        )
      }),
      runs(1500),
    )
  })

  it('as the column shows it reads as the value', () => {
    const shown = fc.oneof(
      numbers.filter(({ format }) => format.number !== 'percent'),
      // Days beyond four digits, and eras, are written in too many ways.
      days.filter(
        ({ value, format }) => Number(value) > 0 && !(format.locale === 'ja-JP' && format.date !== 'iso'),
      ),
      others,
    )
    fc.assert(
      fc.property(shown, ({ field, format, value }) => {
        fc.pre(!(field.type === 'date' && Number(value) > dayNumber(9999, 12, 31)))
        const text = shower(field, format)(value)
        const asRead = readTyped(text, field, format)
        expect(asRead).toEqual(taken(value === 0 ? 0 : value))
      }),
      runs(1500),
    )
  })

  it('is read in the order and with the signs of the locale', () => {
    expect(read('1.234,5', 'number', { locale: 'de-DE', number: 'grouped' })).toBe(1234.5)
    expect(read('1,234.5', 'number', { locale: 'en-GB', number: 'grouped' })).toBe(1234.5)
    expect(read('1 234,5', 'number', { locale: 'fr-FR', number: 'grouped' })).toBe(1234.5)
    // Plain columns write a point, whatever the locale.
    expect(read('1.234', 'number', { locale: 'de-DE' })).toBe(1.234)
    expect(read('1,5', 'number', { locale: 'de-DE' })).toBe(1.5)
    expect(read('€ 12.50', 'number', { locale: 'en-GB', number: 'currency', currency: 'EUR' })).toBe(12.5)
    expect(read('25%', 'number', { locale: 'en-GB', number: 'percent' })).toBe(0.25)
    expect(read('03/04/2024', 'date', { locale: 'en-GB' })).toBe(dayNumber(2024, 4, 3))
    expect(read('03/04/2024', 'date', { locale: 'en-US' })).toBe(dayNumber(2024, 3, 4))
    expect(read('3.4.2024', 'date', { locale: 'de-DE' })).toBe(dayNumber(2024, 4, 3))
    expect(read('2024-04-03', 'date', { locale: 'de-DE' })).toBe(dayNumber(2024, 4, 3))
    expect(read('3. April 2024', 'date', { locale: 'de-DE' })).toBe(dayNumber(2024, 4, 3))
    expect(read('Wednesday, 3 April 2024', 'date', { locale: 'en-GB' })).toBe(dayNumber(2024, 4, 3))
    expect(read('14', 'time')).toBe(14 * 3_600_000)
    expect(read('2024-04-03 14:05', 'datetime')).toBe(Date.UTC(2024, 3, 3, 14, 5))
    expect(read('3 Apr 2024 14:05', 'datetime', { locale: 'en-GB' })).toBe(Date.UTC(2024, 3, 3, 14, 5))
    const zoned = { zoned: true }
    expect(read('2024-07-03 14:05', 'datetime', { zone: 'Europe/Berlin' }, zoned)).toBe(
      Date.UTC(2024, 6, 3, 12, 5),
    )
    expect(read('2024-07-03 14:05 UTC', 'datetime', { zone: 'Europe/Berlin' }, zoned)).toBe(
      Date.UTC(2024, 6, 3, 14, 5),
    )
    expect(read('2024-07-03T14:05:00+05:00', 'datetime', {}, zoned)).toBe(Date.UTC(2024, 6, 3, 9, 5))
    expect(read('YES', 'boolean')).toBe(true)
    expect(read('0', 'boolean')).toBe(false)
    expect(read('b, a, b, ', 'tags')).toBe('["b","a"]')
    expect(read('  ', 'number')).toBe(null)
  })

  it('that says no value of the column is told', () => {
    expect(read('a dozen', 'number')).toBe('not-of-type')
    expect(read('31.2.2024', 'date', { locale: 'de-DE' })).toBe('not-of-type')
    expect(read('31 Feb 2024', 'date', { locale: 'en-GB' })).toBe('not-of-type')
    expect(read('25:00', 'time')).toBe('not-of-type')
    expect(read('perhaps', 'boolean')).toBe('not-of-type')
    expect(read('0.1234567890123456789', 'number')).toBe('too-many-digits')
    expect(read('9007199254740993', 'integer')).toBe('too-many-digits')
    // Columns that keep all digits take them.
    expect(read('9007199254740993', 'integer', {}, { wide: true })).toBe('9007199254740993')
  })
})
