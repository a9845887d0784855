import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { FlowRequest } from '../src/flow/request.ts'
import { parseExpression } from '../src/expression/parser.ts'
import type { RowObject } from '../src/read/rows/read-rows.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { Binding } from '../src/flow/view-request.ts'
import { bindingOf, styleKey, whenSelected } from '../src/definition/binding.ts'
import { readDefinition } from '../src/definition/definition.ts'
import type { RowSource, View } from '../src/source/row-source.ts'
import { asRowId, rowsIn } from '../src/table/row-id.ts'
import type { RowId } from '../src/table/row-id.ts'
import { ComputedColumns } from '../src/edit/computed-columns.ts'
import { finish } from '../src/work/work.ts'
import { evaluate } from './support/evaluate.ts'
import { runs } from './support/runs.ts'

const ALL: FlowRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}
const computed = [
  { key: 'size', expression: 'n > 5 ? "large" : "small"' },
  { key: 'twice', expression: 'n * 2 + fact.number' },
  { key: 'both', expression: 'size + " " + t' },
]
const BOUND: Binding = { formats: {}, computed }
const row = fc.record({
  id: fc.nat(30),
  n: fc.option(fc.integer({ min: 0, max: 10 }), { nil: null }),
  t: fc.constantFrom('a', 'b', 'É'),
})

async function opened(rows: readonly RowObject[], compactAfterMs?: number): Promise<RowSource> {
  const table = finish(tableFromRows(rows))
  const source = new PageSource({ kind: 'table', table }, [], {}, compactAfterMs ? { compactAfterMs } : {})
  await source.open()
  return source
}

/** All rows as they stand, computed fields included. */
async function recordsOf(source: RowSource, binding: Binding = BOUND): Promise<readonly RowObject[]> {
  const view = await source.view({ ...ALL, binding })
  const rows = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
  view.close()
  return (await source.ask('records', { rows, binding })) as readonly RowObject[]
}

const treeOf = (expression: string) => {
  const parsed = parseExpression(expression)
  if (!parsed.ok) throw new Error(expression)
  return parsed.tree
}

function withComputed(base: RowObject, number: number): RowObject {
  const out: Record<string, unknown> = { ...base }
  for (const { key, expression } of computed) out[key] = evaluate(treeOf(expression), out, number)
  return out
}

describe('computed columns', () => {
  test('follow every change of what they read', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(row, { selector: ({ id }) => id, minLength: 1, maxLength: 12 }),
        fc.array(fc.uniqueArray(row, { selector: ({ id }) => id, maxLength: 5 }), { maxLength: 4 }),
        async (first, changes) => {
          const base = [{ id: 99, n: 7, t: 'zz' }, ...first]
          const source = await opened(base)
          const held = base.map(each => ({ ...each }))
          for (const put of changes) {
            await source.commit({ put }, ['id'])
            for (const next of put) {
              const at = held.findIndex(({ id }) => id === next.id)
              if (at >= 0) held[at] = next
              else held.push(next)
            }
            const got = await recordsOf(source)
            expect(got).toEqual(held.map((each, i) => withComputed(each, i + 1)))
          }
        },
      ),
      runs(60),
    )
  })

  test('are made again when rows go and numbers change', async () => {
    const rows = Array.from({ length: 2400 }, (_, id) => ({ id, n: id % 11, t: 'a' }))
    const source = await opened(rows, 1)
    const wide = await source.view({ ...ALL, binding: BOUND })
    await source.commit({ remove: rows.filter(({ id }) => id % 2 === 0).map(({ id }) => id) }, ['id'])
    await new Promise(resolve => setTimeout(resolve, 30))
    // A view from before is still of the rows as they were.
    expect(wide.lines.text(2399, 2399 as RowId, 'id')).toBe('2399')
    const left = rows.filter(({ id }) => id % 2 === 1)
    expect(await recordsOf(source)).toEqual(left.map((each, i) => withComputed(each, i + 1)))
  })

  test('order, narrow, search and group like any other', async () => {
    const source = await opened(
      Array.from({ length: 20 }, (_, id) => ({ id, n: id % 10, t: id % 2 ? 'x' : 'b' })),
    )
    const asked = {
      ...ALL,
      binding: BOUND,
      order: [{ column: 'twice', direction: 'descending' as const }],
      conditions: {
        size: { match: 'all' as const, parts: [{ kind: 'one-of' as const, values: ['large'] }] },
      },
      search: 'LARGE x',
      searchColumns: ['both'],
      groups: [levelOf('size')],
    }
    const { report, lines } = await source.view(asked)
    expect(report.passing).toBe(4)
    expect(lines.line(0)).toMatchObject({ kind: 'head', shown: 'large', count: 4 })
    const order = [1, 2, 3, 4].map(index => {
      const line = lines.line(index)
      return line?.kind === 'row' ? line.row : -1
    })
    expect(order).toEqual([19, 17, 9, 7])
    expect(
      (
        await source.ask('facets', { request: { ...ALL, binding: BOUND }, column: 'size', limit: 9 })
      ).values.map(({ shown, count }) => [shown, count]),
    ).toEqual([
      ['small', 12],
      ['large', 8],
    ])
  })

  test('that cannot be bound are told, and those that serve the grid are nobody’s fields', async () => {
    const source = await opened([{ id: 1, n: 6, t: 'a' }])
    const binding: Binding = {
      formats: {},
      computed: [
        ...computed,
        { key: 'wrong', expression: 'm + 1' },
        { key: '\u0000style:0', expression: 'n > 5', wanted: 'boolean', internal: true },
      ],
    }
    const { fields, problems, lines } = await source.view({ ...ALL, binding })
    expect(fields.map(({ key }) => key)).toEqual(['id', 'n', 't', 'size', 'twice', 'both'])
    expect(problems.map(({ key, problem }) => [key, problem.code])).toEqual([['wrong', 'unknown-name']])
    expect(Object.keys((await source.ask('records', { rows: [0 as RowId], binding }))[0])).toEqual([
      'id',
      'n',
      't',
      'size',
      'twice',
      'both',
    ])
    expect(lines.value(0, 0 as RowId, '\u0000style:0')).toBe(true)
    expect((await source.ask('description', { binding })).fields).toEqual(fields)
  })

  test('are taken away again, and what was known of the others stays', async () => {
    const source = await opened([
      { id: 1, n: 6, t: 'a' },
      { id: 2, n: 1, t: 'b' },
    ])
    const asked: FlowRequest = {
      ...ALL,
      conditions: { t: { match: 'all', parts: [{ kind: 'contains', text: 'a' }] } },
    }
    await source.view({ ...asked, binding: BOUND })
    const { report, fields } = await source.view(asked)
    expect(report.passing).toBe(1)
    expect(fields.map(({ key }) => key)).toEqual(['id', 'n', 't'])
  })

  test('are worked out anew where what they read is, and are themselves where it is not', async () => {
    const source = await opened([
      { id: 1, n: 4, t: 'a' },
      { id: 2, n: 9, t: 'b' },
    ])
    const bound = (limit: number, extra: { key: string; expression: string }[] = []): Binding => ({
      formats: {},
      computed: [
        { key: 'size', expression: `n > ${limit} ? "large" : "small"` },
        { key: 'both', expression: 'size + " " + t' },
        { key: 'plain', expression: 't + t' },
        ...extra,
      ],
    })
    const told = async (binding: Binding): Promise<unknown[]> =>
      (await recordsOf(source, binding)).map(({ both, plain, last }) => [both, plain, last])
    expect(await told(bound(5))).toEqual([
      ['small a', 'aa', undefined],
      ['large b', 'bb', undefined],
    ])
    // Only the first is written otherwise; what reads it follows.
    expect(await told(bound(3))).toEqual([
      ['large a', 'aa', undefined],
      ['large b', 'bb', undefined],
    ])
    expect(await told(bound(3, [{ key: 'last', expression: 'both + plain' }]))).toEqual([
      ['large a', 'aa', 'large aaa'],
      ['large b', 'bb', 'large bbb'],
    ])
    await source.commit({ update: [{ id: 1, n: 1, t: 'c' }] }, ['id'])
    expect(await told(bound(3, [{ key: 'last', expression: 'both + plain' }]))).toEqual([
      ['small c', 'cc', 'small ccc'],
      ['large b', 'bb', 'large bbb'],
    ])
  })

  test('that did not change are not worked out again', () => {
    const made = new ComputedColumns()
    const table = finish(tableFromRows([{ n: 1, t: 'a' }]))
    const parsed = (texts: Record<string, string>): Parameters<ComputedColumns['make']>[0] => ({
      trees: Object.entries(texts).map(([key, expression]) => ({
        column: { key, expression },
        tree: treeOf(expression),
      })) as never,
      problems: [],
      pattern: null,
      formulas: [],
    })
    const columnsOf = () => made.behind(table).columns.slice(2)
    finish(made.make(parsed({ a: 'n + 1', b: 'a * 2', c: 't' }), table, true))
    const [a, b, c] = columnsOf()
    finish(made.make(parsed({ a: 'n + 1', b: 'a * 2', c: 't' }), table, true))
    expect(columnsOf()).toEqual([a, b, c])
    expect(columnsOf().map((column, i) => column === [a, b, c][i])).toEqual([true, true, true])
    finish(made.make(parsed({ a: 'n + 5', b: 'a * 2', c: 't' }), table, true))
    expect(columnsOf().map((column, i) => column === [a, b, c][i])).toEqual([false, false, true])
    finish(made.make(parsed({ c: 't' }), table, false))
    expect(columnsOf()[0]).not.toBe(c)
  })

  test('new fields that come with appended rows can be read', async () => {
    const source = await opened([{ id: 1, n: 6, t: 'a' }])
    const binding: Binding = { formats: {}, computed: [{ key: 'plus', expression: 'n + 1' }] }
    await source.view({ ...ALL, binding })
    await source.commit({ append: [{ id: 2, n: 2.5, t: 'b', more: 'x' }] }, [])
    expect(await recordsOf(source, binding)).toEqual([
      { id: 1, n: 6, t: 'a', more: null, plus: 7 },
      { id: 2, n: 2.5, t: 'b', more: 'x', plus: 3.5 },
    ])
  })
})

describe('rules that speak of what is selected', () => {
  test('hold by whether a row is, and how many are; a field of that name comes first', async () => {
    const definition = readDefinition({
      format: 'vast-meadow-grid',
      version: 3,
      columns: [{ key: 'n', title: 'N' }],
      styles: [
        { when: 'selected && n > 1' },
        { when: 'selectedCount >= 2' },
        { when: 'n > 2' },
        { when: 'selected + 1' },
      ],
    })
    if (!definition.ok) throw new Error('not read')
    const view = async (rows: object[], count: number): Promise<View> => {
      const source = new PageSource(
        { kind: 'table', table: finish(tableFromRows(rows as never)) },
        [],
        {},
        {},
      )
      await source.open()
      const binding = bindingOf(definition.definition, 0, '', [], {}, count)
      return source.view({ ...ALL, binding })
    }
    const holds = ({ lines }: View, key: string): unknown[] =>
      [0, 1, 2].map(at => lines.value(at, asRowId(at), key))
    const rows = [{ n: 1 }, { n: 2 }, { n: 3 }]
    const one = await view(rows, 1)
    expect(holds(one, styleKey(0))).toEqual([false, false, false])
    expect(holds(one, whenSelected(styleKey(0)))).toEqual([false, true, true])
    expect(holds(one, styleKey(1))).toEqual([false, false, false])
    expect(holds(await view(rows, 2), whenSelected(styleKey(1)))).toEqual([true, true, true])
    // What does not speak of it has no second column; what is wrong is told once.
    expect(holds(one, styleKey(2))).toEqual([false, false, true])
    expect(holds(one, whenSelected(styleKey(2)))).toEqual([null, null, null])
    expect(one.problems.map(({ key }) => key)).toEqual([styleKey(3)])
    const named = await view(
      rows.map((row, nth) => ({ ...row, selected: nth === 2 })),
      0,
    )
    expect(holds(named, styleKey(0))).toEqual([false, false, true])
  })
})

describe('profiles', () => {
  test('count what a plain count does, whatever is arranged', async () => {
    const rows = Array.from({ length: 300 }, (_, id) => ({
      id,
      n: id % 7 === 0 ? null : (id % 13) / 4,
      t: id % 5 === 0 ? null : `t${id % 3}`,
      sure: id % 2 === 0,
      note: `note ${id}`,
    }))
    const source = await opened(rows)
    await source.view({ ...ALL, search: 'nothing of it', searchColumns: ['t'] })
    const text = await source.ask('profile', { column: 't', limit: 2 })
    expect(text).toMatchObject({ rows: 300, missing: 60, distinct: 3 })
    expect(text.values.map(({ shown, count }) => [shown, count])).toEqual([
      ['t1', 80],
      ['t2', 80],
    ])
    const number = await source.ask('profile', { column: 'n', limit: 2 })
    const present = rows.flatMap(({ n }) => (n === null ? [] : [n]))
    expect(number).toMatchObject({
      missing: rows.length - present.length,
      distinct: 13,
      low: 0,
      high: 3,
      lowShown: '0.00',
      highShown: '3.00',
    })
    expect(number.histogram.reduce((sum, count) => sum + count, 0)).toBe(present.length)
    expect(
      (await source.ask('profile', { column: 'sure', limit: 2 })).values.map(({ shown, count }) => [
        shown,
        count,
      ]),
    ).toEqual([
      ['no', 150],
      ['yes', 150],
    ])
    await source.commit({ remove: [0, 2] }, ['id'])
    expect(
      (await source.ask('profile', { column: 'sure', limit: 2 })).values.map(({ count }) => count),
    ).toEqual([150, 148])
  })
})
