import { hasBit, type Bits } from '../table/bits.ts'
import type { NumberColumn } from '../table/column.ts'
import type { NumberWriting } from '../table/show-number.ts'
import type { Show } from '../table/shown-text.ts'
import { fold } from './fold.ts'
import { textSteps, type WordStates } from './word-states.ts'

/** From here on numbers are written with an exponent. */
const TOO_LARGE = 1e15
/** Scaled numbers below this lie so close to what they are written as that no rounding can go the other way. */
const MOST_SCALED = 2 ** 51
/** Digits that are read at once. */
const AT_ONCE = 3
const GROUP = 1000
const MILLION = GROUP * GROUP
/** The unit of the sixth group, the first of the largest numbers. */
const MOST_GROUP = GROUP ** 5
/** Numbers below this are reckoned with as whole numbers of 32 bits, which is twice as quick. */
const SMALL = 2 ** 31

/** How a column's numbers are written, folded: digits by three, what stands between, before and behind them. */
export interface WrittenNumbers {
  readonly by: 'number'
  readonly writing: NumberWriting
  /** A value times this is a whole number. */
  readonly scale: number
}

/** The writing of numbers by their digits, if that is what is shown; null where it is not. */
export function writtenNumbers(writing: NumberWriting, show: Show): WrittenNumbers | null {
  const scale = 10 ** writing.decimals
  const numbers: WrittenNumbers = { by: 'number', writing, scale }
  const probes = [...PROBES, ...PROBES.map(whole => whole * scale)]
  return probes.every(whole => {
    const value = whole / scale
    return (
      Math.abs(value) >= TOO_LARGE ||
      Math.abs(whole) >= MOST_SCALED ||
      textOf(numbers, whole) === fold(show(value))
    )
  })
    ? numbers
    : null
}

const PROBES = [0, 1, 9, 10, 12, 99, 100, 345, 999, 1000, 1234, 9999, 10_000, 12_345, 99_999, 123_456]
  .concat([
    1_000_000, 1_234_567, 12_345_678, 123_456_789, 1_000_000_000, 1_234_567_890_123, 98_765_432_109_876,
  ])
  .flatMap(whole => (whole ? [whole, -whole] : [whole]))

/** What is shown of a whole number divided by the scale. */
function textOf({ writing, scale }: WrittenNumbers, whole: number): string {
  const size = Math.abs(whole)
  const units = Math.floor(size / scale)
  const fraction =
    writing.decimals > 0 ? writing.point + digits(writing, size - units * scale, writing.decimals) : ''
  let text = ''
  let rest = units
  for (; rest >= GROUP; rest = Math.floor(rest / GROUP)) text = innerText(writing, rest % GROUP) + text
  const { before, behind } = whole < 0 ? writing.negative : writing.positive
  return fold(before + digits(writing, rest, 1) + text + fraction + behind)
}

function digits({ numerals }: NumberWriting, value: number, least: number): string {
  let text = ''
  for (const digit of String(value).padStart(least, '0')) text += numerals[Number(digit)]
  return text
}

const innerText = (writing: NumberWriting, value: number): string =>
  writing.group + digits(writing, value, AT_ONCE)

/** Whether rows `from` up to `to` are written so: whole when scaled, and not too large. */
export function numbersFit(
  { scale }: WrittenNumbers,
  column: NumberColumn,
  from: number,
  to: number,
): boolean {
  const { values, missing } = column
  for (let row = from; row < to; row++) {
    const value = values[row]
    const fits =
      Math.round(value * scale) / scale === value &&
      value < TOO_LARGE &&
      value > -TOO_LARGE &&
      value * scale < MOST_SCALED &&
      value * scale > -MOST_SCALED &&
      // Minus nought has a sign in some writings.
      (value !== 0 || 1 / value > 0)
    if (!fits && !(missing && hasBit(missing, row))) return false
  }
  return true
}

/** A word's way through all that numbers are made of. */
export interface NumberSteps {
  readonly by: 'number'
  readonly scale: number
  readonly found: number
  /** States after what stands before a number. */
  readonly positive: number
  readonly negative: number
  /** Over the first digits before the point, one to three, and over each group of three that follows. */
  readonly first: Uint8Array
  readonly inner: Uint8Array
  /** Over the digits behind the point: one to three with the point, and each group of three that follows. */
  readonly point: Uint8Array
  readonly behind: Uint8Array
  /** How many digits there are behind the point, in groups of three. */
  readonly groups: number
  /** By state: whether the word is found when what stands behind the number was read too. */
  readonly positiveEnds: Uint8Array
  readonly negativeEnds: Uint8Array
}

export function numberSteps({ writing, scale }: WrittenNumbers, states: WordStates): NumberSteps {
  const { found } = states
  const { decimals } = writing
  const groups = Math.ceil(decimals / AT_ONCE)
  const ends = (text: string): Uint8Array =>
    Uint8Array.from({ length: found + 1 }, (_, state) => Number(states.after(state, fold(text)) === found))
  return {
    by: 'number',
    scale,
    found,
    positive: states.after(0, fold(writing.positive.before)),
    negative: states.after(0, fold(writing.negative.before)),
    first: textSteps(states, GROUP, group => fold(digits(writing, group, 1))),
    inner: textSteps(states, GROUP, group => fold(innerText(writing, group))),
    point: textSteps(states, GROUP, group =>
      fold(writing.point + digits(writing, group, decimals - AT_ONCE * (groups - 1))),
    ),
    behind: textSteps(states, GROUP, group => fold(digits(writing, group, AT_ONCE))),
    groups,
    positiveEnds: ends(writing.positive.behind),
    negativeEnds: ends(writing.negative.behind),
  }
}

/**
 * Sets the bits of the rows whose text holds the word: those of `values`, the first being row `from`, a multiple of 32.
 * Looks at those in `asked` only. Some 20 ns a value.
 */
export function findNumbers(
  steps: NumberSteps,
  values: Float64Array,
  asked: Bits | null,
  into: Bits,
  from: number,
): void {
  const { scale, positive, negative, first, inner, point, behind, groups, positiveEnds, negativeEnds } = steps
  const unscale = 1 / scale
  for (let start = 0; start < values.length; start += 32) {
    const place = (from + start) >>> 5
    const rows = asked ? asked[place] : -1
    if (rows === 0) continue
    const end = Math.min(values.length, start + 32)
    let hits = 0
    for (let i = start; i < end; i++) {
      if (((rows >>> (i - start)) & 1) === 0) continue
      const value = values[i]
      const scaled = Math.abs(value) * scale + 0.5
      let state = value < 0 ? negative : positive
      // A half more, and the product that stands for a quotient never comes out below a whole number that it should be.
      if (scaled < SMALL) {
        const whole = scaled | 0
        const units = ((whole + 0.5) * unscale) | 0
        const rest = (whole - Math.imul(units, scale)) | 0
        if (units < GROUP) state = first[state * GROUP + units]
        else if (units < MILLION) state = twoGroups(first, inner, state, units)
        else state = manyGroups(first, inner, state, units, 1)
        if (groups === 1) state = point[state * GROUP + rest]
        else if (groups === 2) state = twoGroups(point, behind, state, rest)
        else if (groups === 3) state = threeGroups(point, behind, state, rest)
        else if (groups > 3) state = manyGroups(point, behind, state, rest, groups)
      } else {
        const whole = Math.floor(scaled)
        const units = Math.floor((whole + 0.5) * unscale)
        const rest = whole - units * scale
        if (units < GROUP) state = first[state * GROUP + (units | 0)]
        else if (units < MILLION) state = twoGroups(first, inner, state, units | 0)
        else state = manyGroups(first, inner, state, units, 1)
        if (groups === 3) state = threeGroups(point, behind, state, rest | 0)
        else if (groups > 0) state = manyGroups(point, behind, state, rest, groups)
      }
      hits |= (value < 0 ? negativeEnds : positiveEnds)[state] << (i - start)
    }
    into[place] |= hits
  }
}

function twoGroups(first: Uint8Array, second: Uint8Array, state: number, digits: number): number {
  const above = (digits / GROUP) | 0
  return second[first[state * GROUP + above] * GROUP + digits - above * GROUP]
}

function threeGroups(first: Uint8Array, inner: Uint8Array, state: number, digits: number): number {
  const above = (digits / MILLION) | 0
  return twoGroups(inner, inner, first[state * GROUP + above], (digits - above * MILLION) | 0)
}

/** The state after groups of three digits; at least `least` of them. */
function manyGroups(
  first: Uint8Array,
  inner: Uint8Array,
  state: number,
  digits: number,
  least: number,
): number {
  let above = MOST_GROUP
  let groups = 5
  while (groups >= least && above > digits) {
    above /= GROUP
    groups--
  }
  let rest = digits
  let steps = first
  for (; above >= 1; above /= GROUP) {
    const group = Math.floor(rest / above)
    rest -= group * above
    state = steps[state * GROUP + group]
    steps = inner
  }
  return state
}
