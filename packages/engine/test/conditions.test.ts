import { describe, expect, it } from 'vitest'
import {
  conditionPartSchema,
  conditionSchema,
  type Condition,
  type ConditionPart,
} from '../src/condition/condition.ts'
import { printPhrase, readPhrase, type PhraseOf } from '../src/condition/phrase.ts'
import { phraseProblemText } from '../src/words/phrase-problem-text.ts'
import { conditionSummary } from '../src/words/condition-summary.ts'
import { partProblemText } from '../src/words/part-problem-text.ts'
import type { OwnConditions } from '../src/condition/kinds/kind.ts'
import { daysOf, momentsOf, timesOf, unitDays } from '../src/condition/calendar-span.ts'
import { instantOf, today } from '../src/condition/clock.ts'
import fc from 'fast-check'
import * as z from 'zod'
import { dayNumber } from '../src/table/calendar.ts'
import type { Field } from '../src/table/column.ts'
import { flowOver } from './support/flow-over.ts'
import { oracle } from './support/oracle.ts'
import { randomPart, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'
import { facetsOf } from '../src/question/facets.ts'
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
  groups: [],
  open: { levels: null, except: [] },
})

function passing(column: string, ...parts: ConditionPart[]): number[] {
  return passingAll({ [column]: { match: 'all', parts } })
}

function passingAll(conditions: FlowRequest['conditions']): number[] {
  const { view } = finish(flowOver(finish(tableFromRows(ROWS))).arrange(request(conditions)))
  return [...(view.rows ?? ROWS.keys())]
}

describe('what a calendar says of moments', () => {
  const rows = [
    '2024-06-13T23:30:00Z',
    '2024-06-14T00:10:00Z',
    '2024-06-14T21:59:00Z',
    '2024-06-14T22:30:00Z',
  ].map((at, id) => ({ id, at }))
  const today = {
    match: 'all' as const,
    parts: [{ kind: 'relative' as const, which: 'this' as const, unit: 'day' as const }],
  }
  const passing = (zone: string | undefined): number[] => {
    const clock = { now: Date.UTC(2024, 5, 14, 12), zone }
    const { view } = finish(
      flowOver(finish(tableFromRows(rows))).arrange({ ...request({ at: today }), clock }),
    )
    return [...(view.rows ?? [])]
  }

  it('is reckoned in the zone in which they are shown', () => {
    expect(passing(undefined)).toEqual([1, 2, 3])
    expect(passing('Europe/Madrid')).toEqual([0, 1, 2])
  })
})

describe('condition kinds', () => {
  it('take case and accents off unless told otherwise, and are false on missing values', () => {
    expect(passing('name', { kind: 'contains', text: 'ELAN' })).toEqual([0, 1])
    expect(passing('name', { kind: 'contains', text: 'Élan', exact: true })).toEqual([0])
    expect(passing('name', { kind: 'starts', text: 'élan v' })).toEqual([1])
    expect(passing('name', { kind: 'ends', text: 'VITAL' })).toEqual([1])
    expect(passing('name', { kind: 'excludes', text: 'a' })).toEqual([])
    expect(passing('name', { kind: 'excludes', text: 'vital' })).toEqual([0, 3, 4])
    expect(passing('name', { kind: 'contains', text: 'a\nb' })).toEqual([4])
    expect(passing('name', { kind: 'equals', value: 'ÉLAN' })).toEqual([0])
    expect(passing('name', { kind: 'differs', value: 'ÉLAN' })).toEqual([1, 3, 4])
    expect(passing('name', { kind: 'one-of', values: ['elan', 'STRAßE'] })).toEqual([0, 3])
    expect(passing('name', { kind: 'one-of', values: ['elan'], exact: true })).toEqual([])
    expect(passing('name', { kind: 'none-of', values: ['elan', 'straße'] })).toEqual([1, 4])
  })

  it('of patterns look anywhere in the text, folded or as it is', () => {
    expect(passing('name', { kind: 'pattern', pattern: '^É.*N$' })).toEqual([0])
    expect(passing('name', { kind: 'pattern', pattern: 'elan' })).toEqual([0, 1])
    expect(passing('name', { kind: 'pattern', pattern: 'elan', exact: true })).toEqual([1])
  })

  it('range takes both ends in, and leaves an end open', () => {
    expect(passing('cover', { kind: 'range', from: 0, to: 12.5 })).toEqual([0, 2, 4])
    expect(passing('cover', { kind: 'range', to: -3 })).toEqual([1])
    expect(passing('day', { kind: 'range', from: 19_723, to: 19_723 })).toEqual([0])
    expect(passing('day', { kind: 'range', from: '2024', to: '2024-06' })).toEqual([0, 1, 4])
  })

  it('leave a bound out or take it in, whatever the number', () => {
    expect(passing('cover', { kind: 'above', value: 0 })).toEqual([0, 4])
    expect(passing('cover', { kind: 'at-least', value: 0 })).toEqual([0, 2, 4])
    expect(passing('cover', { kind: 'below', value: 12.5 })).toEqual([1, 2])
    expect(passing('cover', { kind: 'at-most', value: -3 })).toEqual([1])
    expect(passing('day', { kind: 'above', value: '2024-01' })).toEqual([1, 4])
    expect(passing('day', { kind: 'below', value: '2024' })).toEqual([3])
    expect(passing('day', { kind: 'equals', value: '2024-W24' })).toEqual([1, 4])
  })

  it('ask truths and lists of values', () => {
    expect(passing('seen', { kind: 'one-of', values: [false] })).toEqual([1])
    expect(passing('seen', { kind: 'equals', value: true })).toEqual([0, 3, 4])
    expect(passing('seen', { kind: 'differs', value: true })).toEqual([1])
    expect(passing('cover', { kind: 'one-of', values: [0, 12.5] })).toEqual([0, 2, 4])
    expect(passing('cover', { kind: 'none-of', values: [0, 12.5] })).toEqual([1])
  })

  it('missing and present part all rows', () => {
    for (const column of ['name', 'cover', 'day', 'seen']) {
      const both = [...passing(column, { kind: 'missing' }), ...passing(column, { kind: 'present' })]
      expect(both.sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4])
    }
  })

  it('compare whole numbers beyond 2^53 exactly', () => {
    const big = [2n ** 60n, 2n ** 60n + 1n, -(2n ** 60n), null, 5n]
    const table = finish(tableFromRows(big.map(n => ({ n }))))
    const rows = (part: ConditionPart): number[] => {
      const asked = request({ n: { match: 'all', parts: [part] } })
      return [...(finish(flowOver(table).arrange(asked)).view.rows ?? [])]
    }
    expect(rows({ kind: 'equals', value: String(2n ** 60n + 1n) })).toEqual([1])
    expect(rows({ kind: 'below', value: String(2n ** 60n + 1n) })).toEqual([0, 2, 4])
    expect(rows({ kind: 'above', value: 2 ** 60 })).toEqual([1])
    expect(rows({ kind: 'none-of', values: [5, String(2n ** 60n)] })).toEqual([1, 2])
  })

  it('that cannot be asked let nothing pass and say why', () => {
    const problems = (column: string, part: ConditionPart): string[] => {
      const flow = flowOver(finish(tableFromRows(ROWS)))
      const { report } = finish(flow.arrange(request({ [column]: { match: 'all', parts: [part] } })))
      expect(report.passing).toBe(0)
      return (report.conditionProblems[column] ?? []).map(partProblemText)
    }
    expect(problems('cover', { kind: 'contains', text: '1' })).toEqual([
      '“contains” cannot be asked of a column of type number.',
    ])
    expect(problems('day', { kind: 'below', value: 'soon' })).toEqual(['“soon” is not a value of type date.'])
    expect(problems('seen', { kind: 'equals', value: 3 })).toEqual(['“3” is not a value of type boolean.'])
    expect(problems('name', { kind: 'pattern', pattern: '(a' })).toEqual([
      '“(a” is not a pattern in RE2 syntax.',
    ])
    expect(problems('name', { kind: 'own', name: 'near', values: null })).toEqual([
      'There is no condition “near” among this grid’s parts.',
    ])
  })

  it('are joined by all or any', () => {
    const parts: ConditionPart[] = [{ kind: 'contains', text: 'elan' }, { kind: 'missing' }]
    expect(passingAll({ name: { match: 'any', parts } })).toEqual([0, 1, 2])
    expect(passingAll({ name: { match: 'all', parts } })).toEqual([])
  })

  it('on a column that the table does not have ask nothing', () => {
    expect(passingAll({ nowhere: { match: 'all', parts: [{ kind: 'missing' }] } })).toEqual([0, 1, 2, 3, 4])
  })

  it('refuse parts that ask nothing', () => {
    for (const part of [
      { kind: 'contains', text: '' },
      { kind: 'range' },
      { kind: 'one-of', values: [] },
      { kind: 'relative', which: 'this', unit: 'day', count: 3 },
      { kind: 'odd' },
    ]) {
      expect(conditionSchema.safeParse({ match: 'all', parts: [part] }).success).toBe(false)
    }
    expect(conditionSchema.safeParse({ parts: [] }).success).toBe(false)
  })

  const asked = {
    site: 'text',
    note: 'text',
    count: 'number',
    cover: 'number',
    mass: 'number',
    day: 'date',
    seen: 'truth',
    tags: 'tags',
  } as const

  it.each(Object.entries(asked))(
    'asked of the column %s come to what the plain version says',
    (key, kind) => {
      const condition = fc.record({
        match: fc.constantFrom('all' as const, 'any' as const),
        parts: fc.array(randomPart(kind), { minLength: 1, maxLength: 3 }),
      })
      fc.assert(
        fc.property(randomRows, condition, (rows, one) => {
          const table = tableOf(rows)
          const question = { ...request({ [key]: one }), clock: { now: 1.62e12 } }
          const { view } = finish(flowOver(table).arrange(question))
          const found = [...(view.rows ?? rows.keys())].map(row => ({ row }))
          expect(found).toEqual(oracle(table, question).lines)
        }),
        runs(1000),
      )
    },
  )
})

describe('a condition of one’s own', () => {
  const own: OwnConditions = {
    even: { values: z.null(), test: value => (value as number) % 2 === 0, summary: () => 'even' },
    near: {
      values: z.object({ to: z.number(), by: z.number() }),
      types: ['number', 'integer'],
      rows: (column, values, count) => {
        const { to, by } = values as { to: number; by: number }
        const bits = new Uint32Array(Math.ceil(count / 32))
        if (column.kind === 'number')
          for (let i = 0; i < count; i++)
            if (Math.abs(column.values[i] - to) <= by) bits[i >>> 5] |= 1 << (i & 31)
        return bits
      },
      summary: (values, show) => `near ${show((values as { to: number }).to)}`,
    },
    wet: { values: z.null(), test: value => (value as string[]).includes('wet'), summary: () => 'wet' },
    bad: {
      values: z.null(),
      test: () => {
        throw new Error('no')
      },
      summary: () => 'bad',
    },
  }
  const table = finish(
    tableFromRows([
      { n: 2, tags: ['wet', 'dry'] },
      { n: 3, tags: null },
      { n: null, tags: ['dry'] },
      { n: 8, tags: ['wet'] },
    ]),
  )
  const ask = (column: string, name: string, values: unknown = null) => {
    const parts = [conditionPartSchema.parse({ kind: 'own', name, values })]
    const { view, report } = finish(
      flowOver(table, own).arrange(request({ [column]: { match: 'all', parts } })),
    )
    return {
      rows: [...(view.rows ?? [0, 1, 2, 3])],
      problems: report.conditionProblems[column]?.map(partProblemText),
    }
  }

  it('answers by a value or by a column, never of missing ones, and gets tags as a list', () => {
    expect(ask('n', 'even')).toEqual({ rows: [0, 3], problems: undefined })
    expect(ask('n', 'near', { to: 0, by: 2.5 })).toEqual({ rows: [0], problems: undefined })
    expect(ask('tags', 'wet')).toEqual({ rows: [0, 3], problems: undefined })
  })

  it('that fails, or is asked wrongly, is met by no row and told of', () => {
    expect(ask('n', 'bad')).toEqual({ rows: [], problems: ['“bad” failed: no'] })
    expect(ask('n', 'eve').problems).toEqual([
      'There is no condition “eve” among this grid’s parts. Did you mean “even”?',
    ])
    expect(ask('n', 'near', { to: 'x' }).problems?.[0]).toMatch(/^The values of “near” are not right/)
    expect(ask('tags', 'near', { to: 1, by: 1 }).problems).toEqual([
      '“near” cannot be asked of a column of type tags.',
    ])
  })
})

describe('what a text says of the calendar', () => {
  const days = (text: string): string[] | null => {
    const span = daysOf(text)
    return span && [span.from, span.to].map(day => new Date(day * 864e5).toISOString().slice(0, 10))
  }

  it('is a year, a quarter, a month, a week or a day', () => {
    expect(days('2024')).toEqual(['2024-01-01', '2024-12-31'])
    expect(days('2024-Q1')).toEqual(['2024-01-01', '2024-03-31'])
    expect(days('2024-02')).toEqual(['2024-02-01', '2024-02-29'])
    expect(days('2020-W53')).toEqual(['2020-12-28', '2021-01-03'])
    expect(days('2024-06-14')).toEqual(['2024-06-14', '2024-06-14'])
    for (const text of ['2024-13', '2024-02-30', '2021-W53', '2024-W00', '2024-Q5', '24', 'soon', '2024-6-1'])
      expect([text, days(text)]).toEqual([text, null])
  })

  it('is a minute, a second or a fraction of one', () => {
    expect(timesOf('09:30')).toEqual({ from: 34_200_000, to: 34_259_999 })
    expect(timesOf('09:30:15')).toEqual({ from: 34_215_000, to: 34_215_999 })
    expect(timesOf('09:30:15.5')).toEqual({ from: 34_215_500, to: 34_215_599 })
    for (const text of ['24:00', '9:30', '09:60', '']) expect(timesOf(text)).toBeNull()
  })

  it('is in the zone that is meant, also where clocks are changed', () => {
    const hours = (day: string): number => {
      const { from, to } = momentsOf(day, true, 'Europe/Madrid')!
      return (to + 1 - from) / 3.6e6
    }
    expect([hours('2024-06-14'), hours('2024-03-31'), hours('2024-10-27')]).toEqual([24, 23, 25])
    expect(momentsOf('2024-06-14T09:30', true, 'Europe/Madrid')!.from).toBe(Date.UTC(2024, 5, 14, 7, 30))
    expect(momentsOf('2024-06-14T09:30Z', true, 'Europe/Madrid')!.from).toBe(Date.UTC(2024, 5, 14, 9, 30))
    expect(momentsOf('2024-06-14T09:30+05:30', true, undefined)!.from).toBe(Date.UTC(2024, 5, 14, 4))
    expect(momentsOf('2024-06-14 09:30', false, 'Europe/Madrid')!.from).toBe(Date.UTC(2024, 5, 14, 9, 30))
    const minute = { from: Date.UTC(2024, 5, 14, 9, 30), to: Date.UTC(2024, 5, 14, 9, 31) - 1 }
    expect(momentsOf('2024-06-14T09:30', false, undefined)).toEqual(minute)
    const second = { from: Date.UTC(2024, 5, 14, 9, 30, 15), to: Date.UTC(2024, 5, 14, 9, 30, 16) - 1 }
    expect(momentsOf('2024-06-14T09:30:15Z', true, undefined)).toEqual(second)
    for (const wrong of ['2024-06-31T09:30', '2024-06-14T25:00', '2024-06-14Tnoon', 'noon', '2024-06-14T'])
      expect(momentsOf(wrong, false, undefined)).toBeNull()
    // Of two instants that show the same time the earlier one.
    expect(instantOf(Date.UTC(2024, 9, 27, 2, 30), 'Europe/Madrid')).toBe(Date.UTC(2024, 9, 27, 0, 30))
    expect(today({ now: Date.UTC(2024, 5, 14, 23), zone: 'Europe/Madrid' })).toBe(dayNumber(2024, 6, 15))
  })

  it('turns with the clock', () => {
    const clock = { now: Date.UTC(2024, 2, 31, 12) }
    const named = (...asked: Parameters<typeof unitDays> extends [unknown, ...infer Rest] ? Rest : never) => {
      const { from, to } = unitDays(clock, ...asked)
      return [from, to].map(day => new Date(day * 864e5).toISOString().slice(0, 10)).join(' ')
    }
    expect(named('this', 'week', undefined)).toBe('2024-03-25 2024-03-31')
    expect(named('last', 'month', undefined)).toBe('2024-02-01 2024-02-29')
    expect(named('last', 'day', 30)).toBe('2024-03-02 2024-03-31')
    expect(named('next', 'quarter', undefined)).toBe('2024-04-01 2024-06-30')
    expect(named('last', 'month', 4)).toBe('2023-12-01 2024-03-31')
    expect(named('next', 'year', 2)).toBe('2024-01-01 2025-12-31')
  })
})

describe('short phrases', () => {
  const of = (type: Field['type'], more: Partial<PhraseOf> = {}): PhraseOf => ({
    field: { key: 'k', type },
    ...more,
  })
  const reads = (type: Field['type'], phrase: string, more?: Partial<PhraseOf>): unknown => {
    const result = readPhrase(phrase, of(type, more))
    if (!result.ok) return `${phraseProblemText(result.problem)} ${result.problem.from}-${result.problem.to}`
    const { match, parts } = result.condition
    return parts.length === 1 ? parts[0] : [match, ...parts]
  }

  it('say conditions on text', () => {
    expect(reads('text', 'oak wood')).toEqual({ kind: 'contains', text: 'oak wood' })
    expect(reads('text', 'not seen')).toEqual({ kind: 'excludes', text: 'seen' })
    expect(reads('text', '"red" or "blue"')).toEqual([
      'any',
      { kind: 'equals', value: 'red' },
      { kind: 'equals', value: 'blue' },
    ])
    expect(reads('text', '"red", "blue"')).toEqual({ kind: 'one-of', values: ['red', 'blue'] })
    expect(reads('text', 'none of red, "a, b"')).toEqual({ kind: 'none-of', values: ['red', 'a, b'] })
    expect(reads('text', 'oak..')).toEqual({ kind: 'starts', text: 'oak' })
    expect(reads('text', '..ings')).toEqual({ kind: 'ends', text: 'ings' })
    expect(reads('text', '/^o and k$/')).toEqual({ kind: 'pattern', pattern: '^o and k$' })
    expect(reads('text', 'exactly “Red”')).toEqual({ kind: 'equals', value: 'Red', exact: true })
    expect(reads('text', 'missing')).toEqual({ kind: 'missing' })
    expect(reads('text', 'oak and not red')).toEqual([
      'all',
      { kind: 'contains', text: 'oak' },
      { kind: 'excludes', text: 'red' },
    ])
  })

  it('say conditions on numbers, dates, truths and tags', () => {
    expect(reads('number', '20..40')).toEqual({ kind: 'range', from: 20, to: 40 })
    expect(reads('number', '-3..')).toEqual({ kind: 'range', from: -3 })
    expect(reads('number', '> 3')).toEqual({ kind: 'above', value: 3 })
    expect(reads('number', '≤ .5')).toEqual({ kind: 'at-most', value: 0.5 })
    expect(reads('number', 'not 3')).toEqual({ kind: 'differs', value: 3 })
    expect(reads('number', '3, 5')).toEqual({ kind: 'one-of', values: [3, 5] })
    expect(reads('number', '< 3 or > 7')).toEqual([
      'any',
      { kind: 'below', value: 3 },
      { kind: 'above', value: 7 },
    ])
    expect(reads('date', 'this month')).toEqual({ kind: 'relative', which: 'this', unit: 'month' })
    expect(reads('date', 'Last 30 days')).toEqual({ kind: 'relative', which: 'last', unit: 'day', count: 30 })
    expect(reads('date', 'yesterday')).toEqual({ kind: 'relative', which: 'last', unit: 'day' })
    expect(reads('date', '2024-06')).toEqual({ kind: 'equals', value: '2024-06' })
    expect(reads('datetime', '2024-06-14T09:30..')).toEqual({ kind: 'range', from: '2024-06-14T09:30' })
    expect(reads('boolean', 'not seen', { title: 'Seen' })).toEqual({ kind: 'equals', value: false })
    expect(reads('boolean', 'lost', { yes: 'seen', no: 'lost' })).toEqual({ kind: 'equals', value: false })
    expect(reads('tags', 'wet')).toEqual({ kind: 'one-of', values: ['wet'] })
    expect(reads('tags', 'all of wet, "a, b"')).toEqual({ kind: 'all-of', values: ['wet', 'a, b'] })
  })

  it('that cannot be read say what is wrong, and where', () => {
    expect(reads('number', '3 or many')).toBe('“many” is not a number. 5-9')
    expect(reads('number', '40..20')).toBe('“40..20” begins after its end. 0-6')
    expect(reads('date', 'last summer')).toBe(
      '“last summer” is not a date such as 2024-06-14 or 2024-06. 0-11',
    )
    expect(reads('text', '"red')).toBe('What begins here with a quotation mark is not closed. 0-4')
    expect(reads('text', 'a and b or c')).toBe(
      'A phrase joins its parts by “and” or by “or”, not by both. 8-10',
    )
    expect(reads('text', '')).toBe('Something is missing here. 0-0')
    expect(reads('boolean', 'perhaps')).toBe('“perhaps” is not yes or no. 0-7')
  })

  const anyText = fc.oneof(
    fc.string({
      unit: fc.constantFrom('a', 'or', 'and', ' ', '"', '“', '/', '\\', '.', ',', 'not ', 'É', '\n'),
      minLength: 1,
      maxLength: 7,
    }),
    fc.string({ minLength: 1 }),
  )
  const exact = fc.constantFrom<{ exact?: true }>({}, { exact: true })
  const parts: Record<'text' | 'number' | 'date' | 'boolean' | 'tags', fc.Arbitrary<ConditionPart>> = {
    text: fc.oneof(
      fc
        .tuple(
          fc.constantFrom('contains' as const, 'excludes' as const, 'starts' as const, 'ends' as const),
          anyText,
          exact,
        )
        .map(([kind, text, more]) => ({ kind, text, ...more })),
      fc.tuple(anyText, exact).map(([pattern, more]) => ({ kind: 'pattern' as const, pattern, ...more })),
      fc
        .tuple(fc.constantFrom('equals' as const, 'differs' as const), anyText, exact)
        .map(([kind, value, more]) => ({ kind, value, ...more })),
      fc
        .tuple(
          fc.constantFrom('one-of' as const, 'none-of' as const),
          fc.array(anyText, { minLength: 1 }),
          exact,
        )
        .map(([kind, values, more]) => ({ kind, values, ...more })),
      fc.tuple(anyText, fc.jsonValue()).map(([name, values]) => ({
        kind: 'own' as const,
        name,
        values: JSON.parse(JSON.stringify(values)) as null,
      })),
      fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) }),
    ),
    number: randomPart('number'),
    date: randomPart('date'),
    boolean: randomPart('truth'),
    tags: fc
      .tuple(
        fc.constantFrom('one-of' as const, 'none-of' as const, 'all-of' as const),
        fc.array(anyText, { minLength: 1 }),
        exact,
      )
      .map(([kind, values, more]) => ({ kind, values, ...more })),
  }

  it.each(Object.keys(parts) as (keyof typeof parts)[])(
    'of %s columns read back as the condition they print',
    type => {
      fc.assert(
        fc.property(
          fc.constantFrom('all' as const, 'any' as const),
          fc.array(parts[type], { minLength: 1, maxLength: 3 }),
          (match, list) => {
            // Ends of ranges may come the wrong way round, and truths have one way to be said.
            fc.pre(
              !list.some(part => part.kind === 'range' && part.from !== undefined && part.to !== undefined),
            )
            const condition: Condition = { match: list.length === 1 ? 'all' : match, parts: list }
            const phrase = printPhrase(condition, of(type))
            const read = readPhrase(phrase, of(type))
            if (!read.ok) throw new Error(`${phrase}: ${phraseProblemText(read.problem)}`)
            expect([phrase, plain(read.condition, type)]).toEqual([phrase, plain(condition, type)])
          },
        ),
        runs(1000),
      )
    },
  )

  /** Without what JSON can say in two ways. */
  function plain({ match, parts }: Condition, type: Field['type']): unknown {
    const value = (given: unknown): unknown =>
      type === 'number'
        ? Number(given) + 0
        : typeof given === 'number'
          ? new Date(given * 864e5).toISOString().slice(0, 10)
          : given
    const told = parts.map(part => {
      if (part.kind === 'own') return part
      const { exact, ...rest } = { exact: undefined, ...part } as Record<string, unknown>
      if (rest.kind === 'differs' && type === 'boolean') return { kind: 'equals', value: !rest.value }
      const entries = Object.entries(rest).map(([key, given]) => {
        if (key === 'values') return [key, (given as unknown[]).map(value)]
        return ['value', 'from', 'to'].includes(key) ? [key, value(given)] : [key, given]
      })
      return { ...(Object.fromEntries(entries) as object), ...(exact ? { exact: true } : {}) }
    })
    return { match, told }
  }
})

describe('summaries', () => {
  it('say conditions in a few words', () => {
    const said = (type: Field['type'], ...parts: ConditionPart[]): string =>
      conditionSummary({ match: 'any', parts }, { key: 'k', type }, value => `<${String(value)}>`)
    expect(said('text', { kind: 'contains', text: 'oak' }, { kind: 'missing' })).toBe(
      'contains “oak” or missing',
    )
    expect(said('text', { kind: 'equals', value: 'Oak', exact: true })).toBe(
      'is “Oak”, case and accents counting',
    )
    expect(said('text', { kind: 'one-of', values: ['a', 'b', 'c', 'd'], exact: true })).toBe(
      '“a” or “b” or “c” or 1 more',
    )
    expect(said('number', { kind: 'range', from: 2, to: 4 })).toBe('<2> to <4>')
    expect(said('number', { kind: 'range', from: 2 })).toBe('at least <2>')
    expect(said('number', { kind: 'above', value: 3 })).toBe('above <3>')
    expect(said('date', { kind: 'relative', which: 'last', unit: 'day', count: 30 })).toBe('last 30 days')
    expect(said('date', { kind: 'relative', which: 'this', unit: 'day' })).toBe('today')
    expect(said('date', { kind: 'equals', value: '2024-06' })).toBe('is 2024-06')
    expect(said('tags', { kind: 'all-of', values: ['wet', 'dry'] })).toBe('wet and dry')
    expect(said('tags', { kind: 'none-of', values: ['wet'] })).toBe('not wet')
    expect(said('number', { kind: 'own', name: 'near', values: null })).toBe('near')
  })
})

describe('values with counts', () => {
  const ask = (column: string, conditions: FlowRequest['conditions'] = {}, limit = 10) =>
    finish(facetsOf(flowOver(finish(tableFromRows(ROWS))), request(conditions), column, { limit }))

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
