// @vitest-environment jsdom
import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { firstRowsOf } from '../src/first/first-rows.ts'
import type { MeadowOptions } from '../src/kernel/options.ts'
import { mountMeadow } from '../src/mount.ts'

// What is shown before the engine is there, beside what the engine then says of the same rows.

const hosts: HTMLElement[] = []
afterEach(() => {
  for (const host of hosts.splice(0)) host.remove()
})

/** What the grid itself shows of its first rows, by column. */
async function told(options: MeadowOptions, count: number) {
  const host = document.createElement('div')
  document.body.append(host)
  hosts.push(host)
  const grid = mountMeadow(host, options)
  await grid.ready
  const columns = grid.definition?.columns ?? []
  const keys = columns.map(({ key }) => key)
  const texts = await grid.textsOfFirstRows(keys, count)
  const { arrangement } = grid
  grid.unmount()
  return { columns, keys, texts, arrangement }
}

const KINDS: readonly fc.Arbitrary<unknown>[] = [
  fc.integer({ min: -5000, max: 5000 }),
  fc.double({ min: -1e6, max: 1e6, noNaN: true }).map(value => Math.round(value * 100) / 100),
  fc.boolean(),
  fc.constantFrom('ash', 'elm', '', 'Straße', '2024-13-40'),
  fc.date({ min: new Date(0), max: new Date(2e12), noInvalidDate: true }),
  fc.constantFrom('2024-01-05', '1999-12-31'),
  fc.constantFrom('07:30', '23:59:10'),
  fc.array(fc.constantFrom('wet', 'dry', 'old'), { maxLength: 3 }),
  fc.record({ plot: fc.integer({ min: 0, max: 9 }), soil: fc.constantFrom('loam', 'clay') }),
  fc.bigInt({ min: -9n, max: 2n ** 60n }),
]
const absent = fc.constantFrom(null, undefined)

/** Rows whose columns are each of one kind, with some values missing. */
const rowLists = fc
  .array(fc.integer({ min: 0, max: KINDS.length - 1 }), { minLength: 1, maxLength: 5 })
  .chain(kinds =>
    fc.array(
      fc.record(
        Object.fromEntries(
          kinds.map((kind, i) => [`field_${i}`, fc.oneof({ arbitrary: KINDS[kind], weight: 6 }, absent)]),
        ),
      ),
      { minLength: 1, maxLength: 30 },
    ),
  )
const locales = fc.constantFrom(undefined, 'de', 'ar-EG', 'en-GB')

describe('the first rows', () => {
  it('say what the engine says of them, in columns as wide, where nobody defined any', async () => {
    await fc.assert(
      fc.asyncProperty(rowLists, locales, async (rows, locale) => {
        const options = { rows, locale }
        const first = firstRowsOf(options, 100)!
        const { columns, keys, texts, arrangement } = await told(options, rows.length)
        expect(first.definition.columns).toEqual(columns)
        expect(first.arrangement).toEqual(arrangement)
        const shown = rows.map((_, row) => keys.map(key => first.text(row, key)))
        expect(shown).toEqual(texts)
      }),
      { numRuns: 60 },
    )
  })

  it('say it in the formats of a definition', async () => {
    const formats = fc.constantFrom(
      {},
      { decimals: 1 },
      { number: 'grouped' },
      { number: 'currency', currency: 'EUR' },
      { date: 'long' },
      { date: 'short', zone: 'Asia/Tokyo' },
      { yes: 'oh yes', no: 'no!' },
    )
    await fc.assert(
      fc.asyncProperty(
        rowLists,
        locales,
        locales,
        fc.array(formats, { minLength: 5, maxLength: 5 }),
        async (rows, locale, pageLocale, by) => {
          const keys = Object.keys(rows[0])
          const definition = {
            format: 'vast-meadow-grid',
            version: 3,
            ...(locale && { locale }),
            columns: [
              ...keys.map((key, i) => ({ key, title: key, format: by[i] })),
              { key: 'no_such_field', title: 'None' },
            ],
            start: { hidden: keys.slice(0, 1), widths: { field_0: 77 } },
          } as MeadowOptions['definition']
          const options = { rows, definition, locale: pageLocale }
          const first = firstRowsOf(options, 100)!
          const grid = await told(options, rows.length)
          expect(first.arrangement).toEqual(grid.arrangement)
          const shown = rows.map((_, row) => grid.keys.map(key => first.text(row, key) ?? ''))
          // Objects are columns by their path; the path of the whole object is no field.
          expect(shown).toEqual(grid.texts)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('are as many as are wanted, and tell widths by rows from everywhere', () => {
    const rows = Array.from({ length: 5000 }, (_, id) => ({
      id,
      note: id < 4000 ? 'short' : 'a note that is long',
    }))
    const first = firstRowsOf({ rows }, 20)!
    expect([first.count, first.onPage, first.total]).toEqual([20, 5000, 5000])
    const [, note] = first.definition.columns
    expect(note.width).toBeGreaterThan(150)
    expect(first.text(19, 'id')).toBe('19')
  })

  it('are for the grid to say where anything but columns decides on them', () => {
    const rows = [{ a: 1, b: 'x' }]
    const definition = (more: object): MeadowOptions['definition'] =>
      ({ format: 'vast-meadow-grid', version: 3, columns: [{ key: 'a', title: 'A' }], ...more }) as never
    const storage = { load: () => Promise.resolve(null), save: () => Promise.resolve() }
    const all: MeadowOptions[] = [
      {},
      { rows: [] },
      { source: { kind: 'file', blob: new Blob([]) } as never },
      { rows, storage },
      { rows, unsaved: storage },
      { rows, place: {} },
      { rows, arrangement: { order: [{ column: 'a', direction: 'ascending' }] } },
      { rows, arrangement: { conditions: { a: { parts: [{ kind: 'at-least', value: 1 }] } } } as never },
      { rows, arrangement: { where: 'a > 1' } },
      { rows, arrangement: { search: 'x' } },
      { rows, arrangement: { groups: ['a'] } },
      { rows, arrangement: { summaries: { a: 'sum' } } },
      { rows, arrangement: { page: 2 } },
      { rows, arrangement: { pinnedRows: { head: [1] } } as never },
      { rows, definition: definition({ start: { search: 'x' } }) },
      { rows, definition: definition({ rowHeight: 'content' }) },
      { rows, definition: definition({ fit: { kind: 'rows' } }) },
      { rows, definition: definition({ version: 2 }) },
    ]
    for (const options of all) expect(firstRowsOf(options, 9), JSON.stringify(options)).toBeNull()
    location.hash = '#view=something'
    expect(firstRowsOf({ rows, link: 'view' }, 9)).toBeNull()
    expect(firstRowsOf({ rows, link: 'other' }, 9)).not.toBeNull()
    location.hash = ''
    // What says nothing decides nothing.
    const silent = { order: [], conditions: {}, where: '', search: '', groups: [], page: 0, pageSize: null }
    expect(firstRowsOf({ rows, arrangement: silent }, 9)).not.toBeNull()
    expect(firstRowsOf({ source: { kind: 'rows', rows } }, 9)).not.toBeNull()
  })

  it('leave what a host draws, and what is worked out, to the grid', () => {
    const rows = [{ a: 1, b: 2, c: 3 }]
    const painter = { create: () => null, update: () => {} }
    const definition = {
      format: 'vast-meadow-grid',
      version: 3,
      columns: [
        { key: 'a', title: 'A' },
        { key: 'b', title: 'B', painter: 'own' },
        { key: 'c', title: 'C' },
        { key: 'd', title: 'D', expression: 'a + 1' },
      ],
    } as const
    const parts = { painters: { own: painter, 'cell:c': painter } }
    const first = firstRowsOf({ rows, definition: definition as never, parts }, 9)!
    expect(['a', 'b', 'c', 'd'].map(key => first.text(0, key))).toEqual(['1', null, null, null])
  })
})
