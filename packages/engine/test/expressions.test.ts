import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { checkExpression } from '../src/expression/check.ts'
import { computeColumn } from '../src/expression/compute-column.ts'
import { bindColumns, parseColumns, readExpression } from '../src/expression/expressions.ts'
import { scalarFunctions } from '../src/expression/functions/index.ts'
import { CHUNK } from '../src/expression/kernels/vector.ts'
import { parseExpression } from '../src/expression/parser.ts'
import { compilePattern } from '../src/expression/pattern.ts'
import type { Tree } from '../src/expression/tree.ts'
import { printTree } from '../src/expression/print-tree.ts'
import { expressionProblemText } from '../src/words/expression-problem-text.ts'
import { readRows, tableFromRows, type RowObject } from '../src/read/rows/read-rows.ts'
import { valueAt, type Field, type Table, type Value } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { evaluate } from './support/evaluate.ts'
import { runs } from './support/runs.ts'

const ROWS: RowObject[] = [
  {
    site: 'Lower Ings',
    count: 3,
    cover: 38.25,
    seen: '2024-06-14',
    at: '2024-06-14T22:30:00Z',
    sure: true,
    tags: ['wet', 'rare'],
    'Cover %': 5,
  },
  {
    site: 'Élan',
    count: 12,
    cover: 4.5,
    seen: '2023-12-31',
    at: '2023-12-31T23:30:00Z',
    sure: false,
    tags: ['dry'],
    'Cover %': 7,
  },
  { site: null, count: null, cover: null, seen: null, at: null, sure: null, tags: null, 'Cover %': null },
]

function valuesOf(expression: string, rows: readonly RowObject[] = ROWS): Value[] {
  const table = finish(tableFromRows(rows))
  const parsed = parseExpression(expression)
  if (!parsed.ok) throw new Error(expressionProblemText(parsed.problem))
  const checked = checkExpression(parsed.tree, table.fields, compilePattern)
  if (!checked.ok) throw new Error(expressionProblemText(checked.problem))
  const column = finish(computeColumn(checked.typed, table))
  return rows.map((_, row) => valueAt(column, row))
}

function problemOf(expression: string): string {
  const parsed = parseExpression(expression)
  const { fields } = finish(tableFromRows(ROWS))
  const result = parsed.ok ? checkExpression(parsed.tree, fields, compilePattern) : parsed
  if (result.ok) return 'none'
  const { from, to } = result.problem.at
  return `${expression.slice(from, to)}: ${expressionProblemText(result.problem)}`
}

describe('what expressions come to', () => {
  test.each<[string, Value[]]>([
    ['cover > 20.0 ? "dense" : "open"', ['dense', 'open', 'open']],
    ['has(cover) ? string(cover) : "not measured"', ['38.25', '4.5', 'not measured']],
    ['count / 2', [1.5, 6, null]],
    ['count % 2 == 0', [false, true, false]],
    ['!(count > 5)', [true, false, true]],
    ['count != 3', [false, true, false]],
    ['-count', [-3, -12, null]],
    ['count / (count - 3)', [null, 12 / 9, null]],
    ['site.lower() + "!"', ['lower ings!', 'élan!', null]],
    ['fold(site)', ['lower ings', 'elan', null]],
    ['size(site)', [10, 4, null]],
    ['site.matches("^L.*s$")', [true, false, false]],
    ['site.substring(1, 3)', ['ow', 'la', null]],
    ['site.indexOf("n")', [7, 3, null]],
    ['site in ["Élan", "x"]', [false, true, false]],
    ['count in [3, 4]', [true, false, false]],
    ['"rare" in tags', [true, false, false]],
    ['size(tags)', [2, 1, null]],
    ['row["Cover %"] * 2', [10, 14, null]],
    ['seen.getMonth() * 100 + seen.getDate()', [614, 1231, null]],
    ['seen.getDayOfWeek()', [5, 7, null]],
    ['seen.getDayOfYear()', [166, 365, null]],
    ['seen - date("2024-06-01") > duration("10d")', [true, false, false]],
    ['(seen - date("2024-06-01")).getDays()', [13, -153, null]],
    ['string(seen + duration("1d"))', ['2024-06-15', '2024-01-01', null]],
    ['at.getHours()', [22, 23, null]],
    ['at.getHours("Europe/Madrid")', [0, 0, null]],
    ['at.getFullYear("Europe/Madrid")', [2024, 2024, null]],
    ['sure ? 1 : 2', [1, 2, 2]],
    ['sure', [true, false, null]],
    ['count > 5 ? site : null', [null, 'Élan', null]],
    ['fact.number', [1, 2, 3]],
    ['math.round(cover)', [38, 5, null]],
    ['math.round(-2.5) + 0 * fact.number', [-3, -3, -3]],
    ['math.round(cover / 3, 1)', [12.8, 1.5, null]],
    ['math.round(0.49999999999999994)', [0, 0, 0]],
    [
      'math.round(4503599627370497.0) + 0 * fact.number',
      [4503599627370497, 4503599627370497, 4503599627370497],
    ],
    ['math.round(9007199254740991.0)', [9007199254740991, 9007199254740991, 9007199254740991]],
    ['math.round(1.005, 2)', [1.01, 1.01, 1.01]],
    ['math.round(-1.005, 2)', [-1.01, -1.01, -1.01]],
    ['math.round(2.675, 2)', [2.68, 2.68, 2.68]],
    ['math.round(1250.0, -2)', [1300, 1300, 1300]],
    ['math.round(1e308, 5)', [1e308, 1e308, 1e308]],
    ['math.round(0.1, 400)', [0.1, 0.1, 0.1]],
    ['1e200 * 1e200', [Infinity, Infinity, Infinity]],
    ['1e200 * 1e200 - 1e200 * 1e200 == 0.0', [false, false, false]],
    ['string(at)', ['2024-06-14 22:30:00Z', '2023-12-31 23:30:00Z', null]],
    ['string(timestamp("2024-06-14T10:00:00+02:00"))', Array(3).fill('2024-06-14 08:00:00Z')],
    ['string(timestamp("2024-06-14T10:00:00"))', Array(3).fill('2024-06-14 10:00:00')],
    ['double("1.204,5")', [1204.5, 1204.5, 1204.5]],
    ['double("0.1234567890123456789")', Array(3).fill(0.12345678901234568)],
    ['double("12345678901234567890")', Array(3).fill(12345678901234567890)],
    ['string(date("14.06.2024"))', Array(3).fill('2024-06-14')],
    ['string(time("9:30"))', Array(3).fill('09:30:00')],
    ['date(site) == seen', [false, false, false]],
    ['1.5 + 1', [2.5, 2.5, 2.5]],
  ])('%s', (expression, expected) => {
    expect(valuesOf(expression)).toEqual(expected)
  })

  test('a result is whole where its parts are, and has the digits that they have', () => {
    const { fields } = finish(tableFromRows(ROWS))
    const typeOf = (expression: string) => {
      const parsed = parseExpression(expression)
      const checked = parsed.ok && checkExpression(parsed.tree, fields)
      return checked && checked.ok ? [checked.typed.type, checked.typed.decimals] : null
    }
    expect(typeOf('count + 1')).toEqual(['number', 0])
    expect(typeOf('count + cover')).toEqual(['number', 2])
    expect(typeOf('cover * 1.5')).toEqual(['number', 3])
    expect(typeOf('count / 2')).toEqual(['number', 2])
    expect(typeOf('int(cover)')).toEqual(['number', 0])
  })
})

describe('what is found before anything runs', () => {
  test.each([
    ['covr > 2', 'covr: There is no field “covr”. Did you mean “cover”?'],
    ['cover > "2"', '>: “>” does not take a number and text; it takes a number and a number.'],
    ['site.lowr()', 'lowr: There is no function “lowr”. Did you mean “lower”?'],
    ['cover ? 1 : 2', '?: “?” does not take a number; it takes yes or no.'],
    ['sure ? 1 : "x"', '?: Both sides of “:” must be of one type; these are a number and text.'],
    ['cover == null', '==: A comparison with null is never true. Ask with has(…) whether there is a value.'],
    ['seen > date("2024-13-01")', '": “2024-13-01” is not a date.'],
    ['site.matches("(")', '": “(” is not a pattern in RE2 syntax.'],
    [
      'site.matches(site)',
      'site: What “matches” looks for must be written out in quotes; it cannot come from a field.',
    ],
    ['at.getHours("Nowhere")', '": “Nowhere” as a time zone cannot be used here.'],
    ['cover >', ': The expression ends too early.'],
    ['cover > (2 + ', '(: This ( is not closed; the expression ends too early.'],
    ['site == "abc', '": This " is not closed; the expression ends too early.'],
    ['cover cover', 'cover: “cover” cannot stand here.'],
    ['', ': The expression ends too early.'],
    [
      'tags.exists(t, t == "a")',
      '.: Going through a list, with exists, all, map or filter, cannot be used here.',
    ],
    ['[1, 2]', '[: A list that is not behind “in” cannot be used here.'],
    ['{"a": 1}', '{: A map in braces cannot be used here.'],
    ['row["Covr %"]', 'row["Covr %"]: There is no field “Covr %”. Did you mean “cover”?'],
  ])('%s', (expression, expected) => {
    expect(problemOf(expression)).toBe(expected)
  })

  test('every function names itself by how it is written, and takes what it says', () => {
    for (const { name, written, method, overloads, help } of scalarFunctions) {
      expect(written.replace(/^\./, '').startsWith(`${name}(`)).toBe(true)
      expect(help.endsWith('.')).toBe(true)
      for (const { takes } of overloads) expect(takes.length).toBeGreaterThanOrEqual(method ? 1 : 0)
    }
    const names = scalarFunctions.map(({ name, method }) => `${method}${name}`)
    expect(new Set(names).size).toBe(names.length)
  })
})

describe('columns that are computed from one another', () => {
  const fields: Field[] = [{ key: 'n', type: 'integer' }]
  const column = (key: string, expression: string) => ({ key, expression })

  test('come after those they read', async () => {
    const parsed = await parseColumns([column('c', 'b + 1'), column('b', 'a + 1'), column('a', 'n + 1')])
    const { bound, problems } = bindColumns(parsed, fields)
    expect(bound.map(({ column: { key } }) => key)).toEqual(['a', 'b', 'c'])
    expect(problems).toEqual([])
  })

  test('that read one another in a circle are all told', async () => {
    const parsed = await parseColumns([column('a', 'b + 1'), column('b', 'a + 1'), column('d', 'n')])
    const { bound, problems } = bindColumns(parsed, fields)
    expect(bound.map(({ field }) => field.key)).toEqual(['d'])
    expect(problems.map(({ key, problem }) => [key, problem.code])).toEqual([
      ['a', 'circular'],
      ['b', 'circular'],
    ])
  })

  test('a duration is no column, and a style asks for yes or no', async () => {
    const parsed = await parseColumns([
      column('d', 'duration("1h")'),
      { key: 's', expression: 'n', wanted: 'boolean' as const },
    ])
    const { problems } = bindColumns(parsed, fields)
    expect(problems.map(({ problem }) => expressionProblemText(problem))).toEqual([
      'The result cannot be a duration. Say its unit, for example with .getHours().',
      'The result must be yes or no; it is a number.',
    ])
  })

  test('the packaged parser is what reads them', async () => {
    expect((await readExpression('n + 1', fields)).ok).toBe(true)
    expect((await readExpression('string(n).matches("1+")', fields)).ok).toBe(true)
  })
})

// ── Random expressions beside the plain evaluator ────────────────────────────────────────────────────────────────

interface Written {
  readonly number: string
  readonly text: string
  readonly truth: string
}

const { number, text, truth } = fc.letrec<Written>(tie => ({
  number: fc.oneof(
    { maxDepth: 4, withCrossShrink: true },
    fc.constantFrom(
      'n',
      'x',
      'big',
      '0',
      '2',
      '0.5',
      '-3',
      'fact.number',
      'day.getMonth()',
      'day.getDate()',
      'day.getFullYear()',
      'size(tags)',
    ),
    fc
      .tuple(tie('number'), fc.constantFrom('+', '-', '*', '/', '%'), tie('number'))
      .map(([a, op, b]) => `(${a} ${op} ${b})`),
    fc.tuple(tie('truth'), tie('number'), tie('number')).map(([a, b, c]) => `(${a} ? ${b} : ${c})`),
    fc
      .tuple(fc.constantFrom('abs', 'floor', 'ceil', 'round'), tie('number'))
      .map(([f, a]) => `math.${f}(${a})`),
    fc
      .tuple(fc.constantFrom('least', 'greatest'), tie('number'), tie('number'))
      .map(([f, a, b]) => `math.${f}(${a}, ${b})`),
    tie('text').map(a => `size(${a})`),
    tie('text').map(a => `double(${a})`),
  ),
  text: fc.oneof(
    { maxDepth: 4, withCrossShrink: true },
    fc.constantFrom('word', 'note', '"a"', '"É"', '""'),
    fc.tuple(tie('text'), tie('text')).map(([a, b]) => `(${a} + ${b})`),
    fc.tuple(tie('truth'), tie('text'), tie('text')).map(([a, b, c]) => `(${a} ? ${b} : ${c})`),
    fc.tuple(tie('truth'), tie('text')).map(([a, b]) => `(${a} ? ${b} : null)`),
    fc.tuple(tie('text'), fc.constantFrom('lower', 'upper', 'trim')).map(([a, f]) => `${a}.${f}()`),
    tie('text').map(a => `fold(${a})`),
    fc.tuple(tie('text'), tie('text')).map(([a, b]) => `${a}.replace("a", ${b})`),
    tie('text').map(a => `${a}.substring(1, 3)`),
    tie('number').map(a => `string(math.floor(${a}))`),
  ),
  truth: fc.oneof(
    { maxDepth: 4, withCrossShrink: true },
    fc.constantFrom(
      'sure',
      'true',
      'has(x)',
      'has(word)',
      '"wet" in tags',
      'n in [1, 2, 3]',
      'word in ["a", "b"]',
      'day > date("2024-01-01")',
    ),
    fc
      .tuple(tie('number'), fc.constantFrom('==', '!=', '<', '<=', '>', '>='), tie('number'))
      .map(([a, op, b]) => `(${a} ${op} ${b})`),
    fc
      .tuple(tie('text'), fc.constantFrom('==', '!=', '<', '>='), tie('text'))
      .map(([a, op, b]) => `(${a} ${op} ${b})`),
    fc
      .tuple(tie('truth'), fc.constantFrom('&&', '||'), tie('truth'))
      .map(([a, op, b]) => `(${a} ${op} ${b})`),
    tie('truth').map(a => `!(${a})`),
    fc
      .tuple(tie('text'), fc.constantFrom('contains', 'startsWith', 'endsWith'), tie('text'))
      .map(([a, f, b]) => `${a}.${f}(${b})`),
    tie('text').map(a => `${a}.matches("^[a-z]+$")`),
  ),
}))

const optional = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { freq: 4, nil: null })
const rows = fc.array(
  fc.record({
    n: optional(fc.integer({ min: -4, max: 9 })),
    x: optional(fc.integer({ min: -900, max: 900 }).map(n => n / 8)),
    big: optional(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 })),
    word: optional(fc.constantFrom('a', 'b', 'Élan', 'lower ings')),
    note: optional(fc.string({ unit: fc.constantFrom('a', 'B', 'é', '7', ' ', '😀'), maxLength: 5 })),
    sure: optional(fc.boolean()),
    day: optional(
      fc.integer({ min: 0, max: 2000 }).map(n => new Date(1.6e12 + n * 864e5).toISOString().slice(0, 10)),
    ),
    tags: optional(fc.uniqueArray(fc.constantFrom('wet', 'dry', 'rare'), { minLength: 1 })),
  }),
  { minLength: 1, maxLength: 12 },
)

/** Every column present and of its type, whatever the random rows hold. */
const FIRST: RowObject = {
  n: 1,
  x: 1.5,
  big: 0.25,
  word: 'a',
  note: 'zz',
  sure: true,
  day: '2024-02-29',
  tags: ['wet'],
}

function tableOf(list: readonly RowObject[]): Table {
  return finish(readRows(list, { word: { type: 'text' }, note: { type: 'text' } })).table
}

test('texts of many digits are the nearest number, with leading zeros they are names', () => {
  const table = tableOf([
    { code: '999999999999999900000', name: 'a' },
    { code: '-12345678901234567', name: 'b' },
    { code: '0123', name: 'c' },
  ])
  const parsed = parseExpression('double(code + "")')
  const checked = parsed.ok && checkExpression(parsed.tree, table.fields, compilePattern)
  if (!checked || !checked.ok) throw new Error('double(code + "") was refused.')
  const column = finish(computeColumn(checked.typed, table))
  expect([0, 1, 2].map(row => valueAt(column, row))).toEqual([9.999999999999999e20, -12345678901234568, null])
})

test('random expressions come to what the plain evaluator says', () => {
  fc.assert(
    fc.property(rows, fc.oneof(number, text, truth), (random, expression) => {
      const table = tableOf([FIRST, ...random])
      const parsed = parseExpression(expression)
      if (!parsed.ok) throw new Error(`${expression}: ${expressionProblemText(parsed.problem)}`)
      const checked = checkExpression(parsed.tree, table.fields, compilePattern)
      if (!checked.ok) {
        // Two nulls, or nothing to choose from: said before anything runs.
        expect(['nothing-compared', 'branches-differ']).toContain(checked.problem.code)
        return
      }
      const column = finish(computeColumn(checked.typed, table))
      for (let row = 0; row < table.rows; row++) {
        const plain = Object.fromEntries(
          table.fields.map(({ key }, i) => [key, valueAt(table.columns[i], row)]),
        )
        const wanted = evaluate(parsed.tree, plain, row + 1)
        expect([expression, valueAt(column, row)]).toEqual([expression, wanted === 0 ? 0 : wanted])
      }
    }),
    runs(1500),
  )
})

test('random expressions are printed as text that reads back as the same', () => {
  // The parser groups a row of && or || as it likes; they mean the same.
  const flat = (tree: Tree, name: string): Tree[] =>
    tree.kind === 'call' && tree.name === name ? tree.args.flatMap(arg => flat(arg, name)) : [tree]
  const bare = (tree: Tree): unknown => {
    if (tree.kind === 'list') return tree.items.map(bare)
    if (tree.kind !== 'call') return { ...tree, at: 0 }
    const args = tree.name === '&&' || tree.name === '||' ? flat(tree, tree.name) : tree.args
    return [tree.name, tree.method, args.map(bare)]
  }
  fc.assert(
    fc.property(fc.oneof(number, text, truth), expression => {
      const parsed = parseExpression(expression)
      if (!parsed.ok) throw new Error(expression)
      const printed = printTree(parsed.tree)
      const again = parseExpression(printed)
      if (!again.ok) throw new Error(`${expression} became ${printed}`)
      expect([printed, bare(again.tree)]).toEqual([printed, bare(parsed.tree)])
    }),
    runs(1000),
  )
})

test('chunks, dictionaries and rows beyond them come to the same', () => {
  const many = Array.from({ length: CHUNK * 2 + 77 }, (_, i) => ({
    n: i % 9 === 0 ? null : i,
    word: `w${i % 13}`,
    note: i % 7 === 0 ? null : `note ${i}`,
  }))
  const table = finish(tableFromRows(many))
  for (const expression of [
    'n > 5000 ? word : note',
    'word + note',
    'word.upper() + word',
    'note.contains("77")',
    'n % 100 == 0 ? word + "!" : (n % 3 == 0 ? note.upper() : null)',
    'size(note) + n',
  ]) {
    const parsed = parseExpression(expression)
    const checked = parsed.ok && checkExpression(parsed.tree, table.fields)
    if (!parsed.ok || !checked || !checked.ok) throw new Error(expression)
    const column = finish(computeColumn(checked.typed, table))
    const got = many.map((_, row) => valueAt(column, row))
    expect(got).toEqual(many.map((row, i) => evaluate(parsed.tree, row, i + 1)))
  }
})
