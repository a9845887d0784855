import fc from 'fast-check'
import { arrangementFor } from '../../src/definition/arrangement.ts'
import type { Arrangement } from '../../src/definition/arrangement-schema.ts'
import { readDefinition, type Definition } from '../../src/definition/definition.ts'
import { levelOf } from '../../src/group/level.ts'
import type { Condition } from '../../src/condition/condition.ts'
import type { Bucket } from '../../src/group/bucket.ts'
import type { Summary } from '../../src/summary/summary.ts'
import type { Field } from '../../src/table/column.ts'

/** Keys that definitions and arrangements of these tests draw from; some look like what objects have by nature. */
export const NAMES = ['a', 'b', 'c', 'd', 'e', 'f', 'constructor', 'toString'] as const

export const definitionOf = (input: object): Definition => {
  const read = readDefinition({ format: 'vast-meadow-grid', version: 3, ...input })
  if (!read.ok) throw new Error(JSON.stringify(read.problems))
  return read.definition
}

const CONDITIONS: readonly Condition[] = [
  { match: 'all', parts: [{ kind: 'missing' }] },
  { match: 'all', parts: [{ kind: 'at-least', value: 3 }] },
  { match: 'any', parts: [{ kind: 'contains', text: 'x', exact: false }, { kind: 'present' }] },
  { match: 'all', parts: [{ kind: 'own', name: 'mine', values: null }] },
]
const BUCKETS: readonly Bucket[] = [
  { by: 'value' },
  { by: 'range', step: 5, origin: 0 },
  { by: 'letters', count: 1 },
  { by: 'date', part: 'month', every: false },
]
const SUMMARIES: readonly Summary[] = ['count', 'sum', 'distinct', { kind: 'quantile', at: 0.5 }]

const name = fc.constantFrom<string>(...NAMES)
const list = (most: number): fc.Arbitrary<string[]> =>
  fc.shuffledSubarray<string>([...NAMES], { maxLength: most })
const record = <T>(value: fc.Arbitrary<T>): fc.Arbitrary<Record<string, T>> =>
  fc.array(fc.tuple(name, value), { maxLength: 4 }).map(entries => Object.fromEntries(entries))
const condition = fc.constantFrom(...CONDITIONS)
const summary = fc.constantFrom(...SUMMARIES)
const measure = fc.oneof(fc.constant('size' as const), fc.record({ column: name, summary }))
const level = fc
  .record({
    column: name,
    bucket: fc.constantFrom(...BUCKETS),
    by: fc.oneof(fc.constantFrom('key' as const, 'shown' as const), measure),
    keep: fc.option(fc.record({ of: measure, condition }), { nil: undefined }),
  })
  .map(({ column, bucket, by, keep }) =>
    levelOf(column, { bucket, order: { by }, ...(keep && { keep: { where: [keep] } }) }),
  )

/** Any part of an arrangement, of columns that may not be there. */
export const somethingArranged: fc.Arbitrary<Partial<Arrangement>> = fc.record(
  {
    columns: list(8),
    widths: record(fc.integer({ min: 10, max: 900 })),
    hidden: list(4),
    pinnedStart: list(3),
    pinnedEnd: list(3),
    pinnedRows: fc.record({
      head: fc.array(fc.nat(5), { maxLength: 2 }),
      foot: fc.array(fc.string(), { maxLength: 1 }),
    }),
    compared: fc.constantFrom([], ['a', 'b'], ['c', 'constructor']),
    order: fc.uniqueArray(
      fc.record({ column: name, direction: fc.constantFrom('ascending' as const, 'descending' as const) }),
      { maxLength: 3, selector: ({ column }) => column },
    ),
    conditions: record(condition),
    where: fc.constantFrom('', 'a > 2.0'),
    search: fc.constantFrom('', 'meadow', 'two words “ü”'),
    groups: fc.uniqueArray(level, { maxLength: 2, selector: ({ column }) => column }),
    summaries: record(summary),
    open: fc.constantFrom({ levels: null, except: [] }, { levels: 0, except: [['x']] }),
    page: fc.nat(3),
    pageSize: fc.constantFrom(null, 20, 25),
  },
  { requiredKeys: [] },
)

const column = fc.record(
  {
    orderable: fc.boolean(),
    askable: fc.boolean(),
    groupable: fc.boolean(),
    movable: fc.boolean(),
    minWidth: fc.constantFrom(50, 120),
    summaries: fc.constantFrom<Summary[]>([], ['sum'], ['count', 'distinct']),
    was: fc.subarray<string>([...NAMES], { maxLength: 2 }),
  },
  { requiredKeys: [] },
)

/** Any definition over some of the names, with whatever readers may and may not. */
export const someDefinition: fc.Arbitrary<Definition> = fc
  .record({
    keys: fc.shuffledSubarray<string>([...NAMES], { minLength: 1 }),
    columns: fc.array(column, { minLength: NAMES.length, maxLength: NAMES.length }),
    grid: fc.record(
      {
        movable: fc.boolean(),
        groupable: fc.boolean(),
        searchable: fc.boolean(),
        severalKeys: fc.boolean(),
        pages: fc.constantFrom({ size: 20, sizes: [20, 50] }, { size: 25, sizes: [] }),
      },
      { requiredKeys: [] },
    ),
    start: somethingArranged,
  })
  .map(({ keys, columns, grid, start }) => {
    const bare = {
      ...grid,
      columns: keys.map((key, i) => ({ ...columns[i], key, title: key.toUpperCase() })),
    }
    // A start names columns that are there.
    return { ...definitionOf(bare), start: arrangementFor(definitionOf(bare), start) }
  })

const TYPES = ['text', 'number', 'date', 'boolean', 'tags'] as const
export const someFields: fc.Arbitrary<readonly Field[]> = fc
  .array(fc.constantFrom(...TYPES), { minLength: NAMES.length, maxLength: NAMES.length })
  .map(types => NAMES.map((key, i) => ({ key, type: types[i] })))
