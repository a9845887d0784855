import { DAY_MS } from '../../table/calendar.ts'
import { DATE, INSTANT, INTEGER, NUMBER, parsed, parseField, WALL_TIME } from './parse-field.ts'
import { STYLES } from './survey-texts.ts'
import { textParser, type ParseText } from './text-style.ts'

/** What one text says; NaN: nothing of the kind. `zoned`: of a date with time, it has an offset. */
export interface ReadOne {
  readonly value: number
  readonly zoned: boolean
}

const encoder = new TextEncoder()
const NOTHING: ReadOne = { value: NaN, zoned: false }

/**
 * Reads one text as a field of such texts would be read: as programs write it, else in the first of the ways of writing
 * that a field is tried for. A day is a date with time at its beginning.
 */
export function readOne(text: string, type: 'number' | 'date' | 'time' | 'datetime'): ReadOne {
  const bytes = encoder.encode(text)
  const kind = parseField(bytes, 0, bytes.length)
  const { value } = parsed
  if (type === 'number' && (kind === INTEGER || kind === NUMBER)) return { value, zoned: false }
  if (type === 'date' && kind === DATE) return { value, zoned: false }
  if (type === 'datetime' && (kind === WALL_TIME || kind === INSTANT))
    return { value, zoned: kind === INSTANT }
  const trimmed = text.trim()
  for (const { parse, zoned } of parsers[type]) {
    const found = parse(trimmed)
    if (typeof found === 'number') return { value: found, zoned }
  }
  if (type !== 'datetime') return NOTHING
  const { value: day } = readOne(text, 'date')
  return { value: day * DAY_MS, zoned: false }
}

/** The ways of writing a type, in the order in which fields are tried for them. */
const parsersOf = (type: string): { parse: ParseText; zoned: boolean }[] =>
  STYLES.filter(style => style.type === type).map(style => ({
    parse: textParser(style),
    zoned: style.zoned ?? false,
  }))
const parsers = {
  number: parsersOf('number'),
  date: parsersOf('date'),
  time: parsersOf('time'),
  datetime: parsersOf('datetime'),
}
