import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { TickedRows } from '../src/selection/ticked-rows.ts'
import { asRowId, type RowId, type Rows } from '../src/table/row-id.ts'
import { runs } from './support/runs.ts'

/** Of the rows 0 to 29, those that each of some requests lets pass. */
const PASSING: Readonly<Record<string, readonly number[]>> = {
  all: Array.from({ length: 30 }, (_, row) => row),
  even: Array.from({ length: 15 }, (_, row) => row * 2),
  few: [3, 4],
}
const listOf = (rows: readonly number[]): Rows => ({ kind: 'list', rows: rows.map(asRowId) })
const some = fc.array(fc.nat(29), { maxLength: 6 })
const acts = fc.array(
  fc.oneof(
    fc.record({ act: fc.constant('tickAll' as const), request: fc.constantFrom('all', 'even', 'few') }),
    fc.record({ act: fc.constantFrom('add' as const, 'delete' as const, 'drop' as const), rows: some }),
    fc.record({ act: fc.constant('clear' as const) }),
  ),
  { maxLength: 14 },
)

describe('ticked rows', () => {
  it('are those of a plain set, and what is told of them comes to the same', () => {
    fc.assert(
      fc.property(acts, steps => {
        const ticked = new TickedRows<string>()
        const plain = new Set<number>()
        const gone = new Set<number>()
        for (const step of steps) {
          const before = ticked.copy()
          const had = new Set(plain)
          if (step.act === 'tickAll') {
            const there = PASSING[step.request]!.filter(row => !gone.has(row))
            ticked.tickAll(step.request, listOf(there))
            for (const row of there) plain.add(row)
          } else if (step.act === 'clear') {
            ticked.clear()
            plain.clear()
          } else {
            const there = step.act === 'add' ? step.rows.filter(row => !gone.has(row)) : step.rows
            ticked[step.act](listOf(there))
            for (const row of there) plain[step.act === 'add' ? 'add' : 'delete'](row)
            if (step.act === 'drop') for (const row of there) gone.add(row)
          }
          const rows = [...plain].sort((a, b) => a - b)
          expect([...ticked.known!]).toEqual(rows)
          expect([ticked.size(0), ticked.isEmpty]).toEqual([plain.size, plain.size === 0])
          const { told } = ticked
          const toldRows =
            told.kind === 'rows'
              ? [...told.rows]
              : PASSING[told.request]!.filter(row => !gone.has(row) && !told.except.has(asRowId(row)))
          expect(toldRows).toEqual(rows)
          // A copy is not changed by what comes after.
          expect([...before.known!]).toEqual([...had].sort((a, b) => a - b))
          expect([...ticked.beyond(before)]).toEqual(rows.filter(row => !had.has(row)))
        }
      }),
      runs(500),
    )
  })

  it('are all but some also where nobody can list them', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), some), { maxLength: 8 }), steps => {
        const ticked = new TickedRows<string>()
        ticked.add(listOf([7]))
        ticked.tickAll('all', null)
        const out = new Set<RowId>()
        for (const [adds, rows] of steps) {
          ticked[adds ? 'add' : 'delete'](listOf(rows))
          for (const row of rows) out[adds ? 'delete' : 'add'](asRowId(row))
        }
        expect(ticked.known).toBeNull()
        expect(ticked.size(30)).toBe(30 - out.size)
        for (let row = 0; row < 30; row++) expect(ticked.has(asRowId(row))).toBe(!out.has(asRowId(row)))
        const { told } = ticked
        expect(told.kind === 'all-but' && new Set(told.except)).toEqual(out)
        ticked.clear()
        expect([ticked.isEmpty, ticked.has(asRowId(1))]).toEqual([true, false])
      }),
      runs(200),
    )
  })

  it('are told as all but some for as long as that is short, and nothing else is ticked', () => {
    const ticked = new TickedRows<string>()
    ticked.tickAll('first', { kind: 'run', from: 0, to: 100_000 })
    ticked.delete({ kind: 'run', from: 5, to: 8 })
    expect(ticked.told).toMatchObject({ kind: 'all-but', request: 'first' })
    ticked.add({ kind: 'run', from: 6, to: 8 })
    expect(ticked.told.kind === 'all-but' && [...ticked.told.except]).toEqual([5])
    const many = ticked.copy()
    many.delete({ kind: 'run', from: 0, to: 20_000 })
    expect(many.told.kind).toBe('rows')
    ticked.add({ kind: 'list', rows: [asRowId(200_000)] })
    expect(ticked.told.kind).toBe('rows')
    expect(ticked.size(0)).toBe(100_000)
  })
})
