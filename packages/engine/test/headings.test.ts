import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFor, shownColumns } from '../src/definition/arrangement.ts'
import { COLUMN_PARTS } from '../src/definition/column-places.ts'
import { readDefinition } from '../src/definition/definition.ts'
import { columnsMoved, headingParted, partedHeadings } from '../src/definition/heading-places.ts'
import { columnsUnder, headingPaths } from '../src/definition/headings.ts'
import { mergeArrangement } from '../src/definition/merge-arrangement.ts'
import { headingSpans } from '../src/layout/shared-headings.ts'
import { definitionOf } from './support/random-arrangement.ts'
import { runs } from './support/runs.ts'

const KEYS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']
const HEADINGS = ['where', 'place', 'when']
/** Headings in one another, columns under them, and which of these stay together. */
const headed = fc
  .record({
    under: fc.array(fc.constantFrom('where', 'place', 'when', undefined), { minLength: 8, maxLength: 8 }),
    together: fc.subarray(HEADINGS),
    nested: fc.boolean(),
  })
  .map(({ under, together, nested }) =>
    definitionOf({
      headings: HEADINGS.map(key => ({
        key,
        title: key,
        together: together.includes(key),
        ...(key === 'place' && nested && { under: 'where' }),
      })),
      columns: KEYS.map((key, i) => ({ key, title: key, under: under[i] })),
    }),
  )
const places = fc.record({
  columns: fc.shuffledSubarray(KEYS, { minLength: KEYS.length }),
  hidden: fc.subarray(KEYS, { maxLength: 3 }),
  pinnedStart: fc.shuffledSubarray(KEYS, { maxLength: 2 }),
  pinnedEnd: fc.shuffledSubarray(KEYS, { maxLength: 2 }),
})

describe('headings over several columns', () => {
  it('stand over neighbours that are under the same ones, again over each part where these are parted', () => {
    fc.assert(
      fc.property(headed, places, (definition, given) => {
        const paths = headingPaths(definition)
        const { middle } = shownColumns(arrangementFor(definition, given))
        const pathOf = (key: string): readonly string[] => paths.get(key) ?? []
        const spans = headingSpans(middle, pathOf)
        // Column by column: the heading that stands over it on each level, and whether it goes on from its neighbour.
        middle.forEach((key, i) => {
          const over = spans.map(level => level.find(({ first, end }) => i >= first && i < end) ?? null)
          expect(over.filter(span => span !== null).map(({ heading }) => heading)).toEqual(pathOf(key))
          if (i === 0) return
          pathOf(key).forEach((_, level) => {
            const goesOn = pathOf(key)
              .slice(0, level + 1)
              .every((heading, at) => pathOf(middle[i - 1])[at] === heading)
            expect(over[level]!.first < i).toBe(goesOn)
          })
        })
        expect(spans).toHaveLength(Math.max(0, ...middle.map(key => pathOf(key).length)))
      }),
      runs(500),
    )
  })

  it('are named by columns and one another, and what is wrong is told with its place', () => {
    const problem = (input: object): unknown => {
      const read = readDefinition({
        format: 'vast-meadow-grid',
        version: 3,
        columns: [{ key: 'a', title: 'A' }],
        ...input,
      })
      return read.ok || read.problems.map(({ path, message }) => `${path}: ${message}`)
    }
    const place = { key: 'place', title: 'Place' }
    expect(problem({ headings: [place, place] })).toEqual(['headings.1.key: There are two headings "place".'])
    expect(problem({ headings: [place], columns: [{ key: 'a', title: 'A', under: 'plase' }] })).toEqual([
      'columns.0.under: There is no heading "plase". The nearest is "place".',
    ])
    expect(
      problem({
        headings: [
          { ...place, under: 'up' },
          { key: 'up', title: 'Up', under: 'place' },
        ],
      }),
    ).toEqual(['headings.0.under: The heading "place" stands under itself.'])
    expect(problem({ headings: [{ ...place, under: 'place' }] })).toEqual([
      'headings.0.under: The heading "place" stands under itself.',
    ])
    expect(
      columnsUnder(
        definitionOf({
          headings: [
            { key: 'where', title: 'Where' },
            { ...place, under: 'where' },
          ],
          columns: [
            { key: 'a', title: 'A', under: 'place' },
            { key: 'b', title: 'B' },
            { key: 'c', title: 'C', under: 'where' },
          ],
        }),
        'where',
      ),
    ).toEqual(['a', 'c'])
  })
})

describe('columns that are put elsewhere together', () => {
  it('stand side by side there, before the column named, and all others as they did', () => {
    fc.assert(
      fc.property(
        headed,
        places,
        fc.shuffledSubarray(KEYS, { minLength: 1, maxLength: 4 }),
        fc.constantFrom(...COLUMN_PARTS),
        fc.nat(8),
        (definition, given, moved, part, nth) => {
          const before = arrangementFor(definition, given)
          const there = shownColumns(before)[part]
          const next = there[nth] ?? null
          const after = { ...before, ...columnsMoved(before, moved, { part, before: next }) }
          const shown = shownColumns(after)
          const others = there.filter(key => !moved.includes(key))
          const at =
            next === null
              ? others.length
              : others.filter(key => there.indexOf(key) < there.indexOf(next)).length
          const block = moved.filter(key => !before.hidden.includes(key))
          expect(shown[part]).toEqual([...others.slice(0, at), ...block, ...others.slice(at)])
          for (const other of COLUMN_PARTS)
            if (other !== part)
              expect(shown[other]).toEqual(shownColumns(before)[other].filter(key => !moved.includes(key)))
        },
      ),
      runs(500),
    )
  })

  it('part no heading whose columns stay together: that is told before', () => {
    fc.assert(
      fc.property(
        headed,
        places,
        fc.constantFrom(...KEYS),
        fc.constantFrom(...COLUMN_PARTS),
        fc.nat(8),
        (definition, given, column, part, nth) => {
          const { arrangement: before } = mergeArrangement(definition, given, null)
          const begun = partedHeadings(definition, arrangementFor(definition))
          expect(partedHeadings(definition, before).filter(heading => !begun.includes(heading))).toEqual([])
          const place = { part, before: shownColumns(before)[part][nth] ?? null }
          const parted = headingParted(definition, before, [column], place)
          const after = { ...before, ...columnsMoved(before, [column], place) }
          // A heading is parted where one of its columns is shown between others, or in another part of the row.
          const { start, middle, end } = shownColumns(after)
          const row = [...start, '|', ...middle, '|', ...end]
          const broken = definition.headings.filter(({ key, together }) => {
            const under = columnsUnder(definition, key)
            const at = row.flatMap((name, i) => (under.includes(name) ? [i] : []))
            return together && at.length > 0 && at[at.length - 1] - at[0] !== at.length - 1
          })
          const was = partedHeadings(definition, before)
          expect(parted !== null).toBe(broken.some(({ key }) => !was.includes(key)))
        },
      ),
      runs(500),
    )
  })
})
