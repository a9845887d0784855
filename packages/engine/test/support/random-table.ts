import fc from 'fast-check'
import { tableFromRows, type RowObject } from '../../src/read/rows/read-rows.ts'
import type { Condition, ConditionPart } from '../../src/condition/condition.ts'
import type { Bucket } from '../../src/group/bucket.ts'
import type { GroupMeasure } from '../../src/group/level.ts'
import type { GroupKey } from '../../src/flow/line.ts'
import type { FlowLevel, FlowRequest } from '../../src/flow/request.ts'
import { valueAt, type CodedColumn, type PlainColumn, type Table } from '../../src/table/column.ts'
import { RowSet } from '../../src/selection/row-set.ts'
import { asRowId } from '../../src/table/row-id.ts'
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
    tags: optional(fc.subarray(['wet', 'dry', 'Été', 'a, b'])),
  }),
  { maxLength: 60 },
)

function optional<T>(arbitrary: fc.Arbitrary<T>): fc.Arbitrary<T | null> {
  return fc.option(arbitrary, { freq: 6, nil: null })
}

export const COLUMNS = ['site', 'note', 'count', 'cover', 'mass', 'seen', 'day', 'tags'] as const

const exact = fc.constantFrom<{ exact?: boolean }>({}, {}, { exact: true })
const presence = fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) })
const withExact = <T extends object>(parts: fc.Arbitrary<T>) =>
  fc.tuple(parts, exact).map(([p, e]) => ({ ...p, ...e }))

const amounts = (values: fc.Arbitrary<string | number>) =>
  fc.oneof(
    fc.record({
      kind: fc.constantFrom('above' as const, 'below' as const, 'at-least' as const, 'at-most' as const),
      value: values,
    }),
    fc.record({ kind: fc.constant('range' as const), from: values, to: values }),
    fc.record({ kind: fc.constant('range' as const), to: values }),
    fc.record({ kind: fc.constant('range' as const), from: values }),
    fc.record({ kind: fc.constantFrom('equals' as const, 'differs' as const), value: values }),
    fc.record({
      kind: fc.constantFrom('one-of' as const, 'none-of' as const),
      values: fc.array(values, { minLength: 1, maxLength: 9 }),
    }),
    presence,
  )

const TEXTS = ['a', 'E', 'é', 'ings', ' ', 'ß', 'b', 'Élan', 'a b', '10', 'lower ings'] as const
const part: Record<'text' | 'number' | 'date' | 'truth' | 'tags', fc.Arbitrary<ConditionPart>> = {
  text: fc.oneof(
    withExact(
      fc.record({
        kind: fc.constantFrom('contains' as const, 'starts' as const, 'ends' as const, 'excludes' as const),
        text: fc.constantFrom(...TEXTS),
      }),
    ),
    withExact(
      fc.record({
        kind: fc.constantFrom('equals' as const, 'differs' as const),
        value: fc.constantFrom(...TEXTS),
      }),
    ),
    withExact(
      fc.record({
        kind: fc.constantFrom('one-of' as const, 'none-of' as const),
        values: fc.constantFrom<string[]>(['Élan', 'a b'], ['10'], [''], ['ELAN', 'zoe']),
      }),
    ),
    withExact(
      fc.record({
        kind: fc.constant('pattern' as const),
        pattern: fc.constantFrom('^a', 'é|z', '[a-d]$', 'E.*n', '^.{2}$', 'ings'),
      }),
    ),
    presence,
  ),
  number: amounts(fc.constantFrom<(string | number)[]>(-3, 0, 4.5, 10, 18500, '7', 3)),
  date: fc.oneof(
    amounts(
      fc
        .constantFrom<(string | number)[]>('2020', '2021-02', '2022-Q2', '2021-10-03', 18600, '2022-W07')
        .filter(value => value !== '2022-W07'),
    ),
    fc
      .record({
        kind: fc.constant('relative' as const),
        which: fc.constantFrom('this' as const, 'last' as const, 'next' as const),
        unit: fc.constantFrom(
          'day' as const,
          'week' as const,
          'month' as const,
          'quarter' as const,
          'year' as const,
        ),
        count: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
      })
      .map(({ count, ...p }) => (count === undefined || p.which === 'this' ? p : { ...p, count })),
  ),
  truth: fc.oneof(
    fc.record({ kind: fc.constantFrom('equals' as const, 'differs' as const), value: fc.boolean() }),
    fc.record({
      kind: fc.constantFrom('one-of' as const, 'none-of' as const),
      values: fc.subarray([true, false], { minLength: 1 }),
    }),
    presence,
  ),
  tags: fc.oneof(
    withExact(
      fc.record({
        kind: fc.constantFrom('one-of' as const, 'none-of' as const, 'all-of' as const),
        values: fc.subarray(['wet', 'WET', 'dry', 'été', 'none'], { minLength: 1 }),
      }),
    ),
    presence,
  ),
}

/** A part that can ask a column of the random table. */
export const randomPart = (kind: keyof typeof part): fc.Arbitrary<ConditionPart> => part[kind]

const condition = <T>(parts: fc.Arbitrary<T>) =>
  fc.record({
    match: fc.constantFrom('all' as const, 'any' as const),
    parts: fc.array(parts, { minLength: 1, maxLength: 2 }),
  })

const REST = { rest: true } as const

const SUMMED: fc.Arbitrary<GroupMeasure> = fc.oneof(
  fc.constant('size' as const),
  fc.constantFrom<GroupMeasure>(
    { column: 'count', summary: 'sum' },
    { column: 'count', summary: 'mean' },
    { column: 'count', summary: 'median' },
    { column: 'day', summary: 'maximum' },
    { column: 'site', summary: 'distinct' },
    { column: 'site', summary: 'first' },
    { column: 'count', summary: 'frequent' },
    { column: 'note', summary: 'missing' },
    { column: 'gone', summary: 'sum' },
  ),
)

const buckets: Record<(typeof COLUMNS)[number], readonly Bucket[]> = {
  site: [{ by: 'value' }, { by: 'shown' }, { by: 'letters', count: 1 }, { by: 'letters', count: 2 }],
  note: [{ by: 'value' }, { by: 'letters', count: 1 }],
  count: [
    { by: 'value' },
    { by: 'shown' },
    { by: 'range', step: 10, origin: 0 },
    { by: 'range', step: 7, origin: 3 },
    { by: 'breaks', at: [0, 5, 20] },
    { by: 'parts', count: 3 },
    // Does not fit: it goes by values then.
    { by: 'letters', count: 1 },
  ],
  cover: [{ by: 'range', step: 0.5, origin: 0 }, { by: 'parts', count: 4 }, { by: 'value' }],
  mass: [{ by: 'value' }, { by: 'breaks', at: [0, 1] }],
  seen: [{ by: 'value' }, { by: 'shown' }],
  day: [
    { by: 'value' },
    ...(['year', 'quarter', 'month', 'week', 'weekday', 'day'] as const).map((unit): Bucket => ({
      by: 'date',
      part: unit,
      every: false,
    })),
    { by: 'date', part: 'month', every: true },
    { by: 'date', part: 'quarter', every: true },
    { by: 'date', part: 'day', every: true },
  ],
  tags: [{ by: 'value' }],
}

const asked: fc.Arbitrary<Condition> = fc
  .constantFrom(
    { kind: 'at-least' as const, value: 3 },
    { kind: 'below' as const, value: 8 },
    { kind: 'present' as const },
  )
  .map((part): Condition => ({ match: 'all', parts: [part] }))

/** A level of groups in every way that one can be. */
export const randomLevel: fc.Arbitrary<FlowLevel> = fc.constantFrom(...COLUMNS).chain(column =>
  fc
    .record({
      bucket: fc.constantFrom(...buckets[column]),
      order: fc.record({
        by: fc.oneof(fc.constantFrom('key' as const, 'key' as const), SUMMED),
        direction: fc.constantFrom('ascending' as const, 'descending' as const),
        missing: fc.constantFrom('last' as const, 'last' as const, 'first' as const),
      }),
      feet: fc.constantFrom(false, false, true),
      keep: fc.option(
        fc.record({
          where: fc.array(fc.record({ of: SUMMED, condition: asked }), { maxLength: 2 }),
          most: fc.option(
            fc.record({
              count: fc.integer({ min: 1, max: 3 }),
              of: SUMMED,
              direction: fc.constantFrom('ascending' as const, 'descending' as const),
              rest: fc.constantFrom('together' as const, 'out' as const),
            }),
            { nil: undefined },
          ),
        }),
        { nil: undefined, freq: 2 },
      ),
    })
    .map(level => ({ column, ...level })),
)

/** Every so many rows from some row on, of any table. */
const randomAmong = fc
  .record({ every: fc.integer({ min: 1, max: 4 }), from: fc.nat(3) })
  .map(({ every, from }) => {
    const rows = new RowSet()
    for (let row = from; row < 5000; row += every) rows.add(asRowId(row))
    return { name: `${every} ${from}`, rows: rows.packed() }
  })

export const randomRequest: fc.Arbitrary<FlowRequest> = fc.record({
  among: fc.option(randomAmong, { freq: 3, nil: undefined }),
  order: fc.uniqueArray(
    fc.record({
      column: fc.constantFrom(...COLUMNS),
      direction: fc.constantFrom('ascending' as const, 'descending' as const),
      by: fc.constantFrom('value' as const, 'value' as const, 'shown' as const),
      natural: fc.constantFrom(false, false, true),
      missing: fc.constantFrom('last' as const, 'last' as const, 'first' as const),
    }),
    { maxLength: 3, selector: key => key.column },
  ),
  conditions: fc.record(
    {
      site: condition(part.text),
      note: condition(part.text),
      count: condition(part.number),
      mass: condition(part.number),
      cover: condition(part.number),
      seen: condition(part.truth),
      day: condition(part.date),
      tags: condition(part.tags),
    },
    { requiredKeys: [] },
  ),
  search: fc.constantFrom('', '', 'a', 'e', 'lower', '1', 'in lo', '"a b"', '.5', '.0', 'yes', '2020-1'),
  searchColumns: fc.subarray([...COLUMNS], { minLength: 1 }),
  groups: fc.oneof(fc.constant([]), fc.array(randomLevel, { maxLength: 3 })),
  clock: fc.constantFrom(1.6e12, 1.65e12, 1.62e12).map(now => ({ now })),
  open: fc.record({
    levels: fc.constantFrom(null, 0, 1, 2),
    except: fc.constantFrom<GroupKey[][]>(
      [],
      [['Élan'], [null], [3]],
      [[true], [true, 'Élan'], [0, null], ['elan', 'elan'], [REST], [null, REST], ['A'], [18262]],
      // So many that they are looked for at once.
      Array.from({ length: 20 }, (_, i) => [i - 5]),
    ),
  }),
})

/**
 * The rows as a table that has all columns, even where no row has a value in one. Every other number of rows keeps its
 * notes as texts that are nearly all different are kept, which by themselves they are only from 65,536 texts on.
 */
export function tableOf(rows: readonly RowObject[]): Table {
  const table = finish(tableFromRows(rows))
  return rows.length % 2 === 1 ? withPlainTexts(table, ['note']) : table
}

/** The table with some text columns kept one text a row, whatever their number. */
export function withPlainTexts(table: Table, keys: readonly string[]): Table {
  const columns = table.columns.map((column, place) =>
    column.kind === 'coded' && keys.includes(table.fields[place].key) ? plainOf(column, table.rows) : column,
  )
  return { ...table, columns }
}

function plainOf(column: CodedColumn, rows: number): PlainColumn {
  const texts = Array.from({ length: rows }, (_, row) => String(valueAt(column, row) ?? ''))
  const encoded = texts.map(text => new TextEncoder().encode(text))
  const offsets = new Uint32Array(rows + 1)
  encoded.forEach(({ length }, row) => (offsets[row + 1] = offsets[row] + length))
  const bytes = new Uint8Array(offsets[rows])
  encoded.forEach((part, row) => bytes.set(part, offsets[row]))
  return { kind: 'plain', texts: { bytes, offsets }, missing: column.missing }
}

/** Asks for nothing: all rows as they lie. */
export const PLAIN: FlowRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [...COLUMNS],
  groups: [],
  open: { levels: null, except: [] },
}
