import type { Comparison } from '../typed.ts'
import {
  ChunkTexts,
  NO_TEXT,
  numberVector,
  textVector,
  truthVector,
  type Kernel,
  type NumberVector,
  type TextVector,
  type TruthVector,
  filling,
} from './vector.ts'

export function not(of: Kernel<TruthVector>): Kernel {
  const out = truthVector()
  return {
    out,
    run(from, to) {
      of.run(from, to)
      const [truths, into] = [of.out.values, out.values]
      for (let i = 0; i < to - from; i++) into[i] = truths[i] === 1 ? 0 : 1
    },
  }
}

export function both(left: Kernel<TruthVector>, right: Kernel<TruthVector>): Kernel {
  const out = truthVector()
  return {
    out,
    run(from, to) {
      left.run(from, to)
      right.run(from, to)
      const [a, b, into] = [left.out.values, right.out.values, out.values]
      for (let i = 0; i < to - from; i++) into[i] = a[i] & b[i] & 1
    },
  }
}

export function either(left: Kernel<TruthVector>, right: Kernel<TruthVector>): Kernel {
  const out = truthVector()
  return {
    out,
    run(from, to) {
      left.run(from, to)
      right.run(from, to)
      const [a, b, into] = [left.out.values, right.out.values, out.values]
      for (let i = 0; i < to - from; i++) into[i] = (a[i] | b[i]) & 1
    },
  }
}

type Compare = (a: Float64Array, b: Float64Array, into: Uint8Array, count: number) => void

/** A loop each, so that every one is compiled for its own comparison; all are false where a side is missing. */
const COMPARE: Readonly<Record<Comparison, Compare>> = {
  '==': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] === b[i] ? 1 : 0
  },
  '!=': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] < b[i] || a[i] > b[i] ? 1 : 0
  },
  '<': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] < b[i] ? 1 : 0
  },
  '<=': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] <= b[i] ? 1 : 0
  },
  '>': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] > b[i] ? 1 : 0
  },
  '>=': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] >= b[i] ? 1 : 0
  },
}

export function compare(
  operator: Comparison,
  left: Kernel<NumberVector>,
  right: Kernel<NumberVector>,
): Kernel {
  const out = truthVector()
  const loop = COMPARE[operator]
  return {
    out,
    run(from, to) {
      left.run(from, to)
      right.run(from, to)
      loop(left.out.values, right.out.values, out.values, to - from)
    },
  }
}

/** One of two values; a condition that is missing counts as no. */
export function choose(condition: Kernel<TruthVector>, yes: Kernel, no: Kernel): Kernel {
  const run = (from: number, to: number): void => {
    condition.run(from, to)
    yes.run(from, to)
    no.run(from, to)
  }
  const when = condition.out.values
  // The checker has made sure that both sides are of one type.
  switch (yes.out.kind) {
    case 'number':
      return chooseNumber(when, yes.out, filling(no, 'number').out, run)
    case 'truth':
      return chooseTruth(when, yes.out, filling(no, 'truth').out, run)
    case 'text': {
      const fixed = yes.constant === true && no.constant === true
      return chooseText(when, yes.out, filling(no, 'text').out, run, fixed)
    }
  }
}

type Run = (from: number, to: number) => void

function chooseNumber(when: Uint8Array, yes: NumberVector, no: NumberVector, run: Run): Kernel {
  const out = numberVector()
  return {
    out,
    run(from, to) {
      run(from, to)
      const [a, b, into] = [yes.values, no.values, out.values]
      for (let i = 0; i < to - from; i++) into[i] = when[i] === 1 ? a[i] : b[i]
    },
  }
}

function chooseTruth(when: Uint8Array, yes: TruthVector, no: TruthVector, run: Run): Kernel {
  const out = truthVector()
  return {
    out,
    run(from, to) {
      run(from, to)
      const [a, b, into] = [yes.values, no.values, out.values]
      for (let i = 0; i < to - from; i++) into[i] = when[i] === 1 ? a[i] : b[i]
    },
  }
}

/** Beyond this the codes of both sides no longer fit into one number. */
const MOST_CODES = 2 ** 30

/** `fixed`: each side is one text, or missing, in every row. */
function chooseText(when: Uint8Array, yes: TextVector, no: TextVector, run: Run, fixed: boolean): Kernel {
  const [first, second] = [yes.dictionary, no.dictionary]
  const bound = 2 * Math.max(first.bound, second.bound)
  if (bound > MOST_CODES) return chooseTextByRow(when, yes, no, run)
  // Even codes are of the first side, odd ones of the second.
  const out = textVector({
    bound,
    textOf: code => (code & 1 ? second.textOf(code >>> 1) : first.textOf(code >>> 1)),
  })
  return {
    out,
    run(from, to) {
      run(from, to)
      const [a, b, into] = [yes.codes, no.codes, out.codes]
      if (fixed) {
        const first = a[0] === NO_TEXT ? NO_TEXT : 2 * a[0]
        const other = b[0] === NO_TEXT ? NO_TEXT : 2 * b[0] + 1
        for (let i = 0; i < to - from; i++) into[i] = when[i] === 1 ? first : other
        return
      }
      for (let i = 0; i < to - from; i++) {
        const code = when[i] === 1 ? a[i] : b[i]
        into[i] = code === NO_TEXT ? NO_TEXT : 2 * code + (when[i] === 1 ? 0 : 1)
      }
    },
  }
}

function chooseTextByRow(when: Uint8Array, yes: TextVector, no: TextVector, run: Run): Kernel {
  const dictionary = new ChunkTexts()
  const out = textVector(dictionary)
  return {
    out,
    run(from, to) {
      run(from, to)
      for (let i = 0; i < to - from; i++) {
        const { codes, dictionary: texts } = when[i] === 1 ? yes : no
        out.codes[i] = codes[i] === NO_TEXT ? NO_TEXT : i
        if (codes[i] !== NO_TEXT) dictionary.texts[i] = texts.textOf(codes[i])
      }
    },
  }
}
