import type { ValueType } from '../problem.ts'

/** A value inside an expression; a missing number is NaN, a missing anything else null. */
export type Scalar = string | number | boolean | null

/** One way to call a function. */
export interface Overload {
  readonly takes: readonly ValueType[]
  readonly gives: ValueType
  /**
   * The result for present values; NaN or null: missing. With a missing argument the result is missing, a truth no. It is called once per distinct value where only one argument
   * is no constant and that one is text, else once a row.
   */
  readonly apply: (...args: never[]) => Scalar
  /** Digits after the point that a number result has, by those of the arguments; default: the most of them. */
  readonly decimals?: (given: readonly number[]) => number
}

/** A function of the dialect that works on single values. */
export interface ScalarFunction {
  readonly name: string
  /** Called behind a value and a point: `title.lower()`. */
  readonly method: boolean
  readonly overloads: readonly Overload[]
  /** How it is written, with names for its arguments. */
  readonly written: string
  /** What it gives, in one sentence. */
  readonly help: string
}

/** A function of one way to call it. */
export function scalar(
  written: string,
  takes: readonly ValueType[],
  gives: ValueType,
  apply: (...args: never[]) => Scalar,
  help: string,
  decimals?: Overload['decimals'],
): ScalarFunction {
  return many(written, [{ takes, gives, apply, decimals }], help)
}

/** A function of several ways to call it. `written` starts with a point for methods. */
export function many(written: string, overloads: readonly Overload[], help: string): ScalarFunction {
  const name = written.slice(0, written.indexOf('(')).replace(/^\./, '')
  return { name, method: written.startsWith('.'), overloads, written, help }
}
