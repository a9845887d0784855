import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { EditableTable } from '../src/edit/editable-table.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { finish } from '../src/work/work.ts'
import { flowOver } from './support/flow-over.ts'
import { oracle } from './support/oracle.ts'
import { withPlainTexts } from './support/random-table.ts'
import { gatherRows, pickRows } from '../src/edit/gather-rows.ts'
import { writeColumn } from '../src/edit/write-column.ts'
import { joinBlock } from '../src/search/joined-text.ts'
import { sharedMemory } from '../src/table/allocate.ts'
import { settleTable } from '../src/table/settle-table.ts'
import { arraysOf, valueAt, type Table } from '../src/table/column.ts'
import { sliceRows } from '../src/table/slice-rows.ts'
import {
  spliceBlock,
  textAt,
  textBlockOf,
  textCount,
  wholeBlock,
  withChanged,
  type TextBlock,
} from '../src/table/text-block.ts'
import { runs } from './support/runs.ts'

const text = fc.string({ unit: fc.constantFrom('a', 'é', '日', ' ', '\n', 'Z'), maxLength: 5 })
const textsOf = (block: TextBlock): string[] =>
  Array.from({ length: textCount(block) }, (_, i) => textAt(block, i))
const encoded = (texts: readonly string[]) => (nth: number) => new TextEncoder().encode(texts[nth])

/** Texts, and changes of them one after another: by place modulo their number. */
const changes = fc.tuple(
  fc.array(text, { minLength: 1, maxLength: 80, size: 'max' }),
  fc.array(fc.array(fc.tuple(fc.nat(200), text), { minLength: 1, maxLength: 6 }), { maxLength: 5 }),
)

function changed(texts: readonly string[], steps: readonly (readonly (readonly [number, string])[])[]) {
  const plain = [...texts]
  let block: TextBlock = textBlockOf(texts)
  for (const step of steps) {
    const by = new Map(step.map(([at, to]) => [at % texts.length, to]))
    const rows = Uint32Array.from(by.keys()).sort()
    block = withChanged(block, rows, nth => by.get(rows[nth])!)!
    for (const [at, to] of by) plain[at] = to
  }
  return { plain, block }
}

describe('texts that changed beside their block', () => {
  it('are read in their places, one by one and laid out anew', () => {
    fc.assert(
      fc.property(changes, ([texts, steps]) => {
        const { plain, block } = changed(texts, steps)
        expect(textsOf(block)).toEqual(plain)
        expect(textsOf(wholeBlock(block))).toEqual(plain)
        expect(wholeBlock(block).changed).toBeUndefined()
        expect(wholeBlock(block)).toBe(wholeBlock(block))
      }),
      runs(300),
    )
  })

  it('are what is searched, at the edges of a run too', () => {
    const block = textBlockOf(Array.from({ length: 12 }, (_, i) => `Text ${i}`))
    for (let row = 0; row < 12; row++) {
      const changedAt = withChanged(block, Uint32Array.of(row), () => 'ÉLAN\nx')!
      for (const [from, rows] of [
        [0, 4],
        [4, 4],
        [8, 4],
      ]) {
        const { text, starts } = finish(joinBlock(changedAt, from, rows))
        const joined = Array.from({ length: rows }, (_, i) => text.slice(starts[i], starts[i + 1] - 1))
        const wanted = joined.map((_, i) => (from + i === row ? 'elan x' : `text ${from + i}`))
        expect(joined).toEqual(wanted)
      }
    }
  })

  it('stay so in slices, among picked rows and in other memory', () => {
    fc.assert(
      fc.property(changes, fc.array(fc.nat(500), { maxLength: 9 }), ([texts, steps], picked) => {
        const { plain, block } = changed(texts, steps)
        const table: Table = {
          rows: plain.length,
          fields: [{ key: 't', type: 'text' }],
          columns: [{ kind: 'plain', texts: block, missing: null }],
        }
        const valuesOf = ({ rows, columns }: Table): unknown[] =>
          Array.from({ length: rows }, (_, row) => valueAt(columns[0], row))
        for (let from = 0; from < plain.length; from += 32) {
          const to = Math.min(plain.length, from + 40)
          expect(valuesOf(sliceRows(table, from, to))).toEqual(plain.slice(from, to))
        }
        const rows = Uint32Array.from(picked, row => row % plain.length)
        const wanted = Array.from(rows, row => plain[row])
        expect(valuesOf(gatherRows(table, rows))).toEqual(wanted)
        expect(valuesOf(pickRows(table, rows))).toEqual(wanted)
        const settled = settleTable(table, sharedMemory)
        expect(valuesOf(settled)).toEqual(plain)
        for (const array of arraysOf(settled.columns[0]))
          expect(array.buffer).toBeInstanceOf(SharedArrayBuffer)
      }),
      runs(200),
    )
  })

  it('share the bytes of those that did not change, until they are many or some are new', () => {
    const texts = Array.from({ length: 3000 }, (_, i) => `text ${i}`)
    const block = textBlockOf(texts)
    const allocate = (bytes: number): ArrayBuffer => new ArrayBuffer(bytes)
    const write = (rows: number[], to = texts.length) =>
      writeColumn(
        { kind: 'plain', texts: block, missing: null },
        { rows: Uint32Array.from(rows), valueOf: nth => `new ${rows[nth]}` },
        { from: texts.length, to, allocate, own: true, lookup: () => expect.fail('no dictionary') },
      )
    const few = write([5, 2999])
    expect(few.kind === 'plain' && few.texts.bytes).toBe(block.bytes)
    expect([valueAt(few, 5), valueAt(few, 6), valueAt(few, 2999)]).toEqual(['new 5', 'text 6', 'new 2999'])
    const many = write(Array.from({ length: 1025 }, (_, i) => i))
    expect(many.kind === 'plain' && many.texts.changed).toBeUndefined()
    expect([valueAt(many, 1024), valueAt(many, 1025)]).toEqual(['new 1024', 'text 1025'])
    const appended = write([3000, 3001], 3002)
    expect(appended.kind === 'plain' && textCount(appended.texts)).toBe(3002)
    expect([valueAt(appended, 2999), valueAt(appended, 3001)]).toEqual(['text 2999', 'new 3001'])
  })

  it('are spliced in at any place, with empty ones up to a count', () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 20 }), fc.array(fc.tuple(fc.nat(30), text)), (texts, puts) => {
        const by = new Map(puts)
        const rows = Uint32Array.from(by.keys()).sort()
        const count = Math.max(texts.length, (rows.at(-1) ?? -1) + 1)
        const plain = Array.from({ length: count }, (_, i) => by.get(i) ?? texts[i] ?? '')
        const put = Array.from(rows, row => by.get(row)!)
        const spliced = spliceBlock(textBlockOf(texts), rows, encoded(put), count, n => new ArrayBuffer(n))
        expect(textsOf(spliced)).toEqual(plain)
      }),
      runs(300),
    )
  })
})

describe('a flow over texts that changed', () => {
  it('orders, groups, finds and asks as over a table read so', () => {
    const ask = fc.record({
      by: fc.constantFrom('ascending' as const, 'descending' as const),
      group: fc.boolean(),
      search: fc.constantFrom('', 'a', 'é', '日', 'z'),
      contains: fc.constantFrom('', 'a', 'Z'),
    })
    fc.assert(
      fc.property(changes, fc.array(ask, { minLength: 4, maxLength: 6 }), ([texts, steps], asks) => {
        const rows = texts.map((note, id) => ({ id, note }))
        const start = withPlainTexts(finish(tableFromRows(rows)), ['note'])
        const edits = new EditableTable(start)
        const flow = flowOver(start)
        const plain = [...texts]
        const check = ({ by, group, search, contains }: (typeof asks)[number]): void => {
          const request: FlowRequest = {
            order: [{ column: 'note', direction: by }],
            conditions: contains
              ? { note: { match: 'all', parts: [{ kind: 'contains', text: contains, exact: true }] } }
              : {},
            search,
            searchColumns: ['note'],
            groups: group ? [levelOf('note')] : [],
            open: { levels: null, except: [] },
          }
          const read = finish(tableFromRows(plain.map((note, id) => ({ id, note }))))
          const wanted = oracle(read, request).lines.flatMap(line => ('row' in line ? [line.row] : []))
          const { view } = finish(flow.arrange(request))
          expect([...(view.rows ?? plain.keys())]).toEqual(wanted)
        }
        asks.forEach(check)
        for (const step of steps) {
          const by = new Map(step.map(([at, to]) => [at % texts.length, to]))
          const update = Array.from(by, ([id, note]) => ({ id, note }))
          for (const [id, note] of by) plain[id] = note
          finish(flow.update(finish(edits.commit({ update }, ['id'])).edit))
          asks.forEach(check)
        }
      }),
      runs(150),
    )
  })
})
