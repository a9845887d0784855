import type { LineIndex } from '../src/flow/line.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ArgsOf, QuestionName } from '../src/question/index.ts'
import { questions } from '../src/question/index.ts'
import { RowSet } from '../src/selection/row-set.ts'
import { rowsIn, type PackedRows } from '../src/table/row-id.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { Binding, ViewRequest } from '../src/flow/view-request.ts'
import type { RowSource, View } from '../src/source/row-source.ts'
import type { RowId } from '../src/table/row-id.ts'
import { breathe } from '../src/work/work.ts'
import { serveEngine, type ServedPort } from '../src/worker/serve.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { oracle } from './support/oracle.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

/** Rows that the random ones are repeated to, so that every stage has several slices. */
const ROWS = 4000
/** Every slice ends in a pause, in which the others get their turn. */
const OPTIONS = { sliceMs: 0, compactAfterMs: 5 }
const BINDINGS: readonly (Binding | undefined)[] = [
  undefined,
  { formats: { mass: { decimals: 1 }, seen: { yes: 'aye', no: 'nay' } }, computed: [] },
  { formats: {}, computed: [{ key: 'twice', expression: 'count * 2' }] },
]

const tableRows = (rows: readonly Record<string, unknown>[]): Record<string, unknown>[] =>
  rows.length === 0 ? [] : Array.from({ length: ROWS }, (_, i) => rows[i % rows.length])

type Rows = Parameters<typeof tableOf>[0]
const inPage = (rows: Rows): RowSource =>
  new PageSource({ kind: 'table', table: tableOf(rows) }, [], {}, OPTIONS)
function inWorker(rows: Rows, share: boolean): RowSource {
  const { port1, port2 } = new MessageChannel()
  serveEngine({}, port2 as unknown as ServedPort, { count: 0, start: () => null }, OPTIONS)
  return new WorkerSource(port1 as unknown as EnginePort, { kind: 'table', table: tableOf(rows) }, share)
}
const PLACES: Record<string, (rows: Rows) => RowSource> = {
  'in the page': inPage,
  'in a worker': rows => inWorker(rows, false),
  'in a worker with shared memory': rows => inWorker(rows, true),
}

/** Every third row of the first thousands. */
const SELECTED = ((): PackedRows => {
  const set = new RowSet()
  for (let row = 0; row < ROWS; row += 3) set.add(row as RowId)
  return set.packed()
})()

/** What is asked of each question, over a request and a view of it. */
type Cases = {
  [Name in QuestionName]: (request: ViewRequest, view: View, column: string) => ArgsOf<Name>
}
const CASES: Cases = {
  cells: (_, view) => ({ view: view.id, from: 0, to: 40, columns: COLUMNS }),
  cellsHolding: (_, view, column) => ({
    view: view.id,
    column,
    format: {},
    replacing: { find: 'a', by: 'b', whole: false, matchCase: false },
    among: null,
    limit: 20,
  }),
  checkKey: (_request, _view, column) => ({ keyFields: [column] }),
  checkRows: (_request, _view, column) => ({
    rows: [
      { id: 5 as RowId, values: { [column]: null } },
      { id: null, values: {} },
    ],
    rules: { rules: [], unique: [column], amongValuesOf: [] },
    computed: [],
    without: [],
  }),
  description: ({ binding }) => ({ binding: binding ?? BINDINGS[1] }),
  explain: request => ({ request }),
  exportBatch: (_, view) => ({
    view: view.id,
    rows: { kind: 'passing', among: SELECTED },
    from: 0,
    to: 400,
    columns: COLUMNS.map(key => ({ key, title: key })),
    format: 'parquet',
    values: 'raw',
    begins: true,
  }),
  exportEnd: () => ({ format: 'arrow', fields: [{ name: 'a', type: 'text' }], batches: [], rows: 0 }),
  exportSheet: (_, view) => ({
    view: view.id,
    rows: { kind: 'passing', among: SELECTED },
    from: 0,
    to: 400,
    columns: COLUMNS.map(key => ({ key, title: key })),
    values: 'raw',
    sheet: COLUMNS.map(() => ({ format: {}, style: 0 })),
    crc: 0,
  }),
  exportText: (_, view) => ({
    view: view.id,
    rows: { kind: 'passing', among: SELECTED },
    from: 0,
    to: 400,
    columns: COLUMNS.map(key => ({ key, title: key })),
    rules: { format: 'csv', values: 'shown' },
  }),
  facets: (request, _, column) => ({ request, column, limit: 20 }),
  findMatch: ({ search }, view) => ({
    view: view.id,
    search: search || 'a',
    columns: COLUMNS,
    from: { line: 0 as LineIndex, column: COLUMNS[0] },
    step: 1,
  }),
  findRows: (_request, _view, column) => ({ keyFields: [column], keys: ['a', 1, true, null] }),
  keysOf: (_request, _view, column) => ({ keyFields: [column], rows: { kind: 'run', from: 0, to: 50 } }),
  firstFrom: (_, view, column) => ({
    view: view.id,
    column,
    from: 'e',
    descending: false,
    natural: false,
  }),
  groupAt: (_, view) => ({ view: view.id, path: ['Élan'] }),
  rowsOfGroup: (_, view) => ({ view: view.id, path: [null] }),
  savedCells: (_request, _view, column) => ({
    keyFields: [column],
    keys: ['a', 1, true, null],
    columns: [...COLUMNS, 'gone'],
  }),
  lengthMap: ({ search, searchColumns }, view, column) => ({
    view: view.id,
    steps: 50,
    selected: { chunks: [], names: [] },
    changed: [],
    rules: [],
    course: column,
    search,
    searchColumns,
  }),
  levelGroups: request => ({ request, level: 0, from: 0, to: 9 }),
  longestTexts: (request, _, column) => ({ request, column, count: 5 }),
  linesOf: (_, view) => ({ view: view.id, rows: [0, 5, 3999] as RowId[] }),
  passingRows: (_, view) => ({ view: view.id }),
  pending: () => ({}),
  profile: ({ binding }, _, column) => ({ column, limit: 10, binding: binding ?? BINDINGS[1] }),
  proposeKeys: () => ({}),
  records: ({ binding }) => ({ rows: [0, 7] as RowId[], binding: binding ?? BINDINGS[1] }),
  rowCells: ({ binding }) => ({
    rows: [0, 7, 3999, 1e9] as RowId[],
    columns: [...COLUMNS, 'gone'],
    binding: binding ?? BINDINGS[1],
  }),
  selectedIn: (_, view) => ({ view: view.id, selected: SELECTED, paths: [[null], ['a', null]] }),
  nextSelected: (_, view) => ({ view: view.id, selected: SELECTED, after: 3 as LineIndex }),
  passingAmong: (_, view) => ({ view: view.id, selected: SELECTED }),
  rowsBetween: (_, view) => ({ view: view.id, from: 2 as LineIndex, to: 20 as LineIndex }),
  summarize: (request, _, column) => ({ request, of: [{ column, summary: 'distinct' }] }),
  trace: (request, view) => ({ request, view: view.id, row: 3 as RowId }),
}

/** Times differ from run to run, and so do the views' names. */
const timeless = (answer: unknown): unknown =>
  JSON.parse(
    JSON.stringify(answer, (key, value: unknown) =>
      key === 'ms' || key === 'conditionMs' || key === 'where' || key === 'fresh' ? 0 : value,
    ),
  )

const withoutPatterns = ({ conditions }: ViewRequest): boolean =>
  Object.values(conditions).every(({ parts }) => parts.every(({ kind }) => kind !== 'pattern'))

interface Step {
  readonly request: ViewRequest
  readonly question: QuestionName
  readonly column: string
  /** Pauses before it is asked. */
  readonly after: number
}

const ASKED_FOR = ['order', 'conditions', 'search', 'searchColumns', 'groups', 'open', 'binding'] as const

/** Requests that share most of what they ask with one another: each takes every part from one of two. */
const kin = (pool: readonly ViewRequest[]): fc.Arbitrary<ViewRequest> =>
  fc
    .tuple(...ASKED_FOR.map(() => fc.nat(pool.length - 1)))
    .map(
      from =>
        Object.fromEntries([
          ['clock', pool[0].clock],
          ...ASKED_FOR.map((part, i) => [part, pool[from[i]][part]]),
        ]) as unknown as ViewRequest,
    )

const pools: fc.Arbitrary<readonly ViewRequest[]> = fc.array(
  fc
    .record({
      request: randomRequest.filter(withoutPatterns),
      binding: fc.constantFrom(...BINDINGS),
      search: fc.constantFrom('', 'a', '1', 'e', 'lo', '2'),
      searchColumns: fc.shuffledSubarray([...COLUMNS], { minLength: 1, maxLength: 2 }),
    })
    .map(({ request, ...asked }) => ({ ...request, ...asked })),
  { minLength: 2, maxLength: 2 },
)

const stepsOf = (pool: readonly ViewRequest[]): fc.Arbitrary<Step[]> =>
  fc.array(
    fc.record({
      request: kin(pool),
      question: fc.constantFrom(...(Object.keys(questions) as QuestionName[])),
      column: fc.constantFrom(...COLUMNS),
      after: fc.nat(6),
    }),
    { minLength: 2, maxLength: 6 },
  )

/** The lines of a view and what a question about it is answered. */
async function takeStep(source: RowSource, { request, question, column }: Step): Promise<unknown> {
  const view = await source.view(request)
  const passing = [...rowsIn(await source.ask('passingRows', { view: view.id }))]
  // A name and its arguments belong together in the list of cases.
  const args = CASES[question](request, view, column) as never
  const answer: unknown = await source.ask(question, args).catch((error: Error) => error.message)
  const { lineCount } = view.lines
  view.close()
  return timeless({ passing, lineCount, report: view.report, fields: view.fields, answer })
}

describe.each(Object.keys(PLACES))('questions that interleave %s', place => {
  it('are answered as if each were asked alone', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, pools.chain(stepsOf), async (few, steps) => {
        const rows = tableRows(few)
        const source = PLACES[place](rows)
        await source.open()
        const answers = await Promise.all(
          steps.map(async step => {
            for (let pause = 0; pause < step.after; pause++) await breathe()
            return await takeStep(source, step)
          }),
        )
        source.close()
        for (const [i, step] of steps.entries()) {
          const alone = inPage(rows)
          await alone.open()
          expect(answers[i]).toEqual(await takeStep(alone, step))
          alone.close()
        }
      }),
      runs(25),
    )
  })

  it('come to the plain version’s lines', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        pools.chain(pool => fc.array(kin(pool), { minLength: 2, maxLength: 5 })),
        fc.array(fc.nat(5), { minLength: 5, maxLength: 5 }),
        async (few, requests, pauses) => {
          const rows = tableRows(few).slice(0, 400)
          const source = PLACES[place](rows)
          await source.open()
          const got = await Promise.all(
            requests.map(async (request, i) => {
              for (let pause = 0; pause < pauses[i]; pause++) await breathe()
              const { report, id } = await source.view(request)
              void source.ask('facets', { request, column: 'site', limit: 3 }).catch(() => {})
              return [report.passing, [...rowsIn(await source.ask('passingRows', { view: id }))]]
            }),
          )
          source.close()
          const table = tableOf(rows)
          for (const [i, request] of requests.entries()) {
            const open = { levels: null, except: [] }
            const { lines, passing } = oracle(table, { ...request, open })
            expect(got[i]).toEqual([passing, lines.flatMap(line => ('row' in line ? [line.row] : []))])
          }
        },
      ),
      runs(25),
    )
  })
})
