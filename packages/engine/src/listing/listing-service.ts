import { Service } from '../service/service.ts'
import type { SourceProblem } from '../read/source-problem.ts'
import { SourceError } from '../source/row-source.ts'
import { isRecord } from '../work/checked.ts'
import { CancelledError } from '../work/work.ts'
import type { Json } from '../service/values.ts'
import type { ListingOptions } from './listing-options.ts'
import { pointed } from './pointer.ts'

/** A part of a list. */
export interface Listed {
  readonly records: readonly Json[]
  /** Rows there are in all; null: the service does not say. */
  readonly total: number | null
}

const MOST_AT_ONCE = 100
/** Pages that are kept of one list, so that parts of them are not asked for twice. */
const KEPT_PAGES = 64

type Params = Readonly<Record<string, string>>

/** Puts questions to a service that lists rows in a shape of its own. */
export class ListingService {
  private readonly options: ListingOptions
  private readonly service: Service
  private readonly path: string
  private readonly fixed: Params
  private readonly pages = new Map<string, Promise<Listed>>()

  constructor(options: ListingOptions, onLine: (problem: SourceProblem | null) => void) {
    this.options = options
    const [address, query = ''] = options.address.split('?')
    const cut = address.lastIndexOf('/')
    this.path = address.slice(cut + 1)
    this.fixed = Object.fromEntries(new URLSearchParams(query))
    const { name, fetch, headers, patience, onAsked } = options
    this.service = new Service(
      { name, fetch, headers, patience, onAsked, address: address.slice(0, cut), rows: '' },
      onLine,
    )
  }

  get name(): string {
    return this.service.name
  }

  /** Rows of the list from one up to another; fewer where it ends before. */
  async rows(params: Params, from: number, to: number, signal?: AbortSignal): Promise<Listed> {
    const { page } = this.options
    if ('number' in page) return await this.byPages(params, page, from, to, signal)
    const most = page.most ?? MOST_AT_ONCE
    const records: Json[] = []
    let total: number | null = null
    while (from + records.length < to) {
      const at = from + records.length
      const size = Math.min(most, to - at)
      const listed = await this.page(
        { ...params, [page.from]: String(at), [page.size]: String(size) },
        signal,
      )
      records.push(...listed.records.slice(0, size))
      total = listed.total
      if (listed.records.length < size) break
    }
    return { records, total }
  }

  /** What was read may be other by now. */
  forget(): void {
    this.pages.clear()
  }

  async isThere(signal: AbortSignal): Promise<boolean> {
    return await this.rows({}, 0, 1, signal).then(
      () => true,
      () => false,
    )
  }

  private async byPages(
    params: Params,
    { number, rows, first = 1, size }: Extract<ListingOptions['page'], { number: string }>,
    from: number,
    to: number,
    signal?: AbortSignal,
  ): Promise<Listed> {
    const records: Json[] = []
    let total: number | null = null
    for (let nth = Math.floor(from / rows); nth * rows < to; nth++) {
      const asked = {
        ...params,
        [number]: String(first + nth),
        ...(size === undefined ? {} : { [size]: String(rows) }),
      }
      const listed = await this.page(asked, signal)
      total = listed.total
      records.push(...listed.records.slice(Math.max(0, from - nth * rows), to - nth * rows))
      if (listed.records.length < rows) break
    }
    return { records, total }
  }

  /** A page as it was read before, or is being read for somebody else. */
  private async page(params: Params, signal?: AbortSignal): Promise<Listed> {
    const name = JSON.stringify(params)
    const before = this.pages.get(name)
    try {
      if (before) return await before
    } catch (error) {
      // Who asked first may have given it up.
      if (!(error instanceof CancelledError) || signal?.aborted) throw error
    }
    const asked = this.ask(params, signal)
    this.pages.set(name, asked)
    asked.catch(() => this.pages.delete(name))
    for (const oldest of this.pages.keys()) {
      if (this.pages.size <= KEPT_PAGES) break
      this.pages.delete(oldest)
    }
    return await asked
  }

  private async ask(params: Params, signal?: AbortSignal): Promise<Listed> {
    const { rows = '', total } = this.options
    const { text, headers } = await this.service.ask(this.path, { ...this.fixed, ...params }, signal)
    let body: unknown
    try {
      body = JSON.parse(text)
    } catch {
      throw new SourceError({ code: 'service-unreadable', service: this.name, what: this.path })
    }
    const list = pointed(body, rows)
    if (!Array.isArray(list))
      throw new SourceError({ code: 'listing-unreadable', service: this.name, pointer: rows || '/' })
    const told = typeof total === 'object' ? headers.get(total.header) : total && pointed(body, total)
    const count = told === null || told === undefined || told === '' ? NaN : Number(told)
    return { records: list.filter(isRecord), total: Number.isFinite(count) ? count : null }
  }
}
