import { bucketFits, type Bucket } from '../group/bucket.ts'
import { VALUE_AT } from './service-abilities.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { SourceError } from '../source/row-source.ts'
import { keepNewest } from '../work/keep-newest.ts'
import { groupSteps, levelQuery } from './group-query.ts'
import { propertyNamed, type RowsQuery } from './rows-query.ts'
import { ServiceGroups, type CountedGroup, type ServiceLevel } from './service-groups.ts'
import { atText, measureGroups, narrowingSteps } from './service-summaries.ts'
import type { ServiceContext, ServiceView } from './service-view.ts'
import type { Json } from './values.ts'

/** Groups that a page can lay out; with more, readers would not find their way either. */
const MOST_GROUPS = 100_000
/** What was put together is not asked for again at every turn: another order, or a group that is opened, has the same groups. */
const KEPT_MS = 20_000
const MOST_KEPT = 16

/** The groups of views, as the service counts them; and what they are ordered by, where that is a summary. */
export class GroupCounts {
  private readonly context: ServiceContext
  private readonly kept = new Map<string, { readonly records: readonly Json[]; readonly until: number }>()

  constructor(context: ServiceContext) {
    this.context = context
  }

  /** Null: rows stand in none. Rejects where they are too many to be laid out. */
  async of(request: ViewRequest, query: RowsQuery, signal?: AbortSignal): Promise<ServiceView['grouped']> {
    const { service, schema } = this.context
    const found = request.groups.flatMap((level): ServiceLevel[] => {
      const property = propertyNamed(schema, level.from ?? level.column)
      if (!property || property.field.type === 'tags') return []
      const bucket = bucketFits(level.bucket, property.field.type) ? level.bucket : ({ by: 'value' } as const)
      return [{ level, property, bucket }]
    })
    const levels = await Promise.all(
      found.map(async one => ({ ...one, bucket: await this.withBreaks(one, signal) })),
    )
    if (levels.length === 0) return null
    const queries = levels.map((level, nth) => levelQuery(level, nth, schema.can))
    const steps = groupSteps(queries, ['$count as rows'], narrowingSteps(query))
    const [records, ...measures] = await Promise.all([
      this.ask(steps, signal),
      ...levels.map(({ level }, nth) => {
        const { by } = level.order
        if (typeof by !== 'object') return new Map<string, number>()
        const ask = (text: string): Promise<readonly Json[]> => this.ask(text, signal)
        return measureGroups({ schema, query, ask }, queries, nth, by, request.binding?.locale)
      }),
    ])
    if (records.length > MOST_GROUPS)
      throw new SourceError({ code: 'service-too-many-groups', service: service.name, most: MOST_GROUPS })
    const counted = records.map((record): CountedGroup => ({
      keys: queries.map(one => one.keyIn(record)),
      rows: Number(record.rows),
    }))
    const binding = request.binding ?? { formats: {}, computed: [] }
    return { groups: new ServiceGroups(levels, counted, measures, request.open, binding), levels: queries }
  }

  /** A bucket; of parts that hold about as many rows, where they begin in all rows, whatever narrows these. */
  private async withBreaks({ property, bucket }: ServiceLevel, signal?: AbortSignal): Promise<Bucket> {
    if (bucket.by !== 'parts') return bucket
    const { path } = property
    const [told] = await this.ask(`aggregate(${path} with VastMeadow.present as rows)`, signal)
    const rows = Number(told.rows)
    if (rows === 0) return { by: 'value' }
    // In the middle of the place that is meant, so that no rounding leads to its neighbour.
    const places = Array.from({ length: bucket.count }, (_, i) => Math.floor((i * rows) / bucket.count))
    const aggregates = places.map(
      (place, i) => `${path} with ${VALUE_AT}_${atText((place + 0.5) / rows)} as at${i}`,
    )
    const [values] = await this.ask(`aggregate(${aggregates.join(',')})`, signal)
    const at = places.map((_, i) => Number(values[`at${i}`]))
    return { by: 'breaks', at: [...new Set(at)] }
  }

  /** Rows are others: their groups are counted anew. */
  forget(): void {
    this.kept.clear()
  }

  /** What the service says of some steps; one that was asked lately is not asked again. */
  async ask(steps: string, signal?: AbortSignal): Promise<readonly Json[]> {
    const { service, schema } = this.context
    const known = this.kept.get(steps)
    if (known && known.until > Date.now()) return known.records
    const params = { $apply: steps, $top: String(MOST_GROUPS + 1) }
    const records = await service.all(schema.rows, params, signal)
    this.kept.delete(steps)
    this.kept.set(steps, { records, until: Date.now() + KEPT_MS })
    keepNewest(this.kept, MOST_KEPT)
    return records
  }
}
