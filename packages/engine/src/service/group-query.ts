import type { Bucket } from '../group/bucket.ts'
import type { GroupKey } from '../flow/line.ts'
import type { Value } from '../table/column.ts'
import { FOLD, both, either, oneOf } from './condition-filter.ts'
import type { Capabilities, Property } from './schema.ts'
import type { ServiceLevel } from './service-groups.ts'
import { literal, quoted, valueIn } from './values.ts'

/** By what the service puts rows of a level together: a property, or what is computed from it under a name. */
export interface LevelQuery {
  readonly name: string
  /** Null: the property itself. */
  readonly compute: string | null
  /** What names the group in an answer. */
  keyIn(record: Readonly<Record<string, unknown>>): GroupKey
  /** A filter that is met by the rows of a group. */
  filter(key: GroupKey): string
  /** The same for several groups, of which there is one at least. */
  several(keys: readonly GroupKey[]): string
}

export function levelQuery(
  { property, bucket }: ServiceLevel,
  nth: number,
  can: Pick<Capabilities, 'lists'>,
): LevelQuery {
  const { path } = property
  const missing = `${path} eq null`
  const severalOf = (
    name: string,
    keys: readonly GroupKey[],
    write: (key: NonNullable<GroupKey>) => string,
  ): string => {
    const literals = keys.flatMap(key => (key === null ? [] : [write(key)]))
    const among = literals.length > 0 ? [both([`${path} ne null`, oneOf(name, literals, can)])] : []
    return either([...among, ...(keys.includes(null) ? [missing] : [])])
  }
  const computed = computedKey(property, bucket)
  if (!computed)
    return {
      name: path,
      compute: null,
      keyIn: record => sayable(valueIn(record, property)),
      filter: key => (key === null ? missing : `${path} eq ${literal(property, unsaid(key))}`),
      several: keys => severalOf(path, keys, key => literal(property, unsaid(key))),
    }
  const name = `group${nth}`
  const { expression, edm, type, toKey, fromKey } = computed
  const made: Property = { path: name, edm, field: { ...property.field, key: name, type } }
  return {
    name,
    compute: `${expression} as ${name}`,
    keyIn: record => {
      const value = valueIn(record, made)
      return value === null ? null : toKey(value)
    },
    filter: key =>
      key === null ? missing : both([`${path} ne null`, `${expression} eq ${fromKey(unsaid(key), made)}`]),
    several: keys => severalOf(expression, keys, key => fromKey(unsaid(key), made)),
  }
}

/** JSON has no infinity. */
const sayable = (value: Value): GroupKey =>
  typeof value === 'number' && !Number.isFinite(value) ? String(value) : value

const unsaid = (key: NonNullable<GroupKey>): string | number | boolean =>
  typeof key === 'object' ? '' : key === 'Infinity' ? Infinity : key === '-Infinity' ? -Infinity : key

interface Computed {
  readonly expression: string
  readonly edm: string
  readonly type: Property['field']['type']
  readonly toKey: (value: NonNullable<Value>) => GroupKey
  readonly fromKey: (key: string | number | boolean, made: Property) => string
}

function computedKey({ path, field, edm }: Property, bucket: Bucket): Computed | null {
  const asIs = {
    toKey: (value: NonNullable<Value>) => value,
    fromKey: (key: string | number | boolean, made: Property) => literal(made, key),
  }
  switch (bucket.by) {
    case 'range': {
      const { step, origin } = bucket
      return {
        expression: `floor((${path} sub ${origin}) divby ${step})`,
        edm: 'Double',
        type: 'number',
        toKey: value => origin + Number(value) * step,
        fromKey: key => String(Math.round((Number(key) - origin) / step)),
      }
    }
    case 'breaks': {
      const { at } = bucket
      return {
        expression: `VastMeadow.breakOf(${path},${at.join(',')})`,
        edm: 'Int32',
        type: 'integer',
        toKey: value => (value === 0 ? '-Infinity' : at[Number(value) - 1]),
        fromKey: key => String(key === -Infinity ? 0 : at.indexOf(Number(key)) + 1),
      }
    }
    case 'date':
      return bucket.every || bucket.part === 'weekday'
        ? {
            expression: `VastMeadow.partOf(${path},'${bucket.part}')`,
            edm: 'Int32',
            type: 'integer',
            ...asIs,
          }
        : { expression: `VastMeadow.startOf(${path},'${bucket.part}')`, edm, type: field.type, ...asIs }
    case 'letters':
      return {
        expression: `toupper(substring(trim(${FOLD}(${path})),0,${bucket.count}))`,
        edm: 'String',
        type: 'text',
        toKey: value => value,
        fromKey: key => quoted(String(key)),
      }
    default:
      return null
  }
}

/** The steps that put the rows of some levels together, with what they come to. */
export function groupSteps(
  levels: readonly LevelQuery[],
  aggregates: readonly string[],
  before: readonly string[],
): string {
  const computes = levels.flatMap(({ compute }) => compute ?? [])
  const steps = [...before, ...(computes.length > 0 ? [`compute(${computes.join(',')})`] : [])]
  steps.push(
    levels.length === 0
      ? `aggregate(${aggregates.join(',')})`
      : `groupby((${levels.map(({ name }) => name).join(',')}),aggregate(${aggregates.join(',')}))`,
  )
  return steps.join('/')
}
