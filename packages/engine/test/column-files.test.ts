import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import * as arrow from 'apache-arrow'
import * as flechette from '@uwdata/flechette'
import { parquetWriteBuffer } from 'hyparquet-writer'
import { describe, expect, it } from 'vitest'
import { plainWriter } from '../src/table/plain-text.ts'
import { compareDigits, plainNumber } from '../src/table/digits.ts'
import { valueAt, type Table } from '../src/table/column.ts'
import { BatchReader } from '../src/read/column-files/arrow/vectors.ts'
import type { BatchMessage } from '../src/read/column-files/arrow/messages.ts'
import type { VectorType } from '../src/read/column-files/arrow/schema.ts'
import { readBytes, readOk, typesOf } from './support/read-rows-back.ts'
import { runs } from './support/runs.ts'
import { readHybrid } from '../src/read/column-files/parquet/hybrid.ts'

const sample = (name: string): Uint8Array<ArrayBuffer> =>
  new Uint8Array(readFileSync(new URL(`./samples/${name}`, import.meta.url)))

/** What another writer says of every value, or what our rules make of it. */
const told = JSON.parse(new TextDecoder().decode(sample('every-type.json'))) as Record<
  string,
  (string | null)[]
>

/** Values as other programs read them; tags as JSON. */
function written(table: Table, key: string): (string | null)[] {
  const place = table.fields.findIndex(field => field.key === key)
  const field = table.fields[place]
  const write = field.type === 'tags' ? String : plainWriter(field)
  return Array.from({ length: table.rows }, (_, row) => {
    const value = valueAt(table.columns[place], row)
    return value === null ? null : write(value)
  })
}

/** The same number, or the same text but for the letter between day and time. */
function same(ours: string | null, theirs: string | null): boolean {
  if (theirs === 'nan' || theirs === '') return ours === null
  if (ours === null || theirs === null) return ours === theirs
  const infinite = { inf: 'Infinity', '-inf': '-Infinity' }[theirs]
  if (infinite) return ours === infinite
  const [a, b] = [plainNumber(ours), plainNumber(theirs)]
  if (a !== null && b !== null) return compareDigits(a, b) === 0
  return ours.replace('T', ' ') === theirs.replace('T', ' ')
}

const TYPES: Record<string, string> = {
  truth: 'boolean',
  i64: 'integer',
  u64: 'integer',
  f32: 'number',
  f64: 'number',
  d4: 'number',
  d18: 'number',
  d18s: 'number',
  d38: 'number',
  d38s: 'number',
  date: 'date',
  farDate: 'text',
  time: 'time',
  micro: 'datetime',
  farMicro: 'text',
  second: 'datetime',
  milli: 'datetime',
  nano: 'datetime',
  zoned: 'datetime',
  texts: 'tags',
  structs: 'text',
  'deep.a.b': 'date',
  'deep.a.c': 'number',
}

describe('every type of a column file', () => {
  it.each([
    'duckdb-snappy.parquet',
    'duckdb-gzip.parquet',
    'duckdb-brotli.parquet',
    'duckdb-lz4_raw.parquet',
    'duckdb-zstd.parquet',
    'duckdb-uncompressed.parquet',
    'rust-zstd.parquet',
    'rust.arrows',
  ])('is what its writer says, in %s', async name => {
    const { table, report } = await readOk(sample(name))
    expect(report.faults).toEqual([])
    const wrong = Object.entries(told).flatMap(([key, values]) =>
      written(table, key).flatMap((ours, row) =>
        same(ours, values[row]) ? [] : [`${key}[${row}]: ${ours} instead of ${values[row]}`],
      ),
    )
    expect(wrong).toEqual([])
    expect(typesOf(table)).toMatchObject(TYPES)
    expect(table.fields.filter(({ zoned }) => zoned).map(({ key }) => key)).toEqual(['zoned'])
    const notes = Object.fromEntries(
      report.columns.map(({ key, finer, notNumbers }) => [key, finer ?? notNumbers]),
    )
    expect(notes).toMatchObject({ f32: 1, f64: 1, nano: 3, micro: 1, zoned: 1, time: 1, milli: undefined })
  })

  it('of Parquet that says nothing of its bytes is text where all of it is, else hexadecimal', async () => {
    const write = (values: Uint8Array[]): ArrayBuffer =>
      parquetWriteBuffer({ columnData: [{ name: 'a', data: values, type: 'BYTE_ARRAY' }] })
    const bytes = (...values: number[]): Uint8Array => Uint8Array.from(values)
    expect(written((await readOk(write([bytes(97), bytes(0xc3, 0xa9)]))).table, 'a')).toEqual(['a', 'é'])
    expect(written((await readOk(write([bytes(97), bytes(0xc3)]))).table, 'a')).toEqual(['61', 'c3'])
    expect(written((await readOk(write([new Uint8Array(70)]))).table, 'a')).toEqual(['70 bytes'])
  })
})

describe('Arrow of other writers', () => {
  const ipc = (columns: Record<string, arrow.Vector>): Uint8Array<ArrayBuffer> =>
    arrow.tableToIPC(new arrow.Table(columns)) as Uint8Array<ArrayBuffer>
  const whole = fc.bigInt({ min: -(2n ** 62n), max: 2n ** 62n })

  it('tells moments of any unit before and after 1970, floored to milliseconds', async () => {
    const units = [
      [arrow.TimeUnit.SECOND, 1n, 1000n],
      [arrow.TimeUnit.MILLISECOND, 1n, 1n],
      [arrow.TimeUnit.MICROSECOND, 1000n, 1n],
      [arrow.TimeUnit.NANOSECOND, 1_000_000n, 1n],
    ] as const
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...units),
        fc.array(fc.bigInt({ min: -(2n ** 42n), max: 2n ** 42n }), { minLength: 1 }),
        async ([unit, divisor, factor], values) => {
          const scaled = values.map(value =>
            factor === 1n ? value * (divisor === 1n ? 1n : 7919n) : value / 1000n,
          )
          const type = new arrow.Timestamp(unit, null)
          const data = arrow.makeData({ type, data: BigInt64Array.from(scaled) })
          const { table, report } = await readOk(ipc({ at: new arrow.Vector([data]) }))
          const floor = (value: bigint): number => {
            const quotient = value / divisor
            return Number((value % divisor < 0n ? quotient - 1n : quotient) * factor)
          }
          expect(scaled.map((_, row) => valueAt(table.columns[0], row))).toEqual(scaled.map(floor))
          expect(report.columns[0].finer ?? 0).toBe(scaled.filter(value => value % divisor !== 0n).length)
        },
      ),
      runs(60),
    )
  })

  it('has decimals of any scale, also below zero, as written', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(whole, { minLength: 1 }),
        fc.integer({ min: -4, max: 30 }),
        async (values, scale) => {
          const words = new Uint32Array(values.length * 4)
          const view = new BigInt64Array(words.buffer)
          values.forEach((value, i) => {
            view[i * 2] = BigInt.asIntN(64, value)
            view[i * 2 + 1] = value < 0n ? -1n : 0n
          })
          const data = arrow.makeData({ type: new arrow.Decimal(scale, 38, 128), data: words })
          const { table } = await readOk(ipc({ price: new arrow.Vector([data]) }))
          // The plain way: digits, with a point put in, or zeros behind.
          const plain = (value: bigint): string => {
            const digits = String(value < 0n ? -value : value)
            const text =
              scale <= 0
                ? digits + '0'.repeat(-scale)
                : `${digits.padStart(scale + 1, '0').slice(0, -scale)}.${digits.padStart(scale + 1, '0').slice(-scale)}`
            return `${value < 0n ? '-' : ''}${text}`
          }
          values.forEach((value, row) => {
            const ours = plainNumber(String(valueAt(table.columns[0], row)))
            expect(ours).toBe(plainNumber(plain(value)))
          })
          expect(['integer', 'number']).toContain(table.fields[0].type)
        },
      ),
      runs(60),
    )
  })

  it('has maps, structures, unions and runs, and columns of one name, each kept', async () => {
    const { struct, field, int32, utf8, list, runEndEncoded, binary, map, int64, dateDay, union, UnionMode } =
      flechette as never as Record<string, (...given: unknown[]) => never> & typeof flechette
    const build = (values: unknown[], type: unknown): never =>
      flechette.columnFromArray(values as never, type as never) as never
    const columns = [
      ['a', build([1, null, 3, 4], int32())],
      ['a', build(['w', 'x', null, 'y'], utf8())],
      [
        'runs',
        build(['w', 'w', null, 'y'], runEndEncoded(field('run_ends', int32()), field('values', utf8()))),
      ],
      ['raw', build([Uint8Array.of(1, 255), null, new Uint8Array(3), new Uint8Array(20)], binary())],
      ['listed', build([[1, 2], null, [], [3]], list(int32()))],
      [
        'map',
        build(
          [
            [['k', 5n]],
            null,
            [],
            [
              ['k', 1n],
              ['l', null],
            ],
          ],
          map(utf8(), int64()),
        ),
      ],
      [
        'of',
        build(
          [{ a: 1, b: new Date(0) }, null, { a: null, b: null }, { a: 2, b: null }],
          struct({ a: int32(), b: dateDay() }),
        ),
      ],
      [
        'one',
        build(
          [1, 'x', 'y', 2],
          union(UnionMode.Dense, [int32(), utf8()], [0, 1], (value: unknown) =>
            typeof value === 'number' ? 0 : 1,
          ),
        ),
      ],
      ['inner', build([[{ n: 1 }], [{ n: null }, null], null, []], list(struct({ n: int32() })))],
    ] as const
    const bytes = flechette.tableToIPC(
      flechette.tableFromColumns(columns as never),
      {},
    ) as Uint8Array<ArrayBuffer>
    const { table } = await readOk(bytes)
    expect(Object.fromEntries(table.fields.map(({ key }) => [key, written(table, key)]))).toEqual({
      a: ['1', null, '3', '4'],
      'a 2': ['w', 'x', null, 'y'],
      runs: ['w', 'w', null, 'y'],
      raw: ['01ff', null, '000000', '0000000000000000000000000000000000000000'],
      listed: ['[1,2]', null, null, '[3]'],
      map: ['{"k":5}', null, '{}', '{"k":1,"l":null}'],
      'of.a': ['1', null, null, '2'],
      'of.b': ['1970-01-01', null, null, null],
      one: ['1', 'x', 'y', '2'],
      inner: ['[{"n":1}]', '[{"n":null},null]', null, null],
    })
  })

  it('has views of texts, and of lists, wherever they lie', () => {
    const long = 'a text that is longer than twelve bytes'
    const data = new TextEncoder().encode(`..${long}`)
    const views = new DataView(new ArrayBuffer(48))
    views.setInt32(0, 5, true)
    new TextEncoder().encodeInto('short', new Uint8Array(views.buffer, 4))
    views.setInt32(16, long.length, true)
    views.setInt32(28, 2, true)
    const body = new Uint8Array(256)
    const buffers: number[][] = []
    let end = 0
    const put = (bytes: Uint8Array): void => {
      body.set(bytes, end)
      buffers.push([end, bytes.length])
      end += bytes.length
    }
    const ints = (...values: number[]): Uint8Array => new Uint8Array(Int32Array.from(values).buffer)
    for (const bytes of [Uint8Array.of(0b011), new Uint8Array(views.buffer), data]) put(bytes)
    for (const bytes of [
      Uint8Array.of(0b101),
      ints(1, 0, 0),
      ints(2, 0, 1),
      new Uint8Array(0),
      ints(7, 8, 9),
    ])
      put(bytes)
    const integer: VectorType = {
      name: '',
      type: { kind: 'integer' },
      layout: { kind: 'numbers', bytes: 4, as: 'signed' },
      children: [],
    }
    const types: VectorType[] = [
      { name: 'view', type: { kind: 'text' }, layout: { kind: 'views' }, children: [] },
      {
        name: 'list',
        type: { kind: 'list', of: integer.type },
        layout: { kind: 'list-view', offsetBytes: 4 },
        children: [integer],
      },
    ]
    const batch: BatchMessage = {
      rows: 3,
      nodes: [
        [3, 1],
        [3, 1],
        [3, 0],
      ],
      buffers,
      variadic: [1],
      compression: null,
      body,
    }
    const reader = new BatchReader(batch, new Map(), 4)
    const read = types
      .map(type => reader.vector(type))
      .map(({ at, length }) => Array.from({ length }, (_, i) => at(i)))
    expect(read).toEqual([
      ['short', long, null],
      [[8, 9], null, [7]],
    ])
    const beyond = {
      ...batch,
      buffers: buffers.map(([at, size], i) => (i === 2 ? [at, size - 1] : [at, size])),
    }
    expect(() => new BatchReader(beyond, new Map(), 4).vector(types[0]).at(1)).toThrow(RangeError)
  })

  it('may leave out the mark of its end', async () => {
    const bytes = arrow.tableToIPC(
      arrow.tableFromArrays({ n: [1, 2, 3] }),
      'stream',
    ) as Uint8Array<ArrayBuffer>
    const cut = await readBytes(bytes.slice(0, -8))
    expect(cut).toMatchObject({ ok: true, table: { rows: 3 } })
  })
})

describe('runs and packed numbers', () => {
  it('are what they were written as, of any width', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 32 }).chain(width =>
          fc.record({
            width: fc.constant(width),
            parts: fc.array(
              fc.oneof(
                fc.record({ run: fc.nat(40).map(n => n + 1), value: fc.nat(2 ** width - 1) }),
                fc.record({ packed: fc.array(fc.nat(2 ** width - 1), { minLength: 8, maxLength: 8 }) }),
              ),
              { minLength: 1, maxLength: 6 },
            ),
            cut: fc.nat(7),
          }),
        ),
        ({ width, parts, cut }) => {
          const bytes: number[] = []
          const values: number[] = []
          for (const part of parts) {
            if ('run' in part) {
              bytes.push(part.run << 1)
              for (let i = 0; i < width; i += 8) bytes.push(Math.floor(part.value / 2 ** i) & 255)
              values.push(...Array<number>(part.run).fill(part.value))
              continue
            }
            // Eight numbers of so many bits are so many bytes: one large number, its least byte first.
            let all = part.packed.reduceRight((sum, value) => (sum << BigInt(width)) | BigInt(value), 0n)
            bytes.push(3)
            for (let i = 0; i < width; i++, all >>= 8n) bytes.push(Number(all & 255n))
            values.push(...part.packed)
          }
          const count = values.length - Math.min(cut, values.length - 1)
          expect([...readHybrid(Uint8Array.from(bytes), 0, width, count)]).toEqual(values.slice(0, count))
          expect(() => readHybrid(Uint8Array.from(bytes), 0, width, values.length + 9)).toThrow(RangeError)
        },
      ),
      runs(300),
    )
  })
})

describe('column files that are refused', () => {
  it('say so where they are encrypted', async () => {
    const bytes = new Uint8Array(64)
    bytes.set(new TextEncoder().encode('PARE'), 0)
    bytes.set(new TextEncoder().encode('PARE'), 60)
    expect(await readBytes(bytes)).toEqual({ ok: false, problem: { code: 'encrypted', format: 'parquet' } })
  })

  it('cost nothing but time bounded by their size, whatever was changed in them', async () => {
    const files = (['duckdb-zstd.parquet', 'duckdb-uncompressed.parquet', 'rust.arrows'] as const).map(
      name => ({
        file: sample(name),
        format: name.endsWith('parquet') ? ('parquet' as const) : ('arrow' as const),
      }),
    )
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...files),
        fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }), fc.nat(255)), {
          minLength: 1,
          maxLength: 4,
        }),
        async ({ file, format }, changes) => {
          const bytes = file.slice()
          for (const [at, byte] of changes) bytes[Math.floor(at * bytes.length)] = byte
          const result = await readBytes(bytes, { format })
          if (result.ok) expect(result.table.fields.length).toBeGreaterThan(0)
          else
            expect(['damaged', 'encrypted', 'too-large', 'not-text', 'empty']).toContain(result.problem.code)
        },
      ),
      runs(400),
    )
  })
})
