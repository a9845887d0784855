import { SourceError } from '../source/row-source.ts'
import { isRecord } from '../work/checked.ts'
import { ARROW_STREAM, propertyFor, type Capabilities, type Property, type ServiceSchema } from './schema.ts'
import { asText, type Json } from './values.ts'

const CAPABILITIES = '@Org.OData.Capabilities.V1.'
const AGGREGATION = '@Org.OData.Aggregation.V1.'

/** Functions of the protocol's first version, for services that do not say which they have. */
const USUAL_FUNCTIONS = [
  'contains',
  'startswith',
  'endswith',
  'tolower',
  'year',
  'month',
  'day',
  'hour',
  'floor',
  'ceiling',
  'round',
]

/** Reads the schema of a service from the JSON representation of its metadata (CSDL JSON 4.01). */
export function readMetadata(document: Json, rows: string, service: string): ServiceSchema {
  const container = recordAt(document, asText(document.$EntityContainer))
  const set = container && Object.hasOwn(container, rows) ? container[rows] : undefined
  const names = Object.entries(container ?? {})
    .filter(([name, value]) => !/[$@]/.test(name) && isRecord(value) && value.$Collection === true)
    .map(([name]) => name)
  if (!container || !isRecord(set))
    throw new SourceError({ code: 'service-has-no-such-rows', service, rows, names })
  const leftOut: string[] = []
  const properties: Property[] = []
  const type = recordAt(document, asText(set.$Type))
  if (type) takeProperties(document, type, '', properties, leftOut)
  const key = keyOf(document, type)
  if (properties.length === 0 || key.length === 0)
    throw new SourceError({ code: 'service-unreadable', service, what: '$metadata' })
  const others = set['@VastMeadow.LeftOut']
  if (Array.isArray(others)) leftOut.push(...others.map(asText))
  const told = asText(set['@VastMeadow.Events'])
  const events = told === '' ? null : `${rows}/${told}`
  return { rows, properties, key, leftOut, events, can: capabilitiesOf(document, container, set) }
}

/** What a name with its namespace stands for. */
function recordAt(document: Json, name: string): Json | null {
  const dot = name.lastIndexOf('.')
  const space = document[name.slice(0, Math.max(0, dot))]
  const found = isRecord(space) ? space[name.slice(dot + 1)] : undefined
  return isRecord(found) ? found : null
}

const MOST_DEPTH = 8

/** The properties of a type, those that it inherits first, and those within its structures by their path. */
function takeProperties(
  document: Json,
  type: Json,
  before: string,
  properties: Property[],
  leftOut: string[],
  depth = 0,
): void {
  const base = typeof type.$BaseType === 'string' ? recordAt(document, type.$BaseType) : null
  if (base && depth < MOST_DEPTH) takeProperties(document, base, before, properties, leftOut, depth + 1)
  for (const [name, facts] of Object.entries(type)) {
    if (/[$@]/.test(name) || !isRecord(facts) || facts.$Kind === 'NavigationProperty') continue
    const path = before + name
    const named = typeof facts.$Type === 'string' ? facts.$Type : 'Edm.String'
    const complex = named.startsWith('Edm.') ? null : recordAt(document, named)
    if (complex?.$Kind === 'ComplexType' && facts.$Collection !== true && depth < MOST_DEPTH) {
      takeProperties(document, complex, `${path}/`, properties, leftOut, depth + 1)
      continue
    }
    const property = propertyFor({
      path,
      type: underlying(document, named),
      several: facts.$Collection === true,
      scale: typeof facts.$Scale === 'number' ? facts.$Scale : undefined,
      wall: facts['@VastMeadow.WallTime'] === true,
    })
    if (property) properties.push(property)
    else leftOut.push(path)
  }
}

/** Names for types, and lists of words, are what lies beneath them. */
function underlying(document: Json, name: string): string {
  if (name.startsWith('Edm.')) return name
  const found = recordAt(document, name)
  if (found?.$Kind === 'EnumType') return 'Edm.String'
  return found?.$Kind === 'TypeDefinition' ? asText(found.$UnderlyingType) || 'Edm.String' : name
}

function keyOf(document: Json, type: Json | null): string[] {
  for (let at = type, depth = 0; at && depth < MOST_DEPTH; depth++) {
    if (Array.isArray(at.$Key))
      return at.$Key.map(part => (isRecord(part) ? String(Object.values(part)[0]) : String(part)))
    at = typeof at.$BaseType === 'string' ? recordAt(document, at.$BaseType) : null
  }
  return []
}

/** What is said of the set holds before what is said of all; what is not said can be done, as the protocol has it. */
function capabilitiesOf(document: Json, container: Json, set: Json): Capabilities {
  const said = (name: string, of: string): unknown => {
    for (const record of [set, container]) {
      const term = record[CAPABILITIES + name]
      if (isRecord(term) && of in term) return term[of]
    }
    return undefined
  }
  const list = (value: unknown): string[] | null => (Array.isArray(value) ? value.map(String) : null)
  const functions =
    list(set[`${CAPABILITIES}FilterFunctions`]) ?? list(container[`${CAPABILITIES}FilterFunctions`])
  const supported = set[`${AGGREGATION}ApplySupported`] ?? container[`${AGGREGATION}ApplySupported`]
  const apply = isRecord(supported) ? supported : null
  return {
    search: said('SearchRestrictions', 'Searchable') !== false,
    count: said('CountRestrictions', 'Countable') !== false,
    filter: said('FilterRestrictions', 'Filterable') !== false,
    order: said('SortRestrictions', 'Sortable') !== false,
    lists: Number.parseFloat(asText(document.$Version) || '4.01') > 4,
    arrow: list(container[`${CAPABILITIES}SupportedFormats`])?.includes(ARROW_STREAM) === true,
    batches:
      said('BatchSupport', 'Supported') === true &&
      list(said('BatchSupport', 'SupportedFormats'))?.includes('application/json') === true,
    functions: new Set(functions ?? USUAL_FUNCTIONS),
    apply: new Set(apply ? (list(apply.Transformations) ?? ['filter', 'groupby', 'aggregate']) : []),
    methods: new Set(list(apply?.CustomAggregationMethods) ?? []),
    insert: said('InsertRestrictions', 'Insertable') !== false,
    remove: said('DeleteRestrictions', 'Deletable') !== false,
    fixed:
      said('UpdateRestrictions', 'Updatable') === false
        ? null
        : new Set(list(said('UpdateRestrictions', 'NonUpdatableProperties')) ?? []),
  }
}
