import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { longestTexts } from '../src/question/longest-texts.ts'
import { finish } from '../src/work/work.ts'
import { askedOf } from './support/asked.ts'
import { flowOver } from './support/flow-over.ts'
import { COLUMNS, PLAIN, randomRows, tableOf, withPlainTexts } from './support/random-table.ts'
import { valueAt } from '../src/table/column.ts'
import { runs } from './support/runs.ts'

describe('the longest texts of a column', () => {
  it('are those that it shows, each once, and none that it shows is much longer', () => {
    fc.assert(
      fc.property(
        randomRows,
        fc.constantFrom(...COLUMNS),
        fc.integer({ min: 1, max: 9 }),
        (rows, column, count) => {
          const table = tableOf(rows)
          const flow = flowOver(table)
          const told = finish(longestTexts.answer(askedOf(flow), { request: PLAIN, column, count }))
          const place = flow.columnIndexes.get(column)
          if (place === undefined) {
            expect(told).toEqual([])
            return
          }
          const values = Array.from({ length: table.rows }, (_, row) => valueAt(table.columns[place], row))
          const shown = new Set(values.filter(value => value !== null).map(flow.shows[place]))
          expect(told.length).toBe(Math.min(count, shown.size))
          expect(new Set(told).size).toBe(told.length)
          for (const text of told) expect(shown).toContain(text)
          // A letter takes half to one and a half times what another takes.
          const most = Math.max(0, ...[...shown].map(text => text.length))
          if (told.length > 0) expect(told[0].length * 3).toBeGreaterThanOrEqual(most)
        },
      ),
      runs(150),
    )
  })

  it('are found among all rows, also the only long one of many', () => {
    const long = 'The only remark that is longer than all others of its column'
    const rows = Array.from({ length: 5000 }, (_, i) => ({
      note: i === 4321 ? long : `remark ${i}`,
      n: i === 77 ? -123456789 : i,
    }))
    const plain = withPlainTexts(tableOf(rows), ['note'])
    for (const table of [tableOf(rows), plain]) {
      const asked = askedOf(flowOver(table))
      const first = (column: string): string =>
        finish(longestTexts.answer(asked, { request: PLAIN, column, count: 3 }))[0]
      expect(first('note')).toBe(long)
      expect(first('n')).toBe('-123456789')
    }
  })
})
