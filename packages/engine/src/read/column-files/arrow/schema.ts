import type { LogicalType, Unit } from '../logical-type.ts'
import type { FlatTable } from './flat-buffer.ts'
import type { UnreadColumn } from '../column-file.ts'

/** How values of a vector lie in buffers. */
export type Layout =
  | { readonly kind: 'null' }
  | { readonly kind: 'bits' }
  /** Numbers of `bytes` each: whole, signed or not, or floating. */
  | { readonly kind: 'numbers'; readonly bytes: number; readonly as: 'signed' | 'unsigned' | 'float' }
  /** `bytes` a value, as they lie. */
  | { readonly kind: 'fixed'; readonly bytes: number }
  /** Offsets of 4 or 8 bytes into bytes. */
  | { readonly kind: 'bytes'; readonly offsetBytes: 4 | 8 }
  | { readonly kind: 'views' }
  | { readonly kind: 'list'; readonly offsetBytes: 4 | 8 }
  | { readonly kind: 'list-view'; readonly offsetBytes: 4 | 8 }
  | { readonly kind: 'fixed-list'; readonly size: number }
  | { readonly kind: 'struct' }
  | { readonly kind: 'union'; readonly dense: boolean; readonly places: ReadonlyMap<number, number> }
  | { readonly kind: 'run-end' }

/** A vector's place in the tree of a schema. */
export interface VectorType {
  readonly name: string
  readonly type: LogicalType
  readonly layout: Layout
  readonly children: readonly VectorType[]
  /** Its values are numbers of those of a dictionary. */
  readonly dictionary?: { readonly id: number; readonly values: VectorType }
}

/** Types, as the format numbers them. */
const TYPE = {
  null: 1,
  int: 2,
  float: 3,
  binary: 4,
  utf8: 5,
  bool: 6,
  decimal: 7,
  date: 8,
  time: 9,
  timestamp: 10,
  interval: 11,
  list: 12,
  struct: 13,
  union: 14,
  fixedBinary: 15,
  fixedList: 16,
  map: 17,
  duration: 18,
  largeBinary: 19,
  largeUtf8: 20,
  largeList: 21,
  runEnd: 22,
  binaryView: 23,
  utf8View: 24,
  listView: 25,
  largeListView: 26,
} as const

const UNIT_NAMES: readonly Unit[] = ['second', 'milli', 'micro', 'nano']

/** How the format says in which order the bytes of numbers stand. */
const BIG_ENDIAN = 1

/** A type that is not known: how its buffers lie is not known either. */
class UnknownTypeError extends Error {
  override readonly name = 'UnknownTypeError'
}

/**
 * The fields of a schema. How the buffers of a type lie that is not known, is not known either: neither it nor what stands
 * behind it can be read.
 */
export function vectorTypes(schema: FlatTable): { types: VectorType[]; unread: UnreadColumn[] } {
  if (schema.int16(0, 0) === BIG_ENDIAN)
    throw new RangeError('its numbers begin with their largest byte, which is not read here')
  const types: VectorType[] = []
  const unread: UnreadColumn[] = []
  for (const field of schema.tables(1)) {
    if (unread.length > 0) {
      unread.push({
        field: -1,
        name: field.text(0) ?? '',
        reason: 'it stands behind one that cannot be read',
      })
      continue
    }
    try {
      types.push(vectorType(field))
    } catch (error) {
      if (!(error instanceof UnknownTypeError)) throw error
      unread.push({ field: -1, name: field.text(0) ?? '', reason: error.message })
    }
  }
  return { types, unread }
}

/** Structures within structures are followed so deep. */
const MOST_NESTED = 64

function vectorType(field: FlatTable, depth = 0): VectorType {
  if (depth > MOST_NESTED) throw new RangeError(`its types are nested more than ${MOST_NESTED} deep`)
  const name = field.text(0) ?? ''
  const children = field.tables(5).map(child => vectorType(child, depth + 1))
  const values = { name, children, ...typeOf(field, children) }
  const encoding = field.table(4)
  if (!encoding) return values
  const index = encoding.table(1)
  const layout = integers(index?.int32(0, 32) ?? 32, index?.boolean(1) ?? true)
  return { name, type: values.type, layout, children: [], dictionary: { id: encoding.int64(0, 0), values } }
}

const integers = (bits: number, signed: boolean): Layout => ({
  kind: 'numbers',
  bytes: bits / 8,
  as: signed ? 'signed' : 'unsigned',
})
const signed = (bytes: number): Layout => ({ kind: 'numbers', bytes, as: 'signed' })

function typeOf(field: FlatTable, children: readonly VectorType[]): Pick<VectorType, 'type' | 'layout'> {
  const id = field.int8(2, 0)
  const of = field.table(3)
  const unit = (at: number, otherwise: number): Unit =>
    UNIT_NAMES[of?.int16(at, otherwise) ?? otherwise] ?? 'milli'
  const offsets = (layout: 'bytes' | 'list' | 'list-view', large: boolean): Layout => ({
    kind: layout,
    offsetBytes: large ? 8 : 4,
  })
  const list = (): LogicalType => ({ kind: 'list', of: children.at(0)?.type ?? { kind: 'nothing' } })
  switch (id) {
    case TYPE.null:
      return { type: { kind: 'nothing' }, layout: { kind: 'null' } }
    case TYPE.int:
      return { type: { kind: 'integer' }, layout: integers(of?.int32(0, 0) ?? 0, of?.boolean(1) ?? false) }
    case TYPE.float: {
      const bytes = 2 << (of?.int16(0, 0) ?? 0)
      return { type: { kind: 'float', single: bytes < 8 }, layout: { kind: 'numbers', bytes, as: 'float' } }
    }
    case TYPE.bool:
      return { type: { kind: 'boolean' }, layout: { kind: 'bits' } }
    case TYPE.decimal:
      return {
        type: { kind: 'decimal', scale: of?.int32(1, 0) ?? 0 },
        layout: signed((of?.int32(2, 128) ?? 128) / 8),
      }
    case TYPE.date:
      return (of?.int16(0, 1) ?? 1) === 0
        ? { type: { kind: 'date', of: 'day' }, layout: signed(4) }
        : { type: { kind: 'date', of: 'milli' }, layout: signed(8) }
    case TYPE.time:
      return { type: { kind: 'time', unit: unit(0, 1) }, layout: signed((of?.int32(1, 32) ?? 32) / 8) }
    case TYPE.timestamp:
      return { type: { kind: 'moment', unit: unit(0, 0), zoned: !!of?.text(1) }, layout: signed(8) }
    case TYPE.duration:
      return { type: { kind: 'duration', unit: unit(0, 1) }, layout: signed(8) }
    case TYPE.interval:
      return {
        type: { kind: 'interval' },
        layout: { kind: 'fixed', bytes: [4, 8, 16][of?.int16(0, 0) ?? 0] },
      }
    case TYPE.utf8:
    case TYPE.largeUtf8:
      return { type: { kind: 'text' }, layout: offsets('bytes', id === TYPE.largeUtf8) }
    case TYPE.binary:
    case TYPE.largeBinary:
      return { type: { kind: 'bytes' }, layout: offsets('bytes', id === TYPE.largeBinary) }
    case TYPE.utf8View:
      return { type: { kind: 'text' }, layout: { kind: 'views' } }
    case TYPE.binaryView:
      return { type: { kind: 'bytes' }, layout: { kind: 'views' } }
    case TYPE.fixedBinary:
      return {
        type: extensionOf(field) === 'arrow.uuid' ? { kind: 'uuid' } : { kind: 'bytes' },
        layout: { kind: 'fixed', bytes: of?.int32(0, 0) ?? 0 },
      }
    case TYPE.list:
    case TYPE.largeList:
      return { type: list(), layout: offsets('list', id === TYPE.largeList) }
    case TYPE.listView:
    case TYPE.largeListView:
      return { type: list(), layout: offsets('list-view', id === TYPE.largeListView) }
    case TYPE.fixedList:
      return { type: list(), layout: { kind: 'fixed-list', size: of?.int32(0, 0) ?? 0 } }
    case TYPE.map: {
      const [key, value] = children.at(0)?.children ?? []
      const nothing = { kind: 'nothing' } as const
      return {
        type: { kind: 'map', key: key?.type ?? nothing, value: value?.type ?? nothing },
        layout: offsets('list', false),
      }
    }
    case TYPE.struct:
      return {
        type: { kind: 'struct', members: children.map(({ name, type }) => ({ name, type })) },
        layout: { kind: 'struct' },
      }
    case TYPE.union: {
      const given = of?.int32s(1) ?? []
      const ids = given.length > 0 ? given : children.map((_, place) => place)
      return {
        type: { kind: 'union', of: children.map(({ type }) => type) },
        layout: {
          kind: 'union',
          dense: of?.int16(0, 0) === 1,
          places: new Map(ids.map((one, place) => [one, place])),
        },
      }
    }
    case TYPE.runEnd:
      return { type: children.at(1)?.type ?? { kind: 'nothing' }, layout: { kind: 'run-end' } }
    default:
      throw new UnknownTypeError(`its type is number ${id}, which is not known`)
  }
}

/** The name of an extension type: what the values of its storage mean. */
const extensionOf = (field: FlatTable): string | null =>
  field
    .tables(6)
    .find(entry => entry.text(0) === 'ARROW:extension:name')
    ?.text(1) ?? null
