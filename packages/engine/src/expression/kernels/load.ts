import { hasBit } from '../../table/bits.ts'
import { type Column, isDigitColumn, type DigitColumn } from '../../table/column.ts'
import { allTexts, textAt, type TextBlock } from '../../table/text-block.ts'
import type { Scalar } from '../functions/scalar-function.ts'
import type { ValueType } from '../problem.ts'
import {
  GrowingDictionary,
  NO_TEXT,
  NO_TRUTH,
  numberVector,
  textVector,
  truthVector,
  type Dictionary,
  type Kernel,
} from './vector.ts'

/** Reads a column's rows. */
export function loadColumn(column: Column): Kernel {
  switch (column.kind) {
    case 'number':
    case 'wide':
      return loadNumbers(column)
    case 'boolean':
      return loadTruths(column)
    case 'coded':
    case 'plain':
      return isDigitColumn(column) ? loadDigits(column) : loadTexts(column)
  }
}

function loadNumbers(column: Extract<Column, { kind: 'number' | 'wide' }>): Kernel {
  const out = numberVector()
  const own = out.values
  const { values, missing } = column
  return {
    out,
    run(from, to) {
      if (values instanceof Float64Array && !missing) {
        out.values = values.subarray(from, to)
        return
      }
      if (values instanceof BigInt64Array) for (let i = from; i < to; i++) own[i - from] = Number(values[i])
      else own.set(values.subarray(from, to))
      if (missing) for (let i = from; i < to; i++) if (hasBit(missing, i)) own[i - from] = NaN
    },
  }
}

/** Numbers that are kept as digits are reckoned with as the nearest doubles. */
function loadDigits({ missing, ...column }: DigitColumn): Kernel {
  const out = numberVector()
  const at = column.kind === 'coded' ? (row: number) => column.codes[row] : (row: number) => row
  return {
    out,
    run(from, to) {
      for (let i = from; i < to; i++)
        out.values[i - from] = missing && hasBit(missing, i) ? NaN : Number(textAt(column.texts, at(i)))
    },
  }
}

function loadTruths({ values, missing }: Extract<Column, { kind: 'boolean' }>): Kernel {
  const out = truthVector()
  return {
    out,
    run(from, to) {
      const truths = out.values
      for (let i = from; i < to; i++) truths[i - from] = (values[i >>> 5] >>> (i & 31)) & 1
      if (missing) for (let i = from; i < to; i++) if (hasBit(missing, i)) truths[i - from] = NO_TRUTH
    },
  }
}

function loadTexts(column: Extract<Column, { kind: 'coded' | 'plain' }>): Kernel {
  const { missing, texts } = column
  const out = textVector(column.kind === 'coded' ? dictionaryOf(texts) : rowTexts(texts))
  return {
    out,
    run(from, to) {
      const { codes } = out
      if (column.kind === 'coded') codes.set(column.codes.subarray(from, to))
      else for (let i = from; i < to; i++) codes[i - from] = i
      if (missing) for (let i = from; i < to; i++) if (hasBit(missing, i)) codes[i - from] = NO_TEXT
    },
  }
}

function dictionaryOf(block: TextBlock): Dictionary {
  const texts = allTexts(block)
  return { bound: texts.length, textOf: code => texts[code] }
}

const rowTexts = (block: TextBlock): Dictionary => ({ bound: Infinity, textOf: row => textAt(block, row) })

/** Whether rows have a value in a column. */
export function loadPresence({ missing }: Column): Kernel {
  const out = truthVector()
  out.values.fill(1)
  return {
    out,
    constant: missing === null,
    run(from, to) {
      if (!missing) return
      for (let i = from; i < to; i++) out.values[i - from] = hasBit(missing, i) ? 0 : 1
    },
  }
}

/** Places of rows in their source, from 1. `rows`: where each row stands there; null: as in the table. */
export function loadRowNumbers(rows: Uint32Array | null): Kernel {
  const out = numberVector()
  return {
    out,
    run(from, to) {
      for (let i = from; i < to; i++) out.values[i - from] = (rows ? rows[i] : i) + 1
    },
  }
}

/** The same value in every row. */
export function loadConstant(value: Scalar, type: ValueType): Kernel {
  const run = (): void => {}
  if (type === 'text' || type === 'tags') {
    const dictionary = new GrowingDictionary(1)
    const out = textVector(dictionary)
    out.codes.fill(value === null ? NO_TEXT : dictionary.codeOf(String(value)))
    return { out, constant: true, run }
  }
  if (type === 'boolean') {
    const out = truthVector()
    out.values.fill(value === null ? NO_TRUTH : Number(value))
    return { out, constant: true, run }
  }
  const out = numberVector()
  out.values.fill(value === null ? NaN : Number(value))
  return { out, constant: true, run }
}
