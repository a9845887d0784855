import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isoClock, isoDay } from '../src/table/calendar.ts'
import type { ExportedRows } from '../src/question/export-args.ts'
import type { TextRules } from '../src/export/cell-writer.ts'
import { RowSet } from '../src/selection/row-set.ts'
import { plainWriter } from '../src/table/plain-text.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { RowSource, View } from '../src/source/row-source.ts'
import { asRowId, rowsIn, type RowId } from '../src/table/row-id.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

/** Reads RFC 4180, one character after another. */
function readCsv(text: string, separator: string): (string | null)[][] {
  const rows: (string | null)[][] = []
  let row: (string | null)[] = []
  let at = 0
  while (at < text.length) {
    let cell: string | null = null
    if (text[at] === '"') {
      cell = ''
      at++
      while (text[at] !== '"' || text[at + 1] === '"') {
        cell += text[at]
        at += text[at] === '"' ? 2 : 1
      }
      at++
    } else {
      const start = at
      while (at < text.length && text[at] !== separator && text[at] !== '\r') at++
      cell = at > start ? text.slice(start, at) : null
    }
    row.push(cell)
    if (text[at] === separator) {
      at++
      if (at === text.length) row.push(null)
      continue
    }
    expect(text.slice(at, at + 2)).toBe('\r\n')
    at += 2
    rows.push(row)
    row = []
  }
  return rows
}

async function written(
  source: RowSource,
  view: View,
  rows: ExportedRows,
  rules: TextRules,
  step: number,
): Promise<{ parts: string[]; count: number }> {
  const columns = COLUMNS.map(key => ({ key, title: `The ${key}` }))
  const parts: string[] = []
  let count = 0
  for (let from = 0, places = 1; from < places; from += step) {
    const told = await source.ask('exportText', {
      view: view.id,
      rows,
      from,
      to: from + step,
      columns,
      rules,
    })
    parts.push(told.text)
    count += told.rows
    places = told.places
  }
  return { parts, count }
}

const someRows = fc.oneof(
  fc.constant<ExportedRows>({ kind: 'all' }),
  fc.constant<ExportedRows>({ kind: 'passing' }),
  fc
    .tuple(fc.constantFrom('passing' as const, 'held-back' as const), fc.array(fc.nat(60), { maxLength: 20 }))
    .map(([kind, ids]): ExportedRows => {
      const set = new RowSet()
      for (const id of ids) set.add(asRowId(id))
      return { kind, among: set.packed() }
    }),
)

describe('rows written as text', () => {
  it('read back are what they were, whichever rows, in whatever parts', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        randomRequest,
        someRows,
        fc.constantFrom<TextRules['separator']>(',', ';', '\t'),
        fc.constantFrom<TextRules['values']>('shown', 'raw'),
        fc.integer({ min: 1, max: 50 }),
        async (given, request, rows, separator, values, step) => {
          const source = new PageSource({ kind: 'table', table: tableOf(given) }, [], {}, {})
          await source.open()
          const view = await source.view(request)
          const passing = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
          const among =
            rows.kind === 'all' || !rows.among ? null : new Set(rowsIn({ kind: 'set', ...rows.among }))
          const every = given.map((_, row) => asRowId(row))
          const wanted = (rows.kind === 'passing' ? passing : every).filter(
            row => (!among || among.has(row)) && (rows.kind !== 'held-back' || !passing.includes(row)),
          )
          const field = (key: string) => view.fields.find(one => one.key === key)!
          const value = (row: RowId, key: string) => view.lines.value(0, row, key) ?? null
          const text = (row: RowId, key: string): string | null => {
            const held = value(row, key)
            if (held === null) return null
            if (values === 'shown') return view.lines.text(0, row, key)!
            const { type } = field(key)
            if (type === 'date') return isoDay(Number(held))
            if (type === 'time') return isoClock(Number(held))
            return type === 'tags' ? (JSON.parse(String(held)) as string[]).join(', ') : String(held)
          }

          const csv = await written(
            source,
            view,
            rows,
            { format: 'csv', values, separator, neutral: false },
            step,
          )
          const [head, ...body] = readCsv(csv.parts.join(''), separator ?? ',')
          const lines = rows.kind === 'held-back' ? [head, ...body].filter(Boolean) : body
          if (rows.kind !== 'held-back' && head) expect(head).toEqual(COLUMNS.map(key => `The ${key}`))
          expect(lines).toEqual(wanted.map(row => COLUMNS.map(key => text(row, key))))
          expect(csv.count).toBe(wanted.length)

          const json = await written(source, view, rows, { format: 'json', values }, step)
          const read: unknown = JSON.parse(`[${json.parts.filter(Boolean).join(',')}]`)
          const lined = await written(source, view, rows, { format: 'ndjson', values }, step)
          const each = lined.parts.join('').split('\n').filter(Boolean)
          expect(each.map(line => JSON.parse(line) as unknown)).toEqual(read)
          expect(read).toEqual(
            wanted.map(row =>
              Object.fromEntries(
                COLUMNS.map(key => {
                  const held = value(row, key)
                  const { type } = field(key)
                  const isPlain = type === 'integer' || type === 'number' || type === 'boolean'
                  if (held === null || values === 'shown' || !(isPlain || type === 'tags'))
                    return [key, text(row, key)]
                  return [key, type === 'tags' ? JSON.parse(String(held)) : held]
                }),
              ),
            ),
          )
        },
      ),
      runs(300),
    )
  })

  it('no text begins as a formula, unless that is declined; numbers and dates stay as they are', async () => {
    const texts = ['=1+1', '+x', '-x', '@x', '\tx', '\rx', "'=x", 'x=1', '', '=a,"b"']
    const rows = texts.map((text, nth) => ({ text, tags: ['=t'], number: -nth - 1, day: '2020-01-02' }))
    const source = new PageSource({ kind: 'table', table: tableOf(rows as never) }, [], {}, {})
    await source.open()
    const view = await source.view({
      order: [],
      conditions: {},
      search: '',
      searchColumns: [],
      groups: [],
      open: { levels: null, except: [] },
    })
    const columns = ['text', 'tags', 'number', 'day'].map(key => ({
      key,
      title: key === 'text' ? '=text' : key,
    }))
    const ask = async (neutral?: boolean) => {
      const rules = { format: 'csv', values: 'raw', ...(neutral !== undefined && { neutral }) } as const
      const told = await source.ask('exportText', {
        view: view.id,
        rows: { kind: 'all' },
        from: 0,
        to: 99,
        columns,
        rules,
      })
      return readCsv(told.text, ',')
    }
    const [head, ...body] = await ask()
    expect(head![0]).toBe("'=text")
    expect(body.map(([text]) => text)).toEqual(
      texts.map(text => (text === '' ? null : /^[=+\-@\t\r]/.test(text) ? `'${text}` : text)),
    )
    expect(body.map(([, tags, number, day]) => [tags, number, day])).toEqual(
      rows.map(({ number }) => ["'=t", String(number), '2020-01-02']),
    )
    const [, ...declined] = await ask(false)
    expect(declined.map(([text]) => text)).toEqual(texts.map(text => text || null))
  })
})

describe('numbers as other programs read them', () => {
  it('are written by their shortest digits, whatever decimals their column was read with', () => {
    const some = fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.integer({ min: -2e9, max: 2e9 }),
      fc.tuple(fc.integer({ min: -1e9, max: 1e9 }), fc.nat(8)).map(([n, d]) => n / 10 ** d),
      fc.constantFrom(0, -0, 0.1, 1e15, 1e16, 1e-7, 1.005, 0.30000000000000004, 123456789012.25),
    )
    fc.assert(
      fc.property(some, fc.option(fc.nat(9), { nil: undefined }), (value, decimals) => {
        const write = plainWriter({ key: 'n', type: 'number', ...(decimals !== undefined && { decimals }) })
        expect(write(value)).toBe(String(value))
      }),
      runs(5000),
    )
  })
})
