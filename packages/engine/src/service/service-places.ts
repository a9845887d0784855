import { asLine, NO_LINE, type GroupPath, type LineIndex } from '../flow/line.ts'
import type { RowId } from '../table/row-id.ts'
import { beforeFilter, orderText, paramsOf, type RowsQuery } from './rows-query.ts'
import { narrowingSteps } from './service-summaries.ts'
import { FOLD } from './condition-filter.ts'
import { groupFilter, readRows, type ServiceContext, type ServiceView } from './service-view.ts'
import { valueIn, type Json } from './values.ts'

/** Rows that are named one by one in a question at most: more would make it longer than services read. */
export const MOST_NAMED = 500
/** Lines around a row of which the keys are read, in which others are looked for that were near it before. */
const LINES_AROUND = 64
/** Rows that are counted to at once. */
const AT_ONCE = 4

/** Where rows stand in the views of a service, which has no numbers for its lines: what stands before is counted. */
export class ServicePlaces {
  private readonly context: ServiceContext

  constructor(context: ServiceContext) {
    this.context = context
  }

  /** The line of a row, of one in a closed group that of its head, and the group that it is in; −1: it does not pass. */
  async placeOf(
    view: ServiceView,
    row: RowId,
    signal?: AbortSignal,
  ): Promise<{ readonly line: LineIndex; readonly path: GroupPath }> {
    const [record] = await this.passing(view, [row], signal)
    if (!record) return { line: NO_LINE, path: [] }
    const path = (view.grouped?.levels ?? []).map(level => level.keyIn(record))
    return { line: await this.lineOfRecord(view, record, signal), path }
  }

  /**
   * The lines of several rows. One is counted to; the others are looked for around it, as they mostly stand together, and
   * counted to where they do not.
   */
  async linesOf(view: ServiceView, rows: readonly RowId[], signal?: AbortSignal): Promise<LineIndex[]> {
    const { keys } = this.context
    const records = new Map<RowId, Json>()
    for (const record of await this.passing(view, rows, signal)) records.set(keys.idOf(record), record)
    const lines = new Map<RowId, LineIndex>()
    const [first, ...others] = records
    if (first) {
      const [row, record] = first
      const at = await this.ordinalOf(view, record, signal)
      if (others.length > 0 && at >= 0)
        for (const [near, ordinal] of await this.around(view, at, signal))
          if (records.has(near)) lines.set(near, this.lineAt(view, ordinal))
      lines.set(row, at < 0 ? NO_LINE : this.lineAt(view, at))
    }
    const left = others.filter(([row]) => !lines.has(row))
    const count = async (): Promise<void> => {
      for (let next = left.pop(); next; next = left.pop())
        lines.set(next[0], await this.lineOfRecord(view, next[1], signal))
    }
    await Promise.all(Array.from({ length: AT_ONCE }, count))
    return rows.map(row => lines.get(row) ?? NO_LINE)
  }

  /** The first of some rows that stands behind a line, or the first of all where none does; null: none passes. */
  async nextOf(
    view: ServiceView,
    rows: readonly RowId[],
    after: number,
    signal?: AbortSignal,
  ): Promise<{ readonly row: RowId; readonly line: LineIndex } | null> {
    const records = this.inOrder(view, await this.passing(view, rows.slice(0, MOST_NAMED), signal))
    if (records.length === 0) return null
    const placed = async (nth: number) => ({
      row: this.context.keys.idOf(records[nth]),
      line: await this.lineOfRecord(view, records[nth], signal),
    })
    let [low, high] = [0, records.length]
    let found: Awaited<ReturnType<typeof placed>> | null = null
    while (low < high) {
      const middle = (low + high) >>> 1
      const at = await placed(middle)
      if (at.line > after) [high, found] = [middle, at]
      else low = middle + 1
    }
    return found ?? (await placed(0))
  }

  /** Those of some rows that pass, in the order of the service, with what names their groups. */
  private async passing(
    view: ServiceView,
    rows: readonly RowId[],
    signal?: AbortSignal,
  ): Promise<readonly Json[]> {
    const { service, schema, keys } = this.context
    const $orderby = orderText(view.query.order, schema.key, schema.can.functions.has(FOLD))
    const computes = view.grouped?.levels.flatMap(({ compute }) => compute ?? []) ?? []
    const found: Json[] = []
    for (let from = 0; from < rows.length; from += MOST_NAMED) {
      const named = keys.filter(rows.slice(from, from + MOST_NAMED))
      const params =
        computes.length > 0
          ? { $apply: computedSteps(view.query, named, computes) }
          : paramsOf(view.query, [named])
      found.push(...(await service.all(schema.rows, { ...params, $orderby }, signal)))
    }
    return found
  }

  /** Rows in the order of the service, as they stand in the view: group after group. */
  private inOrder({ grouped }: ServiceView, records: readonly Json[]): readonly Json[] {
    if (!grouped) return records
    const { groups, levels } = grouped
    const groupOf = (record: Json): number => groups.find(levels.map(level => level.keyIn(record)))
    return records
      .map(record => ({ record, group: groupOf(record) }))
      .sort((a, b) => a.group - b.group)
      .map(({ record }) => record)
  }

  /** The keys of the rows around one, and where each stands among the rows of the view. */
  private async around(
    view: ServiceView,
    ordinal: number,
    signal?: AbortSignal,
  ): Promise<readonly (readonly [RowId, number])[]> {
    const from = Math.max(0, ordinal - LINES_AROUND)
    const to = Math.min(view.passing, ordinal + LINES_AROUND)
    const rows = await readRows(this.context, view, from, to, [], signal)
    return rows.map(({ id }, nth) => [id, from + nth] as const)
  }

  private async lineOfRecord(view: ServiceView, record: Json, signal?: AbortSignal): Promise<LineIndex> {
    const ordinal = await this.ordinalOf(view, record, signal)
    return ordinal < 0 ? NO_LINE : this.lineAt(view, ordinal)
  }

  /** The place of a row among the rows of a view, heads not counted; −1: its group is not there. */
  private async ordinalOf(view: ServiceView, record: Json, signal?: AbortSignal): Promise<number> {
    const { service, schema } = this.context
    const count = (and: readonly string[]): Promise<number> =>
      service.count(schema.rows, paramsOf(view.query, and), signal)
    const before = beforeFilter(
      view.query.order,
      view.query.order.map(({ property }) => valueIn(record, property)),
    )
    if (!view.grouped) return await count([before])
    const { groups, levels } = view.grouped
    const path = levels.map(level => level.keyIn(record))
    const group = groups.find(path)
    if (group < 0) return -1
    return groups.startOf(levels.length - 1, group) + (await count([groupFilter(levels, path), before]))
  }

  private lineAt({ grouped }: ServiceView, ordinal: number): LineIndex {
    return asLine(grouped ? grouped.groups.nested.lineOfRow(ordinal) : ordinal)
  }
}

const computedSteps = (query: RowsQuery, filter: string, computes: readonly string[]): string =>
  [...narrowingSteps(query), `filter(${filter})`, `compute(${computes.join(',')})`].join('/')
