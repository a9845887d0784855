import { describe, expect, it } from 'vitest'
import { readFile } from '../src/read/read-file.ts'
import { generalSentences, readProblemText } from '../src/words/read-report-text.ts'
import type { ReadOptions } from '../src/read/read-report.ts'
import { isDigitColumn } from '../src/table/column.ts'
import { readBytes, readOk, rowsOf, typesOf } from './support/read-rows-back.ts'

const utf8 = (text: string): number[] => [...new TextEncoder().encode(text)]
const utf16 = (text: string, ...more: number[]): Uint8Array<ArrayBuffer> =>
  Uint8Array.from([
    0xff,
    0xfe,
    ...[...text].flatMap(char => [char.charCodeAt(0) & 255, char.charCodeAt(0) >> 8]),
    ...more,
  ])
const faultsOf = async (bytes: BlobPart, options: ReadOptions = {}): Promise<unknown> =>
  (await readOk(bytes, options)).report.faults.map(({ code, count, examples }) => [
    code,
    count,
    examples[0]?.line,
  ])
const problemOf = async (bytes: BlobPart, options: ReadOptions = {}): Promise<unknown> => {
  const result = await readBytes(bytes, options)
  if (result.ok) throw new Error('it was read')
  expect(readProblemText(result.problem)).not.toContain('undefined')
  return result.problem
}

describe('text that is not quite text', () => {
  it('cut within a character costs that character, and is told', async () => {
    const cut = Uint8Array.from([...utf8('name,place\nÖz,x\nnina,caf'), 0xc3])
    expect(rowsOf((await readOk(cut)).table)[1]).toEqual({ name: 'nina', place: 'caf\ufffd' })
    expect(await faultsOf(cut)).toEqual([['cut-character', 1, 3]])
    expect(await faultsOf(utf16('a,b\nx,y\nz,w', 0x41))).toEqual([['cut-character', 1, 3]])
    // Without any other character beyond ASCII it is more likely another encoding.
    const latin = await readOk(Uint8Array.from([...utf8('a,b\nx,caf'), 0xe9]))
    expect([latin.report.encoding, rowsOf(latin.table)[0].b]).toEqual(['windows-1252', 'café'])
  })

  it('is whole wherever its blocks part a character', async () => {
    for (const before of [0, 1, 2, 3]) {
      const rows = `${'x'.repeat(before)},é€😀\n`.repeat(260_000)
      const { table, report } = await readOk(`a,b\n${rows}`)
      expect(report.faults).toEqual([])
      const { texts } = table.columns[1] as { texts: { offsets: Uint32Array } }
      expect(texts.offsets).toHaveLength(2)
    }
  })

  it('may hold NUL here and there, which is told with its line', async () => {
    const rows = Array.from({ length: 50 }, (_, i) => `tree ${i},oak and beech\n`).join('')
    const text = `name,kind\n${rows}a\0b,c\n`
    expect(rowsOf((await readOk(text)).table)[50].name).toBe('a\0b')
    expect(await faultsOf(text)).toEqual([['nul', 1, 52]])
    expect(await problemOf(`${'\0a'.repeat(50)}\n`, { encoding: 'utf-8' })).toEqual({
      code: 'not-text',
      line: 1,
      byte: 0,
    })
  })
})

describe('delimited text', () => {
  it('may name its delimiter on a line of its own', async () => {
    const { table, report } = await readOk('sep=|\na|b\n1,5|2\n')
    expect(rowsOf(table)).toEqual([{ a: '1,5', b: 2 }].map(row => ({ ...row, a: 1.5 })))
    expect(report.csv).toMatchObject({ delimiter: '|', delimiterLine: true, header: true })
    expect(rowsOf((await readOk('"sep=;"\r\na;b\r\n1;2\r\n')).table)).toEqual([{ a: 1, b: 2 }])
    expect(rowsOf((await readOk('sep=a\n1\n')).table)).toHaveLength(1)
  })

  it('may be parted, and commented, by characters beyond ASCII', async () => {
    const { table, report } = await readOk('a¦b\n§ a remark\n1¦2\n', { delimiter: '¦', comment: '§' })
    expect([rowsOf(table), report.csv?.commentLines]).toEqual([[{ a: 1, b: 2 }], 1])
    // The mark shares its first byte with other letters.
    expect(rowsOf((await readOk('a,b\n¤,2\n§x\n', { comment: '§' })).table)).toEqual([{ a: '¤', b: 2 }])
  })

  it.each([
    [{ delimiter: '\n' }, 'delimiter'],
    [{ delimiter: '"' }, 'delimiter'],
    [{ delimiter: '\r' }, 'delimiter'],
    [{ delimiter: '||' }, 'delimiter'],
    [{ comment: '\n' }, 'comment'],
    [{ delimiter: ';', comment: ';' }, 'comment'],
  ])('is not parted by %j', async (options, what) => {
    expect(await problemOf('a,b\n1,2\n', options)).toMatchObject({ code: 'not-a-mark', what })
  })

  it('may have a first line of hundreds of kilobytes', async () => {
    const names = Array.from({ length: 60 }, (_, i) => `${'n'.repeat(9000)}${i}`)
    const { table, report } = await readOk(`${names.join(';')}\n${names.map((_, i) => i).join(';')}\n`)
    expect([report.csv?.delimiter, report.csv?.header, table.fields.length]).toEqual([';', true, 60])
  })

  it('may have 25,000 columns', async () => {
    const many = Array.from({ length: 25_000 }, (_, i) => i)
    const { table } = await readOk(`${many.map(i => `c${i}`).join(',')}\n${many.join(',')}\n`)
    expect([table.fields.length, table.rows]).toEqual([25_000, 1])
  })

  it('may begin with names in brackets, or with a cell of JSON', async () => {
    expect(rowsOf((await readOk('[id],[name]\n1,ann\n2,bob\n')).table)).toEqual([
      { '[id]': 1, '[name]': 'ann' },
      { '[id]': 2, '[name]': 'bob' },
    ])
    expect((await readOk('{"a":1};x\n{"a":2};y\n')).report.format).toBe('csv')
    expect((await readOk('[1;2\n3;4\n')).report.format).toBe('csv')
    for (const json of ['{"a":1}\n{"a":2}\n', '[{"a":1}]', '{"a":1}'])
      expect((await readOk(json)).report.format).not.toBe('csv')
    for (const broken of ['[{a:1,b:2},\n{a:1,b:2},\n{a:1,b:2}]', '[{"a":1,"b":},\n{"a":1,"b":2}]']) {
      const result = await readBytes(broken)
      expect(result.ok ? result.report.format : result.problem.code).toMatch(/json/)
    }
  })

  it('may call its columns what objects have by themselves', async () => {
    const { table } = await readOk('constructor,__proto__,toString\n1,2,3\n')
    expect(table.fields.map(({ key }) => key)).toEqual(['constructor', '__proto__', 'toString'])
    expect(table.fields.every(({ type }) => type === 'integer')).toBe(true)
  })

  it('holds words that objects have by themselves, as texts', async () => {
    const { table } = await readOk('word\n__proto__\nconstructor\n', { header: true, delimiter: ',' })
    expect([table.fields[0].type, rowsOf(table)]).toEqual([
      'text',
      [{ word: '__proto__' }, { word: 'constructor' }],
    ])
  })

  it('keeps the rest of rows that are far too wide together, and tells of them', async () => {
    const rows = Array.from({ length: 10_000 }, (_, i) => `${i},x,y`)
    rows[5000] = Array.from({ length: 19_999 }, (_, i) => i).join(',')
    const { table, report } = await readOk(`a,b,c\n${rows.join('\n')}\n`)
    expect(table.rows).toBe(10_000)
    expect(table.fields.length).toBe(23)
    expect(rowsOf({ ...table, rows: 5001 })[5000]['column 23']).toMatch(/^22,23,.*,19998$/)
    expect(report.faults).toContainEqual({
      code: 'over-wide',
      count: 1,
      examples: [{ line: 5002, text: '19999' }],
    })
  })

  it('is refused where nearly all of its table would be empty', async () => {
    const wide = `${Array.from({ length: 19_999 }, (_, i) => `c${i}`).join(',')}\n${'1\n'.repeat(10_000)}`
    expect(await problemOf(wide)).toMatchObject({ code: 'too-uneven' })
    expect(await problemOf(`${','.repeat(5_000_000)}\n`)).toMatchObject({ code: 'too-many-fields', line: 1 })
    const objects = Array.from({ length: 20_000 }, (_, i) => `{"key ${i}":1}`).join('\n')
    expect(await problemOf(objects)).toMatchObject({ code: 'too-uneven' })
  })

  it('doubts points among semicolons, where all of them may part thousands', async () => {
    const doubt = async (...values: string[]): Promise<unknown> =>
      (await readOk(`a;b\n${values.map(value => `${value};x`).join('\n')}\n`)).report.columns[0].ambiguous
    expect(await doubt('1.234', '12.500')).toEqual({ type: 'number', decimal: ',', thousands: '.' })
    expect(await doubt('1.234', '57')).toEqual({ type: 'number', decimal: ',', thousands: '.' })
    expect(await doubt('1.234', '57000')).toBe(null)
    expect(await doubt('1.234', '0.500')).toBe(null)
    expect(await doubt('1.234', '1.5')).toBe(null)
    expect((await readOk('a,b\n1.234,x\n')).report.columns[0].ambiguous).toBe(null)
  })

  it('keeps what a number tells, and tells what a time loses', async () => {
    const { table, report } = await readOk(
      'price,tiny,at\n1234567890123456.78,1e-400,2024-06-14T10:00:00.123456\n0.10,0.5,2024-06-14T10:00:00.123000\n',
    )
    expect(rowsOf(table).map(({ price, tiny }) => [price, tiny])).toEqual([
      ['1234567890123456.78', `0.${'0'.repeat(399)}1`],
      ['0.1', '0.5'],
    ])
    expect(table.columns.map(isDigitColumn)).toEqual([true, true, false])
    expect(report.columns[2]).toMatchObject({ type: 'datetime', finer: 1 })
  })
})

describe('one odd value', () => {
  it.each([
    ['1', '2', 'x', { type: 'number' }, 1],
    ['1.50', '2.25', 'x', { type: 'number' }, 1],
    ['2024-01-02', '2024-01-03', 'soon', { type: 'date', dateOrder: 'ymd' }, 1],
    ['2024-01-02T10:00', '2024-01-03T10:00:00', 'soon', { type: 'datetime', dateOrder: 'ymd' }, 1],
    ['yes', 'no', 'perhaps', { type: 'boolean' }, 1],
    ['12345678901234567', '1', 'x', { type: 'number' }, 1],
    ['1e3', ' 2', 'x', { type: 'number' }, 1],
    ['-0', '.5', 'x', { type: 'number' }, 1],
  ] as const)('among %s and %s leaves the others as they were written', async (a, b, odd, likely, count) => {
    const values = [...Array.from({ length: 40 }, (_, i) => (i % 2 ? a : b)), odd, a]
    const { table, report } = await readOk(`v,w\n${values.map(value => `${value},1`).join('\n')}\n`)
    expect(rowsOf(table).map(({ v }) => v)).toEqual(values)
    expect(report.columns[0]).toMatchObject({
      type: 'text',
      likely,
      misfits: { count, examples: [{ row: 40, text: odd }] },
    })
  })

  it('that is a number in another way makes all of them such numbers', async () => {
    const { table, report } = await readOk(`v;w\n1;1\n2;1\n3,5;1\n`)
    expect(rowsOf(table).map(({ v }) => v)).toEqual([1, 2, 3.5])
    expect(report.columns[0].style).toEqual({ type: 'number', decimal: ',' })
    expect(typesOf((await readOk(`v;w\n1;1\n1 200;1\n`)).table).v).toBe('integer')
  })
})

describe('JSON', () => {
  it('tells what stands behind it, and rows that are longer or shorter than the first', async () => {
    expect(await faultsOf('[{"a":1}]\n[{"a":2}]')).toEqual([['behind', 1, 2]])
    expect(await faultsOf('{"rows":[{"a":1}]} rubbish')).toEqual([['behind', 1, 1]])
    expect(await faultsOf('[["a","b"],[1,2],[3],[4,5,6]]')).toEqual([['ragged', 2, 1]])
    expect(await faultsOf('[[1,2],\n[3]]')).toEqual([['ragged', 1, 2]])
  })

  it('is refused where no row of it can be read', async () => {
    expect(await problemOf('[abc, def]', { format: 'json' })).toMatchObject({ code: 'not-json', line: 1 })
    expect(await problemOf('[1,2,3]')).toMatchObject({ code: 'not-rows', line: 1, text: '1' })
    expect(await problemOf('{"a":\n')).toMatchObject({ code: 'not-json' })
  })

  it('keeps numbers that no double tells', async () => {
    const { table } = await readOk('[{"n":0.1234567890123456789},{"n":2},{"n":1e400}]')
    expect(rowsOf(table).map(({ n }) => n)).toEqual(['0.1234567890123456789', '2', `1${'0'.repeat(400)}`])
    const { table: bigs } = await readOk('[{"n":18446744073709551616},{"n":1}]')
    expect([bigs.fields[0], rowsOf(bigs)[0].n]).toEqual([
      { key: 'n', type: 'integer', wide: true },
      '18446744073709551616',
    ])
  })

  it('has no number of a million digits, and no time is lost over it', async () => {
    const started = performance.now()
    const { table } = await readOk(`[{"n":${'7'.repeat(1_000_000)}},{"n":1}]`)
    expect([table.fields[0].type, performance.now() - started < 5000]).toEqual(['text', true])
    expect(typesOf((await readOk(`n,m\n${'7'.repeat(1_000_000)},1\n`)).table).n).toBe('text')
  })
})

describe('a quote that is never closed', () => {
  it('is found in the time it takes to go through the file', async () => {
    const blob = new Blob(['a,b\n1,2\n3,"', 'x,y\n'.repeat(12_000_000)])
    const result = await readFile(blob)
    expect(result).toMatchObject({ ok: false, problem: { code: 'unclosed-quote', line: 3 } })
  })
})

describe('what was read', () => {
  it('is told with what was lost on the way', async () => {
    const { report } = await readOk('at,n\n2024-06-14T10:00:00.123456,1\n2024-06-14T10:00:00.5,2\n')
    expect(generalSentences(report)).toContain('at: 1 time is told finer than milliseconds, and cut to them.')
  })
})
