import type { Dialect } from '../dialect/dialect.ts'
import { METHODS } from '../statement/aggregate-sql.ts'
import { FUNCTION_NAMES } from '../statement/expression-sql.ts'
import type { Property, ServedTable } from './served-table.ts'

const NAMESPACE = 'Rows'
const CAPABILITIES = '@Org.OData.Capabilities.V1'

/** What is served, as OData's JSON representation of its schema (CSDL) says it, with what can be asked. */
export function metadataDocument(tables: readonly ServedTable[], dialect: Dialect): object {
  const types = Object.fromEntries(tables.map(table => [table.name, entityType(table)]))
  const sets = Object.fromEntries(
    tables.map(({ name }) => [
      name,
      {
        $Collection: true,
        $Type: `${NAMESPACE}.${name}`,
        [`${CAPABILITIES}.SearchRestrictions`]: { Searchable: true, UnsupportedExpressions: 'none' },
        [`${CAPABILITIES}.CountRestrictions`]: { Countable: true },
        [`${CAPABILITIES}.InsertRestrictions`]: { Insertable: false },
        [`${CAPABILITIES}.UpdateRestrictions`]: { Updatable: false },
        [`${CAPABILITIES}.DeleteRestrictions`]: { Deletable: false },
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
