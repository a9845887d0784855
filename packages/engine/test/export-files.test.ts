import * as arrow from 'apache-arrow'
import fc from 'fast-check'
import { unzipSync, strFromU8 } from 'fflate'
import { parquetMetadata, parquetReadObjects } from 'hyparquet'
import { describe, expect, it } from 'vitest'
import { MOST_SHEET_ROWS, sheetText, type SheetColumn } from '../src/export/sheet-writer.ts'
import { styleNumbers, workbookFiles } from '../src/export/workbook.ts'
import { packNow, type PackedPart } from '../src/export/packed-part.ts'
import { zipStream } from '../src/export/zip-stream.ts'
import type { PlacedBatch } from '../src/export/batch-encoder.ts'
import type { ExportedGroups } from '../src/question/export-args.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { View } from '../src/source/row-source.ts'
import type { ViewRequest } from '../src/flow/view-request.ts'
import type { Table, Value } from '../src/table/column.ts'
import { rowsIn } from '../src/table/row-id.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { readOk, rowsOf, typesOf } from './support/read-rows-back.ts'
import { runs } from './support/runs.ts'

const PLAIN: ViewRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}

interface Opened {
  readonly source: PageSource
  readonly view: View
}
async function open(table: Table, request: ViewRequest = PLAIN): Promise<Opened> {
  const source = new PageSource({ kind: 'table', table }, [], {}, {})
  await source.open()
  return { source, view: await source.view(request) }
}

/** A file of batches, in parts of some rows. */
async function fileOf(
  { source, view }: Opened,
  format: 'parquet' | 'arrow',
  step: number,
  more: {
    columns?: readonly string[]
    values?: 'shown' | 'raw'
    groups?: ExportedGroups
    request?: ViewRequest
  } = {},
): Promise<Uint8Array<ArrayBuffer>> {
  const { columns = view.fields.map(({ key }) => key), values = 'raw', groups, request } = more
  const parts: Uint8Array[] = []
  const batches: PlacedBatch[] = []
  let [at, rows] = [0, 0]
  let fields: Parameters<typeof source.ask<'exportEnd'>>[1]['fields'] = []
  for (let from = 0, places = 1; from < places; from += step) {
    const told = await source.ask('exportBatch', {
      view: view.id,
      rows: { kind: 'passing' },
      from,
      to: from + step,
      columns: columns.map(key => ({ key, title: key })),
      format,
      values,
      begins: from === 0,
      groups,
      request,
    })
    parts.push(told.bytes)
    batches.push({ at: at + told.head, told: told.told })
    at += told.bytes.length
    rows += told.rows
    places = told.places
    fields = told.fields
  }
  parts.push(await source.ask('exportEnd', { format, fields, batches, rows }))
  return new Uint8Array(await new Blob(parts as BlobPart[]).arrayBuffer())
}

const optional = <T>(values: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(values, { freq: 5 })
const iso = (ms: number): string => new Date(ms).toISOString()

/** Rows of every type, written as text, so that the table is one as it is read. */
const everyType = fc.array(
  fc.record({
    text: optional(
      fc
        .string({
          unit: fc.constantFrom('a', 'é', '漢', '"', ',', ' b', '😀', '='),
          minLength: 1,
          maxLength: 6,
        })
        .map(text => `n${text}n`),
    ),
    kind: optional(fc.constantFrom('ash', 'elm', '=oak')),
    whole: optional(fc.integer({ min: -9, max: 9 })),
    large: optional(fc.integer({ min: -(2 ** 50), max: 2 ** 50 })),
    wide: optional(fc.bigInt({ min: 2n ** 60n, max: 2n ** 62n }).map(String)),
    sum: optional(
      fc
        .tuple(fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n }), fc.integer({ min: 0, max: 99 }))
        .map(([whole, cents]) => `${whole}.${String(cents).padStart(2, '0')}`),
    ),
    price: optional(fc.integer({ min: -99_999, max: 99_999 }).map(n => n / 100)),
    mass: optional(
      fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 }).map(n => n + 0.5),
    ),
    seen: optional(fc.boolean()),
    day: optional(fc.integer({ min: -20_000, max: 40_000 }).map(day => iso(day * 864e5).slice(0, 10))),
    clock: optional(fc.integer({ min: 0, max: 86_399 }).map(s => iso(s * 1000).slice(11, 19))),
    wall: optional(fc.integer({ min: -1e9, max: 3e9 }).map(s => iso(s * 1000).slice(0, 19))),
    at: optional(fc.integer({ min: -1e12, max: 3e12 }).map(iso)),
  }),
  { minLength: 1, maxLength: 40 },
)

const EMPTY_ROW = {
  text: null,
  kind: null,
  whole: null,
  large: null,
  wide: null,
  sum: null,
  price: null,
  mass: null,
  seen: null,
  day: null,
  clock: null,
  wall: null,
  at: null,
}

async function tableOfEveryType(rows: readonly Record<string, unknown>[]): Promise<Table> {
  const keys = Object.keys(rows[0]!)
  const cell = (value: unknown): string => (value === null ? '' : `"${String(value).replaceAll('"', '""')}"`)
  // The first row says of what type each column is.
  const first = [
    'x',
    'ash',
    '1',
    '1125899906842623',
    '1152921504606846979',
    '-123456789012345678.05',
    '1.25',
    '0.5',
    'true',
    '2020-01-02',
    '10:11:12',
    '2020-01-02T03:04:05',
    '2020-01-02T03:04:05.006Z',
  ]
  const lines = [
    keys.join(','),
    first.join(','),
    ...rows.map(row => keys.map(key => cell(row[key])).join(',')),
  ]
  return (await readOk(lines.join('\r\n'))).table
}

describe('files that hold rows column by column', () => {
  for (const format of ['parquet', 'arrow'] as const)
    it(`${format} read back is what it was, of every type, in whatever parts`, async () => {
      await fc.assert(
        fc.asyncProperty(everyType, fc.integer({ min: 1, max: 50 }), async (rows, step) => {
          const table = await tableOfEveryType(rows)
          const bytes = await fileOf(await open(table), format, step)
          const back = (await readOk(bytes)).table
          expect(typesOf(back)).toEqual(typesOf(table))
          expect(rowsOf(back)).toEqual(rowsOf(table))
          expect(back.fields.map(({ key, zoned }) => [key, zoned ?? false])).toEqual(
            table.fields.map(({ key, zoned }) => [key, zoned ?? false]),
          )
        }),
        runs(60),
      )
    })

  it('other programs read the same of them: order, conditions and missing values included', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        randomRequest,
        fc.integer({ min: 1, max: 50 }),
        async (given, request, step) => {
          const opened = await open(tableOf(given), request)
          const { source, view } = opened
          const passing = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
          const value = (row: (typeof passing)[number], key: string): Value =>
            view.lines.value(0, row, key) ?? null
          const of = (key: string) => view.fields.find(field => field.key === key)
          const wanted = passing.map(row =>
            Object.fromEntries(
              COLUMNS.filter(of).map(key => {
                const held = value(row, key)
                if (held === null) return [key, null]
                if (of(key)?.type === 'tags') return [key, JSON.parse(String(held)) as string[]]
                return [key, of(key)?.type === 'integer' ? Number(held) : held]
              }),
            ),
          )
          const columns = COLUMNS.filter(of)
          const parquet = await fileOf(opened, 'parquet', step, { columns })
          const file = parquet.buffer
          expect(Number(parquetMetadata(file).num_rows)).toBe(passing.length)
          const read = await parquetReadObjects({ file })
          const plain = (one: unknown): unknown =>
            one instanceof Date ? one.getTime() / 864e5 : typeof one === 'bigint' ? Number(one) : one
          const clean = (row: Record<string, unknown>): Record<string, unknown> =>
            Object.fromEntries(columns.map(key => [key, plain(row[key]) ?? null]))
          expect(read.map(clean)).toEqual(wanted)

          const told = arrow.tableFromIPC(await fileOf(opened, 'arrow', step, { columns }))
          const lists = (one: unknown): unknown => (one instanceof arrow.Vector ? [...one] : one)
          expect(
            told.toArray().map(row => {
              const { day, ...rest } = row!.toJSON() as Record<string, unknown>
              const all = Object.fromEntries(Object.entries(rest).map(([key, one]) => [key, lists(one)]))
              return clean({
                ...all,
                ...('day' in row! && { day: day === null ? null : Number(day) / 864e5 }),
              })
            }),
          ).toEqual(wanted)
        },
      ),
      runs(80),
    )
  })

  it('numbers of many digits are decimals to other programs, and texts where they have more than those hold', async () => {
    const digits = (rows: string[]): string => `exact,long\n${rows.join('\n')}\n`
    const long = '1234567890'.repeat(4)
    const rows = [`-12345678901234567890.05,${long}.5`, '0.1,7', ',-3', '99999999999999999999.999,1.25']
    const { table } = await readOk(digits(rows))
    const wanted = rowsOf(table)
    const { buffer } = await fileOf(await open(table), 'parquet', 2)
    const schema = parquetMetadata(buffer).schema.slice(1)
    expect(schema.map(({ converted_type, precision, scale }) => [converted_type, precision, scale])).toEqual([
      ['DECIMAL', 23, 3],
      ['UTF8', undefined, undefined],
    ])
    const told = arrow.tableFromIPC(await fileOf(await open(table), 'arrow', 2))
    expect(told.schema.fields.map(({ type }) => String(type))).toEqual(['Decimal[23e+3]', 'Utf8'])
    for (const format of ['parquet', 'arrow'] as const) {
      const back = (await readOk(await fileOf(await open(table), format, 3))).table
      expect([back.fields[0].type, back.fields[0].wide]).toEqual(['number', true])
      expect(rowsOf(back)).toEqual(wanted)
    }
  })

  it('columns keep their order and their names, whatever these are', async () => {
    const { table } = await readOk('b,2020,1,constructor,__proto__\n1,2,3,4,5\n6,7,8,9,10\n')
    for (const format of ['parquet', 'arrow'] as const) {
      const back = (await readOk(await fileOf(await open(table), format, 1))).table
      expect(back.fields.map(({ key }) => key)).toEqual(table.fields.map(({ key }) => key))
      expect(rowsOf(back)).toEqual(rowsOf(table))
    }
  })

  it('as shown all are texts, and a file of no rows has its columns still', async () => {
    const rows = await tableOfEveryType([{ ...EMPTY_ROW, whole: 3, price: 2, day: '2021-03-04' }])
    const { buffer } = await fileOf(await open(rows), 'parquet', 99, { values: 'shown' })
    expect((await parquetReadObjects({ file: buffer }))[0]).toMatchObject({
      kind: 'ash',
      day: '2020-01-02',
      seen: 'yes',
      price: '1.25',
    })
    const none = {
      ...PLAIN,
      conditions: { kind: { match: 'all' as const, parts: [{ kind: 'equals' as const, value: 'none' }] } },
    }
    const opened = await open(rows, none)
    const empty = parquetMetadata((await fileOf(opened, 'parquet', 10)).buffer)
    expect([Number(empty.num_rows), empty.schema.length]).toEqual([0, rows.fields.length + 1])
    const told = arrow.tableFromIPC(await fileOf(opened, 'arrow', 10))
    expect([told.numRows, told.schema.fields.map(({ name }) => name)]).toEqual([
      0,
      rows.fields.map(({ key }) => key),
    ])
  })
})

// ── A workbook ───────────────────────────────────────────────────────────────────────────────────────────────────────

const LETTERS = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H', 'I', 'J', 'K', 'L', 'M', 'N', 'O', 'P']

async function workbookOf(
  { source, view }: Opened,
  step: number,
  groups?: ExportedGroups,
  request?: ViewRequest,
): Promise<Record<string, string>> {
  const columns = view.fields.map(field => ({ title: `The ${field.key}`, field, format: {}, width: 100 }))
  const workbook = { name: 'Trees / 2024: [all]', columns, pinned: 1, levels: groups ? 1 : 0, asShown: false }
  const sheet: SheetColumn[] = [
    ...(groups ? [...groups.levels.map(() => ({ format: {}, style: 0 })), { format: {}, style: 0 }] : []),
    ...styleNumbers(workbook).map(style => ({ format: {}, style })),
  ]
  const files = workbookFiles(workbook)
  async function* content(): AsyncGenerator<PackedPart> {
    const begin = packNow(files.before)
    yield begin
    let crc = begin.crc
    for (let from = 0, places = 1; from < places; from += step) {
      const told = await source.ask('exportSheet', {
        view: view.id,
        rows: { kind: 'passing' },
        from,
        to: from + step,
        columns: view.fields.map(({ key }) => ({ key, title: key })),
        values: 'raw',
        sheet,
        crc,
        groups,
        request,
      })
      places = told.places
      crc = told.crc
      yield told
    }
    yield packNow(files.after, crc)
  }
  const parts: Uint8Array<ArrayBuffer>[] = []
  const others = Object.entries(files.others).map(([name, text]) => ({ name, content: text }))
  for await (const part of zipStream([...others, { name: files.sheet, content: content() }])) parts.push(part)
  const zip = unzipSync(new Uint8Array(await new Blob(parts).arrayBuffer()))
  return Object.fromEntries(Object.entries(zip).map(([name, content]) => [name, strFromU8(content)]))
}

/** The cells of a sheet, a row a list: numbers, truths and texts as what they are. */
function cellsOf(
  xml: string,
): { readonly level: number; readonly cells: (string | number | boolean | null)[] }[] {
  const unescaped = (text: string): string =>
    text
      .replaceAll('&lt;', '<')
      .replaceAll('&gt;', '>')
      .replaceAll('&amp;', '&')
      .replace(/_x([0-9A-F]{4})_/g, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)))
  return [...xml.matchAll(/<row(?: outlineLevel="(\d)")?>(.*?)<\/row>/gs)].map(([, level, row]) => ({
    level: Number(level ?? 0),
    cells: [...row!.matchAll(/<c\/>|<c([^>]*)>(.*?)<\/c>/gs)].map(([whole, attributes, inner]) => {
      if (whole === '<c/>') return null
      const content = inner!.replace(/<[^>]*>/g, '')
      if (attributes!.includes('t="b"')) return content === '1'
      return attributes!.includes('inlineStr') ? unescaped(content) : Number(content)
    }),
  }))
}

describe('a workbook', () => {
  it('holds numbers, truths, days and moments as what they are, and all else as texts', async () => {
    await fc.assert(
      fc.asyncProperty(everyType, fc.integer({ min: 1, max: 50 }), async (rows, step) => {
        const table = await tableOfEveryType(rows)
        const files = await workbookOf(await open(table), step)
        const [head, ...body] = cellsOf(files['xl/worksheets/sheet1.xml']!)
        expect(head!.cells).toEqual(table.fields.map(({ key }) => `The ${key}`))
        const serial = (days: number, text: string): number | string =>
          days + 25_569 >= 61 ? days + 25_569 : text
        const wanted = rowsOf(table).map(row =>
          table.fields.map(({ key, type }) => {
            const value = row[key]!
            if (value === null) return null
            if (type === 'date') return serial(Number(value), iso(Number(value) * 864e5).slice(0, 10))
            if (type === 'time') return Number(value) / 864e5
            if (type === 'datetime') {
              const days = Number(value) / 864e5
              return days + 25_569 >= 61 ? days + 25_569 : 'a text'
            }
            // What has more digits than a number of a sheet stays a text.
            const isNumber = type === 'integer' || type === 'number'
            return isNumber && String(value).replace(/\D/g, '').length <= 15 ? Number(value) : value
          }),
        )
        expect(
          body.map(({ cells }) =>
            cells.map((cell, nth) =>
              table.fields[nth]!.type === 'datetime' && typeof cell === 'string' ? 'a text' : cell,
            ),
          ),
        ).toEqual(wanted)
      }),
      runs(60),
    )
  })

  it('has its headings in view, widths, styles, and a name that spreadsheets take', async () => {
    const table = await tableOfEveryType([EMPTY_ROW])
    const files = await workbookOf(await open(table), 99)
    expect(files['xl/workbook.xml']).toContain('<sheet name="Trees   2024   all" ')
    const sheet = files['xl/worksheets/sheet1.xml']!
    expect(sheet).toContain(
      '<pane xSplit="1" ySplit="1" topLeftCell="B2" activePane="bottomRight" state="frozen"/>',
    )
    expect(sheet).toContain('<col min="1" max="1" width="13.57" customWidth="1"/>')
    expect(files['xl/styles.xml']).toContain('formatCode="yyyy-mm-dd"')
    expect(LETTERS.length).toBeGreaterThan(table.fields.length)
    expect(MOST_SHEET_ROWS).toBe(2 ** 20)
  })

  it('writes what XML does not have by its number', () => {
    expect(sheetText('a<b>&\u0001\r\n_x0041_ \ud800 😀')).toBe(
      'a&lt;b&gt;&amp;_x0001__x000D_\n_x005F_x0041_ _xD800_ 😀',
    )
    expect(sheetText('x'.repeat(40_000))).toHaveLength(32_767)
  })
})

// ── Groups ───────────────────────────────────────────────────────────────────────────────────────────────────────────

const GROUPS: ExportedGroups = {
  as: 'lines',
  levels: [{ key: '@site', title: 'Site (group)' }],
  count: { key: '@rows', title: 'Rows' },
  rest: 'all others',
  of: [
    { column: 'count', summary: 'sum', levels: [{ key: '@site sum of count', title: 'Sum of count' }] },
    { column: 'mass', summary: 'minimum', levels: [{ key: '@site least mass', title: 'Least mass' }] },
  ] as ExportedGroups['of'],
}
const grouped = {
  ...PLAIN,
  groups: [{ column: 'site', bucket: { by: 'value' }, order: { by: 'key', descending: false }, feet: false }],
} as unknown as ViewRequest

describe('groups with what columns come to in them', () => {
  it('stand before their rows as lines, or beside them as columns', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, fc.integer({ min: 1, max: 30 }), async (given, step) => {
        const table = tableOf(given)
        const keys = ['site', 'count', 'mass'].filter(key => table.fields.some(field => field.key === key))
        if (keys.length < 3 || table.fields.find(({ key }) => key === 'count')?.type === 'text') return
        const opened = await open(table, grouped)
        const { source, view } = opened
        const rows = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
        const value = (row: (typeof rows)[number], key: string): Value =>
          view.lines.value(0, row, key) ?? null
        const sites = [...new Set(rows.map(row => value(row, 'site')))]
        const of = (site: Value) => rows.filter(row => value(row, 'site') === site)
        const numbers = (site: Value, key: string): number[] =>
          of(site)
            .map(row => value(row, key))
            .filter(one => one !== null)
            .map(Number)
        const sum = (site: Value): number | null => {
          const all = numbers(site, 'count')
          return all.length === 0 ? null : all.reduce((total, one) => total + one, 0)
        }
        const least = (site: Value): number | null => {
          const all = numbers(site, 'mass')
          return all.length === 0 ? null : Math.min(...all)
        }
        const read = async (as: ExportedGroups['as']): Promise<unknown[]> => {
          const lines: string[] = []
          for (let from = 0, places = 1; from < places; from += step) {
            const told = await source.ask('exportText', {
              view: view.id,
              rows: { kind: 'passing' },
              from,
              to: from + step,
              columns: keys.map(key => ({ key, title: key })),
              rules: { format: 'ndjson', values: 'raw' },
              groups: { ...GROUPS, as },
              request: grouped,
            })
            places = told.places
            lines.push(...told.text.split('\n').filter(Boolean))
          }
          return lines.map(line => JSON.parse(line) as unknown)
        }
        const cells = (row: (typeof rows)[number]) =>
          Object.fromEntries(keys.map(key => [key, value(row, key)]))
        expect(await read('lines')).toEqual(
          sites.flatMap(site => [
            { '@site': site, '@rows': of(site).length, site: null, count: sum(site), mass: least(site) },
            ...of(site).map(row => ({ '@site': null, '@rows': null, ...cells(row) })),
          ]),
        )
        const columns = rows.map(row => ({
          '@site': value(row, 'site'),
          '@site sum of count': sum(value(row, 'site')),
          '@site least mass': least(value(row, 'site')),
          ...cells(row),
        }))
        expect(await read('columns')).toEqual(columns)
        const parquet = await fileOf(opened, 'parquet', step, {
          columns: keys,
          groups: { ...GROUPS, as: 'columns' },
          request: grouped,
        })
        const back = await parquetReadObjects({ file: parquet.buffer })
        expect(
          back.map(row =>
            Object.fromEntries(
              Object.entries(row).map(([key, one]) => [
                key,
                typeof one === 'bigint' ? Number(one) : (one ?? null),
              ]),
            ),
          ),
        ).toEqual(columns)
      }),
      runs(60),
    )
  })
})
