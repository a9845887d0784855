import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { shareOut } from '../src/work/share-out.ts'
import type { ReadHelper } from '../src/read/csv/share-task.ts'
import { readFile, type ReadResult } from '../src/read/read-file.ts'
import type { ReadOptions } from '../src/read/read-report.ts'
import { sharedMemory } from '../src/table/allocate.ts'
import { isMissing, valueAt } from '../src/table/column.ts'
import { HelperLink } from '../src/worker/helper-link.ts'
import { PATIENCE_MS, threads } from './support/helper-thread.ts'
import { runs } from './support/runs.ts'

let pool: Awaited<ReturnType<typeof threads>>
const links: HelperLink[] = []
beforeAll(async () => {
  pool = await threads()
  for (let i = 0; i < 3; i++) links.push(new HelperLink(pool.start(), PATIENCE_MS))
  for (const link of links) expect(await link.ready).toBe(true)
})
afterAll(async () => {
  for (const link of links) link.close()
  await pool.end()
})

/** Fields of a column: nearly all of one kind, and now and then something else. */
const KINDS: readonly ((row: number) => string)[] = [
  row => String(row * 7919),
  row => (row / 8).toFixed(row % 4),
  row => `-${row}e${row % 3}`,
  row => String(9_007_199_254_740_993n + BigInt(row)),
  row => `${row}.12345678901234567890`,
  row => `2024-0${(row % 9) + 1}-1${row % 10}`,
  row => `2024-01-0${(row % 9) + 1}T0${row % 10}:00:00${row % 2 ? 'Z' : '+02:00'}`,
  row => ['yes', 'no', 'TRUE'][row % 3],
  row => `name ${row % 50}`,
  row => `"said ""${row}"" and, twice:\n${row * row}"`,
  row => `1,${row % 10}`.replace(/^(.*)$/, '"$1"'),
  row => `${row % 28}/${(row % 12) + 1}/2024`,
  row => 'żółć straße '.repeat(1 + (row % 5)),
]
const ODD = ['', ' 7', '007', 'x', '-0', '1e400', '.5', '"', '2024-02-30', 'NaN', '1 000']

interface Plan {
  columns: { kind: number; odd: number; every: number; from: number }[]
  rows: number
  ragged: number
  ends: string
}
const plans: fc.Arbitrary<Plan> = fc.record({
  columns: fc.array(
    fc.record({
      kind: fc.nat(KINDS.length - 1),
      odd: fc.nat(ODD.length - 1),
      /** Every so many rows hold the odd one, from a part of the rows on. */
      every: fc.constantFrom(0, 0, 1000, 17),
      from: fc.constantFrom(0, 0.5, 0.99),
    }),
    { minLength: 1, maxLength: 9 },
  ),
  rows: fc.constantFrom(3, 2000, 40_000),
  ragged: fc.constantFrom(0, 0, 997),
  ends: fc.constantFrom('\n', '\r\n'),
})

function textOf({ columns, rows, ragged, ends }: Plan): string {
  const lines = [columns.map((_, c) => `c${c}`).join(',')]
  for (let row = 0; row < rows; row++) {
    const fields = columns.map(({ kind, odd, every, from }) =>
      every > 0 && row % every === 0 && row >= rows * from ? ODD[odd] : KINDS[kind](row),
    )
    if (ragged > 0 && row % ragged === ragged - 1) fields.push('more', 'fields')
    lines.push(fields.join(','))
  }
  return lines.join(ends)
}

/** All that is known of a reading, in plain values. */
function told(result: ReadResult): unknown {
  if (!result.ok) return result
  const { table, report } = result
  const columns = table.columns.map(column => ({
    kind: column.kind,
    values: Array.from({ length: table.rows }, (_, row) =>
      isMissing(column, row) ? null : valueAt(column, row),
    ),
  }))
  return { rows: table.rows, fields: table.fields, report, columns }
}

const alone = async (text: string, options: ReadOptions = {}): Promise<unknown> =>
  told(await readFile(new Blob([text]), options))
const by = async (
  helpers: readonly ReadHelper[],
  text: string,
  options: ReadOptions = {},
): Promise<ReadResult> =>
  await readFile(new Blob([text]), options, {
    allocate: sharedMemory,
    helpers: () => Promise.resolve(helpers),
  })

describe('delimited text that several threads read', () => {
  it('is what one thread reads, whatever is in it', async () => {
    await fc.assert(
      fc.asyncProperty(plans, fc.integer({ min: 1, max: 3 }), async (plan, count) => {
        const text = textOf(plan)
        const options: ReadOptions = { columns: { c1: { type: 'number', decimal: ',' } } }
        for (const given of [{}, options]) {
          const read = told(await by(links.slice(0, count), text, given))
          expect(read).toEqual(await alone(text, given))
        }
      }),
      runs(25),
    )
  }, 120_000)

  it('lies in memory that all of them see', async () => {
    const read = await by(
      links,
      textOf({
        columns: KINDS.map((_, kind) => ({ kind, odd: 0, every: 0, from: 0 })),
        rows: 5000,
        ragged: 0,
        ends: '\n',
      }),
    )
    expect(read.ok).toBe(true)
    if (!read.ok) return
    for (const column of read.table.columns) {
      const arrays = column.kind === 'coded' || column.kind === 'plain' ? column.texts.bytes : column.values
      expect(arrays.buffer).toBeInstanceOf(SharedArrayBuffer)
    }
  })

  const ROWS = textOf({
    columns: [0, 1, 8, 5].map(kind => ({ kind, odd: 3, every: 1000, from: 0.5 })),
    rows: 90_000,
    ragged: 0,
    ends: '\n',
  })
  const LOST: Record<string, Partial<ReadHelper>> = {
    'takes no block': { hand() {} },
    'cannot answer': { ask: () => Promise.reject(new Error('gone')) },
  }
  it.each(Object.entries(LOST))('is read by one where a helper %s', async (_, lost) => {
    const broken: ReadHelper = {
      alive: false,
      hand: task => links[0].hand(task),
      ask: links[0].ask.bind(links[0]),
      ...lost,
    }
    expect(told(await by([broken], ROWS))).toEqual(await alone(ROWS))
  })

  it('is read by one where a helper fails in a block', async () => {
    const failing: ReadHelper = {
      alive: true,
      // A block without records cannot be taken.
      hand: task => links[0].hand(task.call === 'fields-take' ? ({ call: 'fields-take' } as never) : task),
      ask: links[0].ask.bind(links[0]),
    }
    expect(told(await by([failing], ROWS))).toEqual(await alone(ROWS))
    // It is none the worse for that.
    expect(told(await by([links[0]], ROWS))).toEqual(await alone(ROWS))
  })

  it('is given up in the middle', async () => {
    let asked = 0
    const reading = readFile(
      new Blob([ROWS]),
      {},
      {
        allocate: sharedMemory,
        helpers: () => Promise.resolve(links),
        cancelled: () => ++asked > 2,
      },
    )
    await expect(reading).rejects.toThrow('cancelled')
    expect(told(await by(links, ROWS))).toEqual(await alone(ROWS))
  })
})

describe('columns shared out', () => {
  it('go to whoever has the least to do, and to the one who finds the records last', () => {
    expect(shareOut([10, 10, 10, 10], 0, 1)).toEqual([0, 1, 0, 1])
    expect(shareOut([10, 10, 10, 10], 31, 1)).toEqual([1, 1, 1, 1])
    expect(shareOut([40, 1, 1, 1], 0, 2)).toEqual([0, 1, 2, 1])
    expect(shareOut([1, 2], 100, 0)).toEqual([0, 0])
  })
})
