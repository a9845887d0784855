import { describe, expect, test } from 'vitest'
import { formatSchema } from '../src/definition/format-schema.ts'
import type { Field } from '../src/table/column.ts'
import { civilDay, dayNumber } from '../src/table/calendar.ts'
import { shower } from '../src/table/shown-text.ts'
import type { Format } from '../src/table/format.ts'
import { zoneOffset } from '../src/table/zone.ts'
import fc from 'fast-check'

const number: Field = { key: 'n', type: 'number', decimals: 2 }
const day: Field = { key: 'd', type: 'date' }
const instant: Field = { key: 't', type: 'datetime', zoned: true }
const at = Date.UTC(2024, 5, 14, 22, 30)
const shown = (field: Field, value: string | number | boolean, format: Format): string =>
  shower(field, format)(value)

describe('formats', () => {
  test.each<[Format, string]>([
    [{}, '1204.50'],
    [{ number: 'grouped' }, '1,204.50'],
    [{ number: 'grouped', locale: 'de-DE' }, '1.204,50'],
    [{ number: 'grouped', decimals: 0 }, '1,205'],
    [{ number: 'compact', locale: 'en-US' }, '1.2K'],
    [{ number: 'currency', currency: 'EUR' }, '€1,204.50'],
    [{ number: 'currency', currency: 'JPY', locale: 'en' }, '¥1,205'],
    [{ number: 'unit', unit: 'kilometer-per-hour' }, '1,204.50 km/h'],
    [{ number: 'percent', decimals: 1 }, '120,450.0%'],
    // What the language does not know is written plain rather than not at all.
    [{ number: 'currency', currency: 'nothing' }, '1204.50'],
  ])('write a number by %j', (format, text) => {
    expect(shown(number, 1204.5, format).replaceAll('\u00a0', ' ')).toBe(text)
  })

  test.each<[Format, string]>([
    [{}, '2024-06-14'],
    [{ date: 'short' }, '14/06/2024'],
    [{ date: 'medium' }, '14 Jun 2024'],
    [{ date: 'long', locale: 'en-GB' }, 'Friday, 14 June 2024'],
    [{ date: 'month' }, 'June 2024'],
    [{ date: 'relative', now: Date.UTC(2024, 5, 15, 9) }, 'yesterday'],
    [{ date: 'relative', now: Date.UTC(2024, 5, 11, 9) }, 'in 3 days'],
    [{ date: 'relative', now: Date.UTC(2026, 7, 1) }, '2 years ago'],
  ])('write a day by %j', (format, text) => {
    expect(
      shown(day, dayNumber(2024, 6, 14), format).replace(
        /^(\w+) (\d+ \w+ \d+)$/,
        (all, a: string, b: string) => (a === 'Friday' ? `Friday, ${b}` : all),
      ),
    ).toBe(text)
  })

  test.each<[Format, string]>([
    [{}, '2024-06-14 22:30:00 UTC'],
    [{ zone: 'Europe/Madrid' }, '2024-06-15 00:30:00 CEST'],
    [{ date: 'medium', zone: 'Asia/Kolkata' }, '15 Jun 2024 04:00 GMT+5:30'],
    [{ date: 'relative', now: at + 90 * 60_000 }, '1 hour ago'],
  ])('write an instant by %j', (format, text) => {
    expect(shown(instant, at, format)).toBe(text)
  })

  test('write truths in their own words, and nothing for what is missing', () => {
    expect(shown({ key: 'b', type: 'boolean' }, true, { yes: 'present' })).toBe('present')
    expect(shower(number, { number: 'currency' })(null)).toBe('')
    expect(shown({ key: 'w', type: 'integer', wide: true }, '9007199254740993', { number: 'grouped' })).toBe(
      '9,007,199,254,740,993',
    )
  })

  test('that nobody can write by are refused with their place', () => {
    for (const wrong of [
      { locale: 'no locale' },
      { zone: 'Nowhere/Else' },
      { currency: 'gold coins' },
      { unit: 'furlong' },
    ]) {
      const read = formatSchema.safeParse(wrong)
      expect(read.success).toBe(false)
      expect(read.error!.issues[0].path).toEqual([Object.keys(wrong)[0]])
    }
  })
})

test('days and calendar days are one another’s inverse', () => {
  fc.assert(
    fc.property(fc.integer({ min: -800_000, max: 2_000_000 }), n => {
      const { year, month, day: date } = civilDay(n)
      expect(dayNumber(year, month, date)).toBe(n)
      expect([month, date]).toEqual([new Date(n * 864e5).getUTCMonth() + 1, new Date(n * 864e5).getUTCDate()])
    }),
  )
})

test('zones are ahead of UTC as the language says, also around a change of their clocks', () => {
  const offset = zoneOffset('Europe/Madrid')!
  expect(offset(Date.UTC(2024, 2, 31, 0, 59, 59))).toBe(3_600_000)
  expect(offset(Date.UTC(2024, 2, 31, 1, 0, 0))).toBe(7_200_000)
  expect(zoneOffset('Asia/Kathmandu')!(at)).toBe(5.75 * 3_600_000)
  expect(zoneOffset('Nowhere')).toBeNull()
})
