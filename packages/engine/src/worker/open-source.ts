import type { ColumnsReadOptions } from '../read/types/column-reading.ts'
import { batchSource } from '../source/batch-source.ts'
import type { RecipeInput } from '../source/made-up/recipe.ts'
import type { EngineParts } from '../source/engine.ts'
import { SourceError, type RowSource } from '../source/row-source.ts'
import type { RowsInput } from '../source/rows-input.ts'
import type { ListingOptions } from '../listing/listing-options.ts'
import type { ServiceOptions } from '../service/service-options.ts'
import { runSliced } from '../work/work.ts'
import { SharedWorkers } from './shared-workers.ts'
import { WorkerAhead } from './worker-ahead.ts'
import { WorkerSource, type EnginePort } from './worker-source.ts'
import type { FromWorker } from './messages.ts'
import { isRecord } from '../work/checked.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { remarkText } from '../words/remark-text.ts'

/** Makes the worker that runs the engine. A host whose bundler or policy asks for it gives its own. */
export type WorkerFactory = () => EnginePort | Promise<EnginePort>

export interface Placement {
  /** `auto` (default): a worker above a small size, else the page. */
  readonly engine?: 'auto' | 'worker' | 'page'
  /** Default: the module worker that the engine ships. */
  readonly worker?: WorkerFactory
  /** Whether to use shared memory; default: where the page can. */
  readonly share?: boolean
}

/** Row objects and tables up to this many rows are quicker done in the page than handed over. */
const SMALL_ROWS = 5000
/** Sources with up to so many rows share workers: none of them keeps another waiting for long. */
const SHARED_ROWS = 100_000
/** A worker that has not said it is ready by then is taken to have failed. */
const READY_MS = 8000

/** The engine's own module worker. */
export const packagedWorker: WorkerFactory = () =>
  new Worker(new URL('./entry.js', import.meta.url), { type: 'module' })

let textUrl: Promise<string> | null = null

/** The same worker from a text that is loaded with the page's own code, wherever that came from. */
export const textWorker: WorkerFactory = async () => {
  textUrl ??= import('./entry-text.ts').then(({ entryText }) => {
    if (entryText === '') throw new Error('there is no text of it')
    // Kept for as long as the page: helpers are started from the same address.
    return URL.createObjectURL(new Blob([entryText], { type: 'text/javascript' }))
  })
  return new Worker(await textUrl, { type: 'module' })
}

/** Faults that were warned of; each once a page. */
const warned = new Set<string>()

export type SourceInput =
  | RowsInput
  | {
      readonly kind: 'rows'
      readonly rows: readonly object[]
      /** Types that the builder wants instead of those found. */
      readonly columns?: ColumnsReadOptions
    }
  /** Rows that come in batches; what is there is shown while more is on its way. */
  | {
      readonly kind: 'batches'
      readonly batches: AsyncIterable<readonly object[]>
      readonly columns?: ColumnsReadOptions
    }
  /** Rows that a service holds, over OData v4.01; only what is looked at is read. */
  | ({ readonly kind: 'service' } & ServiceOptions)
  /** Rows that a service lists page by page, in a shape and by parameters of its own. */
  | ({ readonly kind: 'listing' } & ListingOptions)
  /** Cells made when they are looked at; every answer takes `latencyMs`. */
  | { readonly kind: 'computed'; readonly recipe: RecipeInput; readonly latencyMs?: number }

/** What an engine here or in a worker reads. */
type EngineInput = RowsInput | Extract<SourceInput, { readonly kind: 'rows' }>

const SOURCE_KINDS = [
  'rows',
  'file',
  'recipe',
  'table',
  'grown',
  'batches',
  'computed',
  'service',
  'listing',
] satisfies SourceInput['kind'][]

/**
 * A source for the input, where the placement says. `parts`: what the host adds to the engine; it then runs in the
 * page, unless the host gives a worker that has the same parts. A worker whose file cannot be had (bundler, origin) is
 * started from a text that comes with the page's own code; one that cannot be started at all (policy) is
 * replaced by the page, with a note that says so. Throws a `SourceError` for an input of no known kind.
 */
export async function openSource(
  input: SourceInput,
  placement: Placement = {},
  parts: EngineParts = {},
): Promise<RowSource> {
  return await opened(input, placement, parts, false)
}

/** `own`: in a worker of its own, as nobody knows how many rows there will be. */
async function opened(
  input: SourceInput,
  placement: Placement,
  parts: EngineParts,
  own: boolean,
): Promise<RowSource> {
  // Who writes plain JavaScript may give anything.
  const given: unknown = input
  const kind = isRecord(given) ? given.kind : undefined
  if (!SOURCE_KINDS.some(known => known === kind))
    throw new SourceError({ code: 'no-such-source', kind: String(kind), kinds: SOURCE_KINDS })
  if (input.kind === 'computed') {
    const { recipeSource } = await import('../source/made-up/recipe-source.ts')
    return recipeSource(input.recipe, input.latencyMs)
  }
  if (input.kind === 'service') {
    const { serviceSource } = await import('../service/service-source.ts')
    return serviceSource(input)
  }
  if (input.kind === 'listing') {
    const { listingSource } = await import('../listing/listing-source.ts')
    return listingSource(input)
  }
  if (input.kind === 'batches') {
    const batches = input.batches[Symbol.asyncIterator]()
    const first = await firstRows(batches)
    // The first rows are few, but nobody knows how many there will be.
    const engine = placement.engine === 'page' ? 'page' : 'worker'
    const rows = await opened(
      { kind: 'rows', rows: first, columns: input.columns },
      { ...placement, engine },
      parts,
      true,
    )
    return batchSource(rows, batches)
  }
  const rows = rowsKnown(input)
  const inThePage =
    placement.engine === 'page' || (placement.engine !== 'worker' && rows !== null && rows <= SMALL_ROWS)
  // Functions cannot be posted: only a worker of the host's own can have them.
  const names = [...Object.keys(parts.conditions ?? {}), ...Object.keys(parts.summaries ?? {})]
  const notPosted = names.length > 0 && !placement.worker
  if (inThePage || notPosted) {
    const remarks: SourceRemark[] = inThePage ? [] : [{ code: 'parts-in-page', names }]
    return await inPage(await readyInput(input), remarks, parts)
  }
  // The worker starts while rows are read here.
  const starting = portFor(rows, placement.worker, own)
  const ready = await readyInput(input).catch(async (error: unknown) => {
    const port = await starting
    if (typeof port !== 'string') port.terminate?.()
    throw error
  })
  const started = await starting
  if (typeof started !== 'string') return new WorkerSource(started, ready, placement.share)
  const remark: SourceRemark = { code: 'no-worker', reason: started }
  const note = remarkText(remark)
  if (!warned.has(note)) console.warn(`Vast Meadow: ${note}`)
  warned.add(note)
  return await inPage(ready, [remark], parts)
}

const ahead = new WorkerAhead(() => startWorker([packagedWorker, textWorker]))

/**
 * Starts the engine's own worker ahead of rows that may come soon, as where a reader reaches for a file: the next source
 * that needs one for itself finds it ready. It is ended where none comes within a minute; calling it again is harmless.
 */
export const warmWorker = (): void => ahead.begin()

/** By the factory that is tried first: its workers that several sources use. */
const sharedBy = new Map<WorkerFactory, SharedWorkers>()

/** The engine's own workers are shared by sources with few rows; one that a host makes is only for whom it is made. */
async function portFor(
  rows: number | null,
  factory: WorkerFactory = packagedWorker,
  own: boolean,
): Promise<EnginePort | string> {
  const factories = factory === packagedWorker ? [packagedWorker, textWorker] : [factory]
  const isOurs = factory === packagedWorker || factory === textWorker
  if (own || !isOurs || rows === null || rows > SHARED_ROWS) {
    const ready = factory === packagedWorker ? await ahead.take() : null
    return typeof ready === 'object' && ready ? ready : await startWorker(factories)
  }
  let workers = sharedBy.get(factory)
  if (!workers) {
    workers = new SharedWorkers(() => startWorker(factories), untilReady)
    sharedBy.set(factory, workers)
  }
  return await workers.port()
}

/** The first worker of several that answers; why none does. */
async function startWorker(factories: readonly WorkerFactory[]): Promise<EnginePort | string> {
  const reasons: string[] = []
  for (const make of factories) {
    let port: EnginePort | null = null
    try {
      port = await make()
      await untilReady(port)
      return port
    } catch (error) {
      port?.terminate?.()
      reasons.push(error instanceof Error ? error.message : String(error))
    }
  }
  return [...new Set(reasons)].join('; ')
}

/** The engine is loaded into the page only where it runs there. */
async function inPage(
  input: RowsInput,
  remarks: readonly SourceRemark[],
  parts: EngineParts,
): Promise<RowSource> {
  const { PageSource } = await import('../source/page-source.ts')
  return new PageSource(input, remarks, parts)
}

/** The first batch that holds anything; columns are made from it. */
async function firstRows(batches: AsyncIterator<readonly object[]>): Promise<readonly object[]> {
  for (;;) {
    const next = await batches.next()
    if (next.done) return []
    if (next.value.length > 0) return next.value
  }
}

/** Rows as objects are read in the page: a table is handed over for a fraction of what they cost. */
async function readyInput(input: EngineInput): Promise<RowsInput> {
  if (input.kind !== 'rows') return input
  const { rows, columns } = input
  const { asRows, readRows, rowsReport } = await import('../read/rows/read-rows.ts')
  const { table, readings } = await runSliced(readRows(asRows(rows), columns), { sliceMs: 6 })
  return { kind: 'table', table, report: rowsReport(readings) }
}

/** How many rows there will be; null: nobody knows yet. */
function rowsKnown(input: EngineInput): number | null {
  if (input.kind === 'rows') return input.rows.length
  if (input.kind === 'table') return input.table.rows
  return input.kind === 'recipe' ? input.recipe.rows : null
}

function untilReady(port: EnginePort): Promise<void> {
  return new Promise((resolve, reject) => {
    const worker = port as EnginePort & { onerror?: ((event: Event) => void) | null }
    const timer = setTimeout(() => reject(new Error('it did not answer')), READY_MS)
    const settle = (end: () => void): void => {
      clearTimeout(timer)
      worker.onerror = null
      port.onmessage = null
      end()
    }
    worker.onerror = event => {
      event.preventDefault()
      const { message } = event as ErrorEvent
      settle(() => reject(new Error(message || 'its script could not be loaded')))
    }
    port.onmessage = (event: MessageEvent<FromWorker>) => {
      if ('ready' in event.data) settle(resolve)
    }
  })
}
