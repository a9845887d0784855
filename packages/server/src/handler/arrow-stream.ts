import {
  bool,
  columnFromArray,
  dateDay,
  decimal,
  dictionary,
  float64,
  int64,
  list,
  tableFromColumns,
  tableToIPC,
  timeMillisecond,
  timestamp,
  TimeUnit,
  utf8,
  type Column,
  type DataType,
} from '@uwdata/flechette'
import type { Answered } from '../engine/engine.ts'
import { ARROW_STREAM } from '../tables/answer-formats.ts'
import type { Property } from '../tables/served-table.ts'

/** Whether whoever asks takes rows as an Arrow stream. */
export const takesArrow = ({ headers }: Request): boolean =>
  (headers.get('accept') ?? '')
    .split(',')
    .map(one => one.split(';').map(part => part.trim().toLowerCase()))
    .some(([type, ...params]) => type === ARROW_STREAM && !params.some(param => /^q=0(\.0*)?$/.test(param)))

/** The rows in one batch; a column holds what its property says, or texts where some value of it cannot be told so. */
export function arrowStream(
  properties: readonly Property[],
  rows: readonly (readonly Answered[])[],
): Uint8Array<ArrayBuffer> {
  // By pairs: names that are numbers would come first among an object's keys.
  const columns = properties.map((property, place): [string, Column<unknown>] => [
    property.name,
    columnOf(
      property,
      rows.map(row => row[place]),
    ),
  ])
  const bytes = tableToIPC(tableFromColumns(columns), { format: 'stream' })
  if (!bytes) throw new Error('Arrow wrote nothing.')
  return bytes as Uint8Array<ArrayBuffer>
}

type Told = string | number | bigint | boolean | readonly string[]

/** How a property is laid; `told` answers undefined for what cannot be told so. */
interface Layout {
  readonly type: DataType
  readonly told: (value: NonNullable<Answered>) => Told | undefined
}

function columnOf(property: Property, values: readonly Answered[]): Column<unknown> {
  const { type, told } = layoutOf(property)
  const made = values.map(value => (value === null ? null : told(value)))
  if (property.type !== 'text' && !made.includes(undefined)) return columnFromArray(made as unknown[], type)
  const texts = values.map(value => (value === null ? null : plain(value)))
  return columnFromArray(texts as unknown[], doRecur(texts) ? dictionary(utf8()) : utf8())
}

/** Texts that recur so often stand once. */
const RECUR_TIMES = 4

const doRecur = (texts: readonly (string | null)[]): boolean =>
  texts.length >= RECUR_TIMES && new Set(texts).size * RECUR_TIMES <= texts.length

function layoutOf({ type, edm, precision, scale = 0, wall }: Property): Layout {
  switch (type) {
    case 'boolean':
      return { type: bool(), told: value => (typeof value === 'boolean' ? value : undefined) }
    case 'integer':
      return { type: int64(), told: wholeOf }
    case 'number':
      return edm === 'Decimal' && precision !== undefined && precision <= MOST_PRECISION && scale >= 0
        ? { type: decimal(precision, scale), told: value => unitsOf(value, scale) }
        : { type: float64(), told: value => (typeof value === 'number' ? value : undefined) }
    case 'date':
      return { type: dateDay(), told: value => momentOf(`${plain(value)}T00:00:00Z`) }
    case 'time':
      return { type: timeMillisecond(), told: value => momentOf(`1970-01-01T${plain(value)}Z`) }
    case 'moment':
      return {
        type: timestamp(TimeUnit.MILLISECOND, wall ? null : 'UTC'),
        told: value => momentOf(plain(value)),
      }
    case 'tags':
      return { type: list(utf8()), told: value => (typeof value === 'object' ? value : undefined) }
    default:
      return { type: utf8(), told: plain }
  }
}

const plain = (value: NonNullable<Answered>): string => String(value)

/** Digits that a decimal of 128 bits has room for. */
const MOST_PRECISION = 38

const wholeOf = (value: NonNullable<Answered>): bigint | undefined =>
  /^-?\d+$/.test(plain(value)) && fits(BigInt(plain(value))) ? BigInt(plain(value)) : undefined

const fits = (value: bigint): boolean => BigInt.asIntN(64, value) === value

/** Units of the last decimal that the column has. */
function unitsOf(value: NonNullable<Answered>, scale: number): bigint | undefined {
  // Small ones would be written with an exponent.
  const text = typeof value === 'number' ? value.toFixed(scale) : plain(value)
  if (typeof value === 'number' && Number(text) !== value) return undefined
  const parts = /^(-?)(\d+)(?:\.(\d+))?$/.exec(text)
  if (!parts) return undefined
  const [, minus, whole, fraction = ''] = parts
  if (fraction.length > scale) return undefined
  return BigInt(`${minus}${whole}${fraction.padEnd(scale, '0')}`)
}

function momentOf(text: string): number | undefined {
  const ms = Date.parse(text)
  return Number.isNaN(ms) ? undefined : ms
}
