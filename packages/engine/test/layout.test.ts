import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columnRun, columnsBetween, mostColumns, runWidth } from '../src/layout/column-layout.ts'
import { ScrollMap } from '../src/layout/scroll-map.ts'
import { runs } from './support/runs.ts'

const widths = fc.array(fc.integer({ min: 20, max: 300 }), { minLength: 1, maxLength: 40 })
const runOf = (list: readonly number[]) =>
  columnRun(
    list.map((_, i) => String(i)),
    key => list[Number(key)],
  )

describe('a run of columns', () => {
  it('shows exactly the columns that a window touches', () => {
    fc.assert(
      fc.property(widths, fc.nat(2000), fc.integer({ min: 1, max: 900 }), (list, from, width) => {
        const run = runOf(list)
        fc.pre(from < runWidth(run))
        const { first, end } = columnsBetween(run, from, from + width)
        const touched = list.flatMap((_, i) =>
          run.offsets[i + 1] > from && run.offsets[i] < from + width ? [i] : [],
        )
        expect(Array.from({ length: end - first }, (_, i) => first + i)).toEqual(touched)
      }),
      runs(500),
    )
  })

  it('never shows more columns than it said it would', () => {
    fc.assert(
      fc.property(widths, fc.integer({ min: 1, max: 900 }), (list, width) => {
        const run = runOf(list)
        const most = mostColumns(run, width)
        let seen = 0
        for (let from = 0; from < runWidth(run); from++) {
          const { first, end } = columnsBetween(run, from, from + width)
          seen = Math.max(seen, end - first)
        }
        expect(seen).toBeLessThanOrEqual(most)
        expect(most - seen).toBeLessThanOrEqual(1)
      }),
      runs(60),
    )
  })
})

describe('the scroll map', () => {
  const TALL = 310_000_000
  const VIEW = 700

  const mapOf = (height: number): { map: ScrollMap; track: number } => {
    const map = new ScrollMap()
    return { map, track: map.resize(height, VIEW, 1) }
  }

  it('is the native position where the body fits', () => {
    const { map, track } = mapOf(50_000)
    expect(track).toBe(50_000)
    expect(map.scrolled(1234)).toBe(1234)
    expect(map.scrolled(40_000)).toBe(40_000)
    expect(map.moveTo(999)).toBe(999)
  })

  it('moves by small steps exactly, wherever it stands', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.array(fc.integer({ min: -600, max: 600 }), { maxLength: 20 }),
        (share, steps) => {
          const { map } = mapOf(TALL)
          let top = map.moveTo(share * map.maxOffset)
          map.wrote(top)
          let expected = map.offset
          for (const step of steps) {
            top += step
            expected += step
            expect(map.scrolled(top)).toBeCloseTo(expected, 6)
          }
        },
      ),
    )
  })

  it('reaches both ends by a thumb', () => {
    const { map, track } = mapOf(TALL)
    map.wrote(0)
    expect(map.scrolled(track - VIEW)).toBe(TALL - VIEW)
    expect(map.scrolled(0)).toBe(0)
  })

  it('places large steps in order, and gives back the position that it came from', () => {
    const { map, track } = mapOf(TALL)
    let before = -1
    for (let top = 0; top <= track - VIEW; top += 40_000) {
      const { map: fresh } = mapOf(TALL)
      fresh.wrote(top > track / 2 ? 0 : track)
      const offset = fresh.scrolled(top)
      expect(offset).toBeGreaterThan(before)
      expect(fresh.anchor()).toBeCloseTo(top, 4)
      before = offset
    }
    expect(map.maxOffset).toBe(TALL - VIEW)
  })

  it('takes a step for the thumb’s only where it is longer than a wheel’s can be', () => {
    // A 1,600th of the track, which is longer than the view.
    const longest = 4_000_000 / 1600
    const moved = (step: number): number => {
      const { map } = mapOf(TALL)
      const top = map.moveTo(TALL / 2)
      map.wrote(top)
      return map.scrolled(top + step) - TALL / 2
    }
    expect([moved(longest), moved(-longest)]).toEqual([longest, -longest])
    expect(moved(longest + 1)).toBeGreaterThan(50 * longest)
    expect(moved(-longest - 1)).toBeLessThan(-50 * longest)
  })

  it('stays where it is when sizes change, as far as the body reaches', () => {
    const { map } = mapOf(TALL)
    map.moveTo(1_000_000)
    map.resize(TALL / 2, VIEW + 100, 1)
    expect(map.offset).toBe(1_000_000)
    map.resize(500_000, VIEW, 1)
    expect(map.offset).toBe(500_000 - VIEW)
  })

  it('keeps the track within what a browser can place at any pixel ratio', () => {
    for (const ratio of [1, 1.25, 1.5, 2, 3]) {
      expect(new ScrollMap().resize(TALL, VIEW, ratio) * ratio).toBeLessThanOrEqual(2 ** 23)
    }
  })
})
