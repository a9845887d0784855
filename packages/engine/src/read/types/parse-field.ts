import { DAY_MS, dayNumber, daysInMonth } from '../../table/calendar.ts'
import { isToldByDouble, plainNumber, SAFE_DIGITS } from '../../table/digits.ts'
import { decodeBytes } from '../../table/text-block.ts'

/** What a field's text can be taken for. */
export const TEXT = 0
export const INTEGER = 1
export const NUMBER = 2
export const BOOLEAN = 3
export const DATE = 4
/** Date and time without an offset: wall time. */
export const WALL_TIME = 5
/** Date and time with an offset: an instant. */
export const INSTANT = 6
/** A number that no double tells: its text says it. */
export const LONG = 7

/**
 * The value of the last field that was parsed, its digits after the point, whether it told a time finer than
 * milliseconds, and whether its writing follows from value and digits. Set by `parseField`.
 */
export const parsed = { value: 0, decimals: 0, finer: false, plain: true }

const SPACE = 32
const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57
/** Powers of ten that a double holds exactly. */
export const POWERS = Array.from({ length: 23 }, (_, i) => 10 ** i)

/** Tells what the bytes can be taken for and leaves the value in `parsed`. Spaces around are passed over. */
export function parseField(bytes: Uint8Array, start: number, end: number): number {
  const written = end - start
  while (start < end && bytes[start] === SPACE) start++
  while (end > start && bytes[end - 1] === SPACE) end--
  parsed.plain = written === end - start
  const first = bytes[start]
  if (isDigit(first) || first === 45 || first === 46) {
    if (end - start >= 10 && bytes[start + 4] === 45) {
      const time = parseTime(bytes, start, end)
      if (time !== TEXT) return time
    }
    return parseNumber(bytes, start, end)
  }
  return end - start <= 5 ? parseYesNo(bytes, start, end) : TEXT
}

/**
 * Up to 15 digits and a small power of ten are exact in a double, and so is their quotient's rounding; the rest goes
 * through the language's own parser. Leading zeros and whole numbers beyond 15 digits are names, not numbers.
 */
function parseNumber(bytes: Uint8Array, start: number, end: number): number {
  let at = start
  const negative = bytes[at] === 45
  if (negative) at++
  const firstDigit = at
  let mantissa = 0
  let digits = 0
  for (; at < end && isDigit(bytes[at]); at++, digits++) mantissa = mantissa * 10 + bytes[at] - 48
  const wholeDigits = at - firstDigit
  if (wholeDigits > 1 && bytes[firstDigit] === 48) return TEXT
  let decimals = 0
  if (at < end && bytes[at] === 46) {
    at++
    for (; at < end && isDigit(bytes[at]); at++, decimals++) mantissa = mantissa * 10 + bytes[at] - 48
    if (decimals === 0) return TEXT
    digits += decimals
  }
  if (digits === 0) return TEXT
  const exponent = at < end && (bytes[at] | 32) === 101
  if (exponent) {
    at++
    if (at < end && (bytes[at] === 43 || bytes[at] === 45)) at++
    if (at === end) return TEXT
    for (; at < end; at++) if (!isDigit(bytes[at])) return TEXT
  }
  if (at !== end) return TEXT
  parsed.decimals = decimals
  if (exponent || wholeDigits === 0 || digits > SAFE_DIGITS || (negative && mantissa === 0))
    parsed.plain = false
  if (!exponent && digits <= SAFE_DIGITS) parsed.value = (negative ? -mantissa : mantissa) / POWERS[decimals]
  else if (!parseLong(bytes, start, end)) return parsed.value === 0 ? TEXT : LONG
  return decimals === 0 && !exponent ? INTEGER : NUMBER
}

/**
 * Whether a double tells a number of many digits or with an exponent, as most do that programs write. Where it does not,
 * `parsed.value` is 1; 0 where the number is beyond what is kept.
 */
function parseLong(bytes: Uint8Array, start: number, end: number): boolean {
  const text = decodeBytes(bytes, start, end)
  const value = Number(text)
  parsed.value = value
  if (String(value) === text && (!Number.isInteger(value) || Number.isSafeInteger(value))) return true
  const digits = plainNumber(text)
  if (digits !== null && isToldByDouble(digits)) return true
  parsed.value = digits === null ? 0 : 1
  return false
}

function digitsAt(bytes: Uint8Array, at: number, count: number): number {
  let value = 0
  for (let i = at; i < at + count; i++) {
    if (!isDigit(bytes[i])) return -1
    value = value * 10 + bytes[i] - 48
  }
  return value
}

/** ISO 8601 calendar dates, alone or with a time of day. */
function parseTime(bytes: Uint8Array, start: number, end: number): number {
  const year = digitsAt(bytes, start, 4)
  const month = digitsAt(bytes, start + 5, 2)
  const day = digitsAt(bytes, start + 8, 2)
  if (year < 0 || bytes[start + 4] !== 45 || bytes[start + 7] !== 45) return TEXT
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return TEXT
  const days = dayNumber(year, month, day)
  parsed.finer = false
  if (end === start + 10) {
    parsed.value = days
    return DATE
  }
  let at = start + 11
  const mark = bytes[start + 10]
  if ((mark !== 84 && mark !== SPACE) || end < at + 5 || bytes[at + 2] !== 58) return TEXT
  const hour = digitsAt(bytes, at, 2)
  const minute = digitsAt(bytes, at + 3, 2)
  if (hour < 0 || hour > 23 || minute < 0 || minute > 59) return TEXT
  let ms = (hour * 60 + minute) * 60_000
  at += 5
  if (at < end && bytes[at] === 58) {
    const second = end >= at + 3 ? digitsAt(bytes, at + 1, 2) : -1
    if (second < 0 || second > 59) return TEXT
    ms += second * 1000
    at += 3
    if (at < end && bytes[at] === 46) {
      let unit = 100
      for (at++; at < end && isDigit(bytes[at]); at++, unit /= 10) {
        if (unit >= 1) ms += (bytes[at] - 48) * unit
        else if (bytes[at] !== 48) parsed.finer = true
      }
      if (unit === 100) return TEXT
    }
  }
  parsed.value = days * DAY_MS + ms
  if (at === end) return WALL_TIME
  return parseOffset(bytes, at, end)
}

function parseOffset(bytes: Uint8Array, at: number, end: number): number {
  if ((bytes[at] | 32) === 122) return at + 1 === end ? INSTANT : TEXT
  const sign = bytes[at] === 43 ? 1 : bytes[at] === 45 ? -1 : 0
  const colon = bytes[at + 3] === 58 ? 1 : 0
  if (sign === 0 || end !== at + 5 + colon) return TEXT
  const hours = digitsAt(bytes, at + 1, 2)
  const minutes = digitsAt(bytes, at + 3 + colon, 2)
  if (hours < 0 || hours > 23 || minutes < 0 || minutes > 59) return TEXT
  parsed.value -= sign * (hours * 60 + minutes) * 60_000
  return INSTANT
}

/** Truth values in any case. */
function parseYesNo(bytes: Uint8Array, start: number, end: number): number {
  const yes = isWord('true', bytes, start, end) || isWord('yes', bytes, start, end)
  if (!yes && !isWord('false', bytes, start, end) && !isWord('no', bytes, start, end)) return TEXT
  parsed.value = yes ? 1 : 0
  return BOOLEAN
}

function isWord(word: string, bytes: Uint8Array, start: number, end: number): boolean {
  if (end - start !== word.length) return false
  for (let i = 0; i < word.length; i++) if ((bytes[start + i] | 32) !== word.charCodeAt(i)) return false
  return true
}
