import { gzipSync } from 'node:zlib'
import * as arrow from 'apache-arrow'
import fc from 'fast-check'
import { parquetWriteBuffer } from 'hyparquet-writer'
import { describe, expect, it } from 'vitest'
import type { Value } from '../src/table/column.ts'
import { readBytes, readOk, rowsOf, typesOf } from './support/read-rows-back.ts'
import { runs } from './support/runs.ts'

/** A row in the values that a table keeps: days and times as numbers, big integers as their digits, tags as JSON. */
interface Row {
  readonly id: number
  readonly name: string | null
  readonly share: number | null
  readonly big: string | null
  readonly seen: boolean | null
  readonly day: number | null
  readonly at: number | null
}

const word = fc.string({
  unit: fc.constantFrom('a', 'é', '漢', '"', ',', '\n', ';', ' b', '😀'),
  minLength: 1,
  maxLength: 8,
})
const optional = <T>(values: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(values, { freq: 5 })

const randomRows: fc.Arbitrary<Row[]> = fc
  .array(
    fc.record({
      name: optional(word.map(text => `n${text}n`)),
      share: optional(fc.integer({ min: -99_999, max: 99_999 }).map(n => n / 100 + 0.001)),
      big: optional(fc.bigInt({ min: 2n ** 60n, max: 2n ** 62n }).map(String)),
      seen: optional(fc.boolean()),
      day: optional(fc.integer({ min: -20_000, max: 40_000 })),
      at: optional(fc.integer({ min: -1e12, max: 3e12 })),
    }),
    { minLength: 1, maxLength: 30 },
  )
  .map(rows => rows.map((row, id) => ({ id, ...row })))

const isoDay = (day: number): string => new Date(day * 864e5).toISOString().slice(0, 10)
const isoTime = (ms: number): string => new Date(ms).toISOString()
const KEYS = ['id', 'name', 'share', 'big', 'seen', 'day', 'at'] as const

/** As text that says each value exactly. */
function written(row: Row, key: keyof Row): string | null {
  const value = row[key]
  if (value === null) return null
  if (key === 'day') return isoDay(value as number)
  return key === 'at' ? isoTime(value as number) : String(value)
}

const csvOf = (rows: readonly Row[]): string => {
  const quoted = (text: string | null): string => (text === null ? '' : `"${text.replaceAll('"', '""')}"`)
  return [KEYS.join(','), ...rows.map(row => KEYS.map(key => quoted(written(row, key))).join(','))].join(
    '\r\n',
  )
}

/** JSON has no big integers in the language's own writer. */
function jsonRow(row: Row): string {
  const members = KEYS.flatMap(key => {
    const text = written(row, key)
    if (text === null) return row.id % 2 ? [] : [`"${key}":null`]
    const bare = ['id', 'share', 'big', 'seen'].includes(key)
    return [`${JSON.stringify(key)} : ${bare ? text : JSON.stringify(text)}`]
  })
  return `{${members.join(',')}}`
}

function arrowOf(rows: readonly Row[], format: 'file' | 'stream'): Uint8Array {
  const all = <T>(key: keyof Row): (T | null)[] => rows.map(row => row[key] as T | null)
  const table = new arrow.Table({
    id: arrow.vectorFromArray(all<number>('id'), new arrow.Int32()),
    name: arrow.vectorFromArray(all<string>('name'), new arrow.Utf8()),
    share: arrow.vectorFromArray(all<number>('share'), new arrow.Float64()),
    big: arrow.vectorFromArray(
      all<string>('big').map(text => text && BigInt(text)),
      new arrow.Int64(),
    ),
    seen: arrow.vectorFromArray(all<boolean>('seen'), new arrow.Bool()),
    day: arrow.vectorFromArray(
      all<number>('day').map(day => (day === null ? null : new Date(day * 864e5))),
      new arrow.DateDay(),
    ),
    at: arrow.vectorFromArray(
      all<number>('at').map(at => (at === null ? null : new Date(at))),
      new arrow.TimestampMillisecond('UTC'),
    ),
  })
  return arrow.tableToIPC(table, format)
}

function parquetOf(rows: readonly Row[]): ArrayBuffer {
  const all = <T>(key: keyof Row): (T | null)[] => rows.map(row => row[key] as T | null)
  const days = all<number>('day').map(day => (day === null ? undefined : new Date(day * 864e5)))
  return parquetWriteBuffer({
    columnData: [
      { name: 'id', data: all<number>('id') },
      { name: 'name', data: all<string>('name') },
      { name: 'share', data: all<number>('share') },
      { name: 'big', data: all<string>('big').map(text => text && BigInt(text)) },
      { name: 'seen', data: all<boolean>('seen') },
      { name: 'day', data: days },
      { name: 'at', data: all<number>('at').map(at => (at === null ? null : new Date(at))) },
    ],
    schema: [
      { name: 'root', num_children: 7 },
      { name: 'id', type: 'INT32', repetition_type: 'OPTIONAL' },
      { name: 'name', type: 'BYTE_ARRAY', converted_type: 'UTF8', repetition_type: 'OPTIONAL' },
      { name: 'share', type: 'DOUBLE', repetition_type: 'OPTIONAL' },
      { name: 'big', type: 'INT64', repetition_type: 'OPTIONAL' },
      { name: 'seen', type: 'BOOLEAN', repetition_type: 'OPTIONAL' },
      { name: 'day', type: 'INT32', converted_type: 'DATE', repetition_type: 'OPTIONAL' },
      { name: 'at', type: 'INT64', converted_type: 'TIMESTAMP_MILLIS', repetition_type: 'OPTIONAL' },
    ],
    rowGroupSize: 7,
    codec: rows.length % 2 ? 'SNAPPY' : 'UNCOMPRESSED',
  } as never)
}

async function gzip(bytes: BlobPart): Promise<ArrayBuffer> {
  const packed = new Uint8Array(gzipSync(new Uint8Array(await new Blob([bytes]).arrayBuffer()) as never))
  return packed.slice().buffer
}

const WRITERS: Readonly<Record<string, (rows: readonly Row[]) => BlobPart>> = {
  'delimited text': csvOf,
  JSON: rows => `[\n${rows.map(jsonRow).join(',\n')}\n]`,
  'JSON lists': rows =>
    JSON.stringify([
      KEYS,
      ...rows.map(row => KEYS.map(key => (key === 'big' ? `#${row.big}` : written(row, key)))),
    ])
      .replace(/"#(\d+)"/g, '$1')
      .replace(/"#null"/g, 'null')
      .replace(/"(-?\d+(?:\.\d+)?|true|false)"/g, '$1'),
  'JSON in an envelope': rows =>
    `{"page":{"size":${rows.length},"items":[${rows.map(jsonRow).join(' , ')}]},"total": 5000}`,
  'newline-delimited JSON': rows => `${rows.map(jsonRow).join('\n')}\n`,
  'an Arrow file': rows => arrowOf(rows, 'file') as BlobPart,
  'an Arrow stream': rows => arrowOf(rows, 'stream') as BlobPart,
  Parquet: parquetOf,
}

/** What comes back: fields that no row says anything of may be left out, or have no type of their own. */
function comparable(rows: readonly Record<string, Value>[]): Record<string, Value>[] {
  return rows.map(row => Object.fromEntries(KEYS.map(key => [key, row[key] ?? null])))
}

describe('random tables come back equal', () => {
  for (const [name, write] of Object.entries(WRITERS)) {
    it(`from ${name}, packed and not`, async () => {
      await fc.assert(
        fc.asyncProperty(randomRows, fc.boolean(), async (rows, packed) => {
          const bytes = write(rows)
          const raw = packed ? await gzip(bytes) : bytes
          const { table, report } = await readOk(raw)
          expect(report.gzip).toBe(packed)
          expect(report.faults).toEqual([])
          expect(comparable(rowsOf(table))).toEqual(rows.map(row => ({ ...row })))
        }),
        runs(60),
      )
    })
  }

  it('in every encoding', async () => {
    const text = 'name;größe\nÄpfel;1\n"naïve; café";2\n'
    const utf16 = (big: boolean, mark: boolean): Uint8Array => {
      const chars = [...((mark ? '\ufeff' : '') + text)].map(char => char.charCodeAt(0))
      return Uint8Array.from(chars.flatMap(code => (big ? [code >> 8, code & 255] : [code & 255, code >> 8])))
    }
    const latin = Uint8Array.from(text, char => char.charCodeAt(0))
    const expected = [
      { name: 'Äpfel', größe: 1 },
      { name: 'naïve; café', größe: 2 },
    ]
    for (const [bytes, encoding] of [
      [new TextEncoder().encode(text), 'utf-8'],
      [utf16(false, true), 'utf-16le'],
      [utf16(true, true), 'utf-16be'],
      [utf16(false, false), 'utf-16le'],
      [utf16(true, false), 'utf-16be'],
      [latin, 'windows-1252'],
    ] as const) {
      const { table, report } = await readOk(bytes as BlobPart)
      expect([report.encoding, rowsOf(table)]).toEqual([encoding, expected])
    }
    expect((await readOk(latin)).report.notUtf8Line).toBe(1)
  })
})

describe('broken input', () => {
  const codes = [
    'empty',
    'not-text',
    'not-utf8',
    'unclosed-quote',
    'not-json',
    'no-rows',
    'damaged',
    'too-many-fields',
  ]

  for (const [name, write] of Object.entries(WRITERS)) {
    it(`cut off or garbled, of ${name}, is told and never crashes`, async () => {
      await fc.assert(
        fc.asyncProperty(
          randomRows,
          fc.double({ min: 0, max: 1, noNaN: true }),
          fc.array(
            fc.tuple(fc.double({ min: 0, max: 0.999, noNaN: true }), fc.integer({ min: 0, max: 255 })),
            { maxLength: 4 },
          ),
          async (rows, share, changes) => {
            const bytes = new Uint8Array(await new Blob([write(rows)]).arrayBuffer())
            // Within a damaged column file other people's decoders may not come back; the page then ends the worker.
            const own = !/Arrow|Parquet/.test(name)
            for (const [place, byte] of own ? changes : []) bytes[Math.floor(place * bytes.length)] = byte
            const result = await readBytes(bytes.slice(0, Math.ceil(share * bytes.length)))
            if (!result.ok) expect(codes).toContain(result.problem.code)
            else
              for (const column of result.table.columns) expect(column.missing?.length ?? 0).toBeLessThan(10)
          },
        ),
        runs(150),
      )
    })
  }

  it('of gzip is told', async () => {
    const packed = await gzip('a,b\n1,2\n')
    expect(await readBytes(packed.slice(0, 14))).toMatchObject({
      ok: false,
      problem: { code: 'damaged', format: 'gzip' },
    })
  })

  it('keeps the rows before and after one that is no JSON', async () => {
    const { table, report } = await readOk('[{"a":1},\n{"a":2,,},\n{"a":3},\n7,\n{"a":4}]')
    expect(rowsOf(table)).toEqual([{ a: 1 }, { a: 3 }, { a: 4 }])
    expect(report.faults).toEqual([
      { code: 'not-json', count: 1, examples: [{ line: 2, text: '{"a":2,,},\n{"a":3},\n7,\n{"a":4}]' }] },
      { code: 'not-a-row', count: 1, examples: [{ line: 4, text: '7' }] },
    ])
    const lines = await readOk('{"a":1}\nnonsense {\n{"a":3}\n{"a"')
    expect(rowsOf(lines.table)).toEqual([{ a: 1 }, { a: 3 }])
    expect(lines.report.faults.map(({ code, examples }) => [code, examples[0].line])).toEqual([
      ['not-json', 2],
      ['cut-off', 4],
    ])
  })

  it('says where a document stops being JSON, and which lists it has', async () => {
    expect(await readBytes('{"a": 1,\n "b": tru }', { format: 'json' })).toEqual({
      ok: false,
      problem: { code: 'not-json', line: 2, column: 10, found: ' }' },
    })
    expect(await readBytes('{"items":[{"a":1}],"tags":["x"]}', { rowsPath: 'rows' })).toEqual({
      ok: false,
      problem: { code: 'no-rows', rowsPath: 'rows', lists: ['items', 'tags'] },
    })
  })

  it('refuses a table that would not fit, with its estimated need, before it is read', async () => {
    const line = '12345,some words that take room,0.25\n'
    const seen: number[] = []
    const result = await readBytes(
      `id,text,n\n${line.repeat(800_000)}`,
      {},
      { memoryBytes: 1 << 22, onBytes: done => seen.push(done) },
    )
    expect(result).toMatchObject({ ok: false, problem: { code: 'too-large', allowedBytes: 1 << 22 } })
    expect(!result.ok && result.problem.code === 'too-large' && result.problem.needBytes).toBeGreaterThan(
      1 << 22,
    )
    expect(Math.max(0, ...seen)).toBeLessThan(line.length * 800_000 * 0.7)
  })
})

describe('JSON', () => {
  it('takes keys of objects inside rows by their path, lists of texts as tags, other lists as their JSON', async () => {
    const { table } = await readOk('[{"a":{"b":{"c":1}},"t":["x","y"],"l":[1,[2]]},{"a":{"b":null},"t":[]}]')
    expect(rowsOf(table)).toEqual([
      { 'a.b.c': 1, 'a.b': null, t: '["x","y"]', l: '[1,[2]]' },
      { 'a.b.c': null, 'a.b': null, t: null, l: null },
    ])
    expect(typesOf(table)).toMatchObject({ 'a.b.c': 'integer', t: 'tags', l: 'text' })
  })

  it('finds rows and total in an envelope, and tells what else lies there', async () => {
    const { table, report } = await readOk(
      '{"took":3,"result":{"total":900,"hits":[{"a":"é\\n\\u00e9"}],"tags":["x","y"]}}',
    )
    expect(rowsOf(table)).toEqual([{ a: 'é\né' }])
    expect(report.json).toEqual({
      rowsPath: 'result.hits',
      lists: [
        { path: 'result.hits', length: 1 },
        { path: 'result.tags', length: 2 },
      ],
      beside: [
        { path: 'took', text: '3' },
        { path: 'result.total', text: '900' },
      ],
      total: { path: 'result.total', rows: 900 },
      header: false,
    })
    expect(rowsOf((await readOk('{"a":[{"x":1}],"b":[{"x":2},{"x":3}]}', { rowsPath: 'a' })).table)).toEqual([
      { x: 1 },
    ])
  })

  it('turns a column of different types into text without losing any', async () => {
    const { table, report } = await readOk('[{"a":1},{"a":"two"},{"a":true},{"a":2.5},{"a":null}]')
    expect(rowsOf(table).map(row => row.a)).toEqual(['1', 'two', 'true', '2.5', null])
    expect(report.columns[0]).toMatchObject({ type: 'text', likely: null })
  })

  it('reads rows that straddle blocks', async () => {
    const rows = Array.from({ length: 30_000 }, (_, i) => ({
      id: i,
      text: `row ${i} `.repeat(8),
      deep: { x: i / 4 },
    }))
    const { table } = await readOk(JSON.stringify({ meta: 1, rows }))
    expect(table.rows).toBe(30_000)
    expect(rowsOf(table)[29_999]).toEqual({ id: 29_999, text: rows[29_999].text, 'deep.x': 29_999 / 4 })
  })
})
