import type { ViewReader } from '../flow/view.ts'
import { fold, searchWords } from '../search/fold.ts'
import { hasBit } from '../table/bits.ts'
import { valueAt, type Column, isDigitColumn } from '../table/column.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow, type PackedRows, type RowId } from '../table/row-id.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Question, ViewId } from './question.ts'

/** What lies where over the whole length of a view. All lists have one entry a step, from the first line to the last. */
export interface LengthMap {
  readonly lines: number
  /** Steps that the length is cut into: as many as asked for, or as many as there are lines. */
  readonly steps: number
  /** Heads of groups: 0 none, else one more than the outermost level that has one there. */
  readonly groups: Uint8Array
  /** How many of the rows of each step are selected, changed and not saved yet, or marked by a style: 0 nothing, 255 all of it. */
  readonly selected: Uint8Array
  readonly changed: Uint8Array
  /** By the columns asked for. */
  readonly marked: readonly Uint8Array[]
  /** How many of the looked-at cells hold a searched word, beside the step that has most; null: nothing is searched. */
  readonly matches: Uint8Array | null
  /** The course of a number or a date: where its value lies between the least (0) and the greatest (1) that are met; NaN: none. */
  readonly course: Float32Array | null
}

export interface LengthMapArgs {
  readonly view: ViewId
  readonly steps: number
  readonly selected: PackedRows
  /** Rows that are changed and not saved. */
  readonly changed: readonly RowId[]
  /** Columns that hold true where a style marks a row. */
  readonly rules: readonly string[]
  /** The column whose course is told; null: none. */
  readonly course: string | null
  readonly search: string
  /** The columns in which is searched. */
  readonly searchColumns: readonly string[]
}

/** Rows of a step whose cells are read for words. */
const SAMPLED = 4

/**
 * Where selected, changed and marked rows, group borders and found words lie over all lines, at a resolution of the
 * asker's. One pass over the passing rows for each that there is anything of; the course and the words are read at each
 * step alone, so that they cost what the map is long.
 */
export const lengthMap: Question<LengthMapArgs, LengthMap> = {
  *answer(
    asked,
    { view, steps: wanted, selected, changed: changedRows, rules, course, search, searchColumns },
  ) {
    const reader = asked.view(view)
    const lines = reader.lineCount
    const steps = Math.min(Math.max(1, Math.floor(wanted)), lines)
    const { table } = reader
    const bits = bitsOfPacked(table, selected)
    const ticked = (row: number): boolean => hasBit(bits, row)
    const changed = new Set(changedRows)
    const counter = new StepCounter(reader, steps)
    const has = function* (holds: (row: number) => boolean, any: boolean): Work<Uint8Array> {
      return any ? yield* counter.count(holds) : new Uint8Array(steps)
    }
    const marked: Uint8Array[] = []
    for (const rule of rules) {
      const column = reader.columnOf(rule)
      marked.push(yield* has(row => column !== null && valueAt(column, row) === true, column !== null))
    }
    return {
      lines,
      steps,
      groups: yield* headSteps(reader, steps),
      selected: yield* has(ticked, selected.chunks.length > 0),
      changed: yield* has(row => changed.has(idOfRow(table, row)), changed.size > 0),
      marked,
      matches: yield* matchSteps(reader, steps, search, searchColumns),
      course: course === null ? null : yield* courseSteps(reader, steps, course),
    }
  },
}

/** Counts rows for which something holds, step by step. */
class StepCounter {
  private readonly reader: ViewReader
  private readonly steps: number
  /** Rows in each step, once they are counted. */
  private rows: Uint32Array | null = null

  constructor(reader: ViewReader, steps: number) {
    this.reader = reader
    this.steps = steps
  }

  /** Of the rows that stand in each step, those of closed groups at their head: how many hold, 255 for all. */
  *count(holds: (row: number) => boolean): Work<Uint8Array> {
    const { reader, steps } = this
    const all = (this.rows ??= this.rowsOfSteps())
    const counts = new Uint32Array(steps)
    const { lineCount: lines, rowCount } = reader
    const { rows } = reader.view
    let looked = 0
    for (const { from, to, line, step } of reader.lineRuns()) {
      for (let start = from; start < to; start += SLICE) {
        for (let at = start; at < Math.min(to, start + SLICE); at++)
          if (holds(rows ? rows[at] : at)) counts[Math.floor(((line + (at - from) * step) * steps) / lines)]++
        looked += Math.min(to - start, SLICE)
        if (looked < SLICE && to < rowCount) continue
        looked = 0
        yield
      }
    }
    // A single row of thousands is still seen.
    return Uint8Array.from({ length: steps }, (_, i) => Math.ceil((255 * counts[i]) / Math.max(1, all[i])))
  }

  /** How many rows stand in each step: reckoned run by run, for whatever many rows these are. */
  private rowsOfSteps(): Uint32Array {
    const { reader, steps } = this
    const { lineCount: lines } = reader
    const counts = new Uint32Array(steps)
    const stepOf = (line: number): number => Math.floor((line * steps) / lines)
    for (const { from, to, line, step } of reader.lineRuns()) {
      if (to <= from) continue
      if (step === 0) counts[stepOf(line)] += to - from
      else
        for (let at = stepOf(line); at <= stepOf(line + to - from - 1); at++) {
          const first = Math.max(line, firstLine(at, steps, lines))
          counts[at] += Math.min(line + to - from, firstLine(at + 1, steps, lines)) - first
        }
    }
    return counts
  }
}

/** Lines of a step, from the first that falls into it. */
const firstLine = (step: number, steps: number, lines: number): number => Math.ceil((step * lines) / steps)

function* headSteps(reader: ViewReader, steps: number): Work<Uint8Array> {
  const groups = new Uint8Array(steps)
  const lines = reader.lineCount
  let looked = 0
  for (const { level, line } of reader.headLines()) {
    const step = Math.floor((line * steps) / lines)
    if (groups[step] === 0 || groups[step] > level + 1) groups[step] = level + 1
    if (++looked % SLICE === 0) yield
  }
  return groups
}

function* matchSteps(
  reader: ViewReader,
  steps: number,
  search: string,
  columns: readonly string[],
): Work<Uint8Array | null> {
  const words = searchWords(search)
  if (words.length === 0) return null
  const lines = reader.lineCount
  const counts = new Uint32Array(steps)
  for (let step = 0; step < steps; step++) {
    const [from, to] = [firstLine(step, steps, lines), firstLine(step + 1, steps, lines)]
    for (let nth = 0; nth < Math.min(SAMPLED, to - from); nth++) {
      const line = reader.line(from + Math.floor(((to - from) * nth) / SAMPLED))
      if (line.kind !== 'row') continue
      for (const column of columns) {
        const text = fold(reader.text(line.row, column))
        if (words.some(word => text.includes(word))) counts[step]++
      }
    }
    if (step % 64 === 63) yield
  }
  const most = counts.reduce((a, b) => Math.max(a, b), 0)
  return Uint8Array.from(counts, count => (most === 0 ? 0 : Math.ceil((255 * count) / most)))
}

function* courseSteps(reader: ViewReader, steps: number, key: string): Work<Float32Array | null> {
  const column = reader.columnOf(key)
  if (!column || (column.kind !== 'number' && column.kind !== 'wide' && !isDigitColumn(column))) return null
  const lines = reader.lineCount
  const values = new Float64Array(steps)
  for (let step = 0; step < steps; step++) {
    values[step] = valueOnLine(reader, column, firstLine(step, steps, lines))
    if (step % 1024 === 1023) yield
  }
  let [least, most] = [Infinity, -Infinity]
  for (const value of values) {
    if (Number.isNaN(value)) continue
    least = Math.min(least, value)
    most = Math.max(most, value)
  }
  return Float32Array.from(values, value => (most > least ? (value - least) / (most - least) : value - least))
}

/** The number on a row's line; NaN on others, and where it is missing. */
function valueOnLine(reader: ViewReader, column: Column, index: number): number {
  const line = reader.line(index)
  if (line.kind !== 'row') return NaN
  const value = reader.valueOf(column, line.row)
  return value === null ? NaN : Number(value)
}
