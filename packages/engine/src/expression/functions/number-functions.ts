import { plainNumber, roundedDigits } from '../../table/digits.ts'
import { many, scalar, type ScalarFunction } from './scalar-function.ts'

const whole = (): number => 0

/** To the nearest whole number, halves away from zero. Adding a half first would round up what is just below one. */
const roundHalfAway = (x: number): number => Math.sign(x) * Math.round(Math.abs(x)) + 0

/** So near to a half, scaling may have moved a number across it. */
const NEAR_A_HALF = 1e-6

/**
 * The nearest number with so many digits, halves of it as it is written: 1.005 is 1.01, though the double is a little less.
 * What scaling would lose, or bring to a half, is rounded by its digits.
 */
function roundTo(x: number, given: number): number {
  const digits = Math.trunc(given)
  if (!Number.isFinite(x)) return x
  if (digits > MOST_PLACES) return x
  if (digits < -MOST_PLACES) return 0
  const scaled = Math.abs(digits < 0 ? x / 10 ** -digits : x * 10 ** digits)
  const off = Math.abs(scaled - Math.floor(scaled) - 0.5)
  if (scaled < MOST_SCALED && off > NEAR_A_HALF) {
    const rounded = roundHalfAway(Math.sign(x) * scaled)
    return digits < 0 ? rounded * 10 ** -digits : rounded / 10 ** digits
  }
  const plain = plainNumber(String(x))
  return plain === null ? x : Number(roundedDigits(plain, digits))
}
const MOST_PLACES = 300
const MOST_SCALED = 2 ** 50

export const numberFunctions: readonly ScalarFunction[] = [
  scalar('math.abs(x)', ['number'], 'number', Math.abs, 'The number without its sign.'),
  scalar(
    'math.sign(x)',
    ['number'],
    'number',
    Math.sign,
    '-1, 0 or 1, as the number is negative, zero or positive.',
    whole,
  ),
  scalar('math.floor(x)', ['number'], 'number', Math.floor, 'The next whole number below.', whole),
  scalar('math.ceil(x)', ['number'], 'number', Math.ceil, 'The next whole number above.', whole),
  scalar(
    'math.trunc(x)',
    ['number'],
    'number',
    Math.trunc,
    'The number without what stands after its point.',
    whole,
  ),
  many(
    'math.round(x, digits)',
    [
      { takes: ['number'], gives: 'number', apply: roundHalfAway, decimals: whole },
      { takes: ['number', 'number'], gives: 'number', apply: roundTo, decimals: ([of]) => of },
    ],
    'The nearest number with so many digits after the point, none where they are left out; halves go away from zero.',
  ),
  scalar(
    'math.sqrt(x)',
    ['number'],
    'number',
    (x: number) => (x < 0 ? NaN : Math.sqrt(x)),
    'The square root; missing for negative numbers.',
    ([of]) => Math.max(2, of),
  ),
  scalar(
    'math.least(a, b)',
    ['number', 'number'],
    'number',
    (a: number, b: number) => (a < b ? a : b),
    'The smaller of two numbers.',
  ),
  scalar(
    'math.greatest(a, b)',
    ['number', 'number'],
    'number',
    (a: number, b: number) => (a > b ? a : b),
    'The larger of two numbers.',
  ),
]
