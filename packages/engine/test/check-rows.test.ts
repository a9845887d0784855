import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkRows, type RowToCheck } from '../src/check/check-rows.ts'
import { rowRules } from '../src/definition/row-rules.ts'
import { checkValue } from '../src/check/check-value.ts'
import { readDefinition, type DefinitionInput } from '../src/definition/definition.ts'
import { columnEditSchema } from '../src/check/edit-schema.ts'
import { parseColumns } from '../src/expression/expressions.ts'
import { plainValue } from '../src/check/plain-value.ts'
import { readRows } from '../src/read/rows/read-rows.ts'
import { PageSource } from '../src/source/page-source.ts'
import { emptyBits, setBit } from '../src/table/bits.ts'
import type { Field, FieldType, Value } from '../src/table/column.ts'
import { asRowId } from '../src/table/row-id.ts'
import { finish } from '../src/work/work.ts'
import { runs } from './support/runs.ts'

const codeOf = (value: Value, type: FieldType, edit: object): string | null =>
  checkValue(value, columnEditSchema.parse(edit), { key: 'f', type })?.code ?? null

describe('what a value alone tells', () => {
  it('is checked up to and with its bounds', () => {
    expect(codeOf(null, 'number', { required: true })).toBe('required')
    expect(codeOf(null, 'number', { least: 5 })).toBe(null)
    expect([4.99, 5, 7, 7.01].map(n => codeOf(n, 'number', { least: 5, most: 7 }))).toEqual([
      'below-least',
      null,
      null,
      'above-most',
    ])
    expect([3, 3.5].map(n => codeOf(n, 'number', { whole: true }))).toEqual([null, 'not-whole'])
    expect(['a', 'ab', 'abc', 'abcd'].map(t => codeOf(t, 'text', { shortest: 2, longest: 3 }))).toEqual([
      'too-short',
      null,
      null,
      'too-long',
    ])
    const days = ['2024-02-29', '2024-03-01', '2024-03-02'].map(day => Date.parse(day) / 86_400_000)
    expect(days.map(day => codeOf(day, 'date', { least: '2024-03-01', most: '2024-03-01' }))).toEqual([
      'below-least',
      null,
      'above-most',
    ])
    expect(codeOf('b', 'text', { choices: ['a', 'c'] })).toBe('not-a-choice')
    expect(codeOf('b', 'text', { choices: ['a', 'c'], onlyChoices: false })).toBe(null)
    expect(codeOf('["a","b"]', 'tags', { choices: ['a', 'c'] })).toBe('not-a-choice')
    expect(codeOf('["a","c"]', 'tags', { choices: ['a', 'c'], longest: 1 })).toBe('too-long')
    // Numbers that no double tells apart.
    expect(codeOf('9007199254740993', 'integer', { most: 9007199254740992 })).toBe('above-most')
  })
})

const DEFINITION: DefinitionInput = {
  format: 'vast-meadow-grid',
  version: 3,
  key: 'id',
  columns: [
    { key: 'id', title: 'Id', edit: {} },
    { key: 'code', title: 'Code', edit: { unique: true, pattern: '^[a-c]+$', says: 'letters a to c' } },
    { key: 'site', title: 'Site', edit: { choices: { of: 'site' } } },
    { key: 'plot', title: 'Plot', edit: { choices: { of: 'plot', like: ['site'] } } },
    { key: 'low', title: 'Low', edit: { check: 'low <= high' } },
    { key: 'high', title: 'High', edit: {} },
    { key: 'span', title: 'Span', expression: 'high - low' },
  ],
  editing: { checks: [{ holds: 'span < 8', says: 'too wide', columns: [] }] },
}
const read = readDefinition(DEFINITION)
if (!read.ok) throw new Error(JSON.stringify(read.problems))
const RULES = rowRules(read.definition)
const COMPUTED = [{ key: 'span', expression: 'high - low' }]
const parsed = parseColumns([
  ...COMPUTED,
  ...RULES.rules.map(({ key, expression }) => ({
    key,
    expression,
    wanted: 'boolean' as const,
    internal: true,
  })),
])

interface Row {
  readonly id: number
  readonly code: string | null
  readonly site: string | null
  readonly plot: string | null
  readonly low: number | null
  readonly high: number | null
}
const some = fc.option(fc.integer({ min: 0, max: 12 }))
const row = (id: number): fc.Arbitrary<Row> =>
  fc.record({
    id: fc.constant(id),
    code: fc.option(fc.constantFrom('a', 'b', 'ab', 'abc', 'x', 'ax', 'cc')),
    site: fc.option(fc.constantFrom('mere', 'fen', 'bog')),
    plot: fc.option(fc.constantFrom('p', 'q', 'r')),
    low: some,
    high: some,
  })

/** What is wrong with the rows as they are to be, row by row and plainly. */
function wrongIn(all: readonly Row[], checked: readonly Row[], others: readonly Row[]): string[] {
  return checked.flatMap((one, nth) => {
    const wrong: string[] = []
    const peers = [...others, ...checked.filter((_, at) => at !== nth)]
    if (peers.some(({ id }) => id === one.id)) wrong.push('id not-unique')
    if (one.code && peers.some(({ code }) => code === one.code)) wrong.push('code not-unique')
    if (one.code && !/^[a-c]+$/.test(one.code)) wrong.push('code not-matching')
    if (one.site && !all.some(({ site }) => site === one.site)) wrong.push('site not-a-choice')
    const like = all.filter(({ site }) => one.site === null || site === one.site)
    if (one.plot && !like.some(({ plot }) => plot === one.plot)) wrong.push('plot not-a-choice-beside')
    if (one.low !== null && one.high !== null && one.low > one.high) wrong.push('low not-holding')
    if (one.low !== null && one.high !== null && one.high - one.low >= 8) wrong.push('- not-holding')
    return wrong.map(text => `${nth} ${text}`)
  })
}

describe('rows as they are to be', () => {
  it('are checked against expressions, patterns, one another and all others', async () => {
    const columns = await parsed
    const rows = fc
      .nat({ max: 12 })
      .chain(count => fc.tuple(...Array.from({ length: count }, (_, id) => row(id))))
    const changes = fc.array(fc.tuple(fc.nat({ max: 13 }), row(0), fc.boolean()), { maxLength: 5 })
    fc.assert(
      fc.property(rows, changes, fc.array(fc.nat({ max: 12 }), { maxLength: 3 }), (saved, changed, gone) => {
        // One row more, so that every column has a type.
        const all: Row[] = [...saved, { id: 99, code: 'cab', site: 'dale', plot: 'p', low: 1, high: 2 }]
        const { table } = finish(
          readRows(
            all.map(one => ({ ...one })),
            {
              code: { type: 'text' },
              site: { type: 'text' },
              plot: { type: 'text' },
              low: { type: 'number' },
              high: { type: 'number' },
            },
          ),
        )
        const absent = emptyBits(table.rows)
        const gones = new Set(gone.filter(at => at < saved.length))
        for (const at of gones) setBit(absent, at)
        const asked = new Map<number | string, { row: number | null; whole: Row }>()
        for (const [at, to, isNew] of changed) {
          const target = at < saved.length && !gones.has(at) && !isNew ? at : null
          const id = target === null ? 100 + at : saved[at]!.id
          asked.set(target ?? `n${at}`, { row: target, whole: { ...to, id } })
        }
        const checked = [...asked.values()]
        const toCheck = checked.map(({ row: number, whole }): RowToCheck => {
          const values = Object.fromEntries(Object.entries(whole)) as Record<string, Value>
          const fieldOf = (key: string): Field => table.fields.find(one => one.key === key)!
          const plain = Object.fromEntries(
            Object.entries(values).map(([key, v]) => [key, plainValue(v, fieldOf(key))]),
          )
          return { row: number, values, plain }
        })
        const told = finish(checkRows(table, absent, toCheck, RULES, columns, []))
        const there = all.filter((_, at) => !gones.has(at))
        const others = all.filter((_, at) => !gones.has(at) && !asked.has(at))
        const expected = wrongIn(
          there,
          checked.map(({ whole }) => whole),
          others,
        )
        expect(
          told.map(({ nth, field, problem }) => `${nth} ${field ?? '-'} ${problem.code}`).sort(),
        ).toEqual(expected.sort())
      }),
      runs(300),
    )
  })

  it('goes by what a row has where that is not changed, and by each tag alone', () => {
    const { table } = finish(
      readRows(
        [
          { id: 1, site: 'mere', plot: 'a', tags: ['x', 'y'] },
          { id: 2, site: 'fen', plot: 'b', tags: ['z'] },
          { id: 3, site: 'bog', plot: null, tags: [] },
        ],
        { tags: { type: 'tags' } },
      ),
    )
    const problem = { code: 'not-a-choice' as const }
    const among = [
      { field: 'plot', of: 'plot', like: ['site'], problem },
      { field: 'tags', of: 'tags', like: [], problem },
    ]
    const rules = { rules: [], unique: [], amongValuesOf: among }
    const check = (row: number | null, values: Record<string, Value>): string[] =>
      finish(
        checkRows(
          table,
          null,
          [{ row, values, plain: {} }],
          rules,
          { columns: [], problems: [] } as never,
          [],
        ),
      ).map(({ field }) => String(field))
    expect(check(0, { plot: 'b' })).toEqual(['plot'])
    expect(check(0, { site: 'fen' })).toEqual(['plot'])
    expect(check(0, { site: 'fen', plot: 'b' })).toEqual([])
    expect(check(0, { site: null, plot: 'b' })).toEqual([])
    expect(check(0, { id: 9 })).toEqual([])
    expect(check(null, { plot: 'b' })).toEqual([])
    expect(check(2, { plot: 'a' })).toEqual(['plot'])
    expect(check(0, { tags: '["x","z"]' })).toEqual([])
    expect(check(0, { tags: '["x","w"]' })).toEqual(['tags'])
  })

  it('find no choice in what is pending, be it their own', async () => {
    const { table } = finish(
      readRows([
        { id: 1, site: 'mere' },
        { id: 2, site: 'fen' },
      ]),
    )
    const source = new PageSource({ kind: 'table', table }, [], {}, {})
    await source.open()
    await source.commit({ pending: [{ id: 1, site: 'bog' }] }, ['id'])
    const problem = { code: 'not-a-choice' as const }
    const rules = { rules: [], unique: [], amongValuesOf: [{ field: 'site', of: 'site', like: [], problem }] }
    const ask = async (values: Record<string, Value>): Promise<unknown[]> =>
      await source.ask('checkRows', { rows: [{ id: asRowId(0), values }], rules, computed: [], without: [] })
    expect(await ask({ site: 'bog' })).toHaveLength(1)
    expect(await ask({ site: 'mere' })).toEqual([])
  })

  it('tell of an expression that cannot be worked out', async () => {
    const { table } = finish(readRows([{ id: 1, low: 2 }]))
    const rule = {
      key: 'r',
      expression: 'nowhere > 1',
      fields: ['low'],
      problem: { code: 'not-holding' as const, expression: 'nowhere > 1', says: null },
      onlyPresent: true,
    }
    const columns = await parseColumns([{ key: 'r', expression: rule.expression, wanted: 'boolean' }])
    const rules = { rules: [rule], unique: [], amongValuesOf: [] }
    const rows = [{ row: 0, values: { low: 3 }, plain: { low: 3 } }]
    const [told] = finish(checkRows(table, null, rows, rules, columns, []))
    expect(told?.problem).toMatchObject({ code: 'check-failed' })
  })
})
