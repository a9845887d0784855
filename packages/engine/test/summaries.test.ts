import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compositeCodes } from '../src/group/composite-codes.ts'
import { ColumnCodes } from '../src/order/column-codes.ts'
import type { Codes } from '../src/order/counting.ts'
import { summaryKey } from '../src/definition/binding.ts'
import { PageSource } from '../src/source/page-source.ts'
import { summarize, type ColumnSummary } from '../src/question/summarize.ts'
import { levelGroups } from '../src/question/level-groups.ts'
import { SUMMARY_NAMES, summaryFits, type Summary } from '../src/summary/summary.ts'
import { sumRows, sumAt } from '../src/summary/sums.ts'
import type { OwnSummary } from '../src/summary/own-summary.ts'
import { Flow } from '../src/flow/flow.ts'
import { levelOf } from '../src/group/level.ts'
import { EditableTable } from '../src/edit/editable-table.ts'
import { askedOf } from './support/asked.ts'
import { flowOver } from './support/flow-over.ts'
import { oracle } from './support/oracle.ts'
import { plainSummary, type OracleGroup } from './support/oracle-groups.ts'
import { asColumn, type NumberColumn, type Table, type Value } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { PLAIN, COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const codesFor = (table: Table, key: string): Codes => {
  const place = table.fields.findIndex(field => field.key === key)
  return finish(new ColumnCodes(table, 'en', () => String).of(asColumn(place)))
}
/** Rows whose columns all have a value somewhere, so that the table has them all. */
const rows = randomRows.map(some => [
  ...some,
  { site: 'x', note: 'y', count: 1, cover: 0.25, mass: 1e-9, seen: true, day: '2020-02-02', tags: ['wet'] },
])
const keys = fc.subarray(['site', 'note', 'count', 'cover', 'mass', 'seen', 'day'], { minLength: 1 })

describe('codes of several columns together', () => {
  const plain = (parts: readonly Codes[], some: readonly number[]): number[] => {
    const tuple = (row: number): number[] => parts.map(({ codes }) => codes[row])
    const compare = (a: number[], b: number[]): number =>
      a.map((value, i) => value - b[i]).find(difference => difference !== 0) ?? 0
    const all = some.map(tuple)
    const different = [...new Map(all.map(one => [one.join(), one])).values()].sort(compare)
    return all.map(one => different.findIndex(other => compare(one, other) === 0))
  }

  it('are numbered as the combinations that occur, in the order of the columns', () => {
    fc.assert(
      fc.property(rows, keys, fc.boolean(), (all, some, part) => {
        const table = tableOf(all)
        const parts = some.map(key => codesFor(table, key))
        const among = [...all.keys()].filter(row => !part || row % 3 !== 1)
        const made = finish(compositeCodes(parts, part ? Uint32Array.from(among) : null))
        const wanted = plain(parts, among)
        expect(among.map(row => made.codes[row])).toEqual(wanted)
        expect(made.size).toBe(Math.max(-1, ...wanted) + 1)
      }),
      runs(150),
    )
  })

  it('are so where there are more combinations than fit a table', () => {
    fc.assert(
      fc.property(rows, keys, fc.integer({ min: 0, max: 60 }), (all, some, dense) => {
        const parts = some.map(key => codesFor(tableOf(all), key))
        const made = finish(compositeCodes(parts, null, dense))
        expect([...made.codes]).toEqual(plain(parts, [...all.keys()]))
      }),
      runs(100),
    )
  })
})

const OWN: OwnSummary<number> = {
  title: 'Values',
  start: () => 0,
  add: count => count + 1,
  merge: (a, b) => a + b,
  finish: count => count,
}
const TOOLS = { pattern: null, own: {}, summaries: { values: OWN as OwnSummary } }

const summaries = fc.constantFrom<Summary>(
  ...SUMMARY_NAMES,
  { kind: 'quantile', at: 0.25 },
  { kind: 'quantile', at: 1 },
  { kind: 'own', name: 'values' },
)

/** Numbers are the same where they differ in the last digits alone. */
function expectSame(told: Value, wanted: Value, scale: number): void {
  if (typeof told === 'number' && typeof wanted === 'number')
    expect(Math.abs(told - wanted)).toBeLessThanOrEqual(1e-9 * Math.max(scale, Math.abs(wanted)))
  else expect(told).toBe(wanted)
}

describe('summaries of groups', () => {
  it('come to what a plain program comes to, on every level and over all', () => {
    fc.assert(
      fc.property(
        rows,
        randomRequest,
        fc.constantFrom(...COLUMNS),
        summaries,
        (some, request, column, summary) => {
          const table = tableOf(some)
          const flow = new Flow(table, null, {
            ...flowOver(table)['tools'],
            ...TOOLS,
            pattern: flowOver(table)['tools'].pattern,
          })
          const [told] = finish(summarize.answer(askedOf(flow), { request, of: [{ column, summary }] }))
          const plain = oracle(table, request)
          const type = table.fields.find(({ key }) => key === column)!.type
          const all = plain.rows
          // Shares of next to nothing are anything.
          const total = Number(plainSummary('sum', all, column, plain.table, { all, parent: all }) ?? 0)
          const scale = ['share', 'share-of-parent'].includes(String(summary))
            ? Infinity
            : Math.max(1e-300, ...all.map(row => Math.abs(Number(plain.table.value(row, column)) || 0)))
          const exact = scale !== Infinity || column === 'count' || column === 'cover'
          const check = (value: Value, node: readonly number[], parent: readonly number[]): void => {
            if (!summaryFits(summary, type)) return expect(value).toBe(null)
            const wanted = plainSummary(summary, node, column, plain.table, { all, parent })
            if (exact && Number.isFinite(Number(wanted ?? 0)))
              expectSame(value, typeof wanted === 'boolean' ? wanted : wanted, scale === Infinity ? 1 : scale)
          }
          const walk = (
            groups: readonly OracleGroup[],
            level: number,
            at: number[],
            parent: readonly number[],
          ): void => {
            for (const { rows: node, groups: inside } of groups) {
              const value = told.levels[level][at[level]++]
              check(typeof value === 'number' && Number.isNaN(value) ? null : value, node, parent)
              walk(inside, level + 1, at, node)
            }
          }
          walk(
            plain.groups,
            0,
            request.groups.map(() => 0),
            all,
          )
          if (all.length > 0 && total !== 0) check(told.all, all, all)
        },
      ),
      runs(1000),
    )
  })

  it('are told of any rows, whether these pass or not', () => {
    fc.assert(
      fc.property(
        rows,
        randomRequest,
        fc.array(fc.nat(70)),
        fc.constantFrom(...COLUMNS),
        summaries.filter(one => typeof one !== 'object' || one.kind !== 'own'),
        (some, request, ids, column, summary) => {
          const table = tableOf(some)
          const flow = flowOver(table)
          const among = { kind: 'list' as const, rows: Uint32Array.from(ids) }
          const args = { request, of: [{ column, summary }], among }
          const [told] = finish(summarize.answer(askedOf(flow), args))
          const plain = oracle(table, { ...request, groups: [] })
          const wanted = [...new Set(ids)].filter(row => row < table.rows)
          const passing = plain.rows.filter(row => wanted.includes(row))
          const others = wanted.filter(row => !passing.includes(row)).sort((a, b) => a - b)
          const all = [...passing, ...others]
          const type = table.fields.find(({ key }) => key === column)!.type
          expect(told.levels).toEqual([])
          if (!summaryFits(summary, type)) {
            expect(told.all).toBe(null)
            return
          }
          const expected = plainSummary(summary, all, column, plain.table, { all, parent: all })
          const scale = Math.max(
            1e-300,
            ...all.map(row => Math.abs(Number(plain.table.value(row, column)) || 0)),
          )
          if (Number.isFinite(Number(expected ?? 0)) && !String(summary).startsWith('share'))
            expectSame(told.all, expected ?? null, scale)
        },
      ),
      runs(300),
    )
  })

  it('are listed with the groups of a level', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, fc.nat(2), fc.nat(5), (rows, request, level, from) => {
        const table = tableOf(rows)
        const flow = flowOver(table)
        const told = finish(levelGroups.answer(askedOf(flow), { request, level, from, to: from + 3 }))
        const flat = (groups: readonly OracleGroup[], depth: number): readonly OracleGroup[] =>
          depth === 0 ? groups : groups.flatMap(group => flat(group.groups, depth - 1))
        const wanted = request.groups.length > level ? flat(oracle(table, request).groups, level) : []
        expect(told.count).toBe(wanted.length)
        expect(told.groups.map(({ rows }) => rows)).toEqual(
          wanted.slice(from, from + 3).map(({ rows }) => rows.length),
        )
      }),
      runs(100),
    )
  })

  it('add up a million tenths as far as doubles can say it', () => {
    const values = new Float64Array(1_000_000).fill(0.1)
    const column: NumberColumn = { kind: 'number', values, missing: null }
    const sums = finish(
      sumRows(
        { codes: new Uint32Array(values.length), size: 1 },
        column,
        null,
        Uint32Array.of(values.length, 0),
      ),
    )
    expect(values.reduce((a, b) => a + b, 0)).not.toBe(100_000)
    expect(sumAt(sums, 0)).toBe(100_000)
  })

  it('add up whole numbers of 64 bits exactly, and call nothing what they cannot say', () => {
    const big = [9007199254740993n, 9007199254740993n, -1n]
    const table = tableOf(big.map((n, i) => ({ n, i, t: null })))
    const flow = flowOver(table)
    const asked = (summary: Summary, column = 'n'): Value =>
      finish(
        summarize.answer(askedOf(flow), {
          request: { ...PLAIN, groups: [levelOf('i')] },
          of: [{ column, summary }],
        }),
      )[0].all
    expect(table.columns[0].kind).toBe('wide')
    expect(asked('sum')).toBe('18014398509481985')
    expect(asked('range')).toBe('9007199254740994')
    expect(asked('maximum')).toBe('9007199254740993')
    expect(asked('sum', 't')).toBe(null)
    expect(asked({ kind: 'own', name: 'nobody' })).toBe(null)
  })

  it('are not worked out again under another order, nor when a group is opened', () => {
    let sums = 0
    const table = tableOf(Array.from({ length: 300 }, (_, i) => ({ n: i, t: `t${i % 7}` })))
    const counting: OwnSummary = { ...(OWN as OwnSummary), start: () => sums++ }
    const flow = new Flow(table, null, { pattern: null, own: {}, summaries: { counting } })
    const of = [{ column: 'n', summary: { kind: 'own', name: 'counting' } as const }]
    const ask = (request: object): unknown =>
      finish(
        summarize.answer(askedOf(flow), { request: { ...PLAIN, groups: [levelOf('t')], ...request }, of }),
      )
    ask({})
    const once = sums
    ask({ order: [{ column: 'n', direction: 'descending' }] })
    ask({ open: { levels: 0, except: [] } })
    ask({ groups: [levelOf('t', { order: { direction: 'descending' } })] })
    expect(sums).toBe(once)
    ask({ search: '1', searchColumns: ['n'] })
    expect(sums).toBeGreaterThan(once)
  })

  it('go by an expression over what rows come to, which is no mean of ratios', async () => {
    const rows = Array.from({ length: 90 }, (_, i) => ({
      kind: 'abc'[i % 3],
      price: (i % 9) + 1,
      stock: i % 4,
    }))
    const source = new PageSource({ kind: 'table', table: tableOf(rows) })
    await source.open()
    const told = async (expression: string): Promise<ColumnSummary> => {
      const computed = [{ key: summaryKey('price'), expression, internal: true, overRows: true }]
      const request = { ...PLAIN, groups: [levelOf('kind')], binding: { formats: {}, computed } }
      const summary = { kind: 'expression', expression } as const
      const [answer] = await source.ask('summarize', { request, of: [{ column: 'price', summary }] })
      return answer
    }
    const ratio = (some: typeof rows): number =>
      some.reduce((all, { price, stock }) => all + price * stock, 0) /
      some.reduce((all, { stock }) => all + stock, 0)
    const { all, levels } = await told('sum(price * stock) / sum(stock)')
    expect(all).toBeCloseTo(ratio(rows), 12)
    const wanted = ['a', 'b', 'c'].map(kind => ratio(rows.filter(row => row.kind === kind)))
    levels[0].forEach((value, nth) => expect(value).toBeCloseTo(wanted[nth], 12))
    // The same columns, another formula over them.
    expect((await told('sum(price * stock) / sum(stock) * 2.0')).all).toBeCloseTo(ratio(rows) * 2, 12)
    expect((await told('count() - present(price)')).all).toBe(0)
    const computed = [
      { key: summaryKey('price'), expression: 'sum(price) + "x"', internal: true, overRows: true },
    ]
    const view = await source.view({ ...PLAIN, binding: { formats: {}, computed } })
    expect(view.problems.map(({ key }) => key)).toEqual([summaryKey('price')])
    source.close()
  })

  it('are not worked out again for a change of another column, nor are rows gathered again', () => {
    let starts = 0
    const rows = Array.from({ length: 300 }, (_, id) => ({ id, n: id, m: id % 3, t: `t${id % 7}` }))
    const edits = new EditableTable(tableOf(rows))
    const counting: OwnSummary = { ...(OWN as OwnSummary), start: () => starts++ }
    const flow = new Flow(edits.table, null, { pattern: null, own: {}, summaries: { counting } })
    const request = { ...PLAIN, groups: [levelOf('t')] }
    const of = [{ column: 'n', summary: { kind: 'own', name: 'counting' } as const }]
    const ask = (): Uint32Array | null => {
      finish(summarize.answer(askedOf(flow), { request, of }))
      return finish(flow.groupedRows(request)).rows
    }
    const gathered = ask()
    const once = starts
    finish(flow.update(finish(edits.commit({ update: [{ id: 4, m: 9 }] }, ['id'])).edit))
    expect(ask()).toBe(gathered)
    expect(starts).toBe(once)
    finish(flow.update(finish(edits.commit({ update: [{ id: 4, n: 9 }] }, ['id'])).edit))
    expect(ask()).toBe(gathered)
    expect(starts).toBeGreaterThan(once)
    finish(flow.update(finish(edits.commit({ update: [{ id: 4, t: 't1' }] }, ['id'])).edit))
    expect(ask()).not.toBe(gathered)
  })
})
