import fc from 'fast-check'
import { asLine, type GroupPath } from '../../engine/src/flow/line.ts'
import type { Replacing } from '../../engine/src/check/replace-text.ts'
import type { CellsHolding } from '../../engine/src/question/cells-holding.ts'
import type { Facets } from '../../engine/src/question/facets.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../../engine/src/question/index.ts'
import type { ExportArgs, ExportedGroups, ExportedRows } from '../../engine/src/question/export-args.ts'
import type { ColumnSummary } from '../../engine/src/question/summarize.ts'
import { RowSet } from '../../engine/src/selection/row-set.ts'
import { PageSource } from '../../engine/src/source/page-source.ts'
import type { Summary } from '../../engine/src/summary/summary.ts'
import type { Value } from '../../engine/src/table/column.ts'
import { asRowId } from '../../engine/src/table/row-id.ts'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { FlowLevel, FlowRequest } from '../../engine/src/flow/request.ts'
import { isAble } from '../../engine/src/question/abilities.ts'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import type { ViewRequest } from '../../engine/src/flow/view-request.ts'
import type { ServiceOptions } from '../../engine/src/service/service-options.ts'
import type { RowObject } from '../../engine/src/read/rows/read-rows.ts'
import type { LineReader, RowSource, View } from '../../engine/src/source/row-source.ts'
import { oracle, type OracleLine } from '../../engine/test/support/oracle.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from '../../engine/test/support/random-table.ts'
import { runs } from '../../engine/test/support/runs.ts'
import { toldLine } from '../../engine/test/support/told-line.ts'
import { DATABASES, hasPostgres } from './support/databases.ts'
import { servedRows, type Served } from './support/random-rows-served.ts'

let served: Served
/** Questions that were put to the service. */
let asked = 0

async function opened(rows: readonly RowObject[], near: ServiceOptions['near'] = false): Promise<RowSource> {
  await served.put(rows)
  const source = serviceSource({
    address: 'http://service/rows',
    rows: 'sightings',
    near,
    fetch: request => {
      asked++
      return served.handler(request)
    },
  })
  await source.open()
  return source
}

/** Opens rows of which those that pass are fetched, and waits until they are. */
async function openedNear(rows: readonly RowObject[], request: ViewRequest): Promise<RowSource> {
  const source = await opened(rows, { rows: 1e6, bytes: 1e9 })
  const came = new Promise<void>(resolve => source.onChange(() => resolve()))
  const view = await source.view(request)
  if (view.report.passing > 0) await came
  return source
}

async function linesOf({ lines }: View): Promise<OracleLine[]> {
  await arrive(lines)
  return Array.from({ length: lines.lineCount }, (_, i) => toldLine(lines.line(i)!))
}

async function arrive(lines: LineReader): Promise<void> {
  for (let index = 0; index < lines.lineCount; index += 96) {
    if (lines.line(index) !== undefined) continue
    const came = new Promise<void>(resolve => lines.onArrive(resolve))
    lines.want(index, Math.min(lines.lineCount, index + 96), COLUMNS)
    while (lines.line(index) === undefined) await came
  }
}

const SEARCHED: readonly string[] = ['site', 'note', 'count', 'day', 'tags']
const LEVEL_BUCKETS = ['value', 'range', 'breaks', 'parts', 'date', 'letters']

/** One that tells the page which type each column has. */
const FULL_ROW: RowObject = {
  site: 'elan',
  note: 'a',
  count: 1,
  cover: 1.25,
  mass: 2.5,
  seen: true,
  day: '2021-01-01',
  tags: ['wet'],
}

/** So many that most of what is asked is met by some. */
const manyRows = fc
  .array(randomRows, { minLength: 4, maxLength: 8 })
  .map(parts => [FULL_ROW, ...parts.flat()])

/** A request with two conditions at most, seldom with a search: with more, hardly any row would pass; most have groups. */
const someRequest = fc
  .record({
    request: randomRequest,
    other: randomRequest,
    first: fc.nat(),
    count: fc.constantFrom(0, 0, 1, 1, 2),
    isSearched: fc.constantFrom(false, false, true),
  })
  .map(({ request, other, first, count, isSearched }) => {
    const all = Object.entries(request.conditions)
    const at = all.length > 0 ? first % all.length : 0
    const levels = [...request.groups, ...other.groups]
    return offered({
      ...request,
      conditions: Object.fromEntries(all.slice(at, at + count)),
      search: isSearched ? request.search : '',
      groups: levels.filter(({ column }, i) => levels.findIndex(one => one.column === column) === i),
    })
  })

/** Summaries by which groups are ordered: those that come to the same in whatever order values are added. */
const EXACT: readonly Summary[] = [
  'share-of-parent',
  'sum',
  'share',
  'maximum',
  'first',
  'frequent',
  { kind: 'quantile', at: 0.25 },
]

const TAGS_FIRST = { column: 'tags', direction: 'ascending' } as const

/** A request that asks for what no service offers, too. */
const beyondRequest = fc.tuple(randomRequest, randomRequest, fc.nat()).map(([given, other, first]) => {
  const { searchColumns, search } = offered(given)
  const all = Object.entries(given.conditions)
  const at = all.length > 0 ? first % all.length : 0
  const levels = [...given.groups, ...other.groups]
  return {
    ...given,
    // No service orders by tags: all is left to the page.
    order: [TAGS_FIRST, ...given.order.filter(({ column }) => column !== 'tags')],
    searchColumns,
    search: first % 3 === 0 ? search : '',
    conditions: Object.fromEntries(all.slice(at, at + 1)),
    groups: levels.filter(({ column }, i) => levels.findIndex(one => one.column === column) === i),
  }
})

/** What a request asks as far as the service offers it; the rest readers are not offered either. */
function offered(request: FlowRequest): FlowRequest {
  const level = ({ keep, ...one }: FlowLevel): FlowLevel => ({
    ...one,
    ...(keep && keep.most?.rest !== 'together' && { keep }),
    bucket: LEVEL_BUCKETS.includes(one.bucket.by) ? one.bucket : { by: 'value' },
    order: {
      ...one.order,
      by:
        typeof one.order.by === 'object' || one.feet
          ? {
              column: 'count',
              summary: EXACT[(one.column.length + JSON.stringify(one.bucket).length) % EXACT.length],
            }
          : one.order.by,
    },
  })
  return {
    ...request,
    order: request.order.flatMap(({ by: _, natural: __, ...key }) => (key.column === 'tags' ? [] : [key])),
    searchColumns: request.searchColumns.filter(column => SEARCHED.includes(column)),
    search: request.search === '"a b"' ? 'a' : request.search,
    groups: request.groups.filter(({ column }) => column !== 'tags' && column !== 'mass').map(level),
  }
}

/** Of fractions, as many decimals as all of them have are found by the page alone. */
const bound = (request: FlowRequest) => ({
  ...request,
  binding: { formats: { mass: { decimals: 3 } }, computed: [], locale: 'en' },
})

function withoutPatterns(request: FlowRequest): FlowRequest {
  const others = Object.entries(request.conditions).filter(
    ([, { parts }]) => !parts.some(({ kind }) => kind === 'pattern'),
  )
  return { ...request, conditions: Object.fromEntries(others) }
}

const ENGINES: Readonly<Record<string, () => Promise<Served>>> = {
  DuckDB: async () => await servedRows(await DATABASES.DuckDB(), false),
  'DuckDB that knows the texts of a column': async () => await servedRows(await DATABASES.DuckDB(), true),
  PostgreSQL: async () => await servedRows(await DATABASES.PostgreSQL(), false),
  'PostgreSQL that knows the texts of a column': async () =>
    await servedRows(await DATABASES.PostgreSQL(), true),
  'a cluster of PostgreSQL': async () =>
    await servedRows(await DATABASES['a cluster of PostgreSQL'](), false),
}

describe.each(Object.keys(ENGINES).filter(name => hasPostgres || name.startsWith('DuckDB')))(
  'a service over %s',
  name => {
    beforeAll(async () => {
      served = await ENGINES[name]()
    })
    afterAll(() => served.close())
    /** Only where none takes time without bounds. */
    const hasPatterns = name.startsWith('DuckDB')

    it('says what it can do', async () => {
      const source = await opened([])
      const { can, fields, total } = await source.ask('description', {})
      expect(fields.map(({ key, type }) => `${key} ${type}`)).toEqual([
        'row integer',
        'site text',
        'note text',
        'count integer',
        'cover number',
        'mass number',
        'seen boolean',
        'day date',
        'tags tags',
      ])
      expect(total).toEqual({ kind: 'exact', rows: 0 })
      expect(isAble(can.conditions, 'pattern')).toBe(hasPatterns)
      expect(isAble(can.conditions, 'own')).toBe(false)
      expect(isAble(can.summaries, 'median')).toBe(true)
    })

    it('answers the same lines as the plain version', async () => {
      await fc.assert(
        fc.asyncProperty(manyRows, someRequest, async (rows, given) => {
          const request = hasPatterns ? given : withoutPatterns(given)
          const source = await opened(rows)
          const view = await source.view(request)
          const expected = oracle(tableOf(rows), request)
          expect(view.counts.passing.rows).toBe(expected.passing)
          expect(await linesOf(view)).toEqual(expected.lines)
          source.close()
        }),
        { ...runs(8), endOnFailure: true },
      )
    })

    it('leaves to the page what it cannot do, where the rows are few', async () => {
      await fc.assert(
        fc.asyncProperty(manyRows, beyondRequest, fc.nat(), async (rows, given, pick) => {
          const request = bound(given)
          const far = await opened(rows, { rows: 1e6, bytes: 1e9, more: true })
          const expected = oracle(tableOf(rows), request)
          const view = await far.view(request)
          expect(view.report.passing).toBe(expected.passing)
          expect(await linesOf(view)).toEqual(expected.lines)
          const near = new PageSource({ kind: 'table', table: tableOf(rows) })
          await near.open()
          const own = await near.view(request)
          const column = COLUMNS[pick % COLUMNS.length]
          const facets = { request, column, limit: 1000 }
          // How far the values of all rows reach is not known here.
          const countsOf = (told: Facets): unknown => ({
            ...told,
            low: 0,
            high: 0,
            values: [],
            histogram: [],
          })
          if (column !== 'tags')
            expect(countsOf(await far.ask('facets', facets))).toEqual(
              countsOf(await near.ask('facets', facets)),
            )
          const row = asRowId(pick % rows.length)
          expect(await far.ask('trace', { request, view: view.id, row })).toEqual(
            await near.ask('trace', { request, view: own.id, row }),
          )
          const of = [{ column: 'count', summary: 'sum' as const }]
          expect((await far.ask('summarize', { request, of })).map(plainSummary)).toEqual(
            (await near.ask('summarize', { request, of })).map(plainSummary),
          )
          far.close()
          near.close()
        }),
        { ...runs(6), endOnFailure: true },
      )
    })

    it.each([
      ['where the rows are', false],
      ['of rows that were fetched', true],
    ])('answers each question as the engine in the page does, %s', async (_, isNear) => {
      await fc.assert(
        fc.asyncProperty(manyRows, someRequest, fc.nat(), async (rows, given, pick) => {
          const request = bound(hasPatterns ? given : withoutPatterns(given))
          const far = isNear ? await openedNear(rows, request) : await opened(rows)
          const near = new PageSource({ kind: 'table', table: tableOf(rows) })
          await near.open()
          const before = asked
          const [there, here] = [await far.view(request), await near.view(request)]
          if (isNear && there.report.passing > 0) {
            const held = there.report.groupsHeldBack.reduce((sum, { rows: some }) => sum + some, 0)
            expect(there.report.near?.rows).toBe(there.report.passing + held)
            // But for what the search alone finds, which only the service knows.
            expect(asked - before).toBeLessThanOrEqual(1)
          }
          const column = COLUMNS[pick % COLUMNS.length]
          const both = async <Name extends QuestionName>(
            name: Name,
            args: (view: View) => ArgsOf<Name>,
          ): Promise<readonly [AnswerOf<Name>, AnswerOf<Name>]> => [
            await far.ask(name, args(there)),
            await near.ask(name, args(here)),
          ]

          const lineCount = here.counts.lines.rows
          for (const from of [0, 3, 7, pick % (lineCount + 1)]) {
            const window = {
              from: Math.min(from, lineCount),
              to: Math.min(from + 5, lineCount),
              columns: COLUMNS,
            }
            const [block, ownBlock] = await both('cells', ({ id }) => ({ view: id, ...window }))
            expect(block).toEqual(ownBlock)
          }

          const of = SUMMED.map(([name, summary]) => ({ column: name, summary }))
          const [sums, expected] = await both('summarize', () => ({ request, of }))
          expect(sums.map(plainSummary)).toEqual(expected.map(plainSummary))

          const [holding, ownHolding] = await both('cellsHolding', ({ id }) => ({
            view: id,
            column,
            format: {},
            replacing: FOUND[pick % FOUND.length],
            among: null,
            limit: 1000,
          }))
          expect(cellsIn(holding)).toEqual(cellsIn(ownHolding))

          const all = rows.flatMap((_, row) => ((row + pick) % 9 === 0 ? [asRowId(row)] : []))
          const [lines, ownLines] = await both('linesOf', ({ id }) => ({ view: id, rows: all }))
          expect(lines).toEqual(ownLines)

          const [facets, ownFacets] = await both('facets', () => ({ request, column, limit: 1000 }))
          if (column !== 'tags') expect(plainFacets(facets)).toEqual(plainFacets(ownFacets))

          if (rows.length > 0) {
            const row = asRowId(pick % rows.length)
            const [trace, ownTrace] = await both('trace', ({ id }) => ({ request, view: id, row }))
            expect(trace).toEqual(ownTrace)
            const [cells, ownCells] = await both('rowCells', () => ({
              rows: [row],
              columns: COLUMNS,
              binding: request.binding,
            }))
            expect(cells).toEqual(ownCells)
            const selected = new RowSet()
            for (let at = 0; at < rows.length; at += 3) selected.add(asRowId(at))
            const paths: GroupPath[] = [[null], ['Élan'], [3]]
            const [counts, ownCounts] = await both('selectedIn', ({ id }) => ({
              view: id,
              selected: selected.packed(),
              paths,
            }))
            expect(counts).toEqual(ownCounts)
            for (const after of [-1, pick % (lineCount + 1)]) {
              const [next, ownNext] = await both('nextSelected', ({ id }) => ({
                view: id,
                selected: selected.packed(),
                after: asLine(after),
              }))
              expect(next).toEqual(ownNext)
            }
          }
          const picked = new RowSet()
          for (let at = pick % 3; at < rows.length; at += 3) picked.add(asRowId(at))
          const among = picked.packed()
          for (const kind of ['passing', 'all', 'among', 'held-back'] as const) {
            const which: ExportedRows =
              kind === 'among'
                ? { kind: 'passing', among }
                : kind === 'held-back'
                  ? { kind, among }
                  : { kind }
            const [file, ownFile] = [
              await fileOf(far, there, which, 7 + (pick % 30)),
              await fileOf(near, here, which, 1000),
            ]
            expect(file).toBe(ownFile)
          }
          for (const as of ['lines', 'columns'] as const) {
            const inGroups = { request, groups: groupsOfFile(request.groups.length, as) }
            const [file, ownFile] = [
              await fileOf(far, there, { kind: 'passing' }, 1 + (pick % 30), inGroups),
              await fileOf(near, here, { kind: 'passing' }, 1000, inGroups),
            ]
            expect(file).toBe(ownFile)
          }
          const [groups, ownGroups] = await both('levelGroups', () => ({
            request,
            level: 0,
            from: 0,
            to: 99,
          }))
          expect(groups).toEqual(ownGroups)
          far.close()
          near.close()
        }),
        { ...runs(6), endOnFailure: true },
      )
    })
  },
)

/** Rows as delimited text, written in parts. */
async function fileOf(
  source: RowSource,
  { id }: View,
  rows: ExportedRows,
  step: number,
  inGroups?: Pick<ExportArgs, 'groups' | 'request'>,
): Promise<string> {
  const columns = COLUMNS.map(key => ({ key, title: `The ${key}` }))
  const rules = { format: 'csv', values: 'shown' } as const
  let text = ''
  for (let from = 0, places = 1; from < places; from += step) {
    const to = from + step
    const part = await source.ask('exportText', { view: id, rows, from, to, columns, rules, ...inGroups })
    text += part.text
    places = part.places
  }
  return text
}

/** The groups in a file, with summaries that come to the same in whatever order values are added. */
const groupsOfFile = (levels: number, as: ExportedGroups['as']): ExportedGroups => {
  const of = Array.from({ length: levels }, (_, level) => level)
  const summed: readonly (readonly [string, Summary])[] = [
    ['count', 'sum'],
    ['site', 'distinct'],
    ['note', 'present'],
  ]
  return {
    as,
    levels: of.map(level => ({ key: `@${level}`, title: `Level ${level}` })),
    count: { key: '@rows', title: 'Rows' },
    rest: 'Others',
    of: summed.map(([column, summary]) => ({
      column,
      summary,
      levels: of.map(level => ({ key: `@${level} ${column}`, title: `${column} of ${level}` })),
    })),
  }
}

/** Summaries that the service offers, of columns that have them. */
const SUMMED: readonly (readonly [string, Summary])[] = [
  ['count', 'sum'],
  ['count', 'mean'],
  ['cover', 'median'],
  ['cover', 'deviation'],
  ['count', 'distinct'],
  ['site', 'distinct'],
  ['note', 'missing'],
  ['note', 'present'],
  ['day', 'minimum'],
  ['day', 'maximum'],
  ['cover', 'range'],
  ['site', 'minimum'],
  ['seen', 'mean'],
  ['count', 'share'],
  ['count', 'share-of-parent'],
  ['seen', 'share-of-parent'],
  ['mass', 'count'],
  ['cover', { kind: 'quantile', at: 0.9 }],
  ['count', { kind: 'quantile', at: 0 }],
  ['count', { kind: 'quantile', at: 1 / 3 }],
  ['day', 'mean'],
  ['day', 'median'],
  ['day', { kind: 'quantile', at: 1 }],
  ['count', 'frequent'],
  ['site', 'frequent'],
  ['seen', 'frequent'],
  ['day', 'frequent'],
  ['site', 'same'],
  ['count', 'same'],
  ['seen', 'same'],
  ['count', 'first'],
  ['note', 'first'],
  ['day', 'last'],
  ['site', 'last'],
]

/** What is looked for, to put something else in its place. */
const FOUND: readonly Replacing[] = [
  { find: 'e', by: 'x', whole: false, matchCase: false },
  { find: 'É', by: 'x', whole: false, matchCase: true },
  { find: '', by: 'x', whole: true, matchCase: false },
  { find: '9', by: '7', whole: false, matchCase: false },
  { find: ' élan', by: 'x', whole: true, matchCase: false },
]

/** In groups the service tells rows in their own order. */
const cellsIn = ({ total, rows, values }: CellsHolding): object => ({
  total,
  cells: rows.map((row, i) => `${String(row)} ${String(values[i])}`).sort(),
})

/** Sums to the digits that do not depend on the order of adding. */
const rounded = (value: Value): Value =>
  typeof value !== 'number' || Number.isNaN(value)
    ? null
    : Math.abs(value) < 1e-9
      ? 0
      : Number(value.toPrecision(9))

const plainSummary = ({ levels, all, ...asked }: ColumnSummary): object => ({
  ...asked,
  all: typeof all === 'number' ? rounded(all) : all,
  levels: levels.map(values =>
    Array.from(values, value => (typeof value === 'number' ? rounded(value) : value)),
  ),
})

/** Values that are as frequent come in an order that is nobody's. */
const plainFacets = ({ values, low, high, least, most, ...facets }: Facets): object => ({
  ...facets,
  ends: [low, high, least, most],
  values: values.map(({ shown, count }) => `${shown} ${count}`).sort(),
})
