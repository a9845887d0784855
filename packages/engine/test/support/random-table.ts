import fc from 'fast-check'
import { tableFromRows, type RowObject } from '../../src/read/rows/read-rows.ts'
import type { FlowRequest } from '../../src/flow/request.ts'
import type { Table, Value } from '../../src/table/column.ts'
import { finish } from '../../src/work/work.ts'

/** Rows whose columns cover every way a column is kept: coded and plain text, whole, scaled and wide numbers … */
export const randomRows: fc.Arbitrary<RowObject[]> = fc.array(
  fc.record({
    site: optional(
      fc.constantFrom('Lower Ings', 'lower ings', 'Élan', 'elan', 'Zoë', 'Über', 'a b', 'a-b', '10', '9'),
    ),
    note: optional(
      fc.string({
        unit: fc.constantFrom('a', 'B', 'é', 'É', ' ', 'z', 'ß', 'æ', '1', '-', '\n'),
        maxLength: 6,
      }),
    ),
    count: optional(fc.integer({ min: -5, max: 40 })),
    cover: optional(fc.integer({ min: 0, max: 2000 }).map(n => n / 100)),
    mass: optional(fc.double({ noNaN: true, noDefaultInfinity: true })),
    seen: optional(fc.boolean()),
    day: optional(
      fc.integer({ min: 0, max: 900 }).map(n => new Date(1.6e12 + n * 864e5).toISOString().slice(0, 10)),
    ),
  }),
  { maxLength: 60 },
)

function optional<T>(arbitrary: fc.Arbitrary<T>): fc.Arbitrary<T | null> {
  return fc.option(arbitrary, { freq: 6, nil: null })
}

export const COLUMNS = ['site', 'note', 'count', 'cover', 'mass', 'seen', 'day'] as const

const part = {
  text: fc.oneof(
    fc.record({
      kind: fc.constantFrom('contains' as const, 'starts' as const, 'excludes' as const),
      text: fc.constantFrom('a', 'E', 'é', 'ings', ' ', 'ß', 'b'),
    }),
    fc.record({
      kind: fc.constant('one-of' as const),
      values: fc.constantFrom<string[]>(['Élan', 'a b'], ['10'], ['']),
    }),
    fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) }),
  ),
  number: fc.oneof(
    fc.record({
      kind: fc.constant('range' as const),
      from: fc.constantFrom(-3, 0, 4.5),
      to: fc.constantFrom(4.5, 10, 18500),
    }),
    fc.record({ kind: fc.constant('range' as const), to: fc.constantFrom(0, 7) }),
    fc.record({ kind: fc.constant('one-of' as const), values: fc.constantFrom<number[]>([0, 3], [4.5, 1]) }),
    fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) }),
  ),
}
const condition = <T>(parts: fc.Arbitrary<T>) =>
  fc.record({
    match: fc.constantFrom('all' as const, 'any' as const),
    parts: fc.array(parts, { minLength: 1, maxLength: 2 }),
  })

export const randomRequest: fc.Arbitrary<FlowRequest> = fc.record({
  order: fc.uniqueArray(
    fc.record({
      column: fc.constantFrom(...COLUMNS),
      direction: fc.constantFrom('ascending' as const, 'descending' as const),
    }),
    { maxLength: 3, selector: key => key.column },
  ),
  conditions: fc.record(
    {
      site: condition(part.text),
      note: condition(part.text),
      count: condition(part.number),
      mass: condition(part.number),
    },
    { requiredKeys: [] },
  ),
  search: fc.constantFrom('', '', 'a', 'e', 'lower', '1', 'in lo', '"a b"', '.5', '.0', 'yes', '2020-1'),
  searchColumns: fc.subarray([...COLUMNS], { minLength: 1 }),
  group: fc.constantFrom(null, null, ...COLUMNS),
  open: fc.record({ all: fc.boolean(), except: fc.constantFrom<Value[]>([], ['Élan', null], [3, true]) }),
})

/** The rows as a table that has all columns, even where no row has a value in one. */
export function tableOf(rows: readonly RowObject[]): Table {
  return finish(tableFromRows(rows))
}
