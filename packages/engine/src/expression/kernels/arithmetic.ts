import type { Arithmetic } from '../typed.ts'
import { numberVector, type Kernel, type NumberVector } from './vector.ts'

type Calculate = (a: Float64Array, b: Float64Array, into: Float64Array, count: number) => void

/** A loop each; NaN, which stands for missing, goes through all of them. Nothing is divided by zero. */
const CALCULATE: Readonly<Record<Arithmetic, Calculate>> = {
  '+': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] + b[i]
  },
  '-': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] - b[i]
  },
  '*': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] * b[i]
  },
  '/': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = b[i] === 0 ? NaN : a[i] / b[i]
  },
  '%': (a, b, into, count) => {
    for (let i = 0; i < count; i++) into[i] = a[i] % b[i]
  },
}

export function arithmetic(
  operator: Arithmetic,
  left: Kernel<NumberVector>,
  right: Kernel<NumberVector>,
): Kernel {
  const out = numberVector()
  const loop = CALCULATE[operator]
  return {
    out,
    run(from, to) {
      left.run(from, to)
      right.run(from, to)
      loop(left.out.values, right.out.values, out.values, to - from)
    },
  }
}
