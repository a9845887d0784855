import type { ConditionKindName } from '../condition/condition.ts'
import { conditionKinds } from '../condition/kinds/index.ts'
import type { BucketKind } from '../group/bucket.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { canKeep, isAble, type Abilities, type Ability, type Refusal } from '../question/abilities.ts'
import type { SummaryKind } from '../summary/summary.ts'
import { FOLD, KIND_FUNCTIONS } from './condition-filter.ts'
import type { Capabilities } from './schema.ts'

/** Summaries by what the service must be able to put together for them; those that are not named it cannot. */
export const SUMMARY_METHODS: Readonly<Partial<Record<SummaryKind, string>>> = {
  count: '$count',
  distinct: 'countdistinct',
  sum: 'sum',
  mean: 'average',
  minimum: 'min',
  maximum: 'max',
  range: 'min',
  share: 'sum',
  'share-of-parent': 'sum',
  present: 'VastMeadow.present',
  missing: 'VastMeadow.present',
  median: 'VastMeadow.median',
  quantile: 'VastMeadow.quantile',
  deviation: 'VastMeadow.deviation',
  frequent: 'VastMeadow.frequent',
  same: 'VastMeadow.present',
  first: 'VastMeadow.first',
  last: 'VastMeadow.last',
}

const BREAK_OF = 'VastMeadow.breakOf'
/** The method that tells where parts of about as many rows begin. */
export const VALUE_AT = 'VastMeadow.valueAt'

/** Buckets by the function that cuts them. */
const BUCKET_FUNCTIONS: Readonly<Partial<Record<BucketKind, string>>> = {
  value: '',
  range: 'floor',
  breaks: BREAK_OF,
  parts: BREAK_OF,
  date: 'VastMeadow.startOf',
  letters: FOLD,
}

/** A request without what is not offered for groups: the page itself could do it, and would answer otherwise when rows come near. */
export function withOfferedLevels<Asked extends Pick<ViewRequest, 'groups'>>(
  request: Asked,
  can: Abilities,
): Asked {
  const offered = request.groups.map((level): ViewRequest['groups'][number] => {
    const { keep: kept, ...rest } = level
    const bucket = isAble(can.groups, level.bucket.by) ? level.bucket : ({ by: 'value' } as const)
    return { ...rest, bucket, ...(kept && canKeep(kept, can) && { keep: kept }) }
  })
  return { ...request, groups: offered }
}

/** What can be done over a service, and why not, by what its metadata say. */
export function serviceAbilities(
  can: Capabilities,
  service: string,
  questions: readonly string[],
): Abilities {
  const why: Refusal = { code: 'service-cannot', service }
  const when = (yes: boolean): Ability => (yes ? true : why)
  const groups = can.apply.has('groupby') && can.apply.has('aggregate')
  const conditions = Object.fromEntries(
    conditionKinds.map(({ name }) => {
      const needed = KIND_FUNCTIONS[name]
      return [name, when(can.filter && name !== 'own' && (!needed || can.functions.has(needed)))]
    }),
  ) as Record<ConditionKindName, Ability>
  const isMethod = (method: string): boolean => !method.includes('.') || can.methods.has(method)
  const isBucket = (needed: string, kind: BucketKind): boolean =>
    (needed === '' || (can.functions.has(needed) && can.apply.has('compute'))) &&
    (kind !== 'parts' || can.methods.has(VALUE_AT))
  const kinds = <Kind extends string>(
    of: Readonly<Partial<Record<Kind, string>>>,
    is: (needed: string, kind: Kind) => boolean,
  ): Partial<Record<Kind, Ability>> =>
    Object.fromEntries(
      Object.entries<string | undefined>(of).map(([kind, needed]) => [
        kind,
        when(groups && is(needed ?? '', kind as Kind)),
      ]),
    ) as Partial<Record<Kind, Ability>>
  return {
    order: { others: why, kinds: { value: when(can.order) } },
    conditions: { others: why, kinds: conditions },
    search: when(can.search || can.functions.has(FOLD)),
    groups: { others: why, kinds: kinds(BUCKET_FUNCTIONS, isBucket) },
    keep: when(groups && can.filter),
    rest: why,
    summaries: { others: why, kinds: kinds(SUMMARY_METHODS, isMethod) },
    questions: { others: why, kinds: Object.fromEntries(questions.map(name => [name, true])) },
    commit: why,
    save: {
      update: when(can.fixed !== null),
      insert: when(can.insert),
      remove: when(can.remove),
      fixed: [...(can.fixed ?? [])],
    },
  }
}
