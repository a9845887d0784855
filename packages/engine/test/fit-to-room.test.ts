import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fitToRoom, type RoomyWidth } from '../src/layout/fit-to-room.ts'
import { runs } from './support/runs.ts'

const column: fc.Arbitrary<RoomyWidth> = fc
  .record({
    width: fc.integer({ min: 24, max: 500 }),
    less: fc.integer({ min: 0, max: 300 }),
    more: fc.constantFrom(0, 15, 120, Infinity),
  })
  .map(({ width, less, more }) => ({ width, least: Math.max(24, width - less), most: width + more }))

/** The one scale at which columns held within their limits fill the room, found by halving. */
function slowly(columns: readonly RoomyWidth[], room: number): number[] {
  const at = (scale: number): number[] =>
    columns.map(({ width, least, most }) => Math.min(most, Math.max(least, width * scale)))
  const sum = (widths: readonly number[]): number => widths.reduce((all, width) => all + width, 0)
  let [low, high] = [0, 1000]
  for (let round = 0; round < 200; round++) {
    const middle = (low + high) / 2
    if (sum(at(middle)) < room) low = middle
    else high = middle
  }
  return at(high)
}

describe('columns that fill the room', () => {
  it('are in proportion to what they were, and none beyond its limits', () => {
    fc.assert(
      fc.property(
        fc.array(column, { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 100, max: 3000 }),
        (columns, room) => {
          const widths = fitToRoom(columns, room)
          slowly(columns, room).forEach((width, i) =>
            expect(Math.abs(widths[i] - width)).toBeLessThanOrEqual(1),
          )
          const sum = widths.reduce((all, width) => all + width, 0)
          const [least, most] = (['least', 'most'] as const).map(limit =>
            columns.reduce((all, one) => all + one[limit], 0),
          )
          expect(sum).toBe(Math.min(most, Math.max(least, room)))
        },
      ),
      runs(1000),
    )
    expect(fitToRoom([], 500)).toEqual([])
  })

  it('cost what they weigh, not what they weigh squared', () => {
    const many = Array.from({ length: 20_000 }, (_, i) => ({
      width: 50 + (i % 90),
      least: 40 + (i % 50),
      most: 200,
    }))
    expect(fitToRoom(many, 1_000_000)).toHaveLength(20_000)
  })
})
