import type { LineIndex } from '../src/flow/line.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { explain } from '../src/question/explain.ts'
import { findMatch } from '../src/question/find-match.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import { trace } from '../src/question/trace.ts'
import type { ViewId } from '../src/question/question.ts'
import { idOfRow, type RowId } from '../src/table/row-id.ts'
import { askedOf } from './support/asked.ts'
import { ViewReader } from '../src/flow/view.ts'
import { fold, searchWords } from '../src/search/fold.ts'
import { matchRanges } from '../src/search/match-ranges.ts'
import { shower } from '../src/table/shown-text.ts'
import { valueAt, type Table } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { flowOver } from './support/flow-over.ts'
import { oracle, type OracleLine } from './support/oracle.ts'
import { randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const arranged = (table: Table, request: FlowRequest) => {
  const flow = flowOver(table)
  const { view, report } = finish(flow.arrange(request))
  return { flow, report, reader: new ViewReader(table, flow.shows, flow.columnIndexes, view) }
}

const PLAIN: FlowRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: ['site', 'n'],
  groups: [],
  open: { levels: null, except: [] },
}

const VIEW = 1 as ViewId

describe('a trace', () => {
  it('says of every row whether it passes, by which words and conditions, and where it stands', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, fc.nat(59), (rows, request, nth) => {
        fc.pre(rows.length > 0)
        const row = nth % rows.length
        const table = tableOf(rows)
        const { flow, reader } = arranged(table, request)
        const told = finish(
          trace.answer(askedOf(flow, reader), { request, view: VIEW, row: idOfRow(flow.table, row) }),
        )
        const passes = (asked: Partial<FlowRequest>): boolean =>
          oracle(table, {
            ...request,
            conditions: {},
            search: '',
            groups: [],
            order: [],
            among: undefined,
            ...asked,
          }).lines.some(line => 'row' in line && line.row === row)
        const { among } = request
        expect(told.among).toBe(among ? passes({ among }) : null)
        expect(told.passes).toBe(passes({ conditions: request.conditions, search: request.search, among }))
        for (const { column, holds, condition, parts } of told.conditions) {
          expect(holds).toBe(passes({ conditions: { [column]: condition } }))
          for (const { part, holds } of parts)
            expect(holds).toBe(passes({ conditions: { [column]: { match: 'all', parts: [part] } } }))
        }
        expect(told.search?.passes ?? true).toBe(passes({ search: request.search }))
        for (const { word, columns } of told.search?.words ?? [])
          for (const key of request.searchColumns)
            expect(columns.includes(key)).toBe(passes({ search: `"${word}"`, searchColumns: [key] }))
        const lines = oracle(table, request).lines
        const head = (line: OracleLine): boolean => 'key' in line && line.key === told.groups[0]?.value
        const at = lines.findIndex(line => 'row' in line && line.row === row)
        if (told.passes && at === -1) expect(lines.findIndex(head)).toBe(told.line)
        else expect(told.line).toBe(at)
      }),
      runs(1000),
    )
  })

  it('of a row that is not there is a caller’s mistake', () => {
    const { flow, reader } = arranged(tableOf([{ n: 1 }]), PLAIN)
    expect(() =>
      finish(trace.answer(askedOf(flow, reader), { request: PLAIN, view: VIEW, row: 7 as RowId })),
    ).toThrow(RangeError)
  })
})

describe('an explanation', () => {
  it('counts what each word and condition lets through alone, and what would pass without it', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, (rows, request) => {
        const table = tableOf(rows)
        const { flow } = arranged(table, request)
        const told = finish(explain.answer(askedOf(flow), { request }))
        const passing = (asked: Partial<FlowRequest>): number =>
          oracle(table, { ...request, groups: [], order: [], ...asked }).passing
        const words = searchWords(request.search)
        for (const [column, { meet, without }] of Object.entries(told.conditions)) {
          const { [column]: own, ...others } = request.conditions
          expect(meet).toBe(passing({ conditions: { [column]: own }, search: '' }))
          expect(without).toBe(passing({ conditions: others }))
        }
        expect(told.words.map(({ word }) => word)).toEqual(words)
        for (const [i, { word, meet, without }] of told.words.entries()) {
          const search = (list: readonly string[]): string => list.map(one => `"${one}"`).join(' ')
          expect(meet).toBe(passing({ conditions: {}, search: search([word]) }))
          expect(without).toBe(passing({ search: search(words.toSpliced(i, 1)) }))
        }
      }),
      runs(300),
    )
  })

  it('offers the nearest text for one that nobody has', () => {
    const table = tableOf(['Lower Ings', 'Upper Wold', 'Fen Edge'].map((site, n) => ({ site, n })))
    const ask = (request: Partial<FlowRequest>) => {
      const asked = { ...PLAIN, ...request }
      return finish(explain.answer(askedOf(arranged(table, asked).flow), { request: asked }))
    }
    expect(ask({ search: 'lowr edge' }).words).toEqual([
      { word: 'lowr', meet: 0, without: 1, nearest: 'lower' },
      { word: 'edge', meet: 1, without: 0, nearest: null },
    ])
    const conditions = {
      site: { match: 'all' as const, parts: [{ kind: 'equals' as const, value: 'Uper Wold' }] },
    }
    expect(ask({ conditions }).conditions.site).toEqual({ meet: 0, without: 3, nearest: 'Upper Wold' })
  })
})

describe('what a search marks', () => {
  it('is where its words stand in the shown text', () => {
    expect(matchRanges('Lower Ings', ['ing', 'lo'])).toEqual([
      { from: 0, to: 2 },
      { from: 6, to: 9 },
    ])
    expect(matchRanges('aaa', ['aa', 'a'])).toEqual([{ from: 0, to: 3 }])
    expect(matchRanges('Ünder É\u0301lan', ['elan'])).toEqual([{ from: 6, to: 11 }])
    expect(matchRanges('e\u0301t\u00e9', ['t', 'e'])).toEqual([{ from: 0, to: 4 }])
    expect(matchRanges('Łódź, Straße 5', ['lodz', 'strasse'])).toEqual([
      { from: 0, to: 4 },
      { from: 6, to: 12 },
    ])
    expect(matchRanges('Maß', ['s'])).toEqual([{ from: 2, to: 3 }])
    expect(matchRanges('nothing', ['x'])).toEqual([])
  })

  it('covers, folded, each word it found, and nothing outside a match', () => {
    const text = fc.string({
      unit: fc.constantFrom('a', 'B', 'é', 'e\u0301', 'İ', 'ß', ' ', '😀'),
      maxLength: 12,
    })
    const word = fc.string({ unit: fc.constantFrom('a', 'b', 'e', 'i'), minLength: 1, maxLength: 2 })
    fc.assert(
      fc.property(text, fc.uniqueArray(word, { minLength: 1, maxLength: 3 }), (shown, words) => {
        const ranges = matchRanges(shown, words)
        const holds = words.filter(one => fold(shown).includes(one))
        expect(ranges.length > 0).toBe(holds.length > 0)
        const marked = ranges.map(({ from, to }) => fold(shown.slice(from, to)))
        for (const one of holds) expect(marked.some(part => part.includes(one))).toBe(true)
        const rest = [0, ...ranges.flatMap(({ from, to }) => [from, to]), shown.length]
        for (let i = 0; i < rest.length; i += 2)
          for (const one of words) expect(fold(shown.slice(rest[i], rest[i + 1])).includes(one)).toBe(false)
      }),
      runs(1000),
    )
  })

  it('is gone through cell by cell, forwards and backwards, round the end', () => {
    fc.assert(
      fc.property(
        randomRows,
        randomRequest,
        fc.constantFrom('a', 'e lower', '1', 'zz'),
        fc.integer({ min: -1, max: 30 }),
        fc.nat(4),
        fc.constantFrom(1 as const, -1 as const),
        (rows, request, search, line, column, step) => {
          const table = tableOf(rows)
          const columns = ['site', 'note', 'count', 'day', 'seen']
          const { flow, reader } = arranged(table, request)
          const words = searchWords(search)
          const cells = oracle(table, request).lines.flatMap((at, index) =>
            columns.map(key => {
              const place = table.fields.findIndex(field => field.key === key)
              const text =
                'row' in at && place >= 0
                  ? fold(shower(table.fields[place])(valueAt(table.columns[place], at.row)))
                  : ''
              return { line: index, column: key, marked: words.some(word => text.includes(word)) }
            }),
          )
          const lines = cells.length / columns.length
          const from =
            line < 0 && step === 1 ? -1 : Math.min(Math.max(line, 0), lines - 1) * columns.length + column
          const order = cells.map(
            (_, i) => cells[(((from + step * (i + 1)) % cells.length) + cells.length) % cells.length],
          )
          const wanted = order.find(({ marked }) => marked)
          const found = finish(
            findMatch.answer(askedOf(flow, reader), {
              view: VIEW,
              search,
              columns,
              from: { line: line as LineIndex, column: columns[column] },
              step,
            }),
          )
          expect(found).toEqual(wanted ? { line: wanted.line, column: wanted.column } : null)
        },
      ),
      runs(500),
    )
  })
})
