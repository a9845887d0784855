import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columnWidths, type WantedWidth } from '../src/layout/column-widths.ts'
import { runs } from './support/runs.ts'

const wanted: fc.Arbitrary<WantedWidth> = fc
  .record({
    width: fc.integer({ min: 24, max: 300 }),
    share: fc.constantFrom(0, 0, 1, 2, 0.5),
    more: fc.constantFrom(0, 10, 45, Infinity),
  })
  .map(({ width, share, more }) => ({ width, share, most: width + more }))

/** A little for each that takes some, again and again, until nothing is left. */
function slowly(all: readonly WantedWidth[], room: number): number[] {
  const widths = all.map(({ width }) => width)
  let left = room - widths.reduce((sum, width) => sum + width, 0)
  for (;;) {
    const taking = [...all.keys()].filter(i => all[i].share > 0 && widths[i] < all[i].most - 1e-9)
    if (left <= 1e-6 || taking.length === 0) return widths
    const shares = taking.reduce((sum, i) => sum + all[i].share, 0)
    const step = Math.min(left, ...taking.map(i => ((all[i].most - widths[i]) * shares) / all[i].share), 5)
    for (const i of taking) widths[i] += (step * all[i].share) / shares
    left -= step
  }
}

describe('widths of columns side by side', () => {
  it('take what is left of the room in proportion, each up to its most', () => {
    fc.assert(
      fc.property(fc.array(wanted, { maxLength: 12 }), fc.integer({ min: 0, max: 3000 }), (all, room) => {
        const widths = columnWidths(all, room)
        const plain = slowly(all, room)
        widths.forEach((width, i) => {
          expect(Math.abs(width - plain[i])).toBeLessThanOrEqual(1)
          expect(Number.isInteger(width)).toBe(true)
        })
        const [sum, wantedSum] = [widths, plain].map(list => list.reduce((a, b) => a + b, 0))
        expect(Math.abs(sum - wantedSum)).toBeLessThan(1)
      }),
      runs(500),
    )
  })

  it('are what they are where nothing is left, and fill the room to the px', () => {
    const one = { width: 100, share: 1, most: Infinity }
    expect(columnWidths([one, { ...one, share: 0 }], 150)).toEqual([100, 100])
    expect(columnWidths([one, one, one], 1000)).toEqual([333, 334, 333])
    expect(columnWidths([{ ...one, most: 150 }, one, { ...one, share: 0 }], 1000)).toEqual([150, 750, 100])
    expect(columnWidths([{ ...one, share: 3 }, one], 300)).toEqual([175, 125])
  })
})
