import type { LogicalType, Unit } from '../logical-type.ts'
import type { Element, FileMetadata, Physical, Thrift } from './metadata.ts'

/** A node of the schema's tree. */
export interface Node {
  readonly name: string
  readonly element: Element
  /** How often something above it, it included, may be absent, and may come again: its greatest levels. */
  readonly maxDefinition: number
  readonly maxRepetition: number
  /** Of a leaf, its number among the columns; of others, that of their first one. */
  readonly column: number
  /** Columns within. */
  readonly columns: number
  readonly children: readonly Node[]
  readonly type: LogicalType
}

/** Annotations of the older kind, by their numbers. */
const CONVERTED = {
  utf8: 0,
  map: 1,
  mapKeyValue: 2,
  list: 3,
  enum: 4,
  decimal: 5,
  date: 6,
  timeMilli: 7,
  timeMicro: 8,
  momentMilli: 9,
  momentMicro: 10,
  json: 19,
  bson: 20,
  interval: 21,
} as const

/** Annotations of the newer kind. */
const LOGICAL = {
  string: 1,
  map: 2,
  list: 3,
  enum: 4,
  decimal: 5,
  date: 6,
  time: 7,
  moment: 8,
  nothing: 11,
  json: 12,
  uuid: 14,
  half: 15,
} as const

const MOST_NESTED = 64

/** The fields of a file, and how many columns they have. Throws where the schema is no tree. */
export function readSchema({ elements }: FileMetadata): {
  readonly fields: readonly Node[]
  readonly columns: number
} {
  let next = 1
  let columns = 0
  const read = (above: Pick<Node, 'maxDefinition' | 'maxRepetition'>, depth: number): Node => {
    const element = elements.at(next++)
    if (!element || depth > MOST_NESTED) throw new RangeError('its schema does not hold together')
    const { repetition, name } = element
    const levels = {
      maxDefinition: above.maxDefinition + (repetition === 'required' ? 0 : 1),
      maxRepetition: above.maxRepetition + (repetition === 'repeated' ? 1 : 0),
    }
    const column = columns
    if (element.physical !== null) columns++
    const children = Array.from({ length: element.children }, () => read(levels, depth + 1))
    const node = { name, element, column, columns: columns - column, children, ...levels }
    return { ...node, type: typeOf(element, children) }
  }
  const count = elements.at(0)?.children ?? 0
  if (count > elements.length) throw new RangeError('its schema does not hold together')
  const fields = Array.from({ length: count }, () => read({ maxDefinition: 0, maxRepetition: 0 }, 0))
  return { fields, columns }
}

/** What values of a node mean; those of a repeated one are lists, unless a list or map above it says so. */
function typeOf(element: Element, children: readonly Node[]): LogicalType {
  const one = children.length > 0 ? groupType(element, children) : leafType(element)
  return element.repetition === 'repeated' ? { kind: 'list', of: one } : one
}

function groupType(element: Element, children: readonly Node[]): LogicalType {
  if (isList(element, children)) {
    const entries = entryOf(children[0])
    return { kind: 'list', of: entries }
  }
  if (isMap(element, children)) {
    const [key, value] = children[0].children
    return { kind: 'map', key: key.type, value: value.type }
  }
  return { kind: 'struct', members: children.map(({ name, type }) => ({ name, type })) }
}

/** What the entries of a list are: of three levels, what the middle one holds; of two, what is repeated. */
function entryOf(repeated: Node): LogicalType {
  if (isWrapper(repeated)) return repeated.children[0].type
  return repeated.type.kind === 'list' ? repeated.type.of : repeated.type
}

/** Whether a repeated node only stands around its one entry; older writers have lists of structures with one member. */
export const isWrapper = ({ children, name }: Node): boolean =>
  children.length === 1 && name !== 'array' && !name.endsWith('_tuple')

export const isList = ({ converted, logical, repetition }: Element, children: readonly Node[]): boolean =>
  (converted === CONVERTED.list || logical?.id === LOGICAL.list) &&
  repetition !== 'repeated' &&
  children.length === 1 &&
  children[0].element.repetition === 'repeated'

export const isMap = ({ converted, logical, repetition }: Element, children: readonly Node[]): boolean =>
  (converted === CONVERTED.map || converted === CONVERTED.mapKeyValue || logical?.id === LOGICAL.map) &&
  repetition !== 'repeated' &&
  children.length === 1 &&
  children[0].element.repetition === 'repeated' &&
  children[0].children.length === 2

const UNITS: Readonly<Record<string, Unit>> = { field_1: 'milli', field_2: 'micro', field_3: 'nano' }
const unitOf = (facts: Thrift): Unit => UNITS[Object.keys(facts.field_2 ?? {})[0] ?? 'field_1'] ?? 'milli'

function leafType(element: Element): LogicalType {
  const { physical, logical, converted, scale } = element
  const said = logical ? logicalLeaf(logical.id, logical.facts) : null
  if (said) return said
  switch (converted) {
    case CONVERTED.utf8:
    case CONVERTED.enum:
      return { kind: 'text' }
    case CONVERTED.decimal:
      return { kind: 'decimal', scale }
    case CONVERTED.date:
      return { kind: 'date', of: 'day' }
    case CONVERTED.timeMilli:
    case CONVERTED.timeMicro:
      return { kind: 'time', unit: converted === CONVERTED.timeMilli ? 'milli' : 'micro' }
    case CONVERTED.momentMilli:
    case CONVERTED.momentMicro:
      return { kind: 'moment', unit: converted === CONVERTED.momentMilli ? 'milli' : 'micro', zoned: true }
    case CONVERTED.json:
      return { kind: 'json' }
    case CONVERTED.interval:
      return { kind: 'interval' }
    default:
      return PLAIN[physical ?? 'bytes']
  }
}

function logicalLeaf(id: number, facts: Thrift): LogicalType | null {
  switch (id) {
    case LOGICAL.string:
    case LOGICAL.enum:
      return { kind: 'text' }
    case LOGICAL.decimal:
      return { kind: 'decimal', scale: Number(facts.field_1 ?? 0) }
    case LOGICAL.date:
      return { kind: 'date', of: 'day' }
    case LOGICAL.time:
      return { kind: 'time', unit: unitOf(facts) }
    case LOGICAL.moment:
      return { kind: 'moment', unit: unitOf(facts), zoned: facts.field_1 === true }
    case LOGICAL.nothing:
      return { kind: 'nothing' }
    case LOGICAL.json:
      return { kind: 'json' }
    case LOGICAL.uuid:
      return { kind: 'uuid' }
    case LOGICAL.half:
      return { kind: 'float', single: true }
    default:
      return null
  }
}

/** What values are that nothing more is said of. The 96 bits are an older writer’s moments. */
const PLAIN: Readonly<Record<Physical, LogicalType>> = {
  boolean: { kind: 'boolean' },
  int32: { kind: 'integer' },
  int64: { kind: 'integer' },
  int96: { kind: 'moment', unit: 'nano', zoned: true },
  float: { kind: 'float', single: true },
  double: { kind: 'float', single: false },
  bytes: { kind: 'bytes' },
  fixed: { kind: 'bytes' },
}
