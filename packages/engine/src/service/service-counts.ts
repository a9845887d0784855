import type { Count } from '../question/source-description.ts'
import { SourceError } from '../source/row-source.ts'
import { keepNewest } from '../work/keep-newest.ts'
import { BLOCK_LINES } from './block-reader.ts'
import { paramsOf, type RowsQuery } from './rows-query.ts'
import { readRows, type ServiceContext } from './service-view.ts'
import { TOO_SLOW } from './service.ts'

/** A count that takes longer is waited for no more: the first rows are shown, and how many there are comes later. */
const PATIENCE_MS = 1500
/** Rows that are looked for beyond those that are known. */
const AHEAD = 4 * BLOCK_LINES
/** A count that came late is not taken again at every turn. */
const KEPT_MS = 60_000
const MOST_KEPT = 32

interface Known {
  rows: number
  /** There are no more; until then at least so many. */
  ended: boolean
  readonly until: number
}

interface Counting {
  readonly rows: Promise<number>
  readonly given: AbortController
  /** How many wait for it. */
  waiting: number
  /** It was waited for, and did not come in time. */
  isLate: boolean
}

/** How many rows pass, as far as is known by now: where that takes the service long, it is told when it comes. */
export class ServiceCounts {
  private readonly context: ServiceContext
  private readonly onKnown: () => void
  private readonly known = new Map<string, Known>()
  private readonly counting = new Map<string, Counting>()
  /** Until when is not asked again what took the service too long. */
  private readonly tooSlow = new Map<string, number>()

  /** `onKnown`: hears that more is known of what was told as “at least”. */
  constructor(context: ServiceContext, onKnown: () => void) {
    this.context = context
    this.onKnown = onKnown
  }

  async of(query: RowsQuery, signal?: AbortSignal): Promise<Count> {
    const rows = await this.soon(query, signal)
    if (rows !== null) return { kind: 'exact', rows }
    const known = this.knownOf(query) ?? (await this.readOn(query, 0, signal))
    return { kind: known.ended ? 'exact' : 'at-least', rows: known.rows }
  }

  /** What is known without asking; null: nothing. */
  atHand(query: RowsQuery): Count | null {
    const known = this.knownOf(query)
    return known ? { kind: known.ended ? 'exact' : 'at-least', rows: known.rows } : null
  }

  /** However long it takes. */
  async sure(query: RowsQuery, signal?: AbortSignal): Promise<number> {
    const before = this.knownOf(query)
    return before?.ended ? before.rows : await this.wait(this.countingOf(query), [], signal)
  }

  /** Null: it takes long. */
  async soon(query: RowsQuery, signal?: AbortSignal): Promise<number | null> {
    const before = this.knownOf(query)
    if (before?.ended) return before.rows
    if ((this.tooSlow.get(nameOf(query)) ?? 0) > Date.now()) return null
    const counting = this.countingOf(query)
    if (before || counting.isLate) return null
    let timer: ReturnType<typeof setTimeout> | undefined
    const late = new Promise<null>(resolve => {
      timer = setTimeout(() => {
        counting.isLate = true
        resolve(null)
      }, PATIENCE_MS)
    })
    try {
      return await this.wait(counting, [late], signal)
    } catch (error) {
      // How many there are is not known then; the rows may be.
      if (isTooSlow(error)) return null
      throw error
    } finally {
      clearTimeout(timer)
    }
  }

  private async wait<Late>(
    counting: Counting,
    or: readonly Promise<Late>[],
    signal?: AbortSignal,
  ): Promise<number | Late> {
    const giveUp = (): void => {
      if (counting.waiting === 1) counting.given.abort()
    }
    signal?.addEventListener('abort', giveUp, { once: true })
    counting.waiting++
    try {
      return await Promise.race([counting.rows, ...or])
    } finally {
      counting.waiting--
      signal?.removeEventListener('abort', giveUp)
    }
  }

  /** Another view is shown: what nobody waits for, and is about others, is given up down to the service's own work. */
  giveUpBut(queries: readonly RowsQuery[]): void {
    const names = new Set(queries.map(nameOf))
    for (const [name, { given, waiting }] of this.counting)
      if (waiting === 0 && !names.has(name)) {
        given.abort()
        this.counting.delete(name)
      }
  }

  /** Looks for rows behind the last one that is known, when a reader comes near it. */
  async readBehind(query: RowsQuery, rows: number, signal?: AbortSignal): Promise<void> {
    const known = this.knownOf(query)
    if (!known || known.ended || known.rows > rows) return
    await this.readOn(query, known.rows, signal)
    this.onKnown()
  }

  forget(): void {
    this.giveUpBut([])
    this.known.clear()
    this.tooSlow.clear()
  }

  private knownOf(query: RowsQuery): Known | undefined {
    const name = nameOf(query)
    const known = this.known.get(name)
    if (!known || known.until > Date.now()) return known
    this.known.delete(name)
    return undefined
  }

  private know(name: string, rows: number, ended: boolean): Known {
    const known = { rows, ended, until: Date.now() + KEPT_MS }
    this.known.delete(name)
    this.known.set(name, known)
    keepNewest(this.known, MOST_KEPT)
    return known
  }

  private countingOf(query: RowsQuery): Counting {
    return this.counting.get(nameOf(query)) ?? this.count(query)
  }

  private count(query: RowsQuery): Counting {
    const name = nameOf(query)
    const { service, schema } = this.context
    const given = new AbortController()
    const started = performance.now()
    const rows = service.count(schema.rows, paramsOf(query), given.signal)
    const counting: Counting = { rows, given, waiting: 0, isLate: false }
    this.counting.set(name, counting)
    void rows
      .then(
        count => {
          if (given.signal.aborted || performance.now() - started < PATIENCE_MS) return
          this.know(name, count, true)
          this.onKnown()
        },
        // Whoever waits hears of it; of rows that are shown it is told when they cannot be read.
        (error: unknown) => {
          if (!isTooSlow(error)) return
          this.tooSlow.set(name, Date.now() + KEPT_MS)
          keepNewest(this.tooSlow, MOST_KEPT)
        },
      )
      .finally(() => {
        if (this.counting.get(name) === counting) this.counting.delete(name)
      })
    return counting
  }

  private async readOn(query: RowsQuery, from: number, signal?: AbortSignal): Promise<Known> {
    const view = { query, grouped: null }
    const rows = await readRows(this.context, view, from, from + AHEAD, [], signal)
    const name = nameOf(query)
    const before = this.known.get(name)
    // The count may have come meanwhile.
    return before?.ended ? before : this.know(name, from + rows.length, rows.length < AHEAD)
  }
}

const nameOf = (query: RowsQuery): string => JSON.stringify(paramsOf(query))

const isTooSlow = (error: unknown): boolean =>
  error instanceof SourceError &&
  error.problem.code === 'service-refused' &&
  error.problem.status === TOO_SLOW
