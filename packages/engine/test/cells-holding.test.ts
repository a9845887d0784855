import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { textToEdit } from '../src/check/read-typed.ts'
import { replacer } from '../src/check/replace-text.ts'
import { RowSet } from '../src/selection/row-set.ts'
import { PageSource } from '../src/source/page-source.ts'
import { asRowId } from '../src/table/row-id.ts'
import { PLAIN, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const plain = { by: 'X', whole: false, matchCase: true }

describe('a text put in the place of another', () => {
  it('is never taken for a pattern, and puts in what it is', () => {
    const texts = fc.string({
      unit: fc.constantFrom('a', '.', '*', '$', '&', '\\', '/', '-', '(', ' ', 'é', '🌳'),
    })
    fc.assert(
      fc.property(texts, texts, texts, (text, find, by) => {
        const told = replacer({ find, by, whole: false, matchCase: true })(text)
        expect(told).toBe(find !== '' && text.includes(find) ? text.split(find).join(by) : null)
      }),
      runs(500),
    )
  })

  it('counts capitals, and cells as a whole, where it is asked so', () => {
    expect(replacer({ ...plain, find: 'fen' })('Fen fen')).toBe('Fen X')
    expect(replacer({ ...plain, find: 'fen', matchCase: false })('Fen fen')).toBe('X X')
    expect(replacer({ ...plain, find: 'fen', whole: true })('fen fen')).toBeNull()
    expect(replacer({ ...plain, find: 'FEN ', whole: true, matchCase: false })(' fen')).toBe('X')
    expect(replacer({ ...plain, find: '', whole: true })('')).toBe('X')
    expect(replacer({ ...plain, find: '' })('')).toBeNull()
  })
})

describe('cells that hold a text', () => {
  it('are those of passing rows, in the order of the view, as an editor would show them', async () => {
    const rows = fc.array(
      fc.record({
        id: fc.constant(0),
        name: fc.option(fc.constantFrom('fen', 'Fen', 'mere', 'old fen')),
        n: fc.option(fc.integer({ min: 0, max: 300 })),
      }),
      { minLength: 1, maxLength: 30 },
    )
    await fc.assert(
      fc.asyncProperty(
        rows,
        fc.constantFrom('name', 'n'),
        fc.constantFrom('', 'fen', '1', '12'),
        fc.boolean(),
        fc.option(fc.array(fc.nat({ max: 29 }))),
        fc.nat({ max: 8 }),
        async (made, column, find, whole, among, limit) => {
          const all = made.map((one, id) => ({ ...one, id }))
          const table = tableOf([...all, { id: 999, name: 'zzz', n: 7.5 }])
          const source = new PageSource({ kind: 'table', table }, [], {}, {})
          await source.open()
          const view = await source.view({
            ...PLAIN,
            order: [{ column: 'id', direction: 'descending' }],
            conditions: { id: { match: 'all', parts: [{ kind: 'range', to: 500 }] } },
          })
          const set = new RowSet()
          for (const row of among ?? []) if (row < all.length) set.add(asRowId(row))
          const replacing = { find, by: 'X', whole, matchCase: false }
          const field = table.fields.find(({ key }) => key === column)!
          const told = await source.ask('cellsHolding', {
            view: view.id,
            column,
            format: {},
            replacing,
            among: among ? set.packed() : null,
            limit,
          })
          const replace = replacer(replacing)
          const expected = all
            .filter(({ id }) => !among || among.includes(id))
            .filter(row => replace(textToEdit(row[column as 'name' | 'n'], field, {})) !== null)
            .reverse()
          expect(told.total).toBe(expected.length)
          expect(told.rows.map(Number)).toEqual(expected.slice(0, limit).map(({ id }) => id))
          expect(told.values).toEqual(expected.slice(0, limit).map(row => row[column as 'name' | 'n']))
        },
      ),
      runs(150),
    )
  })
})
