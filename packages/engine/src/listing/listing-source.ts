import { asLine, NO_LINE } from '../flow/line.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Refusal } from '../question/abilities.ts'
import type { CellBlock } from '../question/cells.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import type { Count, SourceDescription } from '../question/source-description.ts'
import { BlockReader } from '../service/block-reader.ts'
import { PLAIN_REQUEST } from '../service/plain-request.ts'
import { RowKeys } from '../service/row-keys.ts'
import type { Property } from '../service/schema.ts'
import { recordOf } from '../service/service-record.ts'
import { delay, mayPass } from '../service/service.ts'
import { ShownColumns } from '../service/shown-columns.ts'
import { withDecimals } from '../service/shown-decimals.ts'
import { tableOfRecords } from '../service/table-of-records.ts'
import type { Json } from '../service/values.ts'
import { ChangeListeners } from '../source/change-listeners.ts'
import { PageSource } from '../source/page-source.ts'
import {
  SourceError,
  type CallOptions,
  type RowSource,
  type StreamRequest,
  type View,
} from '../source/row-source.ts'
import { RowSet } from '../selection/row-set.ts'
import { rowsIn, type PackedRows, type RowId } from '../table/row-id.ts'
import { errorOf, isRecord, sure } from '../work/checked.ts'
import { keepNewest } from '../work/keep-newest.ts'
import { CancelledError } from '../work/work.ts'
import { problemText } from '../words/source-problem-text.ts'
import { refusalText } from '../words/refusal-text.ts'
import { listingAbilities } from './listing-abilities.ts'
import { asWall, fieldsOf, isOfField } from './listing-fields.ts'
import type { ListingOptions } from './listing-options.ts'
import { listedReport, narrowedBefore } from './listing-report.ts'
import { askListing, type AskedOfListing } from './listing-request.ts'
import { ListingService, type Listed } from './listing-service.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { remarkText } from '../words/remark-text.ts'

const NEAR_ROWS = 5000
const FIRST_ROWS = 60
/** Rows that are read on where nobody knows how many there are. */
const AHEAD = 500
/** Rows of which is remembered what they hold, for questions about rows that were seen. */
const SEEN_ROWS = 20_000
const MOST_LISTED = 10_000
const STREAMED_ROWS = 5000
const LOOK_AGAIN_MS = 3000

type Answers = {
  [Name in QuestionName]?: (
    args: ArgsOf<Name>,
    signal?: AbortSignal,
  ) => AnswerOf<Name> | Promise<AnswerOf<Name>>
}

/** A view of lines that the service lists. */
interface ListedView {
  readonly asked: AskedOfListing
  readonly bound: ShownColumns
  readonly lineCount: number
}

/**
 * Rows that a service lists page by page, in a shape and by parameters of its own. Where all of them are few, they are
 * fetched, and the page does everything with them. Where they are many, the service orders, searches and narrows as far as
 * it has parameters for it; what it has none for the page does once few enough are listed, and says so until then.
 */
export function listingSource(options: ListingOptions): RowSource {
  const { near = NEAR_ROWS } = options
  const keyNames = [options.key].flat()
  const listeners = new ChangeListeners()
  const closed = new AbortController()
  const listing = new ListingService(options, problem => {
    listeners.tell({ problem: null, line: problem })
    if (problem) void untilThere()
  })
  const WHY: Refusal = { code: 'service-cannot', service: listing.name }
  const views = new Map<ViewId, ListedView>()
  const readers = new Set<BlockReader>()
  /** How far lists are known whose length is told by nobody, by what they are asked by. */
  const lengths = new Map<string, { rows: number; ended: boolean }>()
  const seen = new Map<RowId, Json>()
  const told = new Set<string>()
  /** Rows that were seen in a list, by what it was asked by. */
  const listedBy = new Map<string, Set<RowId>>()
  let properties: readonly Property[] = []
  let keys: RowKeys | null = null
  /** All rows, where they are few. */
  let all: PageSource | null = null
  let described: SourceDescription | null = null
  let lastView = 0

  async function untilThere(): Promise<void> {
    try {
      do await delay(LOOK_AGAIN_MS, closed.signal)
      while (!(await listing.isThere(closed.signal)))
    } catch {
      // The source was closed meanwhile.
    }
  }

  function tellOnce(problem: Parameters<typeof problemText>[0], name: string): void {
    if (told.has(name)) return
    told.add(name)
    listeners.tell({ problem: problemText(problem) })
  }

  /** Records as the fields have them; what is not of its field's type is told. */
  function taken(records: readonly Json[]): readonly Json[] {
    return records.map(record => {
      let made: Record<string, unknown> = record
      for (const { field, path } of properties) {
        const steps = path.split('/')
        const value = steps.reduce<unknown>((at, step) => (isRecord(at) ? at[step] : undefined), record)
        if (!isOfField(value, field))
          tellOnce(
            {
              code: 'listing-not-of-type',
              service: listing.name,
              field: field.key,
              type: field.type,
              text: typeof value === 'string' ? value : JSON.stringify(value),
            },
            field.key,
          )
        if (field.type === 'datetime' && !field.zoned && steps.length === 1)
          made = { ...made, [path]: asWall(value, field) }
      }
      return made
    })
  }

  function note(records: readonly Json[]): readonly RowId[] {
    const named = sure(keys)
    const ids = records.map(record => named.idOf(record))
    for (const [nth, id] of ids.entries()) {
      seen.delete(id)
      seen.set(id, records[nth])
    }
    keepNewest(seen, SEEN_ROWS)
    return ids
  }

  async function read(asked: AskedOfListing, from: number, to: number, signal?: AbortSignal) {
    const { records, total } = await listing.rows(asked.params, from, to, signal)
    return { records: taken(records), total }
  }

  const describe = (): SourceDescription => sure(described)

  /** Rows as a table of the page; ids are those that the rows have here. */
  async function pageOf(records: readonly Json[], signal?: AbortSignal): Promise<PageSource> {
    const source = new PageSource({ kind: 'table', table: tableOfRecords(properties, records) })
    await source.open({ signal })
    return source
  }

  /** A service that does not know the parameters for its parts answers with the first, which would be all that is seen. */
  async function refuseAlike({ records, total }: Listed, signal?: AbortSignal): Promise<void> {
    const { page } = options
    const next = 'number' in page ? page.rows : (page.most ?? FIRST_ROWS)
    const named = keys
    if (!named || records.length === 0 || (total ?? Infinity) <= next) return
    const [beyond] = (await listing.rows({}, next, next + 1, signal)).records
    if (!beyond || named.idOf(beyond) !== named.idOf(records[0])) return
    const parameters = 'number' in page ? [page.number] : [page.from, page.size]
    throw new SourceError({ code: 'listing-parts-alike', service: listing.name, parameters })
  }

  async function open({ signal }: CallOptions = {}): Promise<SourceDescription> {
    const started = performance.now()
    const plain = askListing(PLAIN_REQUEST, options)
    const first = await listing.rows(plain.params, 0, FIRST_ROWS, signal)
    properties = withDecimals(fieldsOf(first.records, options.fields), first.records, keyNames)
    const known = new Set(properties.map(({ path }) => path))
    const missing = keyNames.find(name => !known.has(name))
    if (missing !== undefined && first.records.length > 0)
      throw new SourceError({ code: 'listing-without-key', service: listing.name, key: missing })
    keys = missing === undefined ? new RowKeys({ key: keyNames, properties }) : null
    await refuseAlike(first, signal)
    // Where nobody knows how many there are, not all that might be are waited for.
    const most = first.total === null ? Math.min(near, AHEAD) : near
    const isFew = (first.total ?? 0) <= most
    const fetched = isFew && most > 0 ? await read(plain, 0, most + 1, signal) : null
    all = fetched && fetched.records.length <= most ? await pageOf(fetched.records, signal) : null
    const length = { rows: fetched?.records.length ?? first.records.length, ended: false }
    if (!all) lengths.set(nameOf(plain), length)
    const total: Count =
      first.total === null
        ? { kind: all ? 'exact' : 'unknown', rows: length.rows }
        : { kind: 'exact', rows: all ? length.rows : first.total }
    const bound = await ShownColumns.of({ properties })
    const records = taken(first.records)
    const { texts } = await bound.cells(
      records,
      bound.fields.map(({ key }) => key),
    )
    const own = all && (await all.ask('description', {}))
    const remarks: SourceRemark[] = all ? [{ code: 'all-fetched', rows: length.rows }] : []
    described = {
      ...(own ?? {
        fields: properties.map(({ field }) => field),
        can: listingAbilities(options, WHY, Object.keys(answers)),
        bytes: 0,
        columnBytes: {},
        reading: null,
      }),
      total,
      key: keyNames,
      where: all ? `this page, with all rows of ${listing.name}` : `the service at ${listing.name}`,
      ms: performance.now() - started,
      notes: remarks.map(remarkText),
      remarks,
      samples: bound.fields.map((_, column) =>
        records.map((_row, row) => texts[row * bound.fields.length + column]),
      ),
    }
    return described
  }

  /** Rows in all, as far as anybody knows. */
  const totalFor = (listed: number): number => Math.max(listed, describe().total.rows)
  const isSearched = ({ params }: AskedOfListing): boolean =>
    options.search !== undefined && options.search in params
  const nameOf = ({ params }: AskedOfListing): string => JSON.stringify(params)

  /** How many rows are listed, as far as anybody knows. */
  async function lengthOf(asked: AskedOfListing, signal?: AbortSignal): Promise<Count> {
    const { records, total } = await read(asked, 0, BLOCK_ASKED, signal)
    if (total !== null) return { kind: 'exact', rows: total }
    const length = lengths.get(nameOf(asked)) ?? { rows: 0, ended: false }
    length.rows = Math.max(length.rows, records.length)
    if (records.length < BLOCK_ASKED) length.ended = true
    lengths.set(nameOf(asked), length)
    return { kind: length.ended ? 'exact' : 'at-least', rows: length.rows }
  }

  /** Reads on behind the last row that is known, when a reader comes near it. */
  async function readOn(asked: AskedOfListing): Promise<void> {
    const length = lengths.get(nameOf(asked))
    if (!length || length.ended) return
    const before = length.rows
    const { records } = await read(asked, before, before + AHEAD, closed.signal)
    if (length.rows !== before) return
    length.rows += records.length
    length.ended = records.length < AHEAD
    listeners.tell({ problem: null, same: true })
  }

  async function view(request: ViewRequest, { signal }: CallOptions = {}): Promise<View> {
    if (all) return await all.view(request, { signal })
    const started = performance.now()
    const asked = askListing(request, options)
    const count = await lengthOf(asked, signal)
    const [unasked] = asked.unasked
    if (unasked) return await viewHere(asked, count, signal)
    const bound = await ShownColumns.of({ properties }, request.binding)
    const kept: ListedView = { asked, bound, lineCount: count.rows }
    const id = ++lastView as ViewId
    views.set(id, kept)
    keepNewest(views, 8)
    const reader = new BlockReader(
      count.rows,
      (from, to, columns, given) => block(kept, from, to, columns, given),
      lineFailed,
    )
    readers.add(reader)
    const ms = performance.now() - started
    return {
      id,
      fields: bound.fields,
      problems: bound.problems,
      counts: { total: describe().total, passing: count, lines: count },
      report: listedReport(request, {
        fields: properties.length,
        passing: count.rows,
        total: totalFor(count.rows),
        ms,
      }),
      lines: reader,
      close() {
        reader.close()
        readers.delete(reader)
        views.delete(id)
      },
    }
  }

  /** What the service cannot do is done by the page with the rows that it lists, where they are few enough. */
  async function fetched(asked: AskedOfListing, count: Count, signal?: AbortSignal): Promise<PageSource> {
    const rows = count.rows <= near ? (await read(asked, 0, near + 1, signal)).records : null
    if (rows && rows.length <= near) return await pageOf(rows, signal)
    const [unasked] = asked.unasked
    throw new SourceError({
      code: 'near-too-many',
      service: listing.name,
      what: unasked.what,
      column: unasked.what === 'condition' ? unasked.column : '',
      rows: Math.max(count.rows, rows?.length ?? 0),
      most: near,
    })
  }

  async function viewHere(asked: AskedOfListing, count: Count, signal?: AbortSignal): Promise<View> {
    const source = await fetched(asked, count, signal)
    const inner = await source.view(asked.left, { signal })
    return {
      ...inner,
      counts: { ...inner.counts, total: describe().total },
      report: narrowedBefore(inner.report, {
        total: totalFor(count.rows),
        listed: count.rows,
        isSearched: isSearched(asked),
      }),
      close() {
        inner.close()
        source.close()
      },
    }
  }

  async function* streamed({ request, chunk = STREAMED_ROWS }: StreamRequest, signal?: AbortSignal) {
    const asked = askListing(request, options)
    if (all || asked.unasked.length > 0) {
      const source = all ?? (await fetched(asked, await lengthOf(asked, signal), signal))
      yield* source.stream({ request: all ? request : asked.left, chunk }, { signal })
      if (!all) source.close()
      return
    }
    for (let from = 0; ; from += chunk) {
      const { records } = await read(asked, from, from + chunk, signal)
      if (records.length > 0) yield records.map(record => recordOf({ properties }, record))
      if (records.length < chunk) return
    }
  }

  async function block(
    { asked, bound, lineCount }: ListedView,
    from: number,
    to: number,
    columns: readonly string[],
    signal?: AbortSignal,
  ): Promise<CellBlock> {
    const { records } = await read(asked, from, to, signal)
    const ids = note(records)
    const passing = listedBy.get(nameOf(asked)) ?? new Set()
    for (const id of ids) passing.add(id)
    listedBy.set(nameOf(asked), passing)
    keepNewest(listedBy, 8)
    if (to >= lineCount) void readOn(asked).catch(lineFailed)
    const { texts, values } = await bound.cells(records, columns)
    return { lines: ids.map(row => ({ kind: 'row', level: 0, row })), groups: [], texts, values }
  }

  function lineFailed(error: unknown): void {
    if (error instanceof CancelledError) return
    const problem = error instanceof SourceError ? error.problem : null
    listeners.tell({
      problem: problem && mayPass(problem) ? null : errorOf(error).message,
      line: problem,
    })
  }

  function viewOf(id: ViewId): ListedView {
    const known = views.get(id)
    if (!known) throw new CancelledError()
    return known
  }

  /** Those of some rows that pass, as far as they were seen. */
  function passingOf({ asked }: ListedView, { chunks, names }: PackedRows): RowId[] {
    const rows = [...rowsIn({ kind: 'set', chunks, names })]
    if (Object.keys(asked.params).length === 0) return rows
    const passing = listedBy.get(nameOf(asked))
    return rows.filter(row => passing?.has(row))
  }

  const answers: Answers = {
    cells: async ({ view: id, from, to, columns }, signal) =>
      await block(viewOf(id), from, to, columns, signal),
    description: () => describe(),
    explain: () => ({ conditions: {}, words: [] }),
    findRows: ({ keys: wanted }) =>
      wanted.map(key => {
        const id = sure(keys).idOfKey(key)
        return id !== null && seen.has(id) ? id : null
      }),
    keysOf: ({ rows }) => [...rowsIn(rows)].map(id => sure(keys).keyOf(id)),
    linesOf: async ({ view: id, rows }, signal) => {
      // Only what is near is looked through: where others stand the service does not say.
      const { asked, lineCount } = viewOf(id)
      const { records } = await read(asked, 0, Math.min(lineCount, BLOCK_ASKED), signal)
      const ids = note(records)
      return rows.map(row => {
        const line = ids.indexOf(row)
        return line < 0 ? NO_LINE : asLine(line)
      })
    },
    records: ({ rows }) =>
      rows.flatMap(id => {
        const record = seen.get(id)
        return record ? [recordOf({ properties }, record)] : []
      }),
    rowCells: async ({ rows, columns, binding }) => {
      const bound = await ShownColumns.of({ properties }, binding)
      const there = rows.map(id => seen.get(id) ?? {})
      return await bound.cells(there, columns)
    },
    passingAmong: ({ view: id, selected }) => {
      const passing = new RowSet()
      passing.addAll({ kind: 'list', rows: passingOf(viewOf(id), selected) })
      return passing.packed()
    },
    selectedIn: ({ view: id, selected }) => {
      const { lineCount: rows } = viewOf(id)
      return { passing: { rows, selected: passingOf(viewOf(id), selected).length }, groups: [] }
    },
    rowsBetween: async ({ view: id, from, to }, signal) => {
      const { asked, lineCount } = viewOf(id)
      const end = Math.min(to, lineCount)
      if (end - from > MOST_LISTED)
        throw new SourceError({ code: 'service-too-many-rows', service: listing.name, most: MOST_LISTED })
      const { records } = await read(asked, Math.max(0, from), end, signal)
      return { kind: 'list', rows: [...note(records)] }
    },
  }

  return {
    open,
    view,
    async ask(question, args, { signal } = {}) {
      if (all && question !== 'description') return await all.ask(question, args, { signal })
      const answer = answers[question]
      if (!answer) throw new RangeError(refusalText(WHY))
      return await answer(args, signal)
    },
    stream: (request, { signal } = {}) => streamed(request, signal),
    commit: async (changes, keyFields) =>
      all ? await all.commit(changes, keyFields) : await Promise.reject(new RangeError(refusalText(WHY))),
    async refresh({ signal } = {}) {
      listing.forget()
      lengths.clear()
      const before = all
      await open({ signal })
      before?.close()
      listeners.tell({ problem: null })
    },
    onChange: listener => listeners.add(listener),
    close() {
      closed.abort()
      all?.close()
      listeners.clear()
      for (const reader of readers) reader.close()
      readers.clear()
      views.clear()
    },
  }
}

/** Rows that are asked for where a view begins: those that its first block shows. */
const BLOCK_ASKED = 96
