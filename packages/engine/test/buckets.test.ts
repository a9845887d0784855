import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bucketFits, bucketSchema, DATE_PARTS, type Bucket } from '../src/group/bucket.ts'
import { dateCodes, letterCodes, rangeCodes, type BucketCodes } from '../src/group/bucket-codes.ts'
import { emptyBits, setBit } from '../src/table/bits.ts'
import { DAY_MS } from '../src/table/calendar.ts'
import type { CodedColumn, NumberColumn, PlainColumn } from '../src/table/column.ts'
import { textBlockOf } from '../src/table/text-block.ts'
import { zoneOffset } from '../src/table/zone.ts'
import { finish, type Work } from '../src/work/work.ts'

type Cells<T> = readonly (T | null)[]

const missingOf = (cells: Cells<unknown>) => {
  const bits = emptyBits(cells.length)
  cells.forEach((cell, row) => cell === null && setBit(bits, row))
  return cells.includes(null) ? bits : null
}
const numbers = (cells: Cells<number>, whole = false): NumberColumn => ({
  kind: 'number',
  values: whole ? Int32Array.from(cells, cell => cell ?? 0) : Float64Array.from(cells, cell => cell ?? 0),
  missing: missingOf(cells),
})

/** Each row's key by the codes; null: none. Codes ascend with their keys, and every one is some row's. */
function keysOfRows(work: Work<BucketCodes>): unknown[] {
  const { codes, size, keys } = finish(work)
  expect(keys).toHaveLength(size)
  expect(new Set(codes).size - (codes.includes(size) ? 1 : 0)).toBe(size)
  if (typeof keys[0] === 'number')
    keys.forEach((key, i) => i > 0 && expect(Number(key)).toBeGreaterThan(Number(keys[i - 1])))
  return [...codes].map(code => (code === size ? null : keys[code]))
}

const some = <T>(of: fc.Arbitrary<T>): fc.Arbitrary<Cells<T>> =>
  fc.array(fc.option(of, { nil: null, freq: 6 }), { maxLength: 60 })

describe('ranges of numbers', () => {
  it('hold what lies from their lower end up to the next', () => {
    const values = some(
      fc.oneof(fc.integer({ min: -500, max: 500 }), fc.constantFrom(1e9, -1e9, 2 ** 31 - 1)),
    )
    fc.assert(
      fc.property(
        values,
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: -9, max: 9 }),
        (cells, step, origin) => {
          const expected = cells.map(cell =>
            cell === null ? null : origin + Math.floor((cell - origin) / step) * step,
          )
          for (const whole of [true, false]) {
            const fits = !whole || cells.every(cell => cell === null || cell === (cell | 0))
            if (fits)
              expect(keysOfRows(rangeCodes({ by: 'range', step, origin }, numbers(cells, whole)))).toEqual(
                expected,
              )
          }
        },
      ),
    )
  })

  it('take decimals as they are written, not as doubles come near them', () => {
    const tenths = Array.from({ length: 41 }, (_, i) => Number((i / 10 - 2).toFixed(1)))
    const keys = keysOfRows(rangeCodes({ by: 'range', step: 0.1, origin: 0 }, numbers(tenths)))
    expect(keys.map(key => Number(Number(key).toFixed(1)))).toEqual(tenths)
    const { size } = finish(rangeCodes({ by: 'range', step: 0.3, origin: 0 }, numbers([0.3, 0.59, 0.6, 0.9])))
    expect(size).toBe(3)
  })

  it('lie between given breaks', () => {
    const cells = some(fc.integer({ min: -20, max: 20 }))
    const breaks = fc.uniqueArray(fc.integer({ min: -15, max: 15 }), { minLength: 1, maxLength: 6 })
    fc.assert(
      fc.property(cells, breaks, (cells, list) => {
        const at = list.sort((a, b) => a - b)
        const expected = cells.map(cell =>
          cell === null ? null : (at.filter(end => end <= cell).at(-1) ?? -Infinity),
        )
        expect(keysOfRows(rangeCodes({ by: 'breaks', at }, numbers(cells)))).toEqual(expected)
      }),
    )
  })

  it('hold about as many values each, and never part equal ones', () => {
    const even = Array.from({ length: 100 }, (_, i) => (i * 37) % 100)
    const keys = keysOfRows(rangeCodes({ by: 'parts', count: 4 }, numbers([...even, null])))
    expect([0, 25, 50, 75].map(end => keys.filter(key => key === end).length)).toEqual([25, 25, 25, 25])
    expect(keys.at(-1)).toBeNull()
    const same = [...Array.from({ length: 90 }, () => 7), ...Array.from({ length: 30 }, () => 8)]
    const parted = keysOfRows(rangeCodes({ by: 'parts', count: 10 }, numbers(same)))
    expect(parted).toEqual(same)
    expect(keysOfRows(rangeCodes({ by: 'parts', count: 3 }, numbers([null, null])))).toEqual([null, null])
  })
})

const iso = (day: number): Date => new Date(day * DAY_MS)

/** The ISO week of a day, by counting from the Monday of the week that holds the fourth of January. */
function isoWeek(day: number): number {
  const weekday = (iso(day).getUTCDay() + 6) % 7
  const thursday = iso(day - weekday + 3)
  const fourth = Date.UTC(thursday.getUTCFullYear(), 0, 4) / DAY_MS
  const monday = fourth - ((iso(fourth).getUTCDay() + 6) % 7)
  return (day - weekday - monday) / 7 + 1
}

function naive(part: (typeof DATE_PARTS)[number], every: boolean, ms: number): number {
  const day = Math.floor(ms / DAY_MS)
  const date = iso(day)
  const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()]
  const weekday = (date.getUTCDay() + 6) % 7
  switch (part) {
    case 'year':
      return Date.UTC(year, 0, 1)
    case 'quarter':
      return every ? Math.floor(month / 3) + 1 : Date.UTC(year, Math.floor(month / 3) * 3, 1)
    case 'month':
      return every ? month + 1 : Date.UTC(year, month, 1)
    case 'week':
      return every ? isoWeek(day) : (day - weekday) * DAY_MS
    case 'weekday':
      return weekday + 1
    case 'day':
      return every ? date.getUTCDate() : day * DAY_MS
    case 'hour':
      return every ? new Date(ms).getUTCHours() : Math.floor(ms / 3_600_000) * 3_600_000
  }
}

describe('parts of dates', () => {
  const kinds = DATE_PARTS.flatMap(part => [false, true].map(every => [part, every] as const)).filter(
    ([part, every]) => part !== 'year' || !every,
  )

  it.each(kinds)('%s, every: %s', (part, every) => {
    const moments = some(fc.integer({ min: Date.UTC(1890, 0, 1), max: Date.UTC(2110, 0, 1) }))
    fc.assert(
      fc.property(moments, cells => {
        const expected = cells.map(ms => (ms === null ? null : naive(part, every, ms)))
        expect(keysOfRows(dateCodes({ part, every }, numbers(cells), { type: 'datetime' }))).toEqual(expected)
        if (part === 'hour') return
        const days = cells.map(ms => (ms === null ? null : Math.floor(ms / DAY_MS)))
        const recurs = every || part === 'weekday'
        const ofDays = expected.map(key => (key === null || recurs ? key : key / DAY_MS))
        expect(keysOfRows(dateCodes({ part, every }, numbers(days, true), { type: 'date' }))).toEqual(ofDays)
      }),
    )
  })

  it('are reckoned where the definition says', () => {
    const late = Date.UTC(2024, 5, 30, 23, 30)
    const zone = zoneOffset('Europe/Berlin')
    const column = numbers([late])
    const month = { part: 'month', every: false } as const
    expect(keysOfRows(dateCodes(month, column, { type: 'datetime', zoned: true }, zone))).toEqual([
      Date.UTC(2024, 6, 1),
    ])
    // Wall time stays as it is, whatever the zone.
    expect(keysOfRows(dateCodes(month, column, { type: 'datetime' }, zone))).toEqual([Date.UTC(2024, 5, 1)])
    expect(
      keysOfRows(dateCodes({ part: 'hour', every: false }, numbers([5_400_000]), { type: 'time' })),
    ).toEqual([1])
  })
})

describe('first letters', () => {
  it('fold case and accents, and go by the collator', () => {
    const words = ['Ähre', 'ash', 'Birch', 'élan', 'Elm', '  oak', '7 trees', null, 'birch']
    const keys = ['A', 'A', 'B', 'E', 'E', 'O', '7', null, 'B']
    const texts = [...new Set(words.filter(word => word !== null))]
    const plain: PlainColumn = {
      kind: 'plain',
      texts: textBlockOf(words.map(word => word ?? '')),
      missing: missingOf(words),
    }
    const coded: CodedColumn = {
      kind: 'coded',
      codes: Uint32Array.from(words, word => (word === null ? 0 : texts.indexOf(word))),
      texts: textBlockOf([...texts, 'never used']),
      missing: missingOf(words),
    }
    for (const column of [plain, coded]) {
      expect(keysOfRows(letterCodes(1, column, new Intl.Collator('en')))).toEqual(keys)
      expect(finish(letterCodes(1, column, new Intl.Collator('en'))).keys).toEqual(['7', 'A', 'B', 'E', 'O'])
    }
    expect(keysOfRows(letterCodes(3, plain, new Intl.Collator('en')))[0]).toBe('AHR')
  })
})

describe('a bucket', () => {
  it('is checked, and says which columns it is for', () => {
    const bad: unknown[] = [
      { by: 'range', step: 0 },
      { by: 'breaks', at: [3, 3] },
      { by: 'date', part: 'year', every: true },
      { by: 'letters', count: 0 },
      { by: 'nothing' },
    ]
    for (const one of bad) expect(bucketSchema.safeParse(one).success).toBe(false)
    const range = bucketSchema.parse({ by: 'range', step: 10 })
    expect(range).toEqual({ by: 'range', step: 10, origin: 0 })
    const hour: Bucket = { by: 'date', part: 'hour', every: true }
    expect([bucketFits(range, 'integer'), bucketFits(range, 'date'), bucketFits(hour, 'time')]).toEqual([
      true,
      false,
      true,
    ])
    expect(bucketFits({ ...hour, part: 'month' }, 'time')).toBe(false)
    expect(bucketFits({ by: 'letters', count: 1 }, 'tags')).toBe(false)
    expect(bucketFits({ by: 'value' }, 'tags')).toBe(true)
  })
})
