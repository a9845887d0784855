import { isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import { digitsOfUnits } from '../../table/digits.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import type { LogicalType } from './logical-type.ts'
import { durationText, intervalText, keptDay, keptMoment, keptTime, type Kept } from './moment.ts'

const decoder = new TextDecoder('utf-8', { ignoreBOM: true })
const strict = new TextDecoder('utf-8', { fatal: true })
/** Bytes up to which a value is told by its digits, and not by its size. */
const MOST_HEX = 64

/** Adds a raw value to a column; null where it has none. */
export type AddRaw = (column: ValueColumn, raw: unknown) => void

/** What adds raw values of a logical type to a column. The one place where types of files become ours. */
export function adderOf(type: LogicalType): AddRaw {
  const add = presentAdder(type)
  return (column, raw) => {
    if (raw === null || raw === undefined) column.addMissing()
    else add(column, raw)
  }
}

function presentAdder(type: LogicalType): AddRaw {
  switch (type.kind) {
    case 'boolean':
      return (column, raw) => column.addBoolean(Boolean(raw))
    case 'integer':
      return (column, raw) => {
        if (typeof raw === 'bigint') column.addBig(raw)
        else column.addNumber(raw as number, 0)
      }
    case 'float':
      return type.single
        ? (column, raw) => column.addDouble(toldSingle(raw as number))
        : (column, raw) => column.addDouble(raw as number)
    case 'decimal': {
      const { scale } = type
      return (column, raw) => column.addDecimal(raw as number | bigint, scale)
    }
    case 'text':
      return addText
    case 'date': {
      const { of } = type
      return (column, raw) => addKept(column, keptDay(raw as number | bigint, of), addDay)
    }
    case 'time': {
      const { unit } = type
      return (column, raw) => addKept(column, keptTime(raw as number | bigint, unit), addClock)
    }
    case 'moment': {
      const { unit, zoned } = type
      const add = zoned ? addInstant : addWallTime
      return (column, raw) => addKept(column, keptMoment(raw as number | bigint, unit, zoned), add)
    }
    case 'list':
      return (column, raw) => {
        const list = raw as readonly unknown[]
        if (list.length === 0) column.addMissing()
        else if (type.of.kind === 'text' && !list.includes(null))
          column.addTags(list.map(one => plainText(type.of, one)))
        else column.addText(jsonOf(type, raw))
      }
    case 'union': {
      const adders = type.of.map(adderOf)
      return (column, raw) => {
        const [which, value] = raw as readonly [number, unknown]
        adders[which]?.(column, value)
      }
    }
    case 'map':
    case 'struct':
      return (column, raw) => column.addText(jsonOf(type, raw))
    case 'nothing':
      return column => column.addMissing()
    default:
      return (column, raw) => addText(column, plainText(type, raw))
  }
}

function addText(column: ValueColumn, raw: unknown): void {
  if (typeof raw === 'string') {
    if (raw === '') column.addMissing()
    else column.addText(raw)
    return
  }
  const bytes = raw as Uint8Array
  if (bytes.length === 0) column.addMissing()
  else if (isUtf8(bytes)) column.addTextBytes(bytes, 0, bytes.length)
  else column.addText(textOfBytes(bytes))
}

/** Text must be UTF-8 wherever it lies in memory; most of it is ASCII. */
function isUtf8(bytes: Uint8Array): boolean {
  for (const byte of bytes) if (byte >= 128) return !textOfBytes(bytes).includes('\ufffd')
  return true
}

const addDay = (column: ValueColumn, day: number): void => column.addDay(day)
const addClock = (column: ValueColumn, ms: number): void => column.addClock(ms)
const addInstant = (column: ValueColumn, ms: number): void => column.addTime(ms, 'instant')
const addWallTime = (column: ValueColumn, ms: number): void => column.addTime(ms, 'wall')

/** The double that is written as shortly as a number of 32 bits can be told apart. */
function toldSingle(value: number): number {
  if (!Number.isFinite(value) || Number.isSafeInteger(value)) return value
  for (let digits = 6; digits <= 9; digits++) {
    const short = Number(value.toPrecision(digits))
    if (Math.fround(short) === value) return short
  }
  return value
}

function addKept(
  column: ValueColumn,
  kept: Kept | string,
  add: (column: ValueColumn, value: number) => void,
): void {
  if (typeof kept === 'string') {
    column.addText(kept)
    return
  }
  if (kept.finer) column.finer++
  add(column, kept.value)
}

/** A value that is text here, though perhaps not there. */
function plainText(type: LogicalType, raw: unknown): string {
  switch (type.kind) {
    case 'text':
      return typeof raw === 'string' ? raw : textOfBytes(raw as Uint8Array)
    case 'json':
      return textOfBytes(raw as Uint8Array)
    case 'bytes':
      return typeof raw === 'string' ? raw : bytesText(raw as Uint8Array)
    case 'uuid':
      return hexOf(raw as Uint8Array).replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-')
    case 'duration':
      return durationText(raw as number | bigint, type.unit)
    case 'interval':
      return intervalText(raw as readonly (number | bigint)[])
    default:
      return jsonOf(type, raw)
  }
}

/** Bytes by their hexadecimal digits, long ones by their size. */
const bytesText = (bytes: Uint8Array): string =>
  bytes.length <= MOST_HEX ? hexOf(bytes) : `${bytes.length} bytes`

/** Decodes UTF-8; a mark at its beginning is a part of it. */
export const textOfBytes = (bytes: Uint8Array): string => decoder.decode(bytes)

const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, byte => byte.toString(16).padStart(2, '0')).join('')

/** Whether all bytes are UTF-8 without characters that no text has. */
export function isText(bytes: Uint8Array): boolean {
  for (const byte of bytes) if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13) return false
  try {
    strict.decode(bytes)
    return true
  } catch {
    return false
  }
}

/** A value as JSON that keeps it: numbers by all their digits, times and bytes as texts; what JSON has no word for is a text too. */
function jsonOf(type: LogicalType, raw: unknown): string {
  if (raw === null || raw === undefined) return 'null'
  switch (type.kind) {
    case 'boolean':
      return raw ? 'true' : 'false'
    case 'integer':
      return `${raw as number | bigint}`
    case 'float': {
      const value = type.single ? toldSingle(Number(raw)) : Number(raw)
      return Number.isFinite(value) ? String(value) : JSON.stringify(String(value))
    }
    case 'decimal':
      return digitsOfUnits(BigInt(raw as number | bigint), type.scale)
    case 'date':
      return quoted(keptDay(raw as number | bigint, type.of), isoDay)
    case 'time':
      return quoted(keptTime(raw as number | bigint, type.unit), isoClock)
    case 'moment': {
      const { unit, zoned } = type
      return quoted(keptMoment(raw as number | bigint, unit, zoned), ms => {
        const text = isoTime(ms).replace(' ', 'T')
        return zoned ? `${text}Z` : text
      })
    }
    case 'list':
      return `[${(raw as readonly unknown[]).map(one => jsonOf(type.of, one)).join(',')}]`
    case 'map':
      return mapJson(type, raw as readonly (readonly [unknown, unknown])[])
    case 'struct':
      return `{${type.members
        .map(
          ({ name, type: of }, i) => `${JSON.stringify(name)}:${jsonOf(of, (raw as readonly unknown[])[i])}`,
        )
        .join(',')}}`
    case 'union': {
      const [which, value] = raw as readonly [number, unknown]
      return jsonOf(type.of[which] ?? { kind: 'nothing' }, value)
    }
    case 'json':
      return validJson(textOfBytes(raw as Uint8Array))
    case 'nothing':
      return 'null'
    default:
      return JSON.stringify(plainText(type, raw))
  }
}

const quoted = (kept: Kept | string, write: (value: number) => string): string =>
  JSON.stringify(typeof kept === 'string' ? kept : write(kept.value))

/** An object where its keys make one, else a list of pairs. */
function mapJson(
  { key, value }: { readonly key: LogicalType; readonly value: LogicalType },
  pairs: readonly (readonly [unknown, unknown])[],
): string {
  const names = pairs.map(([name]) => {
    const json = jsonOf(key, name)
    return json.startsWith('"') ? json : JSON.stringify(json)
  })
  if (new Set(names).size < names.length)
    return `[${pairs.map(([name, one]) => `[${jsonOf(key, name)},${jsonOf(value, one)}]`).join(',')}]`
  return `{${pairs.map(([, one], i) => `${names[i]}:${jsonOf(value, one)}`).join(',')}}`
}

/** A text that says to be JSON, as such; as a text where it is none. */
function validJson(text: string): string {
  try {
    JSON.parse(text)
    return text
  } catch {
    return JSON.stringify(text)
  }
}
