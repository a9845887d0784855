import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Flow } from '../src/flow/flow.ts'
import { facetsOf } from '../src/question/facets.ts'
import { lineCountOf, ViewReader, type FlowView } from '../src/flow/view.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import { finish, runSliced, CancelledError } from '../src/work/work.ts'
import { oracle, type OracleLine } from './support/oracle.ts'
import { randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { idOfRow, rowsIn } from '../src/table/row-id.ts'
import { asLine, type HeadLine } from '../src/flow/line.ts'
import { flowOver } from './support/flow-over.ts'
import { toldLine } from './support/told-line.ts'
import { runs } from './support/runs.ts'

const NOTHING: FlowRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}

function linesOf(flow: Flow, view: FlowView): OracleLine[] {
  const reader = new ViewReader(flow.table, flow.shows, flow.columnIndexes, view)
  return Array.from({ length: lineCountOf(view) }, (_, i) => toldLine(reader.line(i)))
}

describe('the flow', () => {
  it('comes to the same lines as the plain version, for any table and any request', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, (rows, request) => {
        const table = tableOf(rows)
        const flow = flowOver(table)
        const { view, report } = finish(flow.arrange(request))
        const expected = oracle(table, request)
        expect(linesOf(flow, view)).toEqual(expected.lines)
        expect(report.passing).toBe(expected.passing)
      }),
      runs(1000),
    )
  })

  it('comes to the same lines however it was asked before', () => {
    fc.assert(
      fc.property(randomRows, fc.array(randomRequest, { minLength: 2, maxLength: 6 }), (rows, requests) => {
        const table = tableOf(rows)
        const flow = flowOver(table)
        for (const request of requests) {
          const { view } = finish(flow.arrange(request))
          expect(linesOf(flow, view)).toEqual(oracle(table, request).lines)
        }
      }),
      runs(200),
    )
  })

  it('comes to the same lines after work that was cancelled half-way', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, randomRequest, randomRequest, fc.nat(12), async (rows, a, b, steps) => {
        const flow = flowOver(tableOf(rows))
        finish(flow.arrange(b))
        let left = steps
        await runSliced(flow.arrange(a), { cancelled: () => left-- <= 0 }).catch(error =>
          expect(error).toBeInstanceOf(CancelledError),
        )
        const { view, report } = finish(flow.arrange(b))
        expect(linesOf(flow, view)).toEqual(oracle(flow.table, b).lines)
        expect(report).toMatchObject({ passing: oracle(flow.table, b).passing })
      }),
      runs(200),
    )
  })

  it('tells how many rows each condition alone holds back', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, (rows, request) => {
        const table = tableOf(rows)
        const { report } = finish(flowOver(table).arrange(request))
        for (const [key, held] of Object.entries(report.heldBack)) {
          const { [key]: _lifted, ...others } = request.conditions
          expect(held).toBe(oracle(table, { ...request, conditions: others }).passing - report.passing)
        }
      }),
      runs(200),
    )
  })

  it('finds the line of every row, and none for rows that are held back', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, (rows, request) => {
        const flow = flowOver(tableOf(rows))
        const { view } = finish(flow.arrange({ ...request, open: { levels: null, except: [] } }))
        const reader = new ViewReader(flow.table, flow.shows, flow.columnIndexes, view)
        const lines = linesOf(flow, view)
        for (let row = 0; row < flow.table.rows; row++) {
          expect(reader.lineOf(idOfRow(flow.table, row))).toBe(
            lines.findIndex(line => 'row' in line && line.row === row),
          )
        }
      }),
      runs(100),
    )
  })

  it('tells of every line which groups it stands in, where these begin and where they end', () => {
    fc.assert(
      fc.property(randomRows, randomRequest, (rows, request) => {
        const flow = flowOver(tableOf(rows))
        const { view } = finish(flow.arrange(request))
        const reader = new ViewReader(flow.table, flow.shows, flow.columnIndexes, view)
        const around: HeadLine[] = []
        const lines = Array.from({ length: lineCountOf(view) }, (_, i) => reader.line(i))
        for (const [index, line] of lines.entries()) {
          if (line.kind === 'head') around.splice(line.level, around.length, line)
          if (line.kind === 'foot') around.splice(line.level + 1)
          expect(reader.groupsAt(asLine(index))).toEqual(around)
          for (const head of around) {
            expect(lines[head.line]).toEqual(head)
            const end = lines.findIndex(
              (next, i) => i > head.line && next.kind === 'head' && next.level <= head.level,
            )
            const footed = lines.findIndex(
              (next, i) => i > head.line && next.kind === 'foot' && next.level < head.level,
            )
            const ends = [end, footed].filter(i => i >= 0)
            expect(head.end).toBe(ends.length > 0 ? Math.min(...ends) : lines.length)
            expect(reader.findGroup(head.path)).toBe(head.group)
            expect(reader.lineOfGroup(head.level, head.group)).toBe(head.line)
          }
          if (line.kind === 'head') {
            const beside = lines.filter(
              other =>
                other.kind === 'head' &&
                other.level === line.level &&
                JSON.stringify(other.path.slice(0, -1)) === JSON.stringify(line.path.slice(0, -1)),
            )
            expect([line.nth, line.of]).toEqual([beside.indexOf(line) + 1, beside.length])
            expect([...rowsIn(reader.rowsOfGroup(line.level, line.group))].length).toBe(line.count)
          }
        }
      }),
      runs(300),
    )
  })

  it('counts values under the search and the other conditions', () => {
    fc.assert(
      fc.property(
        randomRows,
        randomRequest,
        fc.constantFrom('site', 'count', 'mass', 'seen'),
        (rows, request, key) => {
          const table = tableOf(rows)
          if (!table.fields.some(field => field.key === key)) return
          const flow = flowOver(table)
          const { [key]: _own, ...others } = request.conditions
          const passing = oracle(table, { ...request, conditions: others, groups: [] }).lines
          const counts = new Map<unknown, number>()
          for (const line of passing) {
            const value = (rows[(line as { row: number }).row][key] ?? null) as unknown
            counts.set(value === 0 ? 0 : value, (counts.get(value === 0 ? 0 : value) ?? 0) + 1)
          }
          const result = finish(facetsOf(flow, request, key, { limit: 1000 }))
          expect(result.missing).toBe(counts.get(null) ?? 0)
          counts.delete(null)
          expect(new Map(result.values.map(v => [v.value === 0 ? 0 : v.value, v.count]))).toEqual(counts)
          if (result.low !== null) {
            expect(result.histogram.reduce((a, b) => a + b, 0)).toBe(passing.length - result.missing)
          }
        },
      ),
      runs(200),
    )
  })

  it('computes again only from the stage whose question changed', () => {
    const flow = flowOver(tableOf(Array.from({ length: 500 }, (_, i) => ({ n: i % 50, t: `t${i % 7}` }))))
    const fresh = (request: Partial<FlowRequest>): string[] => {
      const { report } = finish(flow.arrange({ ...NOTHING, searchColumns: ['t'], ...request }))
      return report.stages.filter(stage => stage.fresh).map(stage => stage.stage)
    }
    const order = [{ column: 'n', direction: 'descending' as const }]
    const conditions = { n: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 10 }] } }
    fresh({ conditions, search: 't1', groups: [levelOf('t')] })
    expect(fresh({ conditions, search: 't1', groups: [levelOf('t')] })).toEqual([])
    expect(fresh({ conditions, search: 't1', order, groups: [levelOf('t')] })).toEqual([
      'order',
      'groups',
      'rows',
    ])
    expect(
      fresh({ conditions, search: 't1', order, groups: [levelOf('t')], open: { levels: 0, except: [] } }),
    ).toEqual(['rows'])
    expect(fresh({ search: 't1', order })).toEqual(['conditions', 'order', 'rows'])
  })

  it('sorts all rows once for every later condition, where not few pass', () => {
    const flow = flowOver(tableOf(Array.from({ length: 600 }, (_, i) => ({ n: i % 50, t: `t${i}` }))))
    let sorts = 0
    const codesOf = flow.codes.of.bind(flow.codes)
    flow.codes.of = function* (place) {
      sorts++
      return yield* codesOf(place)
    }
    const order = [{ column: 't', direction: 'ascending' as const }]
    const from = (n: number) => ({
      n: { match: 'all' as const, parts: [{ kind: 'range' as const, from: n }] },
    })
    const passing = (n: number): number =>
      finish(flow.arrange({ ...NOTHING, order, conditions: from(n) })).report.passing
    expect([passing(10), passing(20), passing(5)]).toEqual([480, 360, 540])
    expect(sorts).toBe(1)
    // Few rows are sorted by themselves.
    expect(passing(49)).toBe(12)
  })

  it('groups and orders values too far apart to be counted', () => {
    const rows = Array.from({ length: 40 }, (_, i) => ({ far: [900_000, 3, null, 450_000][i % 4], n: i }))
    const table = tableOf(rows)
    for (const descending of [false, true]) {
      const order = [
        { column: 'far', direction: descending ? ('descending' as const) : ('ascending' as const) },
      ]
      for (const group of [null, 'far']) {
        const request = { ...NOTHING, order, group }
        const flow = flowOver(table)
        expect(linesOf(flow, finish(flow.arrange(request)).view)).toEqual(oracle(table, request).lines)
      }
    }
  })

  it('forgets what it searched when a column is shown otherwise', () => {
    const flow = flowOver(tableOf([{ n: 1.25 }, { n: 2.5 }]))
    const count = (search: string): number =>
      finish(flow.arrange({ ...NOTHING, search, searchColumns: ['n'] })).report.passing
    expect(count('2.50')).toBe(1)
    flow.bind({ n: { decimals: 1 } })
    expect(count('2.50')).toBe(0)
    expect(count('1.3')).toBe(1)
  })
})
