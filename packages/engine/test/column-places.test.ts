import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFor, shownColumns } from '../src/definition/arrangement.ts'
import { COLUMN_PARTS, columnMoved, partOf, placeBeside } from '../src/definition/column-places.ts'
import { readDefinition } from '../src/definition/definition.ts'
import type { Arrangement } from '../src/definition/arrangement-schema.ts'
import { runs } from './support/runs.ts'

const KEYS = ['a', 'b', 'c', 'd', 'e', 'f', 'g']
const read = readDefinition({
  format: 'vast-meadow-grid',
  version: 3,
  columns: KEYS.map(key => ({ key, title: key })),
})
if (!read.ok) throw new Error('The definition of this test cannot be read.')
const { definition } = read

const arrangement: fc.Arbitrary<Arrangement> = fc
  .record({
    columns: fc.shuffledSubarray(KEYS, { minLength: KEYS.length }),
    hidden: fc.subarray(KEYS),
    pinnedStart: fc.shuffledSubarray(KEYS, { maxLength: 3 }),
    pinnedEnd: fc.shuffledSubarray(KEYS, { maxLength: 3 }),
  })
  .map(start => arrangementFor(definition, start))
const flat = (of: Arrangement): string[] => {
  const { start, middle, end } = shownColumns(of)
  return [...start, ...middle, ...end]
}

describe('a column that is put elsewhere', () => {
  it('stands before the column named, in the part named, and all others as they did', () => {
    fc.assert(
      fc.property(
        arrangement,
        fc.constantFrom(...KEYS),
        fc.constantFrom(...COLUMN_PARTS),
        fc.nat(7),
        (before, column, part, nth) => {
          const there = shownColumns(before)[part].filter(key => key !== column)
          const next = there[nth] ?? null
          const after = { ...before, ...columnMoved(before, column, { part, before: next }) }
          const shown = shownColumns(after)
          const at = next === null ? there.length : there.indexOf(next)
          const wanted = before.hidden.includes(column)
            ? there
            : [...there.slice(0, at), column, ...there.slice(at)]
          expect(shown[part]).toEqual(wanted)
          expect(partOf(after, column)).toBe(part)
          for (const other of COLUMN_PARTS)
            if (other !== part)
              expect(shown[other]).toEqual(shownColumns(before)[other].filter(key => key !== column))
          expect([...after.columns].sort()).toEqual(KEYS)
        },
      ),
      runs(500),
    )
  })

  it('goes one step at a time, from the first place to the last and back', () => {
    fc.assert(
      fc.property(arrangement, fc.constantFrom(...KEYS), (start, column) => {
        let now = start
        const walk = (step: 1 | -1): void => {
          for (let rounds = 0; ; rounds++) {
            expect(rounds).toBeLessThan(20)
            const place = placeBeside(now, column, step)
            if (!place) return
            const [part, at] = [partOf(now, column), flat(now).indexOf(column)]
            now = { ...now, ...columnMoved(now, column, place) }
            // Over the border of a part the order stays, or it is one place further.
            const moved = flat(now).indexOf(column) - at
            expect(moved === step || (moved === 0 && partOf(now, column) !== part)).toBe(true)
          }
        }
        if (start.hidden.includes(column)) return
        walk(-1)
        expect(flat(now)[0] === column || flat(now).length === 0).toBe(true)
        const others = flat(now).filter(key => key !== column)
        walk(1)
        expect(flat(now)).toEqual([...others, column])
      }),
      runs(300),
    )
  })

  it('that is hidden, or pinned and let go, is where it was among the others', () => {
    const start = arrangementFor(definition, { hidden: ['b', 'g'] })
    const last = { ...start, ...columnMoved(start, 'a', { part: 'middle', before: null }) }
    expect(last.columns).toEqual(['b', 'c', 'd', 'e', 'f', 'a', 'g'])
    const pinned = { ...start, ...columnMoved(start, 'd', { part: 'end', before: null }) }
    expect(pinned.columns).toEqual(KEYS)
    expect(pinned.pinnedEnd).toEqual(['d'])
  })
})
