import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compositeCodes } from '../src/group/composite-codes.ts'
import { ColumnCodes } from '../src/order/column-codes.ts'
import type { Codes } from '../src/order/counting.ts'
import { distinctCounts, measures, medians } from '../src/summary/summaries.ts'
import { emptyBits, hasBit, setBit, type Bits } from '../src/table/bits.ts'
import { valueAt, type NumberColumn, type Table, asColumn } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const codesFor = (table: Table, key: string): Codes => {
  const place = table.fields.findIndex(field => field.key === key)
  return finish(new ColumnCodes(table, 'en', () => String).of(asColumn(place)))
}
const someOf = (rows: number, keep: (row: number) => boolean): Bits => {
  const bits = emptyBits(rows)
  for (let row = 0; row < rows; row++) if (keep(row)) setBit(bits, row)
  return bits
}

/** Rows whose columns all have a value somewhere, so that the table has them all. */
const rows = randomRows.map(some => [
  ...some,
  { site: 'x', note: 'y', count: 1, cover: 0.25, mass: 1e-9, seen: true, day: '2020-02-02', tags: ['wet'] },
])
const keys = fc.subarray(['site', 'note', 'count', 'cover', 'mass', 'seen', 'day'], { minLength: 1 })

describe('codes of several columns together', () => {
  const plain = (parts: readonly Codes[], some: readonly number[]): number[] => {
    const tuple = (row: number): number[] => parts.map(({ codes }) => codes[row])
    const compare = (a: number[], b: number[]): number =>
      a.map((value, i) => value - b[i]).find(difference => difference !== 0) ?? 0
    const all = some.map(tuple)
    const different = [...new Map(all.map(one => [one.join(), one])).values()].sort(compare)
    return all.map(one => different.findIndex(other => compare(one, other) === 0))
  }

  it('are numbered as the combinations that occur, in the order of the columns', () => {
    fc.assert(
      fc.property(rows, keys, fc.boolean(), (all, some, part) => {
        const table = tableOf(all)
        const parts = some.map(key => codesFor(table, key))
        const among = [...all.keys()].filter(row => !part || row % 3 !== 1)
        const made = finish(compositeCodes(parts, part ? Uint32Array.from(among) : null))
        const wanted = plain(parts, among)
        expect(among.map(row => made.codes[row])).toEqual(wanted)
        expect(made.size).toBe(Math.max(-1, ...wanted) + 1)
      }),
      runs(150),
    )
  })

  it('are so where there are more combinations than fit a table', () => {
    fc.assert(
      fc.property(rows, keys, fc.integer({ min: 0, max: 60 }), (all, some, dense) => {
        const parts = some.map(key => codesFor(tableOf(all), key))
        const made = finish(compositeCodes(parts, null, dense))
        expect([...made.codes]).toEqual(plain(parts, [...all.keys()]))
      }),
      runs(100),
    )
  })
})

describe('summaries by group', () => {
  const values = ['count', 'cover', 'mass', 'day'] as const

  it('come to what a plain program comes to, group by group', () => {
    fc.assert(
      fc.property(rows, keys, fc.constantFrom(...values), fc.nat(3), (all, by, key, every) => {
        const table = tableOf(all)
        const groups = finish(
          compositeCodes(
            by.map(one => codesFor(table, one)),
            null,
          ),
        )
        const column = table.columns[table.fields.findIndex(field => field.key === key)]
        const among = every === 0 ? null : someOf(all.length, row => row % (every + 1) === 0)
        const ranks = codesFor(table, key)
        const told = finish(measures(groups, column, among))
        const middle = finish(medians(groups, column, ranks, among))
        const different = finish(distinctCounts(groups, column, ranks, among))
        for (let group = 0; group < groups.size; group++) {
          const held = [...all.keys()]
            .filter(row => groups.codes[row] === group && (!among || hasBit(among, row)))
            .flatMap(row => (valueAt(column, row) as number | null) ?? [])
          const sorted = held.toSorted((a, b) => a - b)
          const half = sorted.length >>> 1
          expect(told.count[group]).toBe(held.length)
          expect(told.min[group]).toBe(held.length ? sorted[0] : NaN)
          expect(told.max[group]).toBe(held.length ? sorted.at(-1)! : NaN)
          const sum = held.reduce((a, b) => a + b, 0)
          if (held.length === 0) expect(told.sum[group]).toBe(NaN)
          else expect(told.sum[group]).toBeCloseTo(sum, 3 - Math.log10(Math.abs(sum) + 1))
          expect(told.mean[group]).toBe(told.sum[group] / held.length)
          const median = sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2
          expect(middle[group]).toBe(held.length ? median : NaN)
          expect(different[group]).toBe(new Set(held).size)
        }
      }),
      runs(150),
    )
  })

  it('count different values without a table of all pairs, where that would be too large', () => {
    const length = 60_000
    const codes = Uint32Array.from({ length }, (_, row) => (row * 7919) % 50_000)
    const by: Codes = { codes: Uint32Array.from({ length }, (_, row) => row % 40_000), size: 40_000 }
    const column: NumberColumn = { kind: 'number', values: Float64Array.from(codes), missing: null }
    const counted = finish(distinctCounts(by, column, { codes, size: 50_000 }, null))
    const plain = Array.from({ length: 40_001 }, () => new Set<number>())
    by.codes.forEach((group, row) => plain[group].add(codes[row]))
    expect([...counted]).toEqual(plain.map(set => set.size))
  })

  it('add up the same whichever rows are asked first, and skip rows without a value', () => {
    const values = Float64Array.from({ length: 500 }, (_, i) => 1 / (i + 1))
    const missing = someOf(500, row => row % 2 === 0)
    const by: Codes = { codes: new Uint32Array(500), size: 1 }
    const told = finish(measures(by, { kind: 'number', values, missing }, null))
    expect(told.count[0]).toBe(250)
    const again = finish(
      measures(
        by,
        { kind: 'number', values, missing },
        someOf(500, () => true),
      ),
    )
    expect(again).toEqual(told)
  })

  it('are not made of columns that hold no numbers', () => {
    const table = tableOf([{ site: 'a' }, { site: 'b' }])
    const by: Codes = { codes: new Uint32Array(2), size: 1 }
    expect(finish(measures(by, table.columns[0], null)).sum[0]).toBeNaN()
    expect([...finish(medians(by, table.columns[0], codesFor(table, 'site'), null))]).toEqual([NaN, NaN])
    expect([...finish(distinctCounts(by, table.columns[0], codesFor(table, 'site'), null))]).toEqual([2, 0])
  })
})
