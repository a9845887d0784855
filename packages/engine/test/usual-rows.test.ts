import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readFile } from '../src/read/read-file.ts'
import { isMissing, valueAt } from '../src/table/column.ts'
import { runs } from './support/runs.ts'

type Json = null | boolean | number | string | Json[] | { [key: string]: Json }

/** Numbers as they may be written, each with what it is. */
const numbers = fc.oneof(
  fc.integer().map(String),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
  fc.constantFrom(
    '0',
    '-0',
    '0.10',
    '-0.5',
    '1e3',
    '1E-7',
    '123456789012345',
    '1234567.12345678',
    '0.1000000',
    '9007199254740991',
    '999999999',
    '9876543210',
    '98765432.10',
    '12345678.9',
    '-123456789.25',
    '1234567.89',
    '0.12345678',
  ),
)
const KEYS = [
  'id',
  'a',
  'ab',
  'a"b',
  'a\\b',
  'äöü',
  '',
  'constructor',
  'x.y',
  'line\nbreak',
  '\\u0041',
  'abcd',
  'abce',
  'abcdef',
  'abcdeg',
]

/** A row's keys in their order with the JSON of each value; of one type by its key, so that columns are what they are. */
const members = fc.tuple(
  fc.array(fc.boolean(), { minLength: KEYS.length, maxLength: KEYS.length }),
  fc.array(numbers, { minLength: KEYS.length, maxLength: KEYS.length }),
  fc.array(fc.string({ unit: 'grapheme', maxLength: 9 }), { minLength: KEYS.length, maxLength: KEYS.length }),
  fc.nat(40),
)
const SPACES = ['', '', '', ' ', '\n', ' \t\r\n']

function written(
  [present, told, texts, unusual]: [boolean[], string[], string[], number],
  space: string,
): string {
  const isUnusual = unusual === 0
  const pairs = KEYS.flatMap((key, i) => {
    if (i > 0 && !present[i] && texts[0].length < 5) return []
    const value =
      i === 1
        ? `{${space}"in"${space}:${space}${told[i]},"deep":{"er":${JSON.stringify(texts[i])}}}`
        : i === 2
          ? `[${texts
              .slice(0, 2)
              .map(text => JSON.stringify(text))
              .join(`,${space}`)}]`
          : i === 3
            ? String(present[0])
            : i % 2 === 0
              ? told[i]
              : JSON.stringify(texts[i])
    return [`${JSON.stringify(key)}${space}:${space}${present[i] || i === 1 ? value : 'null'}`]
  })
  if (isUnusual) pairs.reverse()
  return `{${space}${pairs.join(`${space},${space}`)}${space}}`
}

/** What a row says by the path of each field. */
function* fieldsOf(row: Json, path = ''): Iterable<[string, Json]> {
  for (const [key, value] of Object.entries(row as Record<string, Json>)) {
    const name = path === '' ? key : `${path}.${key}`
    if (value !== null && typeof value === 'object' && !Array.isArray(value)) yield* fieldsOf(value, name)
    else yield [name, value]
  }
}

const said = (value: Json): Json => {
  if (value === '' || (Array.isArray(value) && value.length === 0)) return null
  return Array.isArray(value) ? JSON.stringify(value) : value
}

describe('rows that are like those before', () => {
  it('are read as others are: as the language reads them', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(members, { minLength: 1, maxLength: 40 }),
        fc.constantFrom(...SPACES),
        fc.boolean(),
        async (rows, space, isList) => {
          const texts = rows.map(row => written(row, space))
          const lines = texts.map(text => text.replaceAll(/[\r\n]/g, ' '))
          const text = isList ? `[${texts.join(`${space},${space}`)}]` : lines.join('\n')
          const read = await readFile(new Blob([text]), { format: isList ? 'json' : 'ndjson' })
          if (!read.ok) throw new Error(JSON.stringify(read.problem))
          expect([read.table.rows, read.report.faults]).toEqual([rows.length, []])
          const columns = new Map(read.table.fields.map(({ key }, i) => [key, read.table.columns[i]]))
          texts.forEach((json, row) => {
            const wanted = new Map(fieldsOf(JSON.parse(json) as Json))
            for (const [key, column] of columns) {
              const value = isMissing(column, row) ? null : valueAt(column, row)
              // Numbers that no double tells keep their digits; times and days among texts are the business of others.
              const told = said(wanted.get(key) ?? null)
              const same = typeof told === 'number' ? Number(value) === told : value === told
              if (!same && !(typeof told === 'string' && typeof value !== 'string'))
                expect([row, key, value]).toEqual([row, key, told])
            }
          })
        },
      ),
      runs(300),
    )
  })

  const USUAL = '{"a":1,"b":"x"}'
  it.each([
    ['{"a":01,"b":"x"}', 'a zero before'],
    ['{"a":1.,"b":"x"}', 'nothing behind the point'],
    ['{"a":-,"b":"x"}', 'a sign alone'],
    ['{"a":1"b":"x"}', 'no comma'],
    ['{"a":1,"b":"x",}', 'a comma too many'],
    ['{"a":1,,"b":"x"}', 'two commas'],
    ['{"a":1,"b":"x\u0001"}', 'a control character'],
    ['{"a":1,"b":"\\x"}', 'an escape that is none'],
    ['{"a" 1,"b":"x"}', 'no colon'],
    ['{"a":1.5.2,"b":"x"}', 'two points'],
    ['{"a":nul,"b":"x"}', 'half a word'],
    ['{"a":1 "b":"x"}', 'a space for a comma'],
    ['{"a":123456789.,"b":"x"}', 'nothing behind the point of a long number'],
    ['{"a":12345678.9.1,"b":"x"}', 'two points in a long number'],
    ['{"a":0123456789,"b":"x"}', 'a zero before a long number'],
  ])('are not read where they are no JSON: %s (%s)', async broken => {
    const lines = [USUAL, USUAL, broken, USUAL]
    const read = await readFile(new Blob([lines.join('\n')]), { format: 'ndjson' })
    expect(read).toMatchObject({
      ok: true,
      table: { rows: 3 },
      report: { faults: [{ code: 'not-json', count: 1, examples: [{ line: 3 }] }] },
    })
  })

  it('may name a field twice: the first value holds, and it is told', async () => {
    const read = await readFile(
      new Blob([[USUAL, USUAL, '{"a":1,"b":"x","a":2}', '{"a":3,"a":4,"b":"y"}'].join('\n')]),
    )
    expect(read).toMatchObject({ ok: true, report: { faults: [{ code: 'doubled-key', count: 2 }] } })
    if (read.ok) expect([0, 1, 2, 3].map(row => valueAt(read.table.columns[0], row))).toEqual([1, 1, 1, 3])
  })

  it('are whole wherever a block ends', async () => {
    // A block is a megabyte, and more rows than one of them come before its end.
    for (const length of [0, 1, 7, 13, 20]) {
      const rows = Array.from(
        { length: 60_000 },
        (_, i) => `{"n":${i},"t":"text ${'x'.repeat(length)}","d":${i / 4}}`,
      )
      const read = await readFile(new Blob([rows.join('\n')]), { format: 'ndjson' })
      expect(read.ok && read.report.faults).toEqual([])
      if (!read.ok) return
      const [n, , d] = read.table.columns
      for (let i = 0; i < rows.length; i++)
        if (valueAt(n, i) !== i || valueAt(d, i) !== i / 4) expect(i).toBe('as written')
    }
  })

  it.each([
    ['[{"a":1},]', 1, 1],
    ['[{"a":1},,{"a":2}]', 2, 1],
    ['[,{"a":1}]', 1, 1],
    ['[{"a":1}{"a":2} {"a":3}]', 3, 2],
    ['[{"a":1}\n,\n{"a":2}]', 2, 0],
  ])('may have commas amiss between them, which is told: %s', async (text, rows, amiss) => {
    const read = await readFile(new Blob([text]))
    expect(read).toMatchObject({ ok: true, table: { rows } })
    const counts = read.ok ? read.report.faults.map(({ code, count }) => [code, count]) : []
    expect(counts).toEqual(amiss > 0 ? [['commas', amiss]] : [])
  })

  it('are none where there are commas alone', async () => {
    expect(await readFile(new Blob(['[,]']))).toMatchObject({ ok: false, problem: { code: 'not-json' } })
  })
})
