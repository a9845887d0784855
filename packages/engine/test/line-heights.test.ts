import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { EvenHeights, MeasuredHeights } from '../src/layout/line-heights.ts'
import { pageSpan } from '../src/layout/pages.ts'
import { runs } from './support/runs.ts'

/** The same by adding up a list. */
function plain(heights: readonly number[], offset: number): { total: number; at: number; tops: number[] } {
  const tops: number[] = []
  let top = 0
  for (const height of heights) {
    tops.push(top)
    top += height
  }
  const after = tops.findIndex((start, i) => start + heights[i] > offset)
  return { total: top, tops, at: after === -1 ? heights.length - 1 : after }
}

describe('lines of measured height', () => {
  test('lie where adding their heights up says', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1500 }),
        fc.array(
          fc.tuple(
            fc.nat(1499),
            fc.integer({ min: 4, max: 900 }).map(n => n / 4),
          ),
          { maxLength: 60 },
        ),
        fc.nat(60_000),
        (count, measures, offset) => {
          const lines = new MeasuredHeights(count, 31)
          const list = new Array<number>(count).fill(31)
          for (const [at, height] of measures) {
            const line = at % count
            expect(lines.measured(line, height)).toBe(list[line] !== height)
            list[line] = height
          }
          const { total, tops, at } = plain(list, offset)
          expect(lines.total).toBeCloseTo(total, 6)
          expect(lines.lineAt(offset)).toBe(at)
          for (let line = 0; line < count; line += 37) {
            expect(lines.topOf(line)).toBeCloseTo(tops[line], 6)
            expect(lines.heightOf(line)).toBe(list[line])
          }
          expect(lines.topOf(count)).toBeCloseTo(total, 6)
        },
      ),
      runs(300),
    )
  })

  test('ten million lines are asked without listing them', () => {
    const lines = new MeasuredHeights(10_000_000, 31)
    lines.measured(9_999_999, 100)
    expect(lines.total).toBe(10_000_000 * 31 + 69)
    expect(lines.lineAt(9_999_999 * 31 - 1)).toBe(9_999_998)
    expect(lines.lineAt(9_999_999 * 31 + 99)).toBe(9_999_999)
  })

  test('are as even ones while none is measured', () => {
    const [even, measured] = [new EvenHeights(777, 31), new MeasuredHeights(777, 31)]
    for (const offset of [-5, 0, 30.9, 31, 12_000, 24_086, 99_999])
      expect(measured.lineAt(offset)).toBe(even.lineAt(offset))
    expect(measured.topOf(500)).toBe(even.topOf(500))
    expect(new MeasuredHeights(0, 31).lineAt(50)).toBe(0)
  })
})

describe('pages', () => {
  test('hold every line once', () => {
    fc.assert(
      fc.property(fc.nat(500), fc.integer({ min: 1, max: 60 }), (count, size) => {
        const { pages } = pageSpan(count, size, 0)
        const lines = Array.from({ length: pages }, (_, page) => pageSpan(count, size, page)).flatMap(
          ({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i),
        )
        expect(lines).toEqual(Array.from({ length: count }, (_, i) => i))
      }),
    )
  })

  test('end with the last that there is, and an empty grid has one', () => {
    expect(pageSpan(45, 20, 9)).toEqual({ page: 2, pages: 3, from: 40, to: 45 })
    expect(pageSpan(0, 20, 3)).toEqual({ page: 0, pages: 1, from: 0, to: 0 })
  })
})
