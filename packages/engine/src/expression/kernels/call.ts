import type { Overload, Scalar } from '../functions/scalar-function.ts'
import type { ValueType } from '../problem.ts'
import {
  ChunkTexts,
  GrowingDictionary,
  NO_TEXT,
  NO_TRUTH,
  numberVector,
  textVector,
  truthVector,
  type Kernel,
  type TextVector,
  type Vector,
} from './vector.ts'

/** Dictionaries up to this many texts, or pairs of them, are worked out once a text and remembered. */
const MOST_REMEMBERED = 1 << 21

type Apply = (...args: Scalar[]) => Scalar

/** Calls a function of single values: once per distinct text where that is enough, else once a row. */
export function callFunction(type: ValueType, apply: Overload['apply'], args: readonly Kernel[]): Kernel {
  const varying = args.filter(arg => !arg.constant)
  const texts = varying.filter((arg): arg is Kernel<TextVector> => arg.out.kind === 'text')
  const few = texts.length === varying.length && texts.length >= 1 && texts.length <= 2 && isFew(texts)
  const ready = apply as unknown as Apply
  return few ? callPerText(type, ready, args, texts) : callPerRow(type, ready, args)
}

const boundOf = (texts: readonly Kernel<TextVector>[]): number =>
  texts.reduce((product, { out }) => product * out.dictionary.bound, 1)

const isFew = (texts: readonly Kernel<TextVector>[]): boolean => boundOf(texts) <= MOST_REMEMBERED

/** Reads one row of a vector as a value; null where it is missing. */
function readerOf(vector: Vector): (i: number) => Scalar {
  switch (vector.kind) {
    case 'number':
      return i => (Number.isNaN(vector.values[i]) ? null : vector.values[i])
    case 'truth':
      return i => (vector.values[i] === NO_TRUTH ? null : vector.values[i] === 1)
    case 'text':
      return i => (vector.codes[i] === NO_TEXT ? null : vector.dictionary.textOf(vector.codes[i]))
  }
}

/** A function over readers, missing where an argument is. Written out by count: no list is made a row. */
function applierOf(apply: Apply, args: readonly Kernel[]): (i: number) => Scalar {
  const [a, b, c] = args.map(arg => readerOf(arg.out))
  switch (args.length) {
    case 1:
      return i => {
        const x = a(i)
        return x === null ? null : apply(x)
      }
    case 2:
      return i => {
        const [x, y] = [a(i), b(i)]
        return x === null || y === null ? null : apply(x, y)
      }
    default:
      return i => {
        const [x, y, z] = [a(i), b(i), c(i)]
        return x === null || y === null || z === null ? null : apply(x, y, z)
      }
  }
}

function callPerRow(type: ValueType, apply: Apply, args: readonly Kernel[]): Kernel {
  const value = applierOf(apply, args)
  const runArgs = (from: number, to: number): void => {
    for (const arg of args) arg.run(from, to)
  }
  if (type === 'text' || type === 'tags') {
    const dictionary = new ChunkTexts()
    const out = textVector(dictionary)
    return {
      out,
      run(from, to) {
        runArgs(from, to)
        for (let i = 0; i < to - from; i++) {
          const text = value(i)
          out.codes[i] = text === null ? NO_TEXT : i
          if (text !== null) dictionary.texts[i] = String(text)
        }
      },
    }
  }
  const out = type === 'boolean' ? truthVector() : numberVector()
  return {
    out,
    run(from, to) {
      runArgs(from, to)
      if (out.kind === 'truth') for (let i = 0; i < to - from; i++) out.values[i] = truthOf(value(i))
      else for (let i = 0; i < to - from; i++) out.values[i] = numberOf(value(i))
    },
  }
}

/** What is asked of a missing value is answered with no. */
const truthOf = (value: Scalar): number => (value === true ? 1 : 0)
const numberOf = (value: Scalar): number => (value === null ? NaN : Number(value))

/** One or two texts vary: results are kept by the text's number, or by both numbers. */
function callPerText(
  type: ValueType,
  apply: Apply,
  args: readonly Kernel[],
  texts: readonly Kernel<TextVector>[],
): Kernel {
  const value = applierOf(apply, args)
  const [first, second] = texts
  const size = boundOf(texts)
  const stride = second ? second.out.dictionary.bound : 1
  const known = new Uint8Array(size)
  const dictionary = new GrowingDictionary(size)
  const out =
    type === 'boolean'
      ? truthVector()
      : type === 'text' || type === 'tags'
        ? textVector(dictionary)
        : numberVector()
  const remembered =
    out.kind === 'truth'
      ? new Uint8Array(size)
      : out.kind === 'text'
        ? new Uint32Array(size)
        : new Float64Array(size)
  const into = out.kind === 'text' ? out.codes : out.values
  const missing = out.kind === 'truth' ? 0 : out.kind === 'text' ? NO_TEXT : NaN
  const encode = (result: Scalar): number => {
    if (result === null) return missing
    return out.kind === 'text' ? dictionary.codeOf(String(result)) : Number(result)
  }
  return {
    out,
    run(from, to) {
      first.run(from, to)
      second?.run(from, to)
      const a = first.out.codes
      const b = second?.out.codes ?? null
      for (let i = 0; i < to - from; i++) {
        if (a[i] === NO_TEXT || (b && b[i] === NO_TEXT)) {
          into[i] = missing
          continue
        }
        const at = b ? a[i] * stride + b[i] : a[i]
        if (known[at] === 0) {
          known[at] = 1
          remembered[at] = encode(value(i))
        }
        into[i] = remembered[at]
      }
    },
  }
}
