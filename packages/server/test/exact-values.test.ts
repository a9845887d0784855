import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import type { ServiceOptions } from '../../engine/src/service/service-options.ts'
import type { RowSource } from '../../engine/src/source/row-source.ts'
import type { ViewRequest } from '../../engine/src/flow/view-request.ts'
import { readTyped } from '../../engine/src/check/read-typed.ts'
import { digitsOfDouble } from '../../engine/src/table/digits.ts'
import { PLAIN } from '../../engine/test/support/random-table.ts'
import { runs } from '../../engine/test/support/runs.ts'
import { asLine } from '../../engine/src/flow/line.ts'
import { ARROW_STREAM } from '../src/tables/answer-formats.ts'
import { serveTables, type Handler } from '../src/handler/serve-tables.ts'
import { databaseNames, DATABASES, type Database } from './support/databases.ts'

const DAY_MS = 86_400_000

/** By column: its type in the database, and values as a statement and as a cell has them. */
interface Kind {
  readonly type: string
  readonly values: fc.Arbitrary<readonly [literal: string, value: unknown]>
}

/** Numbers come as digits only where a column has some that no double tells. */
function plain(value: unknown): unknown {
  if (typeof value === 'number') return digitsOfDouble(value)
  return typeof value === 'string' && /^-?\d+\.\d+$/.test(value) ? value.replace(/\.?0+$/, '') : value
}

const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`

const KINDS: Readonly<Record<string, Kind>> = {
  big: {
    type: 'bigint',
    values: fc.bigInt({ min: -(2n ** 63n) + 2n, max: 2n ** 63n - 3n }).map(value => {
      const text = String(value)
      return [text, text] as const
    }),
  },
  price: {
    type: 'decimal(30, 4)',
    values: fc
      .tuple(fc.bigInt({ min: -(10n ** 26n) + 1n, max: 10n ** 26n - 1n }), fc.integer({ min: 1, max: 9999 }))
      .map(([whole, part]) => {
        const text = `${whole}.${String(part).padStart(4, '0')}`
        return [text, text] as const
      }),
  },
  small: {
    type: 'decimal(18, 12)',
    values: fc.integer({ min: 1, max: 9999 }).map(units => {
      const text = `0.${String(units).padStart(12, '0')}`
      return [text, Number(text)] as const
    }),
  },
  mass: {
    type: 'double precision',
    values: fc
      .double({ noNaN: true, noDefaultInfinity: true })
      .map(value => [`cast('${value}' as double precision)`, value + 0] as const),
  },
  seen: { type: 'boolean', values: fc.boolean().map(value => [String(value), value] as const) },
  day: {
    type: 'date',
    values: fc
      .integer({ min: -700_000, max: 2_900_000 })
      .map(day => [`date ${quoted(new Date(day * DAY_MS).toISOString().slice(0, 10))}`, day] as const),
  },
  clock: {
    type: 'time',
    values: fc
      .integer({ min: 0, max: DAY_MS - 1 })
      .map(ms => [`time ${quoted(new Date(ms).toISOString().slice(11, 23))}`, ms] as const),
  },
  wall: {
    type: 'timestamp',
    values: fc
      .integer({ min: -4e12, max: 4e12 })
      .map(ms => [`timestamp ${quoted(new Date(ms).toISOString().slice(0, 23))}`, ms] as const),
  },
  moment: {
    type: 'timestamptz',
    values: fc
      .integer({ min: -4e12, max: 4e12 })
      .map(ms => [`timestamptz ${quoted(`${new Date(ms).toISOString().slice(0, 23)}+00`)}`, ms] as const),
  },
  note: {
    type: 'text',
    values: fc
      .constantFrom(
        '',
        ' ',
        'Łódź',
        "it's",
        '𝄞 clef',
        'a,b"c',
        '9007199254740993',
        '1e3',
        'null',
        'x'.repeat(300),
      )
      .map(text => [quoted(text), text] as const),
  },
  tags: {
    type: 'text[]',
    values: fc
      .array(fc.constantFrom('wet', 'a,b', '"q"', 'ü'), { minLength: 1, maxLength: 3 })
      .map(tags => [`array[${tags.map(quoted).join(',')}]`, JSON.stringify(tags)] as const),
  },
}
const NAMES = Object.keys(KINDS)

const randomRow = fc.record(
  Object.fromEntries(
    NAMES.map(name => [name, fc.option(KINDS[name].values, { nil: ['null', null] as const, freq: 4 })]),
  ),
)

describe.each(databaseNames)('values that come from %s', name => {
  let database: Database
  let handler: Handler
  let formats: string[] = []
  let isSpoilt = false

  beforeAll(async () => {
    database = await DATABASES[name]()
    const types = Object.fromEntries(NAMES.map(column => [column, KINDS[column].type]))
    await database.makeTable('found', { row: 'bigint not null', ...types }, ['row'])
    handler = serveTables({
      engine: database.engine,
      tables: [{ name: 'found', key: ['row'] }],
      path: '/rows',
      // Of some ten rows: several answers, each but the last with a link to the next.
      limits: { rows: 4 },
    })
  })
  afterAll(() => database.close())

  const put = async (
    rows: readonly Readonly<Record<string, readonly [string, unknown]>>[],
  ): Promise<void> => {
    await database.run('delete from found')
    const lines = rows.map((row, at) => `(${[at, ...NAMES.map(column => row[column][0])].join(', ')})`)
    await database.run(`insert into found values ${lines.join(', ')}`)
  }

  async function opened(near: ServiceOptions['near'], withArrow = true): Promise<RowSource> {
    formats = []
    const source = serviceSource({
      address: 'http://service/rows',
      rows: 'found',
      near,
      async fetch(request) {
        if (!withArrow) request.headers.set('accept', 'application/json')
        const answer = await handler(request)
        formats.push(answer.headers.get('content-type') ?? '')
        return isSpoilt ? new Response(await answer.text(), answer) : answer
      },
    })
    await source.open()
    return source
  }

  async function cellsOf(source: RowSource, request: ViewRequest = PLAIN): Promise<unknown[][]> {
    const { lines } = await source.view(request)
    while (lines.lineCount > 0 && lines.line(lines.lineCount - 1) === undefined) {
      const came = new Promise<void>(resolve => lines.onArrive(resolve))
      lines.want(0, lines.lineCount, NAMES)
      if (lines.line(lines.lineCount - 1) === undefined) await came
    }
    return Array.from({ length: lines.lineCount }, (_, at) => {
      const line = lines.line(at)
      if (line?.kind !== 'row') throw new Error('a row is missing')
      return NAMES.map(column => plain(lines.value(asLine(at), line.row, column) ?? null))
    })
  }

  async function nearCells(withArrow: boolean): Promise<unknown[][]> {
    const source = await opened({ rows: 1e6, bytes: 1e9 }, withArrow)
    const came = new Promise<void>(resolve => source.onChange(() => resolve()))
    await source.view(PLAIN)
    await came
    const view = await source.view(PLAIN)
    expect(view.report.near?.rows).toBe(view.report.passing)
    const cells = await cellsOf(source)
    source.close()
    return cells
  }

  it('are the same to the last digit, read line by line, fetched as records, and fetched as Arrow', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(randomRow, { minLength: 1, maxLength: 10 }), async rows => {
        await put(rows)
        const told = rows.map(row => NAMES.map(column => plain(row[column][1])))
        const far = await opened(false)
        expect(await cellsOf(far)).toEqual(told)
        far.close()
        expect(await nearCells(false)).toEqual(told)
        expect(formats.some(format => format.startsWith(ARROW_STREAM))).toBe(false)
        expect(await nearCells(true)).toEqual(told)
        expect(formats.filter(format => format.startsWith(ARROW_STREAM))).toHaveLength(
          // One row more is asked for: an answer that is full has another behind it.
          Math.ceil((rows.length + 1) / 4),
        )
      }),
      runs(20),
    )
  })

  it('come once in an Arrow stream where they recur', async () => {
    const none = Object.fromEntries(NAMES.map(column => [column, ['null', null] as const]))
    const notes = ['Łódź', 'Łódź', 'Łódź', 'Łódź', null, null, null, null, 'a', null, 'a', 'a']
    await put(notes.map(note => ({ ...none, note: [note === null ? 'null' : quoted(note), note] as const })))
    const at = NAMES.indexOf('note')
    expect((await nearCells(true)).map(row => row[at])).toEqual(notes)
    const stream = await handler(
      new Request('http://service/rows/found?$select=note&$top=4', { headers: { accept: ARROW_STREAM } }),
    )
    expect(new TextDecoder().decode(await stream.arrayBuffer()).match(/Łódź/g)).toHaveLength(1)
  })

  it('come as records where something on the way takes an Arrow stream for text', async () => {
    const none = Object.fromEntries(NAMES.map(column => [column, ['null', null] as const]))
    await put([{ ...none, note: [quoted('Łódź'), 'Łódź'] as const, big: ['-1', '-1'] as const }])
    isSpoilt = true
    const cells = await nearCells(true)
    isSpoilt = false
    expect(formats.some(format => format.startsWith(ARROW_STREAM))).toBe(true)
    expect(cells[0][NAMES.indexOf('note')]).toBe('Łódź')
    expect(cells[0][NAMES.indexOf('big')]).toBe('-1')
  })

  it('are found by conditions on digits that no double tells apart', async () => {
    const one = Object.fromEntries(NAMES.map(column => [column, ['null', null] as const]))
    const price = '12345678901234567890.1234'
    await put(
      ['9007199254740992', '9007199254740993', '9007199254740994'].map(big => ({
        ...one,
        big: [big, big] as const,
        price: [big.endsWith('3') ? price : '12345678901234567890.1235', null] as const,
      })),
    )
    const source = await opened(false)
    const found = async (column: string, value: string): Promise<number> => {
      const conditions = { [column]: { match: 'all' as const, parts: [{ kind: 'equals' as const, value }] } }
      return (await source.view({ ...PLAIN, conditions })).report.passing
    }
    expect(await found('big', '9007199254740993')).toBe(1)
    expect(await found('price', price)).toBe(1)
    // What is typed into such a column is kept as it is typed.
    const field = (await source.ask('description', {})).fields.find(({ key }) => key === 'big')
    expect(readTyped('9007199254740995', field!, {})).toMatchObject({ value: '9007199254740995' })
    source.close()
  })
})
