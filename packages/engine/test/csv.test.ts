import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readFile, type ReadResult } from '../src/read/read-file.ts'
import type { ReadOptions } from '../src/read/read-report.ts'
import { valueAt, type Table, type Value } from '../src/table/column.ts'
import { CancelledError } from '../src/work/work.ts'
import { SourceError } from '../src/source/row-source.ts'
import { loadTable } from '../src/source/rows-input.ts'
import { runs } from './support/runs.ts'

const read = (text: BlobPart, options?: ReadOptions): Promise<ReadResult> =>
  readFile(new Blob([text]), { format: 'csv', ...options })

async function table(text: BlobPart, options?: ReadOptions): Promise<Table> {
  const result = await read(text, options)
  if (!result.ok) throw new Error(JSON.stringify(result.problem))
  return result.table
}

function rowsOf({ rows, fields, columns }: Table): Record<string, Value>[] {
  return Array.from({ length: rows }, (_, row) =>
    Object.fromEntries(fields.map((field, c) => [field.key, valueAt(columns[c], row)])),
  )
}

const typesOf = (read: Table): Record<string, string> =>
  Object.fromEntries(read.fields.map(field => [field.key, field.type]))

describe('reading CSV', () => {
  it('reads what RFC 4180 allows', async () => {
    const text = 'name,remark\r\n"a, b","said ""so"""\r\nplain,"two\r\nlines"\r\n,""\r\n'
    expect(rowsOf(await table(text))).toEqual([
      { name: 'a, b', remark: 'said "so"' },
      { name: 'plain', remark: 'two\r\nlines' },
      { name: null, remark: null },
    ])
  })

  it('gives back any table of texts that was written', async () => {
    const cell = fc.string({
      unit: fc.constantFrom('a', '"', ',', '\n', '\r', ' ', 'é', '漢', ';', '1'),
      maxLength: 8,
    })
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 20 }),
        fc.constantFrom(',', ';', '\t'),
        fc.constantFrom('\n', '\r\n'),
        async (rows, delimiter, end) => {
          const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`
          const text = [
            'x,y,z'.replaceAll(',', delimiter),
            ...rows.map(row => row.map(quoted).join(delimiter)),
          ].join(end)
          // A first record of letters makes all columns text, so that "1" comes back as it was written.
          const made = await table(text.replace(end, `${end}${['k', 'k', 'k'].join(delimiter)}${end}`), {
            delimiter,
            header: true,
          })
          expect(
            rowsOf(made)
              .slice(1)
              .map(row => [row.x, row.y, row.z]),
          ).toEqual(rows.map(row => row.map(value => value || null)))
        },
      ),
      runs(200),
    )
  })

  it('never crashes or hangs on any bytes', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 300 }), async bytes => {
        const result = await read(new Uint8Array(bytes))
        if (result.ok) expect(result.table.columns.length).toBe(result.table.fields.length)
        // Bytes that begin as gzip does are unpacked first.
        else
          expect(['empty', 'not-text', 'not-utf8', 'unclosed-quote', 'damaged']).toContain(
            result.problem.code,
          )
      }),
      runs(500),
    )
  })

  it('infers types over the whole file, a late value included', async () => {
    const lines = Array.from(
      { length: 60_000 },
      (_, i) => `${i},${i}.50,${i % 2 === 0},007,2024-02-${String((i % 29) + 1).padStart(2, '0')}`,
    )
    const early = await table(`id,price,on,code,day\n${lines.join('\n')}\n`)
    expect(typesOf(early)).toEqual({
      id: 'integer',
      price: 'number',
      on: 'boolean',
      code: 'text',
      day: 'date',
    })
    expect(early.fields[1].decimals).toBe(2)
    const late = await table(`id,price,on,code,day\n${lines.join('\n')}\nn/a,2.5,true,008,2024-02-30\n`)
    expect(typesOf(late)).toEqual({ id: 'text', price: 'number', on: 'boolean', code: 'text', day: 'text' })
    expect(rowsOf(late)[1]).toEqual({ id: '1', price: 1.5, on: false, code: '007', day: '2024-02-02' })
    expect(rowsOf(late).at(-1)).toEqual({ id: 'n/a', price: 2.5, on: true, code: '008', day: '2024-02-30' })
  })

  it('reads numbers as the language does, and leaves names alone', async () => {
    const numbers = [
      '0',
      '-1',
      '12.5',
      '0.1',
      '1e3',
      '-2.5E-4',
      '123456789012345',
      '.5',
      '0.30000000000000004',
    ]
    for (const text of numbers) expect(rowsOf(await table(`n\n${text}\n`))).toEqual([{ n: Number(text) }])
    for (const text of [
      '1234567890123456.78',
      '0.1234567890123456789',
      '123456789012345678901',
      '-9007199254740993.5',
    ])
      expect(await table(`n\n${text}\n5\n`)).toMatchObject({
        fields: [{ type: text.includes('.') ? 'number' : 'integer', wide: true }],
        columns: [{ digits: true }],
      })
    for (const text of ['007', '1.', '+5', '--1', '1e', '0x10', 'NaN', '1 00']) {
      expect(rowsOf(await table(`n\t\n${text}\tx\n`, { delimiter: '\t' }))[0].n).toBe(text)
    }
  })

  it('reads ISO times as wall time or as instants, and a mixture as text', async () => {
    const one = async (text: string): Promise<[string, Value, boolean | undefined]> => {
      const { fields, columns } = await table(`t\n${text}\n`, { header: true, delimiter: ',' })
      return [fields[0].type, valueAt(columns[0], 0), fields[0].zoned]
    }
    expect(await one('2024-06-14T09:30')).toEqual(['datetime', Date.UTC(2024, 5, 14, 9, 30), undefined])
    expect(await one('2024-06-14 09:30:05.25Z')).toEqual([
      'datetime',
      Date.UTC(2024, 5, 14, 9, 30, 5, 250),
      true,
    ])
    expect(await one('2024-06-14T09:30+02:00')).toEqual(['datetime', Date.UTC(2024, 5, 14, 7, 30), true])
    expect((await one('2023-02-29'))[0]).toBe('text')
    expect((await one('2024-06-14T25:00'))[0]).toBe('text')
    expect(typesOf(await table('t\n2024-06-14T09:30\n2024-06-14T09:30Z\n', { header: true })).t).toBe('text')
  })

  it.each([
    ['a;b\n1,5;2\n', ';'],
    ['a\tb\n1\t2\n', '\t'],
    ['a|b\n1|2\n', '|'],
    ['a,b\n"x;y",2\n', ','],
    ['only\none\n', ','],
  ])('detects the delimiter of %j', async (text, delimiter) => {
    const result = await read(text)
    expect(result.ok && result.report.csv?.delimiter).toBe(delimiter)
  })

  it('detects whether the first line names the columns', async () => {
    const header = async (text: string): Promise<boolean> => {
      const result = await read(text)
      return result.ok && result.report.csv!.header
    }
    expect(await header('name,age\nann,3\n')).toBe(true)
    expect(await header('ann,3\nbob,4\n')).toBe(false)
    expect(await header('name,town\nann,ely\nbob,wick\n')).toBe(true)
    expect(await header('ely,wick\nwick,ely\nely,thurso\n')).toBe(false)
    expect((await table('ann,3\nbob,4\n')).fields.map(field => field.key)).toEqual(['column 1', 'column 2'])
  })

  it('passes over a byte-order mark', async () => {
    expect((await table(new Uint8Array([0xef, 0xbb, 0xbf, 97, 10, 49, 10]))).fields[0].key).toBe('a')
  })

  it('reads ragged rows, pads them and reports them', async () => {
    const result = await read('a,b\n1,2\n3\n4,5,6\n7,8\n')
    if (!result.ok) throw new Error('not read')
    expect(result.report.csv?.expectedFields).toBe(2)
    expect(result.report.faults).toEqual([
      {
        code: 'ragged',
        count: 2,
        examples: [
          { line: 3, text: '1' },
          { line: 4, text: '3' },
        ],
      },
    ])
    expect(rowsOf(result.table)).toEqual([
      { a: 1, b: 2, 'column 3': null },
      { a: 3, b: null, 'column 3': null },
      { a: 4, b: 5, 'column 3': 6 },
      { a: 7, b: 8, 'column 3': null },
    ])
  })

  it('names columns that have no name, or the same one twice', async () => {
    const result = await read('a,,a\n1,2,3\n', { header: true })
    expect(result.ok && result.table.fields.map(field => field.key)).toEqual(['a', 'column 2', 'a 2'])
    expect(result.ok && result.report.csv?.renamed).toEqual(['column 2', 'a 2'])
  })

  it('keeps text behind a closing quote and counts it', async () => {
    const result = await read('a,b\n"x"y,2\n')
    if (!result.ok) throw new Error('not read')
    expect(rowsOf(result.table)).toEqual([{ a: '"x"y', b: 2 }])
    expect(result.report.faults).toEqual([
      { code: 'stray-quote', count: 1, examples: [{ line: 2, text: '' }] },
    ])
  })

  it('says what is wrong with a broken file, and on which line', async () => {
    const png = new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13])
    const problem = async (text: BlobPart): Promise<unknown> => {
      const result = await read(text)
      return result.ok ? null : result.problem
    }
    expect(await problem('')).toEqual({ code: 'empty' })
    expect(await problem('\n\n')).toEqual({ code: 'empty' })
    expect(await problem('a,b\n1,2\n"open,3\n4,5\n')).toEqual({ code: 'unclosed-quote', line: 3 })
    expect(await problem('a,b\n1,\0\n')).toEqual({ code: 'not-text', line: 2, byte: 0 })
    expect(await problem(png)).toMatchObject({ code: 'not-text' })
    expect(
      await read(new Uint8Array([97, 10, 0xe9, 10]), { encoding: 'utf-8' }).then(r => !r.ok && r.problem),
    ).toEqual({ code: 'not-utf8', line: 2 })
  })

  it('puts every problem into a sentence with its line', async () => {
    const error = await loadTable({ kind: 'file', blob: new Blob(['a\n"b\n']) }).catch((e: unknown) => e)
    expect(error).toBeInstanceOf(SourceError)
    expect((error as Error).message).toContain('line 2')
  })

  it('reads records that straddle blocks, in order, with progress', async () => {
    const rows = Array.from(
      { length: 40_000 },
      (_, i) => `${i},"row ""${i}""\nof many, many words to make it long",ü${i}`,
    )
    const seen: number[] = []
    const result = await readFile(
      new Blob([`id,remark,umlaut\n${rows.join('\n')}`]),
      {},
      { onBytes: done => seen.push(done) },
    )
    if (!result.ok) throw new Error('not read')
    expect(result.table.rows).toBe(40_000)
    expect(rowsOf(result.table)[39_999]).toEqual({
      id: 39_999,
      remark: 'row "39999"\nof many, many words to make it long',
      umlaut: 'ü39999',
    })
    expect(seen.length).toBeGreaterThan(1)
    expect(seen).toEqual([...seen].sort((a, b) => a - b))
  })

  it('are no pages of the web, unless that is said', async () => {
    for (const page of ['<!doctype html>\n<title>a</title>', '\n <!-- x --><HTML lang="en">', '<html>'])
      expect(await readFile(new Blob([page]))).toEqual({ ok: false, problem: { code: 'web-page' } })
    for (const text of ['<b>,c\n1,2', 'html,a\n1,2', '<htmlish>\na'])
      expect((await readFile(new Blob([text]))).ok).toBe(true)
    expect((await readFile(new Blob(['<html>\na']), { format: 'csv' })).ok).toBe(true)
  })

  it('stops when it is cancelled', async () => {
    const blob = new Blob(['a\n', 'x\n'.repeat(1_500_000)])
    let blocks = 0
    const reading = readFile(blob, {}, { cancelled: () => ++blocks > 1 })
    await expect(reading).rejects.toBeInstanceOf(CancelledError)
    expect(blocks).toBeLessThan(4)
  })
})
