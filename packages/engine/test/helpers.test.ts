import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { EditableTable } from '../src/edit/editable-table.ts'
import { compilePattern } from '../src/expression/pattern.ts'
import { Flow } from '../src/flow/flow.ts'
import { OwnPredicates, type Predicates } from '../src/flow/predicates.ts'
import { predicatesOf, SPLIT_FROM } from '../src/flow/split-predicates.ts'
import { sortTexts } from '../src/order/sort-texts.ts'
import { sortTextsSplit } from '../src/order/split-sort.ts'
import { searchWords } from '../src/search/fold.ts'
import { PageSource } from '../src/source/page-source.ts'
import { settle, sharedMemory } from '../src/table/allocate.ts'
import { settleTable } from '../src/table/settle-table.ts'
import { sliceRows } from '../src/table/slice-rows.ts'
import {
  asColumn,
  columnIndexesOf,
  isMissing,
  valueAt,
  type ColumnIndex,
  type Table,
} from '../src/table/column.ts'
import { textBlockOf, type TextBlock } from '../src/table/text-block.ts'
import { HelperLink } from '../src/worker/helper-link.ts'
import { serveEngine, type ServedPort } from '../src/worker/serve.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { finish } from '../src/work/work.ts'
import { PATIENCE_MS, threads } from './support/helper-thread.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

let pool: Awaited<ReturnType<typeof threads>>
const links: HelperLink[] = []
async function helper(): Promise<HelperLink> {
  const link = new HelperLink(pool.start(), PATIENCE_MS)
  expect(await link.ready).toBe(true)
  links.push(link)
  return link
}
beforeAll(async () => {
  pool = await threads()
})
afterAll(async () => {
  for (const link of links) link.close()
  await pool.end()
})

const sampleRows = fc.sample(randomRows, { seed: 7, numRuns: 1900 }).flat()
const MANY = 3 * 16_384 + 77
const manyRows = Array.from({ length: MANY }, (_, i) => ({ key: i, ...sampleRows[i % sampleRows.length] }))
const many = settleTable(tableOf(manyRows), sharedMemory)
const tools = { pattern: compilePattern, own: {} }
const searched = (table: Table): ColumnIndex[] => table.fields.map((_, place) => asColumn(place))

function askAll(one: Predicates, other: Predicates, table: Table, often: number): void {
  const places = columnIndexesOf(table.fields)
  fc.assert(
    fc.property(randomRequest, fc.integer({ min: 0, max: 8 }), ({ conditions, search, clock }, from) => {
      for (const [key, condition] of Object.entries(conditions)) {
        const met = finish(one.rowsMeeting(places.get(key)!, condition, clock!))
        expect(met).toEqual(finish(other.rowsMeeting(places.get(key)!, condition, clock!)))
      }
      const words = searchWords(search)
      const columns = searched(table).slice(from)
      expect(finish(one.rowsWith(words, columns))).toEqual(finish(other.rowsWith(words, columns)))
    }),
    runs(often),
  )
}

describe('a run of rows as a table of its own', () => {
  it('holds the values of those rows', () => {
    const [from, to] = [96, 1000]
    const part = sliceRows(many, from, to)
    expect(part.rows).toBe(to - from)
    for (const [place, column] of part.columns.entries()) {
      for (let row = 0; row < part.rows; row++) {
        expect(valueAt(column, row)).toEqual(valueAt(many.columns[place], row + from))
        expect(isMissing(column, row)).toBe(isMissing(many.columns[place], row + from))
      }
    }
    expect(() => sliceRows(many, 5, 9)).toThrow('multiple of 32')
  })
})

describe('searches and conditions that several threads answer', () => {
  it.each([1, 2])('are as one thread answers them, with %i helpers', async count => {
    const helpers = await Promise.all(Array.from({ length: count }, helper))
    askAll(predicatesOf(many, tools, helpers, 0), new OwnPredicates(many, tools), many, 25)
  })

  it('are so after changes, with other formats and other columns', async () => {
    const edits = new EditableTable(many, sharedMemory)
    const split = predicatesOf(many, tools, [await helper()], 0)
    finish(split.prepare(searched(many)))
    for (let round = 0; round < 4; round++) {
      const put = Array.from({ length: 40 }, (_, i) => {
        const key = (i * 1361 + round * 7919) % (MANY + 9 * (round + 1))
        return { key, site: `new ${round}`, note: `é ${i} a b`, count: round + i / 4, mass: i, tags: ['wet'] }
      })
      const remove = [round, MANY - 1 - round]
      const { edit } = finish(edits.commit({ put, remove }, ['key']))
      finish(split.follow(edit))
      askAll(split, new OwnPredicates(edit.table, tools), edit.table, 4)
    }
    const formats = { cover: { decimals: 1 }, seen: { yes: 'aye', no: 'nay' } }
    split.bind(formats)
    const { table } = edits
    askAll(split, new OwnPredicates(table, tools, formats), table, 8)
    const [first, ...others] = table.columns
    const turned = {
      ...table,
      fields: [...table.fields.slice(1), table.fields[0]],
      columns: [...others, first],
    }
    const behind = split.withColumns(turned, [])
    askAll(behind, new OwnPredicates(turned, tools, formats), turned, 8)
  })

  it('are right where a helper is gone, and where an earlier question was given up', async () => {
    const link = await helper()
    const split = predicatesOf(many, tools, [link], 0)
    const own = new OwnPredicates(many, tools)
    const given = split.rowsWith(['e'], searched(many))
    given.next()
    given.return(undefined as never)
    expect(finish(split.rowsWith(['a'], [asColumn(2)]))).toEqual(finish(own.rowsWith(['a'], [asColumn(2)])))
    const asked = split.rowsWith(['lower'], searched(many))
    asked.next()
    link.close()
    expect(finish(asked)).toEqual(finish(own.rowsWith(['lower'], searched(many))))
    expect(finish(split.rowsWith(['elan'], [asColumn(1)]))).toEqual(
      finish(own.rowsWith(['elan'], [asColumn(1)])),
    )
  })

  it('are right where a helper could not follow a change, and again after the next table', async () => {
    const link = await helper()
    const split = predicatesOf(many, tools, [link], 0)
    link.hand({ call: 'follow', edit: null as never })
    const own = new OwnPredicates(many, tools)
    const asked = finish(own.rowsWith(['lower'], searched(many)))
    expect(finish(split.rowsWith(['lower'], searched(many)))).toEqual(asked)
    expect(finish(predicatesOf(many, tools, [link], 0).rowsWith(['lower'], searched(many)))).toEqual(asked)
  })

  it('leave a condition of the host’s own to the thread that has it, over all rows at once', async () => {
    const whole = { rows: [] as number[] }
    const own = {
      every: {
        values: { safeParse: () => ({ success: true, data: null }) } as never,
        rows: (_: unknown, __: unknown, rows: number) => {
          whole.rows.push(rows)
          return new Uint32Array((rows + 31) >>> 5).fill(0xffffffff)
        },
        summary: () => 'every row',
      },
    }
    const split = predicatesOf(many, { pattern: null, own }, [await helper()], 0)
    const condition = {
      match: 'all' as const,
      parts: [{ kind: 'own' as const, name: 'every', values: null }],
    }
    finish(split.rowsMeeting(asColumn(0), condition, { now: 0 }))
    expect(whole.rows).toEqual([MANY])
  })
})

describe('texts that several threads sort', () => {
  const shared = (texts: readonly string[]): TextBlock => {
    const { bytes, offsets } = textBlockOf(texts)
    return { bytes: settle(bytes, sharedMemory), offsets: settle(offsets, sharedMemory) }
  }
  const text = fc.string({ unit: fc.constantFrom(...'aAbBéÉzß -19漢'), maxLength: 24 })

  it.each([
    ['da', false],
    ['cs', false],
    ['de', true],
  ] as const)('stand as one thread puts them, in %s, digits as numbers: %s', async (locale, numeric) => {
    const helpers = [await helper(), await helper()]
    const collator = new Intl.Collator(locale, { numeric })
    fc.assert(
      fc.property(
        fc.array(text, { minLength: 0, maxLength: 60 }),
        fc.integer({ min: 1, max: 90 }),
        (some, times) => {
          const texts = Array.from({ length: some.length * times }, (_, i) => some[i % some.length] + (i % 7))
          const split = finish(sortTextsSplit(shared(texts), collator, helpers, 0))
          expect(split).toEqual(finish(sortTexts(textBlockOf(texts), collator)))
        },
      ),
      runs(25),
    )
  })
})

describe('an engine in a worker with helpers', () => {
  it('answers what the engine in the page answers, and says where it runs', async () => {
    const rows = Array.from({ length: SPLIT_FROM }, (_, i) => sampleRows[i % sampleRows.length])
    const { port1, port2 } = new MessageChannel()
    serveEngine({}, port2 as unknown as ServedPort, { count: 2, start: () => pool.start() })
    const source = new WorkerSource(
      port1 as unknown as EnginePort,
      { kind: 'table', table: tableOf(rows) },
      true,
    )
    expect((await source.open()).where).toBe('3 workers, shared memory')
    const page = new PageSource({ kind: 'table', table: tableOf(rows) })
    await page.open()
    const request = {
      order: [{ column: 'note', direction: 'descending' as const }],
      conditions: {
        note: { match: 'all' as const, parts: [{ kind: 'contains' as const, text: 'a' }] },
        count: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 3 }] },
      },
      search: 'ings',
      searchColumns: [...COLUMNS],
      groups: [],
      open: { levels: null, except: [] },
    }
    const [there, here] = [await source.view(request), await page.view(request)]
    expect(there.report.passing).toBeGreaterThan(100)
    expect(there.report.heldBack).toEqual(here.report.heldBack)
    expect(await source.ask('passingRows', { view: there.id })).toEqual(
      await page.ask('passingRows', { view: here.id }),
    )
    source.close()
  })

  it('goes without where they cannot be started', async () => {
    const { port1, port2 } = new MessageChannel()
    serveEngine({}, port2 as unknown as ServedPort, { count: 1, start: () => null })
    const rows = Array.from({ length: SPLIT_FROM }, (_, i) => ({ i }))
    const source = new WorkerSource(
      port1 as unknown as EnginePort,
      { kind: 'table', table: tableOf(rows) },
      true,
    )
    expect((await source.open()).where).toBe('a worker, shared memory')
    source.close()
  })
})

describe('a flow with helpers', () => {
  it('orders and finds as one without', async () => {
    const rows = Array.from({ length: SPLIT_FROM }, (_, i) => sampleRows[i % sampleRows.length])
    const table = settleTable(tableOf(rows), sharedMemory)
    const helpers = [await helper()]
    const [split, alone] = [new Flow(table, null, { ...tools, helpers }), new Flow(table, null, tools)]
    fc.assert(
      fc.property(randomRequest, request => {
        const { view } = finish(split.arrange(request))
        expect(view).toEqual(finish(alone.arrange(request)).view)
      }),
      runs(10),
    )
    // A flow over some of the rows, however many, does not take the helpers away from this one.
    split.flowOf(Uint32Array.from({ length: rows.length }, (_, i) => rows.length - 1 - i))
    const search = { search: 'elan', searchColumns: [...COLUMNS], order: [], conditions: {}, groups: [] }
    const request = { ...search, open: { levels: null, except: [] } }
    expect(finish(split.arrange(request)).view).toEqual(finish(alone.arrange(request)).view)
  })
})
