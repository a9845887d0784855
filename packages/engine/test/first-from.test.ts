import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ArgsOf } from '../src/question/index.ts'
import { PageSource } from '../src/source/page-source.ts'
import { rowsIn } from '../src/table/row-id.ts'
import { PLAIN, randomLevel, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const NUMBERS = ['count', 'cover', 'mass', 'day'] as const
const TEXTS = ['site', 'note'] as const

describe('the first row from a value on', () => {
  it('is the first that is at or beyond it in the order, missing values passed over, in groups too', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        randomRequest,
        fc.constantFrom(...NUMBERS, ...TEXTS),
        fc.boolean(),
        fc.integer({ min: -30, max: 60 }),
        fc.constantFrom('', 'a', 'É', 'el', 'lower', 'z', 'M', 'ö'),
        fc.option(randomLevel, { nil: null }),
        async (rows, asked, column, descending, number, word, level) => {
          const source = new PageSource({ kind: 'table', table: tableOf(rows) }, [], {}, {})
          await source.open()
          const direction = descending ? ('descending' as const) : ('ascending' as const)
          const order = [{ column, direction, missing: asked.order.at(0)?.missing }]
          const view = await source.view({ ...asked, order, groups: level ? [level] : [] })
          const isNumber = (NUMBERS as readonly string[]).includes(column)
          const from = isNumber ? number : word
          const args: ArgsOf<'firstFrom'> = { view: view.id, column, from, descending, natural: false }
          const found = await source.ask('firstFrom', args)
          const compare = new Intl.Collator(undefined, { sensitivity: 'base' }).compare
          const reached = (row: Parameters<typeof view.lines.value>[1]): boolean => {
            const value = view.lines.value(0, row, column)
            if (value === null || value === undefined) return false
            const away = isNumber
              ? Number(value) - number
              : compare(view.lines.text(0, row, column)!.normalize('NFC').slice(0, word.length), word)
            return descending ? away <= 0 : away >= 0
          }
          const first = [...rowsIn(await source.ask('passingRows', { view: view.id }))].find(reached)
          expect(found?.row ?? null).toBe(first ?? null)
          if (found)
            expect([found.line]).toEqual(await source.ask('linesOf', { view: view.id, rows: [found.row] }))
          source.close()
        },
      ),
      runs(300),
    )
  })

  it('is none in a column that is not there', async () => {
    const source = new PageSource({ kind: 'table', table: tableOf([{ a: 1 }]) }, [], {}, {})
    await source.open()
    const view = await source.view(PLAIN)
    const args = { view: view.id, column: 'b', from: 1, descending: false, natural: false }
    expect(await source.ask('firstFrom', args)).toBeNull()
  })
})
