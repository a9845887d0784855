import { DAY_MS, dayNumber, daysInMonth } from '../../table/calendar.ts'
import type { FieldType } from '../../table/column.ts'
import { plainNumber, SAFE_DIGITS } from '../../table/digits.ts'

export type DateOrder = 'ymd' | 'dmy' | 'mdy'
export type Thousands = '' | ',' | '.' | ' ' | "'"

/** How a text says a value of a type. What is not given is as ISO 8601 and programs write it. */
export interface TextStyle {
  readonly type: Exclude<FieldType, 'text'>
  readonly decimal?: '.' | ','
  /** What parts groups of three digits; a space stands for any of the kinds of space. */
  readonly thousands?: Thousands
  readonly dateOrder?: DateOrder
  /** For `datetime`: texts carry an offset. */
  readonly zoned?: boolean
  /** For `tags`: what parts them. */
  readonly separator?: string
}

/** Reads one text, without spaces around it; null where it does not say such a value. Of a number it gives the nearest double. */
export type ParseText = (text: string) => number | string | null

/** Whether the last time that was read told more than milliseconds. */
export const lastRead = { finer: false }

export function textParser(style: TextStyle): ParseText {
  switch (style.type) {
    case 'integer':
    case 'number':
      return numberParser(style)
    case 'boolean':
      return parseBoolean
    case 'date':
      return text => parseDay(text, style.dateOrder ?? 'ymd')
    case 'time':
      return parseClock
    case 'datetime':
      return datetimeParser(style)
    case 'tags':
      return text => JSON.stringify(splitTags(text, style.separator ?? ','))
  }
}

const SPACES = ' \u00a0\u2009\u202f'
const ESCAPED: Readonly<Record<Thousands, string>> = {
  '': '',
  ',': ',',
  '.': '\\.',
  ' ': `[${SPACES}]`,
  "'": "['\u2019]",
}

/** A number as programs write it, of one that is written in the style; null where it is not. */
export function literalReader({ decimal = '.', thousands = '' }: TextStyle): (text: string) => string | null {
  const separator = ESCAPED[thousands]
  const plain = '(?:0|[1-9]\\d*)'
  const whole = separator ? `(?:[1-9]\\d{0,2}(?:${separator}\\d{3})+|${plain})` : plain
  const shape = new RegExp(`^-?(?:${whole})?(?:\\${decimal}\\d+)?(?:[eE][-+]?\\d{1,7})?$`)
  const separators = separator ? new RegExp(separator, 'g') : null
  return text => {
    if (!shape.test(text) || !/^-?[.,]?\d/.test(text)) return null
    const bare = separators ? text.replace(separators, '') : text
    const literal = decimal === ',' ? bare.replace(',', '.') : bare
    // Numbers of thousands of digits are none that are kept.
    const isSafe = literal.length <= SAFE_DIGITS && !/[eE]/.test(literal)
    return isSafe || plainNumber(literal) !== null ? literal : null
  }
}

/** The nearest double; that there may be none that tells the number is for others to see. */
function numberParser(style: TextStyle): ParseText {
  const literalIn = literalReader(style)
  return text => {
    const literal = literalIn(text)
    return literal === null ? null : Number(literal)
  }
}

const WORDS: ReadonlyMap<string, number> = new Map([
  ['true', 1],
  ['yes', 1],
  ['false', 0],
  ['no', 0],
])
const parseBoolean: ParseText = text => WORDS.get(text.toLowerCase()) ?? null

const DAY = /^(\d{1,4})([-/.])(\d{1,2})\2(\d{1,4})$/

function parseDay(text: string, order: DateOrder): number | null {
  const match = DAY.exec(text)
  if (!match) return null
  const [, a, , b, c] = match
  if (order === 'ymd') return a.length === 4 && c.length <= 2 ? dayOf(a, b, c) : null
  if (a.length > 2 || c.length !== 4) return null
  return order === 'dmy' ? dayOf(c, b, a) : dayOf(c, a, b)
}

function dayOf(y: string, m: string, d: string): number | null {
  const [year, month, day] = [Number(y), Number(m), Number(d)]
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null
  return dayNumber(year, month, day)
}

const CLOCK = /^(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?$/

const parseClock: (text: string) => number | null = text => {
  const match = CLOCK.exec(text)
  if (!match) return null
  const [hour, minute, second] = [Number(match[1]), Number(match[2]), Number(match[3] ?? 0)]
  if (hour > 23 || minute > 59 || second > 59) return null
  const told = match[4] ?? ''
  lastRead.finer = told.length > 3 && /[1-9]/.test(told.slice(3))
  const fraction = Number(told.padEnd(3, '0').slice(0, 3))
  return ((hour * 60 + minute) * 60 + second) * 1000 + fraction
}

const OFFSET = /^(.*?) ?(?:(Z|UTC)|([+-])(\d{2}):?(\d{2})?)$/i

function datetimeParser({ dateOrder = 'ymd', zoned = false }: TextStyle): ParseText {
  const wall = (text: string): number | null => {
    const parted = /^(\S+?)(?:[Tt]|,? +)(\d.*)$/.exec(text)
    if (!parted) return null
    const day = parseDay(parted[1], dateOrder)
    const clock = parseClock(parted[2])
    return day === null || clock === null ? null : day * DAY_MS + clock
  }
  if (!zoned) return wall
  return text => {
    const match = OFFSET.exec(text)
    if (!match) return null
    const local = wall(match[1])
    if (local === null || match[2]) return local
    const minutes = Number(match[4]) * 60 + Number(match[5] ?? 0)
    return local - (match[3] === '-' ? -1 : 1) * minutes * 60_000
  }
}

/** The tags of a text: parted, without spaces around them, none empty. */
const splitTags = (text: string, separator: string): string[] =>
  text
    .split(separator)
    .map(tag => tag.trim())
    .filter(Boolean)
