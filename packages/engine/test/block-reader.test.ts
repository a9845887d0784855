import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { CellBlock } from '../src/question/cells.ts'
import { BLOCK_LINES, BlockReader } from '../src/service/block-reader.ts'
import { asRowId } from '../src/table/row-id.ts'
import { runs } from './support/runs.ts'

interface Asked {
  readonly from: number
  readonly columns: readonly string[]
  readonly signal: AbortSignal
  answer(): void
  fail(): void
}

/** A reader whose questions are answered when the test says so. */
function reading(lines: number): { readonly reader: BlockReader; readonly asked: Asked[]; failures: number } {
  const asked: Asked[] = []
  const state = {
    asked,
    failures: 0,
    reader: new BlockReader(
      lines,
      (from, to, columns, signal) =>
        new Promise((resolve, reject) => {
          asked.push({
            from,
            columns,
            signal,
            answer: () => resolve(block(from, to, columns)),
            fail: () => reject(new Error('lost')),
          })
          signal.addEventListener('abort', () => reject(new Error('given up')))
        }),
      () => void state.failures++,
    ),
  }
  return state
}

const block = (from: number, to: number, columns: readonly string[]): CellBlock => {
  const lines = Array.from({ length: to - from }, (_, i) => from + i)
  return {
    lines: lines.map(line => ({ kind: 'row', level: 0, row: asRowId(line) })),
    groups: [],
    texts: lines.flatMap(line => columns.map(column => `${column}${line}`)),
    values: lines.flatMap(line => columns.map(() => line)),
  }
}

const settled = (): Promise<void> => new Promise(resolve => setTimeout(resolve))

describe('blocks of lines from afar', () => {
  it('asks for what is wanted first, and ahead in the direction of travel', async () => {
    const { reader, asked } = reading(10_000)
    reader.want(960, 990, ['a'])
    expect(asked.map(({ from }) => from).slice(0, 2)).toEqual([960, 960 + BLOCK_LINES])
    for (const one of asked) one.answer()
    await settled()
    expect(reader.text(965, asRowId(965), 'a')).toBe('a965')
    await settled()
    reader.want(930, 950, ['a'])
    expect(asked.slice(2).map(({ from }) => from)).toContain(864)
  })

  it('gives up what is not wanted any more, and asks for it again when it is', async () => {
    const { reader, asked } = reading(100_000)
    reader.want(0, 30, ['a'])
    const [first] = asked
    reader.want(50_000, 50_030, ['a'])
    expect(first.signal.aborted).toBe(true)
    // At once, before what was given up has ended.
    reader.want(0, 30, ['a'])
    await settled()
    const again = asked.filter(({ from, signal }) => from === 0 && !signal.aborted)
    expect(again.length).toBe(1)
    again[0].answer()
    await settled()
    expect(reader.text(3, asRowId(3), 'a')).toBe('a3')
  })

  it('asks for a line once for as long as it is kept, and reads further columns along with those that are there', async () => {
    const { reader, asked } = reading(96)
    reader.want(0, 30, ['a'])
    asked[0].answer()
    await settled()
    reader.want(10, 40, ['a'])
    expect(asked.length).toBe(1)
    for (let times = 0; times < 3; times++) reader.want(10, 40, ['b'])
    expect(asked.length).toBe(2)
    expect(asked[1].columns).toEqual(['a', 'b'])
    // What is there stays until the other is.
    expect(reader.text(10, asRowId(10), 'a')).toBe('a10')
    asked[1].answer()
    await settled()
    expect([reader.text(10, asRowId(10), 'a'), reader.text(10, asRowId(10), 'b')]).toEqual(['a10', 'b10'])
  })

  it('shows the right lines at last, whatever was wanted, lost and given up before', async () => {
    const step = fc.oneof(
      fc.record({
        kind: fc.constant('want' as const),
        from: fc.nat(3000),
        columns: fc.subarray(['a', 'b', 'c'], { minLength: 1 }),
      }),
      fc.record({ kind: fc.constantFrom('answer' as const, 'fail' as const), nth: fc.nat() }),
      fc.record({ kind: fc.constant('rest' as const) }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 30 }), fc.nat(2970), async (steps, last) => {
        const { reader, asked } = reading(3000)
        for (const one of steps) {
          if (one.kind === 'want') reader.want(one.from, Math.min(3000, one.from + 30), one.columns)
          else if (one.kind === 'rest') await settled()
          else if (asked.length > 0) asked[one.nth % asked.length][one.kind]()
        }
        for (let tries = 0; tries < 4; tries++) {
          reader.want(last, last + 30, ['a', 'b', 'c'])
          for (let round = 0; round < 3; round++) {
            for (const one of asked) one.answer()
            await settled()
          }
        }
        for (let line = last; line < last + 30; line++)
          for (const column of ['a', 'b', 'c'])
            expect(reader.text(line, asRowId(line), column)).toBe(`${column}${line}`)
        expect(reader.line(last)).toEqual({ kind: 'row', level: 0, row: asRowId(last) })
        reader.close()
      }),
      runs(100),
    )
  })

  it('notices a row that comes on two lines, and none that comes again on its own', async () => {
    let twice = 0
    let shift = 0
    const reader = new BlockReader(
      1000,
      (from, to, columns) => Promise.resolve(block(from - shift, to - shift, columns)),
      () => {},
      () => void twice++,
    )
    reader.want(0, 20, ['a'])
    await settled()
    reader.want(0, 20, ['a', 'b'])
    await settled()
    expect(twice).toBe(0)
    // A row was put before all others: the last of the first block is the first of the next.
    shift = 1
    reader.want(400, 420, ['a'])
    await settled()
    expect(twice).toBe(0)
    reader.want(2 * BLOCK_LINES, 2 * BLOCK_LINES + 20, ['a'])
    await settled()
    expect(twice).toBeGreaterThan(0)
  })
})
