import { textAt, textCount, type TextBlock } from './text-block.ts'
import type { Work } from '../work/work.ts'

/**
 * Numbers as their digits, for those that no double tells apart. Plain digits are written in one way only: `-12.5`,
 * without exponent, without zeros that say nothing, never `-0`.
 */

const LITERAL = /^([-+]?)(\d*)(?:\.(\d*))?(?:[eE]([-+]?\d{1,7}))?$/
/** More digits than this are no number that anybody reckons with, and cost more than they tell. */
const MOST_DIGITS = 1000

/** A number as a program writes it (`1e3`, `007`, `.50`) in plain digits; null where the text is none, or is too long. */
export function plainNumber(text: string): string | null {
  if (text.length > MOST_DIGITS + 20) return null
  const match = LITERAL.exec(text)
  if (!match) return null
  const [, sign, whole, fraction = '', power = '0'] = match
  const digits = whole + fraction
  if (digits === '') return null
  return placed(sign === '-', digits, whole.length + Number(power))
}

/** Whole units of a number's last place in plain digits: `1250n` with two decimals is `12.5`. A negative scale appends zeros. */
export function digitsOfUnits(units: bigint, scale: number): string {
  const negative = units < 0n
  const digits = String(negative ? -units : units)
  return placed(negative, digits, digits.length - scale) ?? String(units)
}

/** `point`: digits before the point; it may lie outside of them. */
function placed(negative: boolean, digits: string, point: number): string | null {
  let from = 0
  while (from < digits.length && digits[from] === '0') from++
  let to = digits.length
  while (to > from && digits[to - 1] === '0') to--
  if (from === to) return '0'
  const significant = digits.slice(from, to)
  const whole = point - from
  if (Math.max(whole, significant.length - whole) > MOST_DIGITS) return null
  const sign = negative ? '-' : ''
  if (whole <= 0) return `${sign}0.${'0'.repeat(-whole)}${significant}`
  if (whole >= significant.length) return sign + significant.padEnd(whole, '0')
  return `${sign}${significant.slice(0, whole)}.${significant.slice(whole)}`
}

/** Up to here a whole number means all of its digits; beyond, it is known by the shortest that tell it. */
const MOST_EXACT = 2 ** 64

/** The plain digits that a double means; null where it is none that is finite. */
export function digitsOfDouble(value: number): string | null {
  if (Number.isInteger(value) && Math.abs(value) <= MOST_EXACT) return String(BigInt(value))
  return Number.isFinite(value) ? plainNumber(String(value)) : null
}

/** Digits that a number in plain digits has behind the point. */
export function decimalsOfDigits(digits: string): number {
  const point = digits.indexOf('.')
  return point < 0 ? 0 : digits.length - point - 1
}

/** Digits after the point that a number is written with, at most 15. */
export function decimalsOf(value: number): number {
  if (!Number.isFinite(value)) return 0
  const text = String(value)
  const exponent = text.indexOf('e')
  if (exponent >= 0) return Math.min(15, Math.max(0, -Number(text.slice(exponent + 1))))
  const point = text.indexOf('.')
  return point < 0 ? 0 : Math.min(15, text.length - point - 1)
}

/** Up to so many digits, every number has a double of its own. */
export const SAFE_DIGITS = 15
/** So many tell any two doubles apart. */
const MOST_OF_A_DOUBLE = 17

/** Digits from the first to the last that is not zero. */
const significantDigits = (digits: string): string =>
  digits.replace('-', '').replace('.', '').replace(/^0+/, '').replace(/0+$/, '')

/**
 * Whether the nearest double, written with as many digits, is the number again, so that nothing is lost by keeping that
 * instead. Whole numbers beyond 2^53 and decimals of more than 17 digits are mostly not.
 */
export function isToldByDouble(digits: string): boolean {
  const significant = significantDigits(digits)
  const value = Number(digits)
  const size = Math.abs(value)
  // Near the ends of their range doubles have fewer digits, or none.
  if (significant.length <= SAFE_DIGITS && ((size > 1e-290 && size < 1e290) || significant === ''))
    return true
  if (significant.length > MOST_OF_A_DOUBLE) return false
  if (!Number.isFinite(value) || (Number.isInteger(value) && !Number.isSafeInteger(value))) return false
  return plainNumber(value.toPrecision(Math.max(1, significant.length))) === digits
}

/** Sorts behind every key. */
export const BEYOND_KEYS = 'q'
const ZERO_KEY = 'o'
/** Larger than any count of digits before the point, so that sums with it have four digits. */
const MIDDLE = 5000

/**
 * A text that sorts, letter by letter, as the number does among numbers: sign, place of the first digit, digits. Of a
 * negative number each digit is turned round, and a letter behind them makes the longer one the smaller.
 */
export function digitKey(digits: string): string {
  if (digits === '0') return ZERO_KEY
  const negative = digits.startsWith('-')
  const bare = negative ? digits.slice(1) : digits
  const point = bare.indexOf('.')
  const whole = point < 0 ? bare.length : point
  const fraction = point < 0 ? '' : bare.slice(point + 1)
  const zeros = /^0*/.exec(fraction)?.[0].length ?? 0
  const place = MIDDLE + (bare.startsWith('0') ? -zeros : whole)
  const significant = significantDigits(bare)
  return negative ? `m${turned(String(place))}${turned(significant)}z` : `p${place}${significant}`
}

const turned = (digits: string): string => digits.replace(/\d/g, digit => String(9 - Number(digit)))

/** Less than 0 where the first of two numbers in plain digits is the smaller one, 0 where they are the same. */
export function compareDigits(a: string, b: string): number {
  const [one, other] = [digitKey(a), digitKey(b)]
  return one < other ? -1 : one > other ? 1 : 0
}

/** A block of the keys of all its numbers. */
export function* digitKeys(block: TextBlock): Work<TextBlock> {
  const count = textCount(block)
  const offsets = new Uint32Array(count + 1)
  let bytes = new Uint8Array(Math.max(64, count * 24))
  const encoder = new TextEncoder()
  for (let i = 0; i < count; i++) {
    const text = textAt(block, i)
    const key = text === '' ? '' : digitKey(text)
    const at = offsets[i]
    if (at + key.length > bytes.length) {
      const larger = new Uint8Array(bytes.length * 2 + key.length)
      larger.set(bytes)
      bytes = larger
    }
    offsets[i + 1] = at + encoder.encodeInto(key, bytes.subarray(at)).written
    if ((i & 4095) === 4095) yield
  }
  return { bytes: bytes.slice(0, offsets[count]), offsets }
}

/** A number in plain digits as whole units of its last of `scale` decimals; it must not have more. */
export const unitsOfDigits = (digits: string, scale: number): bigint =>
  BigInt(digits.replace('.', '')) * 10n ** BigInt(scale - decimalsOfDigits(digits))

/** What is left of one number when another is taken from it. */
export function differenceOfDigits(a: string, b: string): string {
  const scale = Math.max(decimalsOfDigits(a), decimalsOfDigits(b))
  return digitsOfUnits(unitsOfDigits(a, scale) - unitsOfDigits(b, scale), scale)
}

/** A number with so many digits behind the point, rounded half away from zero where it has more. */
export function withDecimals(digits: string, decimals: number): string {
  const rounded = roundedDigits(digits, decimals)
  const missing = decimals - decimalsOfDigits(rounded)
  if (missing === 0) return rounded
  return (rounded.includes('.') ? rounded : `${rounded}.`) + '0'.repeat(missing)
}

/** The nearest number with at most so many digits behind the point, halves away from zero; below zero: tens, hundreds, … */
export function roundedDigits(digits: string, decimals: number): string {
  const has = decimalsOfDigits(digits)
  if (has <= decimals) return digits
  const step = 10n ** BigInt(has - decimals)
  const units = unitsOfDigits(digits, has)
  const rounded = (units < 0n ? units - step / 2n : units + step / 2n) / step
  return digitsOfUnits(rounded, decimals)
}
