import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asLine } from '@vast-meadow/engine/client'
import { CellRanges, countCells, RangeLookup, spansByColumn } from '../src/features/ranges/cell-ranges.ts'

const COLUMNS = ['a', 'b', 'c', 'd', 'e']
const LINES = 8
const cell = fc.record({ line: fc.nat(LINES - 1).map(asLine), column: fc.constantFrom(...COLUMNS) })
const acts = fc.array(
  fc.record({ act: fc.constantFrom('begin', 'add', 'extend', 'clear'), from: cell, to: cell }),
  { maxLength: 7 },
)

describe('ranges of cells', () => {
  it('hold the cells that a plain list of rectangles would, each counted once, with their edges', () => {
    fc.assert(
      fc.property(acts, fc.shuffledSubarray(COLUMNS, { minLength: 5, maxLength: 5 }), (steps, order) => {
        const ranges = new CellRanges(() => order)
        let plain: { from: (typeof steps)[0]['from']; to: (typeof steps)[0]['to'] }[] = []
        for (const { act, from, to } of steps) {
          if (act === 'begin') plain = [{ from, to }]
          if (act === 'add') plain.push({ from, to })
          if (act === 'extend' && plain.length > 0) plain.push({ from: plain.pop()!.from, to })
          if (act === 'clear') plain = []
          if (act === 'begin' || act === 'add') ranges.begin(from, to, act === 'add')
          else if (act === 'extend') ranges.extend(to)
          else ranges.clear()
        }
        const at = (column: string): number => order.indexOf(column)
        const between = (x: number, a: number, b: number): boolean =>
          x >= Math.min(a, b) && x <= Math.max(a, b)
        const holding = (line: number, column: string) =>
          plain.filter(
            ({ from, to }) =>
              between(line, from.line, to.line) && between(at(column), at(from.column), at(to.column)),
          )
        const boxes = ranges.boxes()
        const lookup = new RangeLookup(boxes)
        const spans = spansByColumn(boxes)
        let cells = 0
        for (let line = 0; line < LINES; line++)
          for (const column of COLUMNS) {
            const wanted = holding(line, column)
            if (wanted.length > 0) cells++
            const sides = lookup.sidesOf(asLine(line), column)
            expect(sides !== '').toBe(wanted.length > 0)
            const edge = (holds: (one: (typeof plain)[0]) => boolean): boolean => wanted.some(holds)
            expect(sides.includes('t')).toBe(edge(({ from, to }) => line === Math.min(from.line, to.line)))
            expect(sides.includes('b')).toBe(edge(({ from, to }) => line === Math.max(from.line, to.line)))
            expect(sides.includes('s')).toBe(
              edge(({ from, to }) => at(column) === Math.min(at(from.column), at(to.column))),
            )
            expect(sides.includes('e')).toBe(
              edge(({ from, to }) => at(column) === Math.max(at(from.column), at(to.column))),
            )
            expect(
              (spans.get(column) ?? []).filter(span => line >= span.from && line < span.to),
            ).toHaveLength(wanted.length > 0 ? 1 : 0)
          }
        expect(countCells(boxes)).toBe(cells)
        for (const list of spans.values())
          for (const [nth, span] of list.entries()) expect(span.from).toBeGreaterThan(list[nth - 1]?.to ?? -1)
        expect(ranges.isEmpty).toBe(plain.length === 0)
      }),
      { numRuns: 500 },
    )
  })

  it('lose what columns that are gone were picked by', () => {
    let order = COLUMNS
    const ranges = new CellRanges(() => order)
    ranges.begin({ line: asLine(0), column: 'a' }, { line: asLine(2), column: 'c' }, false)
    order = ['a', 'b']
    expect(ranges.boxes()).toEqual([])
  })
})
