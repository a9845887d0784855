import { describe, expect, it } from 'vitest'
import { conditionSchema, type Condition, type ConditionPart } from '../src/condition/condition.ts'
import { conditionKinds, kindNamed } from '../src/condition/kinds/index.ts'
import { conditionPhrase } from '../src/condition/phrase.ts'
import { Flow } from '../src/flow/flow.ts'
import { facets } from '../src/flow/facets.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import type { RowObject } from '../src/read/rows/read-rows.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { finish } from '../src/work/work.ts'

const ROWS: RowObject[] = [
  { name: 'Élan', cover: 12.5, day: '2024-01-01', seen: true },
  { name: 'elan vital', cover: -3, day: '2024-06-14', seen: false },
  { name: null, cover: 0, day: null, seen: null },
  { name: 'Straße', cover: null, day: '2023-12-31', seen: true },
  { name: 'a\nb', cover: 12.5, day: '2024-06-14', seen: true },
]

const request = (conditions: FlowRequest['conditions']): FlowRequest => ({
  order: [],
  conditions,
  search: '',
  searchColumns: ['name'],
  group: null,
  open: { all: true, except: [] },
})

function passing(column: string, ...parts: ConditionPart[]): number[] {
  return passingAll({ [column]: { match: 'all', parts } })
}

function passingAll(conditions: FlowRequest['conditions']): number[] {
  const { view } = finish(new Flow(finish(tableFromRows(ROWS))).arrange(request(conditions)))
  return [...(view.rows ?? ROWS.keys())]
}

describe('condition kinds', () => {
  it('of text take case and accents off, and are false on missing values', () => {
    expect(passing('name', { kind: 'contains', text: 'ELAN' })).toEqual([0, 1])
    expect(passing('name', { kind: 'starts', text: 'élan v' })).toEqual([1])
    expect(passing('name', { kind: 'excludes', text: 'a' })).toEqual([])
    expect(passing('name', { kind: 'excludes', text: 'vital' })).toEqual([0, 3, 4])
    expect(passing('name', { kind: 'contains', text: 'a\nb' })).toEqual([4])
  })

  it('range takes both ends in, and leaves an end open', () => {
    expect(passing('cover', { kind: 'range', from: 0, to: 12.5 })).toEqual([0, 2, 4])
    expect(passing('cover', { kind: 'range', to: -3 })).toEqual([1])
    expect(passing('day', { kind: 'range', from: 19_723, to: 19_723 })).toEqual([0])
  })

  it('one-of takes values as the data holds them', () => {
    expect(passing('name', { kind: 'one-of', values: ['Élan', 'Straße'] })).toEqual([0, 3])
    expect(passing('name', { kind: 'one-of', values: ['elan'] })).toEqual([])
    expect(passing('cover', { kind: 'one-of', values: [0, 12.5] })).toEqual([0, 2, 4])
    expect(passing('seen', { kind: 'one-of', values: [false] })).toEqual([1])
  })

  it('missing and present part all rows', () => {
    for (const column of ['name', 'cover', 'day', 'seen']) {
      const both = [...passing(column, { kind: 'missing' }), ...passing(column, { kind: 'present' })]
      expect(both.sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4])
    }
  })

  it('that cannot ask a column of its type let nothing pass', () => {
    expect(passing('cover', { kind: 'contains', text: '1' })).toEqual([])
    expect(passing('name', { kind: 'range', from: 0 })).toEqual([])
  })

  it('are joined by all or any', () => {
    const parts: ConditionPart[] = [{ kind: 'contains', text: 'elan' }, { kind: 'missing' }]
    expect(passingAll({ name: { match: 'any', parts } })).toEqual([0, 1, 2])
    expect(passingAll({ name: { match: 'all', parts } })).toEqual([])
  })

  it('on a column that the table does not have ask nothing', () => {
    expect(passingAll({ nowhere: { match: 'all', parts: [{ kind: 'missing' }] } })).toEqual([0, 1, 2, 3, 4])
  })

  it('each have a schema that reads their own part, a phrase and an answer', () => {
    const examples: ConditionPart[] = [
      { kind: 'contains', text: 'x' },
      { kind: 'starts', text: 'x' },
      { kind: 'excludes', text: 'x' },
      { kind: 'range', from: 1, to: 2 },
      { kind: 'one-of', values: ['a', 'b', 'c', 'd'] },
      { kind: 'missing' },
      { kind: 'present' },
    ]
    expect(examples.map(part => part.kind)).toEqual(conditionKinds.map(kind => kind.name))
    const phrases = examples.map(part => conditionPhrase({ match: 'all', parts: [part] }, String))
    expect(phrases).toEqual([
      'contains “x”',
      'starts with “x”',
      'does not contain “x”',
      '1 to 2',
      'a or b or c or 1 more',
      'missing',
      'present',
    ])
    for (const part of examples) {
      const condition: Condition = { match: 'all', parts: [part] }
      expect(conditionSchema.parse(JSON.parse(JSON.stringify(condition)))).toEqual(condition)
    }
    expect(() => kindNamed('shouts')).toThrow('"shouts"')
  })

  it('refuse parts that ask nothing', () => {
    for (const part of [
      { kind: 'contains', text: '' },
      { kind: 'range' },
      { kind: 'one-of', values: [] },
      { kind: 'odd' },
    ]) {
      expect(conditionSchema.safeParse({ match: 'all', parts: [part] }).success).toBe(false)
    }
    expect(conditionSchema.safeParse({ parts: [] }).success).toBe(false)
  })
})

describe('values with counts', () => {
  const ask = (column: string, conditions: FlowRequest['conditions'] = {}, limit = 10) =>
    finish(facets(new Flow(finish(tableFromRows(ROWS))), request(conditions), column, limit))

  it('are the most frequent first, at most as many as asked for', () => {
    expect(ask('day').values.map(({ shown, count }) => [shown, count])).toEqual([
      ['2024-06-14', 2],
      ['2023-12-31', 1],
      ['2024-01-01', 1],
    ])
    expect(ask('day', {}, 1)).toMatchObject({ distinct: 3, missing: 1, values: [{ shown: '2024-06-14' }] })
  })

  it('do not count what other columns hold back, and do count what the column’s own condition does', () => {
    const conditions: FlowRequest['conditions'] = {
      seen: { match: 'all', parts: [{ kind: 'one-of', values: [true] }] },
      day: { match: 'all', parts: [{ kind: 'range', from: 19_800 }] },
    }
    expect(ask('day', conditions).values.reduce((sum, v) => sum + v.count, 0)).toBe(3)
  })

  it('have the extent and a histogram for numbers, and none for texts', () => {
    const cover = ask('cover')
    expect([cover.low, cover.high]).toEqual([-3, 12.5])
    expect(cover.histogram.reduce((a, b) => a + b, 0)).toBe(4)
    expect(cover.histogram.at(-1)).toBe(2)
    expect(ask('name')).toMatchObject({ low: null, histogram: [] })
  })

  it('of a column that is not there are a caller’s mistake', () => {
    expect(() => ask('nowhere')).toThrow(RangeError)
  })
})
