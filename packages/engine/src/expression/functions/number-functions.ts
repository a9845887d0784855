import { many, scalar, type ScalarFunction } from './scalar-function.ts'

const whole = (): number => 0

/** To the nearest whole number, halves away from zero. */
const roundHalfAway = (x: number): number => Math.sign(x) * Math.floor(Math.abs(x) + 0.5)

const roundTo = (x: number, digits: number): number => {
  const factor = 10 ** Math.trunc(digits)
  return roundHalfAway(x * factor) / factor
}

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
