import { asLine, NO_LINE } from '../flow/line.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import type { SourceDescription } from '../question/source-description.ts'
import { fold, searchWords } from '../search/fold.ts'
import { RowSet } from '../selection/row-set.ts'
import type { Value } from '../table/column.ts'
import { rowsIn, type PackedRows, type RowId, type Rows } from '../table/row-id.ts'
import type { ExportArgs } from '../question/export-args.ts'
import type { ColumnSummary, SummaryAsked } from '../question/summarize.ts'
import { PageSource } from '../source/page-source.ts'
import { SourceError } from '../source/row-source.ts'
import { exportOfService } from './service-export.ts'
import { countPacked } from '../table/packed-rows.ts'
import { CancelledError } from '../work/work.ts'
import { ShownColumns } from './shown-columns.ts'
import { checkOfService, holdingOfService, savedOfService } from './service-editing.ts'
import { facetsOfService, profileOfService } from './service-facets.ts'
import { beforeFilter, filterOf, paramsOf, propertyNamed, rowsQuery, type RowsQuery } from './rows-query.ts'
import { recordOf } from './service-record.ts'
import { MOST_NAMED, ServicePlaces } from './service-places.ts'
import { summarizeService, type Summing } from './service-summaries.ts'
import type { GroupCounts } from './group-counts.ts'
import { traceOfService } from './service-trace.ts'
import { groupFilter, readBlock, readRows, type ServiceContext, type ServiceView } from './service-view.ts'
import type { Json } from './values.ts'
import { valueIn } from './values.ts'

/** Rows of a range that are listed. */
const MOST_LISTED = 10_000
/** Blocks of lines that are looked through for the next mark. */
const LINES_LOOKED_AT = 64
const MOST_LOOKS = 32

export type AnswersOfService = {
  [Name in QuestionName]?: (args: ArgsOf<Name>, signal?: AbortSignal) => Promise<AnswerOf<Name>>
}

/** The questions that a service can be asked. */
export const ANSWERED = [
  'cells',
  'cellsHolding',
  'checkRows',
  'description',
  'explain',
  'exportBatch',
  'exportEnd',
  'exportSheet',
  'exportText',
  'facets',
  'findMatch',
  'findRows',
  'firstFrom',
  'groupAt',
  'keysOf',
  'levelGroups',
  'linesOf',
  'nextSelected',
  'passingAmong',
  'profile',
  'proposeKeys',
  'records',
  'rowCells',
  'rowsBetween',
  'rowsOfGroup',
  'savedCells',
  'selectedIn',
  'summarize',
  'trace',
] as const satisfies QuestionName[]

export function answersOf(
  context: ServiceContext,
  viewOf: (id: ViewId) => ServiceView,
  describe: () => SourceDescription,
  groupCounts: GroupCounts,
): Required<Pick<AnswersOfService, (typeof ANSWERED)[number]>> {
  const { service, schema, keys } = context
  const places = new ServicePlaces(context)
  const query = (request: ViewRequest) => rowsQuery(request, schema, keys)
  const groupsFor = async (request: ViewRequest, signal?: AbortSignal): Promise<ServiceView['grouped']> =>
    await groupCounts.of(request, query(request), signal)
  const summing = (of: RowsQuery, signal?: AbortSignal): Summing => ({
    schema,
    query: of,
    ask: steps => groupCounts.ask(steps, signal),
  })

  /** Rows by their ids, in the order asked; null for those that are gone. */
  const rowsOf = async (rows: readonly RowId[], signal?: AbortSignal): Promise<(Json | null)[]> => {
    const found = new Map<RowId, Json>()
    for (let from = 0; from < rows.length; from += MOST_NAMED) {
      const $filter = keys.filter(rows.slice(from, from + MOST_NAMED))
      for (const record of await service.all(schema.rows, { $filter }, signal))
        found.set(keys.idOf(record), record)
    }
    return rows.map(row => found.get(row) ?? null)
  }

  const count = async (view: ServiceView, and: readonly string[], signal?: AbortSignal): Promise<number> =>
    await service.count(schema.rows, paramsOf(view.query, and), signal)

  const named = ({ chunks, names }: PackedRows): RowId[] => [...rowsIn({ kind: 'set', chunks, names })]

  /** Those of some rows that pass; of many, the first alone are asked for. */
  const passingOf = async (
    view: ServiceView,
    rows: readonly RowId[],
    signal?: AbortSignal,
  ): Promise<RowId[]> => {
    const passing: RowId[] = []
    for (let from = 0; from < rows.length; from += MOST_NAMED) {
      const params = paramsOf(view.query, [keys.filter(rows.slice(from, from + MOST_NAMED))])
      const records = await service.all(schema.rows, { ...params, $select: schema.key.join(',') }, signal)
      for (const record of records) passing.push(keys.idOf(record))
    }
    return passing
  }

  /** Rows that are listed one by one come over the line. */
  const refuseMany = (rows: number): void => {
    if (rows > MOST_LISTED)
      throw new SourceError({ code: 'service-too-many-rows', service: service.name, most: MOST_LISTED })
  }

  /** By view: what columns come to in its groups, which every part of a file says. */
  const summaries = new WeakMap<
    ServiceView,
    { readonly of: string; readonly told: Promise<ColumnSummary[]> }
  >()
  const summariesOf = (
    view: ServiceView,
    of: readonly SummaryAsked[],
    signal?: AbortSignal,
  ): Promise<ColumnSummary[]> => {
    const name = JSON.stringify(of)
    const before = summaries.get(view)
    if (before?.of === name) return before.told
    const told = summarizeService(summing(view.query, signal), view.grouped, of)
    summaries.set(view, { of: name, told })
    told.catch(() => summaries.delete(view))
    return told
  }

  return {
    cells: async ({ view: id, from, to, columns }, signal) => {
      const view = viewOf(id)
      return await readBlock(context, view, view.bound, from, Math.min(to, view.lineCount), columns, signal)
    },
    description: () => Promise.resolve(describe()),
    explain: async ({ request }, signal) => {
      const made = query(request)
      const counted = async (filter: string | undefined): Promise<number> =>
        await service.count(schema.rows, { $filter: filter, $search: made.search ?? undefined }, signal)
      const conditions = await Promise.all(
        Object.keys(request.conditions).flatMap(column => {
          const filter = made.filters.get(column)
          if (filter === undefined) return []
          return [
            Promise.all([
              service.count(schema.rows, { $filter: filter }, signal),
              counted(filterOf(made, { but: column })),
            ]).then(([meet, without]) => [column, { meet, without, nearest: null }] as const),
          ]
        }),
      )
      const words = await Promise.all(
        searchWords(request.search).map(async (word, nth, all) => {
          const alone = query({ ...request, conditions: {}, search: `"${word}"` })
          const others = all.filter((_, i) => i !== nth).map(one => `"${one}"`)
          const rest = query({ ...request, search: others.join(' ') })
          const of = async (one: typeof alone): Promise<number> =>
            await service.count(schema.rows, paramsOf(one), signal)
          const [meet, without] = await Promise.all([of(alone), of(rest)])
          return { word, meet, without, nearest: null }
        }),
      )
      return { conditions: Object.fromEntries(conditions), words }
    },
    exportBatch: (args, signal) =>
      exported(args, (source, part) => source.ask('exportBatch', { ...args, ...part }, { signal }), signal),
    exportSheet: (args, signal) =>
      exported(args, (source, part) => source.ask('exportSheet', { ...args, ...part }, { signal }), signal),
    exportText: (args, signal) =>
      exported(args, (source, part) => source.ask('exportText', { ...args, ...part }, { signal }), signal),
    exportEnd: async (args, signal) => {
      const source = new PageSource({ kind: 'table', table: { rows: 0, fields: [], columns: [] } })
      await source.open({ signal })
      const end = await source.ask('exportEnd', args, { signal })
      source.close()
      return end
    },
    facets: ({ request, column, limit, holding }, signal) =>
      facetsOfService(context, query(request), column, { limit, holding }, request.binding, signal),
    findMatch: async ({ view: id, search, columns, from, step }, signal) => {
      const view = viewOf(id)
      const words = searchWords(search)
      if (words.length === 0 || columns.length === 0 || view.lineCount === 0) return null
      const isMarked = (text: string): boolean =>
        words.some(word => fold(text).replaceAll('\n', ' ').includes(word))
      // Every row that passes shows what is searched, so that the next mark is near.
      let line = Math.min(Math.max(from.line, 0), view.lineCount - 1)
      for (let looked = 0; looked < MOST_LOOKS; looked++) {
        const [low, high] =
          step > 0
            ? [line, Math.min(view.lineCount, line + LINES_LOOKED_AT)]
            : [Math.max(0, line - LINES_LOOKED_AT + 1), line + 1]
        const block = await readBlock(context, view, view.bound, low, high, columns, signal)
        const cells = Array.from(block.texts.keys())
        if (step < 0) cells.reverse()
        for (const cell of cells) {
          const at = { line: low + Math.floor(cell / columns.length), column: cell % columns.length }
          const start = columns.indexOf(from.column)
          const beyond =
            step > 0 ? at.line > from.line || at.column > start : at.line < from.line || at.column < start
          if ((looked > 0 || beyond) && isMarked(block.texts[cell]))
            return { line: asLine(at.line), column: columns[at.column] }
        }
        line = step > 0 ? (high >= view.lineCount ? 0 : high) : low === 0 ? view.lineCount - 1 : low - 1
      }
      return null
    },
    checkRows: (args, signal) => checkOfService(context, args, rowsOf, signal),
    findRows: async ({ keyFields, keys: wanted }, signal) => {
      const byKey = keyFields.length === 0 || keyFields.join() === schema.key.join()
      if (!byKey) return wanted.map(() => null)
      const ids = wanted.map(key => keys.idOfKey(key))
      const there = await rowsOf(
        ids.filter(id => id !== null),
        signal,
      )
      let at = 0
      return ids.map(id => (id !== null && there[at++] !== null ? id : null))
    },
    firstFrom: async ({ view: id, column, from, descending }, signal) => {
      const view = viewOf(id)
      const property = propertyNamed(schema, column)
      if (!property || view.grouped || view.passing === 0) return null
      const order = view.query.order.filter(key => key.property === property)
      const line = await count(
        view,
        [
          beforeFilter(
            order.map(key => ({ ...key, descending })),
            [from],
          ),
        ],
        signal,
      )
      const [row] = await readRows(context, view, line, line + 1, [property], signal)
      return row && valueIn(row.record, property) !== null ? { line: asLine(line), row: row.id } : null
    },
    groupAt: ({ view: id, path }) => {
      const groups = viewOf(id).grouped?.groups
      const group = groups?.find(path) ?? -1
      return Promise.resolve(groups && group >= 0 ? groups.head(path.length - 1, group) : null)
    },
    keysOf: ({ keyFields, rows }, signal) => keysOfRows(rows, keyFields, signal),
    levelGroups: async ({ request, level, from, to }, signal) => {
      const grouped = await groupsFor(request, signal)
      if (!grouped || level >= grouped.levels.length) return { count: 0, groups: [] }
      return { count: grouped.groups.countOf(level), groups: grouped.groups.listed(level, from, to) }
    },
    linesOf: async ({ view: id, rows, ownOnly = false }, signal) => {
      const view = viewOf(id)
      const lines = await places.linesOf(view, rows, signal)
      const groups = view.grouped?.groups
      return lines.map(line =>
        ownOnly && groups && line >= 0 && groups.at(line).kind !== 'row' ? NO_LINE : line,
      )
    },
    nextSelected: async ({ view: id, selected, after }, signal) => {
      const view = viewOf(id)
      return await places.nextOf(view, named(selected), after, signal)
    },
    passingAmong: async ({ view: id, selected }, signal) => {
      const passing = new RowSet()
      passing.addAll({ kind: 'list', rows: await passingOf(viewOf(id), named(selected), signal) })
      return passing.packed()
    },
    profile: ({ column, limit, binding }, signal) =>
      profileOfService(context, column, limit, binding, signal),
    proposeKeys: () =>
      Promise.resolve([{ fields: schema.key, unique: true, missing: 0, doubled: 0, examples: [] }]),
    records: async ({ rows }, signal) =>
      (await rowsOf(rows, signal)).flatMap(record => (record ? [recordOf(schema, record)] : [])),
    rowCells: async ({ rows, columns, binding }, signal) => {
      const records = await rowsOf(rows, signal)
      const there = records.filter(record => record !== null)
      const bound = await ShownColumns.of(schema, binding)
      const cells = await bound.cells(there, columns)
      const texts: string[] = []
      const values: Value[] = []
      let nth = 0
      for (const record of records) {
        const at = nth * columns.length
        if (record) nth++
        texts.push(...(record ? cells.texts.slice(at, at + columns.length) : columns.map(() => '')))
        values.push(...(record ? cells.values.slice(at, at + columns.length) : columns.map(() => null)))
      }
      return { texts, values }
    },
    rowsBetween: async ({ view: id, from, to }, signal) => {
      const view = viewOf(id)
      const end = Math.min(to, view.lineCount)
      refuseMany(end - from)
      const block = await readBlock(context, view, view.bound, Math.max(0, from), end, [], signal)
      return { kind: 'list', rows: block.lines.flatMap(line => (line.kind === 'row' ? [line.row] : [])) }
    },
    rowsOfGroup: async ({ view: id, path }, signal) => {
      const view = viewOf(id)
      const groups = view.grouped?.groups
      const group = groups?.find(path) ?? -1
      if (!groups || group < 0) return { kind: 'list', rows: [] }
      const { count: rows } = groups.head(path.length - 1, group)
      refuseMany(rows)
      const from = groups.startOf(path.length - 1, group)
      const told = await readRows(context, view, from, from + rows, [], signal)
      return { kind: 'list', rows: told.map(({ id: row }) => row) }
    },
    cellsHolding: (args, signal) => holdingOfService(context, viewOf(args.view), args, refuseMany, signal),
    savedCells: (args, signal) => savedOfService(context, args, signal),
    selectedIn: async ({ view: id, selected, paths }, signal) => {
      const view = viewOf(id)
      const groups = view.grouped?.groups
      const rows = named(selected)
      const passing =
        countPacked(selected) === 0 ? [] : await passingOf(view, rows.slice(0, MOST_NAMED), signal)
      const inGroups = await Promise.all(
        paths.map(async path => {
          const group = groups?.find(path) ?? -1
          if (!groups || !view.grouped || group < 0) return { rows: 0, selected: 0 }
          const { levels } = view.grouped
          const of = groups.head(path.length - 1, group).count
          if (passing.length === 0) return { rows: of, selected: 0 }
          const and = [groupFilter(levels, path), keys.filter(passing.slice(0, MOST_NAMED))]
          return { rows: of, selected: await count(view, and, signal) }
        }),
      )
      return { passing: { rows: view.passing, selected: passing.length }, groups: inGroups }
    },
    summarize: async ({ request, of, among }, signal) => {
      const made = query(request)
      if (!among) return await summarizeService(summing(made, signal), await groupsFor(request, signal), of)
      const rows = [...rowsIn(among)]
      if (rows.length > MOST_NAMED) return []
      const some = { ...made, filters: new Map([['', keys.filter(rows)]]), searchFilter: null, search: null }
      return await summarizeService(summing(some, signal), null, of)
    },
    trace: async ({ request, view: id, row }, signal) => {
      const view = viewOf(id)
      const [record] = await rowsOf([row], signal)
      if (!record) throw new CancelledError()
      return await traceOfService(
        context,
        view,
        request,
        row,
        record,
        await places.placeOf(view, row, signal),
      )
    },
  }

  /** A part of a file. */
  async function exported<Answer extends { readonly places: number }>(
    args: ExportArgs,
    ask: (source: PageSource, part: ExportArgs) => Promise<Answer>,
    signal?: AbortSignal,
  ): Promise<Answer> {
    const view = viewOf(args.view)
    return await exportOfService(
      context,
      view,
      args,
      {
        rowsOf,
        passingOf: (rows, given) => passingOf(view, rows, given),
        summariesOf: of => summariesOf(view, of, signal),
        ask,
      },
      signal,
    )
  }

  async function keysOfRows(rows: Rows, keyFields: readonly string[], signal?: AbortSignal) {
    const ids = [...rowsIn(rows)]
    if (keyFields.length === 0 || keyFields.join() === schema.key.join()) return ids.map(id => keys.keyOf(id))
    const fields = keyFields.flatMap(key => propertyNamed(schema, key) ?? [])
    return (await rowsOf(ids, signal)).map(record => {
      const parts = fields.map(field => (record ? valueIn(record, field) : null))
      return parts.length === 1 ? parts[0] : parts
    })
  }
}
