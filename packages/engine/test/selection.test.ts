import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { GroupPath, HeadLine, LineIndex } from '../src/flow/line.ts'
import { compactRows, RowSet } from '../src/selection/row-set.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { RowSource, View } from '../src/source/row-source.ts'
import { bitsOfPacked, countPacked } from '../src/table/packed-rows.ts'
import { hasBit } from '../src/table/bits.ts'
import { asRowId, rowsIn, type RowId, type Rows } from '../src/table/row-id.ts'
import { oracle } from './support/oracle.ts'
import { randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const ascending = (a: number | string, b: number | string): number => Number(a) - Number(b)

/** Runs cover whole chunks of 32,768, and stop within them. */
const someRows: fc.Arbitrary<Rows> = fc.oneof(
  fc
    .record({ from: fc.nat(90_000), length: fc.nat(70_000) })
    .map(({ from, length }) => ({ kind: 'run' as const, from, to: from + length })),
  fc
    .array(fc.nat(140_000), { maxLength: 9 })
    .map(rows => ({ kind: 'list' as const, rows: rows.map(asRowId) })),
  fc
    .record({
      every: fc.integer({ min: 1, max: 9 }),
      to: fc.nat(90_000),
      names: fc.subarray(['p', 'q', 'r']),
    })
    .map(({ every, to, names }) => {
      const set = new RowSet()
      for (let row = 0; row < to; row += every) set.add(asRowId(row))
      for (const name of names) set.add(asRowId(name))
      return { kind: 'set' as const, ...set.packed() }
    }),
)
type Change = readonly [act: 'addAll' | 'deleteAll', rows: Rows]
const someChanges: fc.Arbitrary<Change[]> = fc.array(
  fc.tuple(fc.constantFrom('addAll' as const, 'deleteAll' as const), someRows),
  { maxLength: 6 },
)
const singly: fc.Arbitrary<Change[]> = fc.array(
  fc.tuple(
    fc.constantFrom('addAll' as const, 'deleteAll' as const),
    fc
      .oneof(fc.nat(140_000), fc.constantFrom(0, 31, 32, 32_767, 32_768, 65_535, 'p', 'q'))
      .map(row => ({ kind: 'list' as const, rows: [asRowId(row)] })),
  ),
  { maxLength: 12 },
)

/** What `RowSet` is, one by one. */
function plainly(changes: readonly Change[], into = new Set<RowId>()): Set<RowId> {
  for (const [act, rows] of changes)
    for (const row of rowsIn(rows)) into[act === 'addAll' ? 'add' : 'delete'](row)
  return into
}
const change = (set: RowSet, changes: readonly Change[]): void => {
  for (const [act, rows] of changes) set[act](rows)
}
const numbers = (rows: Iterable<RowId>): RowId[] =>
  [...rows].filter(row => typeof row === 'number').sort(ascending)
function same(set: RowSet, plain: ReadonlySet<RowId>): void {
  expect(set.size).toBe(plain.size)
  expect(numbers(set)).toEqual(numbers(plain))
  expect([...set].filter(row => typeof row === 'string').sort()).toEqual(
    [...plain].filter(row => typeof row === 'string').sort(),
  )
}

describe('a set of rows', () => {
  it('holds what a plain set would, and a copy what it held when it was made', () => {
    fc.assert(
      fc.property(someChanges, singly, singly, (first, ofOne, ofOther) => {
        const set = new RowSet()
        change(set, first)
        const copy = set.copy()
        const posted = set.packed()
        change(set, ofOne)
        change(copy, ofOther)
        same(set, plainly(ofOne, plainly(first)))
        same(copy, plainly(ofOther, plainly(first)))
        same(RowSet.of(structuredClone(posted)), plainly(first))
        expect(countPacked(posted)).toBe(plainly(first).size)
        const left = set.minus(copy)
        const others = plainly(ofOther, plainly(first))
        same(left, new Set([...plainly(ofOne, plainly(first))].filter(row => !others.has(row))))
      }),
      runs(60),
    )
  })

  it('takes what its partly held chunks take, and no more when it is posted', () => {
    const set = new RowSet()
    set.addAll({ kind: 'run', from: 0, to: 10_000_000 })
    for (const row of [5, 400_000, 9_999_999]) set.delete(asRowId(row))
    expect(set.size).toBe(9_999_997)
    const { chunks } = set.packed()
    // The last chunk is not whole.
    expect(new Set(chunks.map(({ bits }) => bits.buffer)).size).toBeLessThanOrEqual(4)
    const none = RowSet.of(set.packed())
    none.deleteAll({ kind: 'set', ...set.packed() })
    expect([none.size, none.packed().chunks.length]).toEqual([0, 0])
  })

  it('is told as briefly as can be, and as bits of a table whose rows may be fewer or have other ids', () => {
    fc.assert(
      fc.property(someChanges, fc.nat(100_000), (changes, rows) => {
        const plain = plainly(changes)
        const set = new RowSet()
        change(set, changes)
        const list: Rows = { kind: 'list', rows: [...plain] }
        expect(new Set(rowsIn(compactRows(list)))).toEqual(plain)
        const bits = bitsOfPacked({ rows }, set.packed())
        for (const row of [0, 1, rows - 1, ...numbers(plain).slice(-3).map(Number)])
          if (row >= 0 && row < rows) expect(hasBit(bits, row)).toBe(plain.has(asRowId(row)))
        if (rows % 32 > 0) expect(bits.at(-1)! >>> (rows % 32)).toBe(0)
      }),
      runs(60),
    )
    const set = new RowSet()
    for (const row of [1, 4, 7, 9]) set.add(asRowId(row))
    const ids = { first: Uint32Array.of(1, 3, 4), next: 7 }
    expect([...bitsOfPacked({ rows: 5, ids }, set.packed())]).toEqual([0b01101])
  })
})

async function viewed(
  rows: Parameters<typeof tableOf>[0],
  request: Parameters<RowSource['view']>[0],
): Promise<{ source: RowSource; view: View }> {
  const source = new PageSource({ kind: 'table', table: tableOf(rows) }, [], {}, {})
  await source.open()
  return { source, view: await source.view(request) }
}

describe('what is selected of a view', () => {
  const picked = fc.array(fc.nat(70), { maxLength: 30 })

  it('is counted among all that pass and in every group, and is found one after another', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        randomRequest,
        picked,
        fc.integer({ min: -1, max: 60 }),
        async (rows, request, ids, nth) => {
          const { source, view } = await viewed(rows, request)
          const set = new RowSet()
          for (const id of ids) set.add(asRowId(id))
          const selected = set.packed()
          const wanted = oracle(tableOf(rows), { ...request, groups: [] }).lines.length
          const passing = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
          const anyOrder = [...rowsIn(await source.ask('passingRows', { view: view.id, anyOrder: true }))]
          expect(anyOrder.sort(ascending)).toEqual([...passing].sort(ascending))
          expect(passing.length).toBeLessThanOrEqual(wanted)

          const heads: HeadLine[] = []
          for (let line = 0; line < view.lines.lineCount; line++) {
            const at = view.lines.line(line)
            if (at?.kind === 'head') heads.push(at)
          }
          const paths: GroupPath[] = [...heads.map(({ path }) => path), ['no such group']]
          const told = await source.ask('selectedIn', { view: view.id, selected, paths })
          expect(told.passing).toEqual({
            rows: passing.length,
            selected: passing.filter(row => set.has(row)).length,
          })
          for (const [at, path] of paths.entries()) {
            const inGroup = [...rowsIn(await source.ask('rowsOfGroup', { view: view.id, path }))]
            expect(told.groups[at]).toEqual({
              rows: inGroup.length,
              selected: inGroup.filter(row => set.has(row)).length,
            })
          }

          const kept = await source.ask('passingAmong', { view: view.id, selected })
          expect(numbers(RowSet.of(kept))).toEqual(numbers(passing.filter(row => set.has(row))))

          // The line of each passing row, in their order, by what its lines are: a closed group stands for its own.
          const lines = await source.ask('linesOf', { view: view.id, rows: passing })
          const after = Math.min(nth, view.lines.lineCount - 1)
          const next = await source.ask('nextSelected', {
            view: view.id,
            selected,
            after: after as LineIndex,
          })
          const chosen = passing.flatMap((row, at) => (set.has(row) ? [{ row, line: lines[at] }] : []))
          expect(next).toEqual(chosen.find(({ line }) => line > after) ?? chosen[0] ?? null)
        },
      ),
      runs(300),
    )
  })
})
