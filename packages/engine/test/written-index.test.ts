import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fold } from '../src/search/fold.ts'
import { buildShownIndex, findWord, followIndex, type ShownIndex } from '../src/search/shown-index.ts'
import { WordStates } from '../src/search/word-states.ts'
import { emptyBits, fullBits, hasBit, setBit } from '../src/table/bits.ts'
import type { Field, NumberColumn } from '../src/table/column.ts'
import type { Format } from '../src/table/format.ts'
import { shower } from '../src/table/shown-text.ts'
import { finish, type Work } from '../src/work/work.ts'
import { runs } from './support/runs.ts'

type Cell = number | null

function columnOf(cells: readonly Cell[]): NumberColumn {
  const missing = emptyBits(cells.length)
  cells.forEach((cell, row) => cell === null && setBit(missing, row))
  return { kind: 'number', values: Float64Array.from(cells, cell => cell ?? 0), missing }
}

/** As for a column of which most values differ. */
function* noCodes(): Work<null> {
  yield
  return null
}

function indexOf(cells: readonly Cell[], field: Field, format: Format): ShownIndex {
  const column = columnOf(cells)
  const shown = { field, column, rows: cells.length, format, show: shower(field, format) }
  return finish(buildShownIndex(shown, noCodes))
}

function found(index: ShownIndex, rows: number, word: string, among = null as Uint32Array | null): number[] {
  const bits = emptyBits(rows)
  finish(findWord(index, word, bits, among))
  return Array.from({ length: rows }, (_, row) => row).filter(row => hasBit(bits, row))
}

/** The rows in whose text a word stands, plainly. */
function plainlyFound(cells: readonly Cell[], field: Field, format: Format, word: string): number[] {
  const show = shower(field, format)
  return cells.flatMap((cell, row) => (cell !== null && fold(show(cell)).includes(word) ? [row] : []))
}

const DAY = 86_400_000
const numbers = (decimals: number): fc.Arbitrary<Cell> =>
  fc.oneof(
    { weight: 8, arbitrary: fc.integer({ min: -500_000, max: 500_000 }).map(n => n / 10 ** decimals) },
    { weight: 8, arbitrary: fc.maxSafeInteger().map(n => n / 10 ** decimals) },
    { weight: 4, arbitrary: fc.nat({ max: 2_000_000_000 }).map(n => n / 10 ** decimals) },
    { weight: 1, arbitrary: fc.constant(null) },
  )
const odd = fc.constantFrom(-0, Infinity, -Infinity, 1e21, 1e15, 0.1 + 0.2, 1e-7, 123.456789012)
const moments = fc.oneof(
  { weight: 6, arbitrary: fc.integer({ min: -3e9, max: 3e9 }).map(n => n * 1000) },
  { weight: 3, arbitrary: fc.integer({ min: -40_000, max: 40_000 }).map(n => n * DAY) },
  { weight: 1, arbitrary: fc.constant(null) },
)
const oddMoments = fc.constantFrom(1500, -1, 8e15, -8e15, 1_700_000_000_001)

interface Case {
  readonly cells: readonly Cell[]
  readonly field: Field
  readonly format: Format
}

const locales = fc.constantFrom(
  'en-GB',
  'de-DE',
  'hi-IN',
  'es-ES',
  'pl-PL',
  'ar-EG',
  'fa-IR',
  'fr-FR',
  'de-CH',
)
const few = { maxLength: 80 }

const numberCase: fc.Arbitrary<Case> = fc
  .record({
    decimals: fc.nat({ max: 13 }),
    number: fc.constantFrom('plain', 'grouped', 'currency', 'unit', 'compact', 'percent'),
    shown: fc.option(fc.nat({ max: 4 }), { nil: undefined, freq: 3 }),
    currency: fc.constantFrom('EUR', 'JPY'),
    locale: locales,
  })
  .chain(({ decimals, number, shown, currency, locale }) =>
    fc
      .tuple(fc.array(numbers(decimals), few), fc.array(odd, { maxLength: 1 }), fc.boolean())
      .map(([cells, others, withOdd]) => ({
        cells: withOdd ? [...cells, ...others] : cells,
        field: { key: 'n', type: 'number', decimals },
        format: { number, currency, locale, ...(shown === undefined ? {} : { decimals: shown }) } as Format,
      })),
  )

const momentCase: fc.Arbitrary<Case> = fc
  .record({
    zoned: fc.boolean(),
    date: fc.constantFrom('iso', 'short', 'medium', 'long', 'month', 'relative'),
    zone: fc.constantFrom(undefined, 'UTC', 'Asia/Kathmandu'),
    locale: locales,
    cells: fc.array(moments, few),
    others: fc.array(oddMoments, { maxLength: 1 }),
    withOdd: fc.boolean(),
  })
  .map(({ zoned, date, zone, locale, cells, others, withOdd }) => ({
    cells: withOdd ? [...cells, ...others] : cells,
    field: { key: 'm', type: 'datetime', zoned },
    format: { date, locale, now: 0, ...(zone ? { zone } : {}) } as Format,
  }))

/** Pieces of what is shown, and others that nearly are. */
function wordsOf({ cells, field, format }: Case, at: number, length: number): string[] {
  const show = shower(field, format)
  const texts = cells.flatMap(cell => (cell === null ? [] : [fold(show(cell))]))
  const text = texts[at % Math.max(1, texts.length)] ?? '1'
  const piece = text.slice(at % text.length, (at % text.length) + length)
  return [piece, `${piece}0`, `1${piece}`, text, text.slice(-length), text + text].filter(word => word !== '')
}

describe('columns searched by how they are written', () => {
  it('find what stands in the shown text of each row', () => {
    fc.assert(
      fc.property(
        fc.oneof(numberCase, momentCase),
        fc.nat(),
        fc.integer({ min: 1, max: 7 }),
        (given, at, length) => {
          const { cells, field, format } = given
          const index = indexOf(cells, field, format)
          for (const word of wordsOf(given, at, length)) {
            const expected = plainlyFound(cells, field, format, word)
            expect(found(index, cells.length, word)).toEqual(expected)
            const among = emptyBits(cells.length)
            for (const row of expected) setBit(among, row)
            expect(found(index, cells.length, word, among)).toEqual(expected)
          }
        },
      ),
      runs(600),
    )
  })

  it('follow changes of rows', () => {
    fc.assert(
      fc.property(
        fc.oneof(numberCase, momentCase),
        odd,
        oddMoments,
        fc.integer({ min: -1e6, max: 1e6 }),
        fc.nat(),
        (given, oddNumber, oddMoment, usual, at) => {
          const value = at % 2 ? usual : given.field.type === 'number' ? oddNumber : oddMoment
          const { cells, field, format } = given
          const index = indexOf(cells, field, format)
          const changed = [...cells, value]
          const row = at % changed.length
          changed[row] = value
          const show = shower(field, format)
          const shown = { field, column: columnOf(changed), rows: changed.length, format, show }
          const touched = Uint32Array.of(row).filter(r => r < cells.length)
          const next = finish(followIndex(index, shown, touched, cells.length))
          const word = fold(show(value)).slice(0, 4)
          const renewed = next ?? indexOf(changed, field, format)
          expect(found(renewed, changed.length, word)).toEqual(plainlyFound(changed, field, format, word))
        },
      ),
      runs(300),
    )
  })

  it('keep no texts of numbers and moments that are written by one rule', () => {
    const kindOf = (cells: readonly Cell[], field: Field, format: Format = {}): string =>
      indexOf(cells, field, format).kind
    const prices: Field = { key: 'n', type: 'number', decimals: 2 }
    const cells = [0, 1.25, -1234.5, 98_765_432.1, null]
    expect(kindOf(cells, prices)).toBe('written')
    expect(kindOf(cells, prices, { number: 'grouped', locale: 'de-DE' })).toBe('written')
    expect(kindOf(cells, prices, { number: 'currency', currency: 'EUR', locale: 'en-GB' })).toBe('written')
    expect(kindOf([1, 2_000_000], { key: 'n', type: 'integer' })).toBe('written')
    // Groups of two digits, roundings, exponents.
    expect(kindOf(cells, prices, { number: 'grouped', locale: 'hi-IN' })).toBe('joined')
    expect(kindOf(cells, prices, { decimals: 1 })).toBe('joined')
    expect(kindOf([...cells, 1e15], prices)).toBe('joined')
    expect(kindOf([...cells, -0], prices)).toBe('joined')

    const moment: Field = { key: 'm', type: 'datetime', zoned: true }
    expect(kindOf([0, 1_700_000_000_000, -1000], moment)).toBe('written')
    expect(kindOf([0, 1_700_000_000_123], moment, { date: 'medium' })).toBe('written')
    expect(kindOf([0, 1_700_000_000_123], moment)).toBe('joined')
    expect(kindOf([0, DAY * 200_000], moment)).toBe('joined')
    expect(kindOf([0], moment, { zone: 'Asia/Kathmandu' })).toBe('joined')
  })

  it('find nothing by a word that is longer than any number', () => {
    const field: Field = { key: 'n', type: 'integer' }
    const index = indexOf([1, 111], field, {})
    expect(found(index, 2, '1'.repeat(1000))).toEqual([])
    expect(found(index, 2, '1', fullBits(2))).toEqual([0, 1])
  })
})

describe('a word followed through texts', () => {
  it('is found across the borders of texts', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', 'b'), minLength: 1, maxLength: 6 }),
        fc.array(fc.string({ unit: fc.constantFrom('a', 'b'), maxLength: 4 })),
        (word, texts) => {
          const states = new WordStates(word)
          const last = texts.reduce((state, text) => states.after(state, text), 0)
          expect(last === states.found).toBe(texts.join('').includes(word))
        },
      ),
    )
  })
})
