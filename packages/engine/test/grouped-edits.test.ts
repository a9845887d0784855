import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ChangeSet } from '../src/edit/change-set.ts'
import { EditableTable } from '../src/edit/editable-table.ts'
import type { Flow } from '../src/flow/flow.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import { ViewReader } from '../src/flow/view.ts'
import { levelOf } from '../src/group/level.ts'
import { summarize, type SummaryAsked } from '../src/question/summarize.ts'
import { SUMMARY_NAMES, type Summary } from '../src/summary/summary.ts'
import { tableFromRows, type RowObject } from '../src/read/rows/read-rows.ts'
import { finish } from '../src/work/work.ts'
import { askedOf } from './support/asked.ts'
import { flowOver } from './support/flow-over.ts'
import { COLUMNS, PLAIN, randomLevel, randomRequest } from './support/random-table.ts'
import { runs } from './support/runs.ts'
import { toldLine } from './support/told-line.ts'

/** Few different values, so that a changed row mostly enters a group that is there. */
const VALUES: Record<(typeof COLUMNS)[number], readonly unknown[]> = {
  site: ['Élan', 'elan', 'a b', 'b', '10', '9', null],
  note: ['x', 'X', 'y', 'b 10', null],
  count: [-3, 0, 4, 9, 12, 23, null],
  cover: [0.25, 0.5, 1.25, 7, null],
  mass: [1e-9, 0.5, 2.25, 1e9, null],
  seen: [true, false, null],
  day: ['2020-01-01', '2020-01-20', '2020-02-02', '2021-11-30', null],
  tags: [['wet'], ['dry', 'wet'], null],
}
const values = Object.fromEntries(COLUMNS.map(key => [key, fc.constantFrom(...VALUES[key])]))

/** Now and then a value that no row had before. */
const NEW: Partial<Record<string, unknown>> = {
  site: 'new',
  note: 'n',
  count: 33,
  day: '2023-05-05',
  mass: 5,
}
const changed = Object.fromEntries(
  COLUMNS.map(key => [key, fc.constantFrom(...VALUES[key], NEW[key] ?? VALUES[key][0])]),
)
const change = fc.record({ id: fc.nat(79), ...changed }, { requiredKeys: ['id'] })
/** Of a few columns, so that what others come to stays. */
const smallChange = fc
  .tuple(change, fc.subarray([...COLUMNS], { minLength: 1, maxLength: 2 }))
  .map(([row, keys]): RowObject => Object.fromEntries(['id', ...keys].map(key => [key, row[key as 'id']])))
  .map(row => Object.fromEntries(Object.entries(row).filter(([, value]) => value !== undefined)))
const few = { minLength: 1, maxLength: 3 }
const changes: fc.Arbitrary<ChangeSet> = fc.oneof(
  { weight: 5, arbitrary: fc.array(smallChange, few).map(update => ({ update })) },
  { weight: 1, arbitrary: fc.array(fc.record({ id: fc.nat(99), ...values }), few).map(put => ({ put })) },
  { weight: 1, arbitrary: fc.array(fc.nat(19), few).map(remove => ({ remove })) },
  { weight: 1, arbitrary: fc.array(fc.nat(19), few).map(restore => ({ restore })) },
)

const level = fc
  .tuple(randomLevel, fc.boolean())
  .map(([one, whole]) => (whole ? { ...one, keep: undefined } : one))
const request = fc
  .tuple(randomRequest, fc.array(level, { minLength: 1, maxLength: 3 }), fc.nat(3))
  .map(([{ order, conditions, clock }, groups, narrow]): FlowRequest => ({
    ...PLAIN,
    clock,
    groups,
    order: order.slice(0, 2),
    conditions: narrow === 0 ? conditions : {},
  }))

const summary = fc.constantFrom<Summary>(...SUMMARY_NAMES, { kind: 'quantile', at: 0.25 })
const asked = fc.record<SummaryAsked>({ column: fc.constantFrom(...COLUMNS), summary })

/** All lines with every group open, and what columns come to. */
function toldBy(flow: Flow, request: FlowRequest, of: readonly SummaryAsked[]): unknown {
  const { view, report } = finish(flow.arrange(request))
  const reader = new ViewReader(flow.table, flow.shows, flow.columnIndexes, view)
  const lines = Array.from({ length: reader.lineCount }, (_, at) => toldLine(reader.line(at)))
  const { groupsHeldBack } = report
  return [lines, groupsHeldBack, finish(summarize.answer(askedOf(flow), { request, of }))]
}

describe('groups and what they come to, after one change after another', () => {
  it('are what they would be had the rows been so from the start', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record(values), { minLength: 30, maxLength: 80 }),
        fc.array(request, { minLength: 1, maxLength: 2 }),
        fc.array(asked, { minLength: 1, maxLength: 3 }),
        fc.array(fc.tuple(changes, fc.nat(3)), { minLength: 2, maxLength: 6 }),
        (rows, requests, of, steps) => {
          const first = Object.fromEntries(COLUMNS.map(key => [key, VALUES[key][0]]))
          const keyed = [first, ...rows].map((row, id) => ({ ...row, id }))
          const edits = new EditableTable(finish(tableFromRows(keyed)))
          const flow = flowOver(edits.table)
          for (const request of requests) toldBy(flow, request, of)
          for (const [change, pause] of steps) {
            finish(flow.update(finish(edits.commit(change, ['id'])).edit))
            // Now and then nobody asks before the next change, or for the lines alone.
            if (pause === 0) continue
            const asked = pause === 1 ? [] : of
            for (const request of requests) {
              const fresh = flowOver(edits.table, {}, edits.absent)
              expect(toldBy(flow, request, asked)).toEqual(toldBy(fresh, request, asked))
            }
          }
        },
      ),
      runs(300),
    )
  })

  it('have a group that was held back once it meets what is asked', () => {
    const rows = Array.from({ length: 60 }, (_, id) => ({ id, kind: 'abc'[id % 3], n: id % 3 }))
    const edits = new EditableTable(finish(tableFromRows(rows)))
    const flow = flowOver(edits.table)
    const atLeast = { match: 'all' as const, parts: [{ kind: 'at-least' as const, value: 1 }] }
    const where = [{ of: { column: 'n', summary: 'mean' as const }, condition: atLeast }]
    const request = { ...PLAIN, groups: [levelOf('kind', { keep: { where } })] }
    const sizes = (): number[] => [...finish(flow.groupedRows(request)).starts[0]]
    expect(sizes()).toEqual([0, 20, 40])
    const update = [{ id: 0, n: 20 }]
    finish(flow.update(finish(edits.commit({ update }, ['id'])).edit))
    expect(sizes()).toEqual([0, 20, 40, 60])
    expect([...finish(flow.groupedRows(request)).rows!].slice(0, 3)).toEqual([0, 3, 6])
  })

  it('are ordered by their first rows as these are ordered now', () => {
    const rows = Array.from({ length: 60 }, (_, id) => ({
      id,
      kind: 'ab'[id % 2],
      n: id,
      name: `t${100 + id}`,
    }))
    const edits = new EditableTable(finish(tableFromRows(rows)))
    const flow = flowOver(edits.table)
    const by = { column: 'name', summary: 'first' as const }
    const groups = [levelOf('kind', { order: { by, direction: 'ascending', missing: 'last' } })]
    const request = { ...PLAIN, groups, order: [{ column: 'n', direction: 'ascending' as const }] }
    const firsts = (): number[] => {
      const { rows, starts } = finish(flow.groupedRows(request))
      return [rows![0], rows![starts[0][1]]]
    }
    expect(firsts()).toEqual([0, 1])
    finish(flow.update(finish(edits.commit({ update: [{ id: 0, n: 99 }] }, ['id'])).edit))
    expect(firsts()).toEqual([1, 2])
  })

  it('have combinations and ways of writing that no row had before', () => {
    // More combinations than are all numbered.
    const rows = Array.from({ length: 120 }, (_, id) => ({ id, a: id % 60, b: id % 60, c: id % 60 }))
    const edits = new EditableTable(finish(tableFromRows(rows)))
    const flow = flowOver(edits.table)
    const requests = [
      { ...PLAIN, groups: ['a', 'b', 'c'].map(column => levelOf(column)) },
      { ...PLAIN, groups: [levelOf('c', { bucket: { by: 'shown' } })] },
    ]
    for (const update of [
      [{ id: 0, b: 5 }],
      [{ id: 20, c: 3 }],
      [{ id: 59, c: 1 }],
      [{ id: 119, c: 2 }],
      [{ id: 1, c: 59 }],
    ]) {
      for (const request of requests) toldBy(flow, request, [])
      finish(flow.update(finish(edits.commit({ update }, ['id'])).edit))
      for (const request of requests)
        expect(toldBy(flow, request, [])).toEqual(toldBy(flowOver(edits.table), request, []))
    }
  })
})
