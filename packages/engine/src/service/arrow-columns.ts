import { textOfBytes } from '../read/column-files/add-raw.ts'
import { decode } from '../read/column-files/arrow/arrow.ts'
import { memberOf } from '../read/column-files/leaves.ts'
import type { LogicalType, Member } from '../read/column-files/logical-type.ts'
import { keptDay, keptMoment, keptTime, type Kept } from '../read/column-files/moment.ts'
import type { Value } from '../table/column.ts'
import { digitsOfUnits } from '../table/digits.ts'
import type { Columns } from './columns.ts'
import type { Property } from './schema.ts'
import { valueOf } from './values.ts'

/** The rows of an Arrow stream as properties have them, the same as if they had come as records. Rejects where it is damaged. */
export async function arrowColumns(stream: Uint8Array, properties: readonly Property[]): Promise<Columns> {
  const file = await decode(new Blob([stream as Uint8Array<ArrayBuffer>]))
  if (file === 'encrypted') throw new RangeError('it is encrypted')
  const values = properties.map(() => new Array<Value>(file.rows).fill(null))
  const places = properties.map(property => placeOf(property, file.fields))
  for await (const { field, start, length, at } of file.chunks())
    for (const [nth, place] of places.entries()) {
      if (place?.field !== field) continue
      const { type, path } = place
      for (let i = 0; i < length; i++)
        values[nth][start + i] = toldOf(memberOf(at(i), path), type, properties[nth])
    }
  return { rows: file.rows, values }
}

interface Place {
  readonly field: number
  readonly path: readonly number[]
  readonly type: LogicalType
}

/** Where the values of a property stand; null: they were left out. */
function placeOf({ path }: Property, fields: readonly Member[]): Place | null {
  const [root, ...steps] = path.split('/')
  const field = fields.findIndex(({ name }) => name === root)
  if (field < 0) return null
  let { type } = fields[field]
  const within: number[] = []
  for (const step of steps) {
    if (type.kind !== 'struct') return null
    const member = type.members.findIndex(({ name }) => name === step)
    if (member < 0) return null
    within.push(member)
    type = type.members[member].type
  }
  return { field, path: within, type }
}

function toldOf(raw: unknown, type: LogicalType, property: Property): Value {
  if (raw === null || raw === undefined) return null
  switch (type.kind) {
    case 'date':
      return kept(keptDay(raw as number | bigint, type.of), property.field.type === 'date')
    case 'time':
      return kept(keptTime(raw as number | bigint, type.unit), property.field.type === 'time')
    case 'moment':
      return kept(
        keptMoment(raw as number | bigint, type.unit, type.zoned),
        property.field.type === 'datetime',
      )
    default:
      return valueOf(plainOf(raw, type), property)
  }
}

const kept = (value: Kept | string, isMeant: boolean): Value =>
  typeof value === 'string' || !isMeant ? null : value.value

/** A value as JSON would have it. */
function plainOf(raw: unknown, type: LogicalType): unknown {
  switch (type.kind) {
    case 'integer':
      return typeof raw === 'bigint' ? String(raw) : raw
    case 'decimal':
      return digitsOfUnits(BigInt(raw as number | bigint), type.scale)
    case 'float':
      return Number.isNaN(raw) ? null : raw
    case 'text':
      return raw instanceof Uint8Array ? textOfBytes(raw) : raw
    case 'list':
      return (raw as readonly unknown[]).map(one => plainOf(one, type.of))
    default:
      return raw
  }
}
