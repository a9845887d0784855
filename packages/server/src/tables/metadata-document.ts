import type { Dialect } from '../dialect/dialect.ts'
import { METHODS } from '../statement/aggregate-sql.ts'
import { FUNCTION_NAMES } from '../statement/expression-sql.ts'
import { ANSWER_FORMATS } from './answer-formats.ts'
import { isChangeable, type Changes } from './changes.ts'
import type { Property, ServedTable } from './served-table.ts'

const NAMESPACE = 'Rows'
const CAPABILITIES = '@Org.OData.Capabilities.V1'

/** A table as whoever asks may see and change it. */
interface Described {
  readonly table: ServedTable
  readonly changes: Changes
}

/** What is served, as OData's JSON representation of its schema (CSDL) says it, with what can be asked. */
export function metadataDocument(open: readonly Described[], dialect: Dialect): object {
  const types = Object.fromEntries(open.map(({ table }) => [table.name, entityType(table)]))
  const sets = Object.fromEntries(
    open.map(({ table, changes }) => [
      table.name,
      {
        $Collection: true,
        $Type: `${NAMESPACE}.${table.name}`,
        [`${CAPABILITIES}.SearchRestrictions`]: { Searchable: true, UnsupportedExpressions: 'none' },
        [`${CAPABILITIES}.CountRestrictions`]: { Countable: true },
        ...changeRestrictions(table, changes),
        '@VastMeadow.Events': '$events',
        ...(table.leftOut.length > 0 ? { '@VastMeadow.LeftOut': table.leftOut } : {}),
      },
    ]),
  )
  const container = {
    $Kind: 'EntityContainer',
    ...sets,
    [`${CAPABILITIES}.FilterFunctions`]: FUNCTION_NAMES.filter(
      name => name !== 'matchespattern' || dialect.matches !== null,
    ),
    [`${CAPABILITIES}.QuerySegmentSupported`]: true,
    [`${CAPABILITIES}.BatchSupport`]: {
      Supported: true,
      SupportedFormats: ['application/json'],
      ContinueOnErrorSupported: true,
      ReferencesInRequestBodiesSupported: false,
      ReferencesAcrossChangeSetsSupported: false,
      EtagReferencesSupported: false,
      RequestDependencyConditionsSupported: false,
    },
    [`${CAPABILITIES}.SupportedFormats`]: [...ANSWER_FORMATS],
    '@Org.OData.Aggregation.V1.ApplySupported': {
      Transformations: [
        'filter',
        'search',
        'compute',
        'groupby',
        'aggregate',
        'orderby',
        'top',
        'skip',
        'topcount',
        'bottomcount',
      ],
      CustomAggregationMethods: METHODS.filter(name => name.includes('.')),
    },
    '@VastMeadow.TextOrder': dialect.differences.order,
  }
  return {
    $Version: '4.01',
    $EntityContainer: `${NAMESPACE}.Container`,
    [NAMESPACE]: { ...types, Container: container },
  }
}

function changeRestrictions(table: ServedTable, changes: Changes): object {
  const fixed = table.properties.flatMap(({ name }) => (isChangeable(table, changes, name) ? [] : [name]))
  const updatable = fixed.length < table.properties.length
  return {
    [`${CAPABILITIES}.InsertRestrictions`]: { Insertable: changes.insert === true },
    [`${CAPABILITIES}.UpdateRestrictions`]: {
      Updatable: updatable,
      ...(updatable ? { NonUpdatableProperties: fixed } : {}),
    },
    [`${CAPABILITIES}.DeleteRestrictions`]: { Deletable: changes.remove === true },
    // Each row is told with a tag that a change can be bound to.
    '@Org.OData.Core.V1.OptimisticConcurrency': [],
  }
}

function entityType({ key, properties }: ServedTable): object {
  return {
    $Kind: 'EntityType',
    $Key: key,
    ...Object.fromEntries(properties.map(property => [property.name, described(property)])),
  }
}

function described({ edm, nullable, precision, scale, wall }: Property): object {
  const several = /^Collection\((.*)\)$/.exec(edm)
  return {
    $Type: `Edm.${several ? several[1] : edm}`,
    ...(several ? { $Collection: true } : {}),
    ...(nullable ? { $Nullable: true } : {}),
    ...(precision === undefined ? {} : { $Precision: precision }),
    ...(scale === undefined ? {} : { $Scale: scale }),
    ...(wall ? { '@VastMeadow.WallTime': true } : {}),
  }
}
