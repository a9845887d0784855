import type { ViewRequest } from '../flow/view-request.ts'
import type { ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import type { Count, SourceDescription } from '../question/source-description.ts'
import type { PageSource } from '../source/page-source.ts'
import { ChangeListeners } from '../source/change-listeners.ts'
import {
  SourceError,
  type CallOptions,
  type OpenOptions,
  type RowSource,
  type View,
  type ViewOptions,
} from '../source/row-source.ts'
import { CancelledError } from '../work/work.ts'
import { keepNewest } from '../work/keep-newest.ts'
import { errorOf, sure } from '../work/checked.ts'
import { refusalText } from '../words/refusal-text.ts'
import { problemText } from '../words/source-problem-text.ts'
import { BlockReader } from './block-reader.ts'
import { NearAnswers, withRequest, type Parted, type SpokenOf } from './near-answers.ts'
import { NearRows } from './near-rows.ts'
import { ShownColumns } from './shown-columns.ts'
import { withDecimals } from './shown-decimals.ts'
import { GroupCounts } from './group-counts.ts'
import { readMetadata } from './read-metadata.ts'
import type { ServiceSchema } from './schema.ts'
import { PLAIN_REQUEST } from './plain-request.ts'
import { RowKeys } from './row-keys.ts'
import { paramsOf, rowsQuery, type RowsQuery } from './rows-query.ts'
import { ServiceCounts } from './service-counts.ts'
import { serviceAbilities, withOfferedLevels } from './service-abilities.ts'
import type { ServiceOptions } from './service-options.ts'
import { recordOf } from './service-record.ts'
import type { KeptRequest } from './kept-groups.ts'
import { heldRows, reportOf } from './service-report.ts'
import { ANSWERED, answersOf, type AnswersOfService } from './service-questions.ts'
import { readBlock, readRows, type ServiceContext, type ServiceView } from './service-view.ts'
import { nearAbilities } from './unasked.ts'
import { watchService } from './service-watch.ts'
import { delay, mayPass, PreparingError, Service, type Answer } from './service.ts'
import type { Json } from './values.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { remarkText } from '../words/remark-text.ts'

const MOST_VIEWS = 8
/** What is fetched where the host says nothing. */
const NEAR = { rows: 5000, bytes: 4 << 20, more: false }
/** Questions about a request's rows and groups, as far as these are kept. */
const OF_PASSING: ReadonlySet<QuestionName> = new Set<QuestionName>([
  'levelGroups',
  'summarize',
  'longestTexts',
])

const STREAMED_ROWS = 5000
const SAMPLED_ROWS = 60
/** Between two looks at how far a service is with making its rows ready. */
const ASK_AGAIN_MS = 500
/** Between two words that rows were changed by others. */
const MOVED_AGAIN_MS = 30_000
/** Between two looks whether a service that could not be reached is back. */
const LOOK_AGAIN_MS = 3000

let lastView = 0

/**
 * Rows that a service holds and that no page could: it orders, narrows, groups and counts them by itself, and the page
 * reads the lines that are looked at. Speaks OData v4.01 (JSON).
 */
export function serviceSource(options: ServiceOptions): RowSource {
  const listeners = new ChangeListeners()
  const closed = new AbortController()
  const service = new Service(options, problem => {
    listeners.tell({ problem: null, line: problem })
    if (problem) void untilThere()
  })
  const views = new Map<ViewId, ServiceView>()
  /** What is read of views that are open, by what was asked and found. */
  const readers = new Map<BlockReader, { readonly query: RowsQuery; readonly passing: Count }>()
  let context: ServiceContext | null = null
  let answers: AnswersOfService | null = null
  let described: SourceDescription | null = null
  let near: NearRows | null = null
  let nearAnswers: NearAnswers | null = null
  /** Views that the page answers for by itself, by the ids that they have here. */
  const nearViews = new Map<ViewId, { readonly source: PageSource; readonly id: ViewId }>()
  let counts: ServiceCounts | null = null
  let groupCounts: GroupCounts | null = null
  /** At least as many as are known, until a service has counted that takes its time. */
  let total: Count = exactly(0)
  /** All rows, in the order of their keys. */
  let all: RowsQuery | null = null
  let movedAt = -Infinity

  /** Lines that could not be read: what may pass is told until it has. */
  function lineFailed(error: unknown): void {
    if (error instanceof SourceError && mayPass(error.problem)) {
      service.tellLine(error.problem)
      return
    }
    listeners.tell({
      problem: errorOf(error).message,
      line: error instanceof SourceError ? error.problem : null,
    })
  }

  /** Rows are others, or may be: nothing that was counted or fetched holds. */
  function forget(): void {
    near?.forget()
    counts?.forget()
    groupCounts?.forget()
  }

  /** A row came twice: others have changed rows meanwhile. What is shown is asked for again, but not at every turn. */
  function rowsMoved(): void {
    const now = performance.now()
    if (now - movedAt < MOVED_AGAIN_MS) return
    movedAt = now
    forget()
    listeners.tell({ problem: problemText({ code: 'service-rows-moved', service: service.name }) })
  }

  /** Looks for the service every so often, so that the grid goes on by itself when it is back. */
  async function untilThere(): Promise<void> {
    const { signal } = closed
    try {
      do await delay(LOOK_AGAIN_MS, signal)
      while (!(await service.isThere(options.rows, signal)))
    } catch {
      // The source was closed meanwhile.
    }
  }

  /** The service may have to make its rows ready first. */
  async function metadata({ signal, onProgress }: CallOptions): Promise<Json> {
    for (;;) {
      try {
        return await readDocument(await service.ask('$metadata', {}, signal))
      } catch (error) {
        if (!(error instanceof PreparingError)) throw error
        onProgress?.(error.progress)
        await delay(ASK_AGAIN_MS, signal)
      }
    }
  }

  async function readDocument({ text }: Answer): Promise<Json> {
    try {
      if (!text.trimStart().startsWith('<')) return JSON.parse(text) as Json
      const { metadataOfXml } = await import('./metadata-xml.ts')
      return metadataOfXml(text)
    } catch {
      throw new SourceError({ code: 'service-unreadable', service: service.name, what: '$metadata' })
    }
  }

  async function open(call: OpenOptions = {}): Promise<SourceDescription> {
    const { signal, early = false } = call
    const started = performance.now()
    const schema = readMetadata(await metadata(call), options.rows, service.name)
    if (schema.can.batches) service.useBatches()
    let made: ServiceContext = { service, schema, keys: new RowKeys(schema) }
    const query = (all = rowsQuery(PLAIN_REQUEST, schema, made.keys))
    counts = new ServiceCounts(made, () => listeners.tell({ problem: null, same: true }))
    const [count, rows] = await Promise.all([
      early ? counts.soon(query, signal) : counts.sure(query, signal),
      readRows(made, { query, grouped: null }, 0, SAMPLED_ROWS, schema.properties, signal),
    ])
    total = count === null ? { kind: 'at-least', rows: rows.length } : exactly(count)
    const records = rows.map(({ record }) => record)
    made = {
      ...made,
      schema: { ...schema, properties: withDecimals(schema.properties, records, schema.key) },
    }
    context = made
    const groups = (groupCounts = new GroupCounts(made))
    watch(made.schema)
    if (options.near !== false) {
      const written = JSON.stringify(rows.map(({ record }) => record)).length
      const limits = { ...NEAR, ...options.near }
      near = new NearRows(made, limits, written / Math.max(1, rows.length), () =>
        listeners.tell({ problem: null, same: true }),
      )
    }
    nearAnswers = new NearAnswers({
      context: made,
      near,
      counts,
      can: () => sure(described).can,
      viewOf: id => nearViews.get(id),
      forget,
    })
    answers = answersOf(made, viewOf, () => sure(described), groups)
    const bound = await ShownColumns.of(made.schema)
    const { texts } = await bound.cells(
      rows.map(({ record }) => record),
      bound.fields.map(({ key }) => key),
    )
    const { leftOut } = schema
    const remarks: SourceRemark[] = leftOut.length > 0 ? [{ code: 'left-out', names: leftOut }] : []
    described = {
      fields: made.schema.properties.map(({ field }) => field),
      total,
      key: schema.key,
      can: serviceAbilities(schema.can, service.name, ANSWERED),
      where: `the service at ${service.name}`,
      bytes: 0,
      columnBytes: {},
      ms: performance.now() - started,
      notes: remarks.map(remarkText),
      remarks,
      reading: null,
      samples: bound.fields.map((_, column) =>
        rows.map((_row, row) => texts[row * bound.fields.length + column]),
      ),
    }
    return described
  }

  /** Looks whether others have changed what is on screen, and tells where they have. */
  async function look(signal: AbortSignal): Promise<void> {
    const at = sure(context)
    const before = total.rows
    await countAll(at, signal)
    const shown = await Promise.all(
      [...readers].map(
        async ([reader, { query, passing }]) =>
          (passing.kind === 'exact' &&
            (await service.count(at.schema.rows, paramsOf(query), signal)) !== passing.rows) ||
          (await reader.differs(signal)),
      ),
    )
    const isNear = nearViews.size > 0 && (await near?.differs(signal)) === true
    if (total.rows === before && !isNear && !shown.includes(true)) return
    forget()
    listeners.tell({ problem: null })
  }

  function watch(schema: ServiceSchema): void {
    const { every = null, events = false } = options
    const told = typeof events === 'string' ? events : schema.events
    watchService(service, { every, events: events === false ? null : told }, look, closed.signal)
  }

  function viewOf(id: ViewId): ServiceView {
    const view = views.get(id)
    if (!view) throw new CancelledError()
    return view
  }

  /** A request of which only groups that are kept are asked for; their numbers are asked first. */
  async function keptFor(request: ViewRequest, signal?: AbortSignal): Promise<KeptRequest> {
    if (!request.groups.some(({ keep }) => keep)) return { request, heldBack: [] }
    const { keepGroups } = await import('./kept-groups.ts')
    return await keepGroups(sure(context), sure(groupCounts), request, signal)
  }

  /** A view that the page answers for, of which the service is asked all the same: which of its groups are kept. */
  async function keepIn(id: ViewId | undefined, signal?: AbortSignal): Promise<void> {
    const view = id === undefined || !nearViews.has(id) ? undefined : views.get(id)
    if (id === undefined || !view?.request.groups.some(({ keep }) => keep)) return
    const at = sure(context)
    const asked = sure(nearAnswers).part(view.request)
    if (asked.unasked.some(({ what }) => what === 'groups')) return
    const { request } = await keptFor(withOfferedLevels(asked.request, sure(described).can), signal)
    views.set(id, { ...view, request, query: rowsQuery(request, at.schema, at.keys) })
  }

  /** What the service is asked instead of a question. */
  async function argsFor<Name extends QuestionName>(
    question: Name,
    given: ArgsOf<Name>,
    signal?: AbortSignal,
  ): Promise<ArgsOf<Name>> {
    const { view: id, request } = given as SpokenOf
    await keepIn(id, signal)
    if (!request) return given
    const asked = sure(nearAnswers).part(request).request
    return withRequest(given, OF_PASSING.has(question) ? (await keptFor(asked, signal)).request : asked)
  }

  async function view(given: ViewRequest, { signal, early = false }: ViewOptions = {}): Promise<View> {
    const at = sure(context)
    const asked = sure(nearAnswers).part(given)
    const fetched = await sure(nearAnswers).sourceFor(asked, signal)
    if (fetched) return await nearView(at, fetched, asked, signal)
    const started = performance.now()
    const { request, heldBack } = await keptFor(asked.request, signal)
    const query = heldBack.length > 0 ? rowsQuery(request, at.schema, at.keys) : asked.query
    const bound = await ShownColumns.of(at.schema, request.binding)
    sure(counts).giveUpBut([query, { ...query, filters: new Map() }, sure(all)])
    const searched = searchCount(query, signal).catch(() => null)
    const grouped = await sure(groupCounts).of(request, query, signal)
    const passing = grouped ? exactly(grouped.groups.rowCount) : await passingCount(query, early, signal)
    knowMore(passing.rows)
    const lines = grouped ? exactly(grouped.groups.lineCount) : passing
    const kept: ServiceView = {
      request,
      query,
      bound,
      passing: passing.rows,
      lineCount: lines.rows,
      grouped,
    }
    const ms = performance.now() - started
    const id = ++lastView as ViewId
    views.set(id, kept)
    keepNewest(views, MOST_VIEWS)
    if (passing.kind === 'exact')
      near?.consider(asked.request, asked.query, passing.rows + heldRows(heldBack))
    const reader = new BlockReader(
      kept.lineCount,
      (from, to, columns, given) => {
        if (passing.kind !== 'exact' && to >= passing.rows)
          void sure(counts).readBehind(query, passing.rows, closed.signal).catch(lineFailed)
        return readBlock(at, kept, bound, from, to, columns, given)
      },
      error => lineFailed(error),
      rowsMoved,
    )
    readers.set(reader, { query, passing })
    return {
      id,
      fields: bound.fields,
      problems: bound.problems,
      counts: { total, passing, lines },
      report: {
        ...reportOf(at.schema, request, kept, (await searched) ?? passing.rows, {
          total: total.rows,
          ms,
          heldBack,
        }),
        atLeast: passing.kind !== 'exact',
      },
      can: sure(described).can,
      lines: reader,
      close() {
        reader.close()
        readers.delete(reader)
        views.delete(id)
      },
    }
  }

  /** A view of rows that were fetched before. */
  async function nearView(
    at: ServiceContext,
    fetched: PageSource,
    { whole: request, query, unasked }: Parted,
    signal?: AbortSignal,
  ): Promise<View> {
    const { can } = sure(described)
    const started = performance.now()
    const inner = await fetched.view(request, { signal })
    const passing = inner.report.passing
    knowMore(passing)
    const kept: ServiceView = {
      request,
      query,
      bound: await ShownColumns.of(at.schema, request.binding),
      passing,
      lineCount: inner.lines.lineCount,
      grouped: null,
    }
    const ms = performance.now() - started
    const found = unasked.some(({ what }) => what === 'search')
      ? sure(inner.report.stages.find(({ stage }) => stage === 'search')).rowsOut
      : ((await searchCount(query, signal)) ?? passing)
    const id = ++lastView as ViewId
    views.set(id, kept)
    keepNewest(views, MOST_VIEWS)
    nearViews.set(id, { source: fetched, id: inner.id })
    keepNewest(nearViews, MOST_VIEWS)
    const { groups, groupsHeldBack, conditionProblems } = inner.report
    return {
      ...inner,
      id,
      counts: { ...inner.counts, total },
      report: {
        ...reportOf(at.schema, request, kept, found, { total: total.rows, ms, heldBack: groupsHeldBack }),
        groups,
        conditionProblems,
        near: near?.report ?? null,
      },
      can: near?.doesMore ? nearAbilities(can) : can,
      close() {
        inner.close()
        views.delete(id)
        nearViews.delete(id)
      },
    }
  }

  async function countAll(at: ServiceContext, signal?: AbortSignal): Promise<void> {
    know(exactly(await service.count(at.schema.rows, {}, signal)))
  }

  function know(count: Count): void {
    total = count
    if (described) described = { ...described, total }
  }

  /** All rows may have been counted by now; there are as many as pass, at least. */
  function knowMore(passing: number): void {
    if (total.kind === 'exact') return
    const known = sure(counts).atHand(sure(all)) ?? total
    know(known.kind !== 'exact' && known.rows < passing ? { kind: 'at-least', rows: passing } : known)
  }

  async function passingCount(query: RowsQuery, early: boolean, signal?: AbortSignal): Promise<Count> {
    const isAll = !isNarrowed(query)
    if (isAll && total.kind === 'exact') return total
    const passing = await countOf(query, early, signal)
    if (isAll) know(passing)
    return passing
  }

  async function countOf(query: RowsQuery, early: boolean, signal?: AbortSignal): Promise<Count> {
    return early ? await sure(counts).of(query, signal) : exactly(await sure(counts).sure(query, signal))
  }

  /** How many rows the search finds, where conditions narrow them further; null: as many as pass, or it takes long. */
  async function searchCount(query: RowsQuery, signal?: AbortSignal): Promise<number | null> {
    if (query.search === null && query.searchFilter === null) return total.rows
    if (query.filters.size === 0) return null
    return await sure(counts).soon({ ...query, filters: new Map() }, signal)
  }

  const source: RowSource = {
    open,
    async view(request, call) {
      try {
        return await view(request, call)
      } catch (error) {
        // Whoever has signed in again sees the rows without asking for them.
        if (error instanceof SourceError && mayPass(error.problem)) service.tellLine(error.problem)
        throw error
      }
    },
    async ask(question, given, { signal } = {}) {
      const here = await sure(nearAnswers).here(question, given, signal)
      if (here) return await here.source.ask(question, here.args, { signal })
      const answer = answers?.[question]
      if (!answer) throw new RangeError(refusalText({ code: 'service-cannot', service: service.name }))
      return await answer(await argsFor(question, given, signal), signal)
    },
    async *stream({ request, chunk = STREAMED_ROWS }, { signal } = {}) {
      const at = sure(context)
      const parts = sure(nearAnswers)
      const asked = parts.part(request)
      const fetched = asked.unasked.length > 0 ? await parts.sourceFor(asked, signal) : null
      if (fetched) {
        yield* fetched.stream({ request, chunk }, { signal })
        return
      }
      const query = rowsQuery((await keptFor(asked.request, signal)).request, at.schema, at.keys)
      for (let from = 0; ; from += chunk) {
        const rows = await readRows(
          at,
          { query, grouped: null },
          from,
          from + chunk,
          at.schema.properties,
          signal,
        )
        if (rows.length > 0) yield rows.map(({ record }) => recordOf(at.schema, record))
        if (rows.length < chunk) return
      }
    },
    commit: () =>
      Promise.reject(new RangeError(refusalText({ code: 'service-cannot', service: service.name }))),
    async save(changes, keyFields, { signal } = {}) {
      const at = sure(context)
      const { saveToService } = await import('./service-changes.ts')
      const answer = await saveToService(at, changes, keyFields, signal)
      forget()
      const isOther = changes.added.length > 0 || changes.removed.length > 0
      // What is saved is saved, also where it cannot be counted just now.
      if (isOther) await countAll(at, signal).catch(() => {})
      return answer
    },
    async refresh({ signal } = {}) {
      const at = sure(context)
      forget()
      await countAll(at, signal)
      listeners.tell({ problem: null })
    },
    onChange: listener => listeners.add(listener),
    close() {
      closed.abort()
      counts?.forget()
      near?.close()
      listeners.clear()
      for (const reader of readers.keys()) reader.close()
      readers.clear()
      views.clear()
    },
  }
  return source
}

const exactly = (rows: number): Count => ({ kind: 'exact', rows })

const isNarrowed = (query: RowsQuery): boolean => {
  const { $filter, $search } = paramsOf(query)
  return $filter !== undefined || $search !== undefined
}
