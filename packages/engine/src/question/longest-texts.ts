import type { ViewRequest } from '../flow/view-request.ts'
import { emptyBits, hasBit, setBit } from '../table/bits.ts'
import { isMissing, valueAt, type Column } from '../table/column.ts'
import { textAt, textCount, wholeBlock } from '../table/text-block.ts'
import type { Show } from '../table/shown-text.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Question } from './question.ts'

/** Numbers and dates are written at most so often; their least and greatest are always among them. */
const MOST_WRITTEN = 20_000
/** Of texts that are all different, so many of the longest by their bytes are looked at. */
const MOST_READ = 2_000

/**
 * The texts of a column that are likely to take the most room, over all of its rows, whatever passes: `count` at most,
 * the longest first. Each different text is looked at once, where a dictionary has them; else the longest by their bytes.
 */
export const longestTexts: Question<
  { readonly request: ViewRequest; readonly column: string; readonly count: number },
  readonly string[]
> = {
  *answer({ flow }, { column, count }) {
    const place = flow.columnIndexes.get(column)
    if (place === undefined) return []
    const texts = yield* textsOf(flow.table.columns[place], flow.table.rows, flow.shows[place])
    const widths = new Map(texts.map(text => [text, roomOf(text)]))
    return [...widths]
      .sort(([, a], [, b]) => b - a)
      .slice(0, count)
      .map(([text]) => text)
  },
}

function* textsOf(column: Column, rows: number, show: Show): Work<string[]> {
  switch (column.kind) {
    case 'coded': {
      const used = emptyBits(textCount(column.texts))
      for (let row = 0; row < rows; row++) {
        if (!isMissing(column, row)) setBit(used, column.codes[row])
        if (row % SLICE === SLICE - 1) yield
      }
      const texts: string[] = []
      for (let code = 0; code < textCount(column.texts); code++) {
        if (hasBit(used, code)) texts.push(show(textAt(column.texts, code)))
        if (code % SLICE === SLICE - 1) yield
      }
      return texts
    }
    case 'plain': {
      const { offsets } = wholeBlock(column.texts)
      const longest = yield* longestRuns(offsets, rows)
      return longest.filter(row => !isMissing(column, row)).map(row => show(textAt(column.texts, row)))
    }
    default:
      return yield* written(column, rows, show)
  }
}

/** The texts with the most bytes, found by how many texts have how many. */
function* longestRuns(offsets: Uint32Array, rows: number): Work<number[]> {
  const most = 4096
  const sizes = new Uint32Array(most + 1)
  for (let row = 0; row < rows; row++) {
    sizes[Math.min(most, offsets[row + 1] - offsets[row])]++
    if (row % SLICE === SLICE - 1) yield
  }
  let least = most
  for (let sum = sizes[most]; least > 0 && sum < MOST_READ;) sum += sizes[--least]
  const found: number[] = []
  for (let row = 0; row < rows && found.length < MOST_READ * 2; row++) {
    if (offsets[row + 1] - offsets[row] >= least) found.push(row)
    if (row % SLICE === SLICE - 1) yield
  }
  return found
}

/** Values far and wide in the column, the outermost among them. */
function* written(column: Column, rows: number, show: Show): Work<string[]> {
  const texts = new Set<string>()
  const step = Math.max(1, Math.floor(rows / MOST_WRITTEN))
  let [least, most] = [-1, -1]
  if (column.kind === 'number' || column.kind === 'wide')
    for (let row = 0; row < rows; row++) {
      if (row % SLICE === SLICE - 1) yield
      if (isMissing(column, row)) continue
      if (least < 0 || column.values[row] < column.values[least]) least = row
      if (most < 0 || column.values[row] > column.values[most]) most = row
    }
  for (const row of [least, most]) if (row >= 0) texts.add(show(valueAt(column, row)))
  for (let row = 0; row < rows; row += step) {
    if (!isMissing(column, row)) texts.add(show(valueAt(column, row)))
    if ((row / step) % 1024 === 1023) yield
  }
  return [...texts]
}

const NARROW = /[ijl.,:;'|!()[\] ftr]/
const WIDE = /[mwMW@%—]/
/** Beyond these characters most take the room of two. */
const FULL = 0x2e80

/** About how much room a text takes, in characters of the usual width; good enough to choose whom to measure. */
function roomOf(text: string): number {
  let room = 0
  for (const letter of text) {
    if ((letter.codePointAt(0) ?? 0) >= FULL) room += 1.8
    else if (NARROW.test(letter)) room += 0.5
    else room += WIDE.test(letter) ? 1.5 : 1
  }
  return room
}
