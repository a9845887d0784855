import { isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import { digitsOfUnits } from '../../table/digits.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import { decimalsOf } from '../rows/read-rows.ts'
import type { LogicalType } from './logical-type.ts'
import { durationText, intervalText, keptDay, keptMoment, keptTime, type Kept } from './moment.ts'

const decoder = new TextDecoder('utf-8', { ignoreBOM: true })
const strict = new TextDecoder('utf-8', { fatal: true })
/** Bytes up to which a value is told by its digits, and not by its size. */
const MOST_HEX = 64

/** Adds a raw value of a logical type; null where it has none. The one place where types of files become ours. */
export function addRaw(column: ValueColumn, type: LogicalType, raw: unknown): void {
  if (raw === null || raw === undefined) {
    column.addMissing()
    return
  }
  switch (type.kind) {
    case 'boolean':
      column.addBoolean(Boolean(raw))
      return
    case 'integer':
      if (typeof raw === 'bigint') column.addBig(raw)
      else column.addNumber(Number(raw), 0)
      return
    case 'float':
      addFloat(column, Number(raw), type.single)
      return
    case 'decimal':
      column.addDecimal(raw as number | bigint, type.scale)
      return
    case 'date':
      addKept(column, keptDay(raw as number | bigint, type.of), day => column.addDay(day))
      return
    case 'time':
      addKept(column, keptTime(raw as number | bigint, type.unit), ms => column.addClock(ms))
      return
    case 'moment': {
      const kind = type.zoned ? 'instant' : 'wall'
      addKept(column, keptMoment(raw as number | bigint, type.unit, type.zoned), ms =>
        column.addTime(ms, kind),
      )
      return
    }
    case 'list': {
      const list = raw as readonly unknown[]
      if (list.length === 0) column.addMissing()
      else if (type.of.kind === 'text' && !list.includes(null))
        column.addTags(list.map(one => plainText(type.of, one)))
      else column.addText(jsonOf(type, raw))
      return
    }
    case 'union': {
      const [which, value] = raw as readonly [number, unknown]
      addRaw(column, type.of[which] ?? { kind: 'nothing' }, value)
      return
    }
    case 'map':
    case 'struct':
      column.addText(jsonOf(type, raw))
      return
    case 'nothing':
      column.addMissing()
      return
    default: {
      const text = plainText(type, raw)
      if (text === '') column.addMissing()
      else column.addText(text)
    }
  }
}

/** A number of 32 bits is told by the digits that tell it from its neighbours, not by those of its double. */
function addFloat(column: ValueColumn, value: number, single: boolean): void {
  const told = single ? toldSingle(value) : value
  column.addNumber(told, decimalsOf(told))
}

/** The double that is written as shortly as a number of 32 bits can be told apart. */
export function toldSingle(value: number): number {
  if (!Number.isFinite(value) || Number.isSafeInteger(value)) return value
  for (let digits = 6; digits <= 9; digits++) {
    const short = Number(value.toPrecision(digits))
    if (Math.fround(short) === value) return short
  }
  return value
}

function addKept(column: ValueColumn, kept: Kept | string, add: (value: number) => void): void {
  if (typeof kept === 'string') {
    column.addText(kept)
    return
  }
  if (kept.finer) column.finer++
  add(kept.value)
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
      return String(raw)
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
export function jsonOf(type: LogicalType, raw: unknown): string {
  if (raw === null || raw === undefined) return 'null'
  switch (type.kind) {
    case 'boolean':
      return raw ? 'true' : 'false'
    case 'integer':
      return String(raw)
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
