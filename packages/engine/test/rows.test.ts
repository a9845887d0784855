import { isAble } from '../src/question/abilities.ts'
import type { RowId } from '../src/table/row-id.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { cellMakers } from '../src/source/made-up/make-cells.ts'
import { makeTable } from '../src/source/made-up/make-table.ts'
import { recipeSchema } from '../src/source/made-up/recipe.ts'
import { computedSource } from '../src/source/computed-source.ts'
import { TileReader, TILE_LINES } from '../src/source/tile-reader.ts'
import { isoDay, isoTime, dayNumber, daysInMonth } from '../src/table/calendar.ts'
import { shower } from '../src/table/shown-text.ts'
import { valueAt } from '../src/table/column.ts'
import { TextBuilder } from '../src/table/text-builder.ts'
import { fold, searchWords } from '../src/search/fold.ts'
import { finish } from '../src/work/work.ts'
import { runs } from './support/runs.ts'

describe('row objects', () => {
  it('become columns that give every value back', () => {
    const value = fc.oneof(
      fc.integer(),
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.boolean(),
      fc.string({ minLength: 1 }),
      fc.constant(null),
    )
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ a: value, b: fc.integer(), c: fc.string({ minLength: 1 }) }, { requiredKeys: [] }),
          { maxLength: 30 },
        ),
        rows => {
          const table = finish(tableFromRows(rows))
          table.fields.forEach((field, i) => {
            rows.forEach((row, r) => {
              const given = row[field.key as 'a'] ?? null
              const read = valueAt(table.columns[i], r)
              if (field.type === 'text' && given !== null) expect(read).toBe(String(given))
              else if (typeof given === 'number') expect(read === 0 ? 0 : read).toBe(given === 0 ? 0 : given)
              else if (field.type !== 'date' && field.type !== 'datetime') expect(read).toBe(given)
            })
          })
        },
      ),
      runs(300),
    )
  })

  it('have their types inferred over all values', () => {
    const table = finish(
      tableFromRows([
        { n: 1, x: 1.5, day: '2024-06-14', at: new Date(5), mixed: 1, tags: ['a'], nan: NaN },
        { n: 2, x: 2, day: null, at: null, mixed: 'two', tags: { b: 1 }, nan: 3 },
      ]),
    )
    expect(table.fields.map(field => [field.key, field.type])).toEqual([
      ['n', 'integer'],
      ['x', 'number'],
      ['day', 'date'],
      ['at', 'datetime'],
      ['mixed', 'text'],
      ['tags', 'tags'],
      ['nan', 'integer'],
      ['tags.b', 'integer'],
    ])
    expect(valueAt(table.columns[5], 0)).toBe('["a"]')
    expect(valueAt(table.columns[7], 1)).toBe(1)
    expect(valueAt(table.columns[6], 0)).toBeNull()
  })
})

describe('the text builder', () => {
  it('gives back what was added, with and without a dictionary', () => {
    const builder = new TextBuilder()
    const texts = Array.from({ length: 150_000 }, (_, i) =>
      i % 10 === 3 ? null : i % 3 === 0 ? 'again and again' : `text ${i} ü`,
    )
    texts.forEach(text => (text === null ? builder.addMissing() : builder.addText(text)))
    const column = builder.finish()
    expect(column.kind).toBe('plain')
    for (let i = 0; i < texts.length; i += 37) expect(valueAt(column, i)).toBe(texts[i])
    const few = new TextBuilder()
    for (let i = 0; i < 1000; i++) few.addText(`v${i % 7}`)
    expect(few.finish()).toMatchObject({ kind: 'coded', missing: null })
  })
})

describe('made-up rows', () => {
  const recipe = recipeSchema.parse({
    name: 'all kinds',
    rows: 5000,
    seed: 3,
    columns: [
      { key: 'id', kind: 'count', start: 10 },
      {
        key: 'site',
        kind: 'compose',
        parts: [
          ['A', 'B'],
          ['x', 'y', 'z'],
        ],
        lean: 2,
        missing: 0.1,
      },
      { key: 'plot', kind: 'within', column: 'site', count: 4, between: '-' },
      { key: 'state', kind: 'pick', of: ['one', 'two'] },
      { key: 'cover', kind: 'number', from: -5, to: 20, decimals: 2, lean: 3, missing: 0.2 },
      { key: 'day', kind: 'date', from: '2020-01-01', to: '2020-12-31' },
      { key: 'at', kind: 'time', from: '2020-01-01', to: '2020-01-02' },
      { key: 'ok', kind: 'yes-no', yes: 0.3, missing: 0.05 },
      { key: 'note', kind: 'remark', words: ['red', 'blue', 'über'], least: 1, most: 5, missing: 0.1 },
    ],
  })

  it('are the same cell by cell as column by column', () => {
    const table = finish(makeTable(recipe))
    const makers = cellMakers(recipe)
    makers.forEach((maker, c) => {
      for (let row = 0; row < recipe.rows; row += 7)
        expect(valueAt(table.columns[c], row)).toBe(maker.value(row))
    })
  })

  it('keep to their limits and shares', () => {
    const table = finish(makeTable(recipe))
    const values = (key: string): unknown[] => {
      const place = table.fields.findIndex(field => field.key === key)
      return Array.from({ length: table.rows }, (_, row) => valueAt(table.columns[place], row))
    }
    const covers = values('cover').filter(value => value !== null) as number[]
    expect(Math.min(...covers)).toBeGreaterThanOrEqual(-5)
    expect(Math.max(...covers)).toBeLessThanOrEqual(20)
    expect(covers.length / 5000).toBeCloseTo(0.8, 1)
    expect(values('ok').filter(Boolean).length / 5000).toBeCloseTo(0.285, 1)
    expect(new Set(values('site')).size).toBe(7)
    values('plot').forEach((plot, row) => {
      const site = values.length && cellMakers(recipe)[1].value(row)
      if (site !== null) expect(String(plot).startsWith(`${site as string}-`)).toBe(true)
    })
  })

  it('are others with another seed', () => {
    const [a, b] = [1, 2].map(seed => cellMakers({ ...recipe, seed })[4])
    const differing = Array.from({ length: 100 }, (_, row) => a.value(row) !== b.value(row)).filter(Boolean)
    expect(differing.length).toBeGreaterThan(50)
  })
})

describe('reading in tiles', () => {
  const later = (): Promise<void> => new Promise(resolve => setTimeout(resolve, 1))

  it('answers with what was fetched, and fetches each tile once', async () => {
    const asked: string[] = []
    const reader = new TileReader(1000, async (from, to, columns) => {
      asked.push(`${from}-${to} ${columns.join()}`)
      await later()
      const numbers = Array.from({ length: to - from }, (_, i) => from + i)
      return {
        groups: [],
        lines: numbers.map(row => ({ kind: 'row' as const, level: 0, row: row as RowId })),
        texts: numbers.flatMap(row => columns.map(column => `${column}${row}`)),
        values: numbers.flatMap(row => columns.map(() => row)),
      }
    })
    let arrived = 0
    reader.onArrive(() => arrived++)
    expect(reader.line(40)).toBeUndefined()
    reader.want(40, 60, ['a', 'b'])
    reader.want(40, 60, ['a', 'b'])
    await later()
    await later()
    await later()
    expect(reader.line(41)).toEqual({ kind: 'row', level: 0, row: 41 })
    expect(reader.text(41, 41 as RowId, 'b')).toBe('b41')
    expect(reader.value(41, 41 as RowId, 'a')).toBe(41)
    expect(reader.text(41, 41 as RowId, 'c')).toBeUndefined()
    expect(new Set(asked).size).toBe(asked.length)
    expect(asked[0]).toBe(`${TILE_LINES}-${2 * TILE_LINES} a,b`)
    expect(arrived).toBe(asked.length)
  })

  it('asks again for what failed, and hears nothing once closed', async () => {
    let fail = true
    let calls = 0
    const reader = new TileReader(10, async () => {
      calls++
      await later()
      if (fail) throw new Error('down')
      return {
        groups: [],
        lines: Array.from({ length: 10 }, (_, row) => ({
          kind: 'row' as const,
          level: 0,
          row: row as RowId,
        })),
        texts: Array(10).fill('x') as string[],
        values: Array(10).fill(1) as number[],
      }
    })
    reader.want(0, 10, ['a'])
    await later()
    await later()
    expect(reader.line(0)).toBeUndefined()
    fail = false
    reader.want(0, 10, ['a'])
    await later()
    await later()
    expect(reader.line(0)).toEqual({ kind: 'row', level: 0, row: 0 })
    expect(calls).toBe(2)
    reader.close()
    reader.want(0, 10, ['b'])
    await later()
    expect(calls).toBe(2)
  })
})

describe('a computed source', () => {
  it('answers at any place, and says what it cannot do', async () => {
    const source = computedSource({
      rows: 2 ** 31 - 1,
      fields: [{ key: 'n', type: 'integer' }],
      cell: row => row * 2,
    })
    const { can, total } = await source.open()
    const why = { code: 'rows-computed' }
    expect(can).toMatchObject({ search: why, commit: why })
    expect([isAble(can.order), isAble(can.conditions), isAble(can.groups), isAble(can.summaries)]).toEqual([
      false,
      false,
      false,
      false,
    ])
    expect([isAble(can.questions, 'facets'), isAble(can.questions, 'records')]).toEqual([false, true])
    expect(total.rows).toBe(2 ** 31 - 1)
    const request = {
      order: [],
      conditions: {},
      search: '',
      searchColumns: ['n'],
      groups: [],
      open: { levels: null, except: [] },
    }
    const { lines } = await source.view(request)
    expect(lines.text(2e9, 2e9 as RowId, 'n')).toBe('4000000000')
    expect(await source.ask('records', { rows: [3 as RowId] })).toEqual([{ n: 6 }])
    await expect(source.ask('facets', { request, column: 'n', limit: 3 })).rejects.toThrow('worked out')
    const chunks: unknown[] = []
    for await (const chunk of source.stream({ request, chunk: 2 })) {
      chunks.push(chunk)
      if (chunks.length === 2) break
    }
    expect(chunks).toEqual([
      [{ n: 0 }, { n: 2 }],
      [{ n: 4 }, { n: 6 }],
    ])
  })
})

describe('texts of dates, numbers and words', () => {
  it('writes any day as the language’s own calendar does', () => {
    fc.assert(
      fc.property(fc.integer({ min: -700_000, max: 2_000_000 }), day => {
        const iso = new Date(day * 864e5).toISOString()
        expect(isoDay(day)).toBe(iso.split('T')[0])
        const [year, month, date] = [
          new Date(day * 864e5).getUTCFullYear(),
          new Date(day * 864e5).getUTCMonth() + 1,
          new Date(day * 864e5).getUTCDate(),
        ]
        expect(dayNumber(year, month, date)).toBe(day)
        expect(daysInMonth(year, month)).toBe(new Date(Date.UTC(year, month, 0)).getUTCDate())
      }),
    )
    expect(isoTime(-1)).toBe('1969-12-31 23:59:59.999')
  })

  it('writes values as formats say, and nothing for a missing one', () => {
    expect(shower({ key: 'n', type: 'number', decimals: 2 })(1.5)).toBe('1.50')
    expect(shower({ key: 'n', type: 'number', decimals: 2 }, { decimals: 0 })(1.5)).toBe('2')
    expect(shower({ key: 'n', type: 'number' })(1e21)).toBe('1e+21')
    expect(shower({ key: 'd', type: 'date' }, { date: 'medium', locale: 'en-GB' })(0)).toBe('01 Jan 1970')
    expect(shower({ key: 't', type: 'datetime', zoned: true }, { date: 'medium' })(34_200_000)).toBe(
      '01 Jan 1970 09:30 UTC',
    )
    expect(shower({ key: 'b', type: 'boolean' })(false)).toBe('no')
    expect(shower({ key: 'b', type: 'boolean' })(null)).toBe('')
  })

  it('takes case and accents off, and reads words and quoted phrases', () => {
    expect(fold('Élan ÜBER Straße łódź Ærø ΣΟΦΟΣ')).toBe('elan uber strasse lodz aero σοφοσ')
    expect(searchWords('  Two  "Quoted Words" two "open end')).toEqual(['two', 'quoted words', 'open end'])
    expect(searchWords(' "" ')).toEqual([])
  })
})
