import { privateMemory, settle, type Allocate } from '../../table/allocate.ts'
import { emptyBits, setBit, type Bits } from '../../table/bits.ts'
import type { Column, Field, Table } from '../../table/column.ts'
import { GrowBytes } from '../../table/grow.ts'
import { textBlockOf, type TextBlock } from '../../table/text-block.ts'
import type { Work } from '../../work/work.ts'
import { chance } from './chance.ts'
import {
  cellMakers,
  numberAt,
  placeAt,
  placeWithin,
  stepAt,
  wordAt,
  wordCount,
  type CellMaker,
  type CellRule,
} from './make-cells.ts'
import type { Recipe } from './recipe.ts'

/** Rows made between two looks at whether the work still goes on. */
const BATCH = 1 << 14

type Rule<By extends CellRule['by']> = Extract<CellRule, { by: By }>
/** Makes the rows from `from` up to `to`. */
type FillSlice = (from: number, to: number) => void

/** Makes the whole table of a recipe, column by column. */
export function* makeTable(recipe: Recipe, allocate: Allocate = privateMemory): Work<Table> {
  const columns = yield* makeColumns(
    recipe,
    recipe.columns.map((_, place) => place),
    allocate,
  )
  return { rows: recipe.rows, fields: fieldsOf(recipe), columns }
}

/** The fields of a recipe's columns. */
export const fieldsOf = (recipe: Recipe): Field[] => cellMakers(recipe).map(({ field }) => field)

/** Makes some columns of a recipe: each is the same whoever makes the others. `onCells` hears how many cells are made. */
export function* makeColumns(
  recipe: Recipe,
  places: readonly number[],
  allocate: Allocate,
  onCells: (cells: number) => void = () => {},
): Work<Column[]> {
  const makers = cellMakers(recipe)
  const columns: Column[] = []
  for (const [nth, place] of places.entries()) {
    const tell = (row: number): void => onCells(nth * recipe.rows + row)
    columns.push(yield* makeColumn(makers[place], recipe.rows, allocate, tell))
  }
  return columns
}

function* makeColumn(
  maker: CellMaker,
  rows: number,
  allocate: Allocate,
  onRow: (row: number) => void,
): Work<Column> {
  const missing = maker.someMissing ? yield* missingRows(maker, rows, allocate) : null
  const { rule } = maker
  switch (rule.by) {
    case 'yes-no': {
      const values: Bits = new Uint32Array(allocate(emptyBits(rows).byteLength))
      yield* fill(rows, onRow, yesNoFiller(rule, values))
      return { kind: 'boolean', values, missing }
    }
    case 'list':
    case 'within': {
      const codes = new Uint32Array(allocate(rows * 4))
      yield* fill(rows, onRow, rule.by === 'list' ? listFiller(rule, codes) : withinFiller(rule, codes))
      return { kind: 'coded', codes, texts: settleTexts(textBlockOf(rule.texts), allocate), missing }
    }
    case 'remark': {
      const texts = new RemarkTexts(rule, rows)
      yield* fill(rows, onRow, (from, to) => texts.make(from, to, missing))
      return { kind: 'plain', texts: settleTexts(texts.finish(), allocate), missing }
    }
    default: {
      const whole = maker.field.type === 'integer' || maker.field.type === 'date'
      const bytes = allocate(rows * (whole ? 4 : 8))
      const values = whole ? new Int32Array(bytes) : new Float64Array(bytes)
      yield* fill(rows, onRow, numberFiller(rule, values))
      if (missing) for (let row = 0; row < rows; row++) if (maker.isMissing(row)) values[row] = 0
      return { kind: 'number', values, missing }
    }
  }
}

function* fill(rows: number, onRow: (row: number) => void, slice: FillSlice): Work<void> {
  for (let from = 0; from < rows; from += BATCH) {
    const to = Math.min(rows, from + BATCH)
    slice(from, to)
    onRow(to)
    yield
  }
}

function* missingRows(maker: CellMaker, rows: number, allocate: Allocate): Work<Bits | null> {
  const missing = emptyBits(rows)
  let any = false
  for (let row = 0; row < rows; row++) {
    if (maker.isMissing(row)) {
      setBit(missing, row)
      any = true
    }
    if (row % BATCH === BATCH - 1) yield
  }
  return any ? settle(missing, allocate) : null
}

function numberFiller(rule: Rule<'count' | 'number' | 'step'>, values: Float64Array | Int32Array): FillSlice {
  switch (rule.by) {
    case 'count':
      return (from, to) => {
        for (let row = from; row < to; row++) values[row] = row + rule.start
      }
    case 'number':
      return (from, to) => {
        for (let row = from; row < to; row++) values[row] = numberAt(rule, row)
      }
    case 'step':
      return (from, to) => {
        for (let row = from; row < to; row++) values[row] = stepAt(rule, row)
      }
  }
}

function yesNoFiller({ stream, yes }: Rule<'yes-no'>, values: Bits): FillSlice {
  return (from, to) => {
    for (let row = from; row < to; row++) if (chance(stream, row) < yes) setBit(values, row)
  }
}

function listFiller(rule: Rule<'list'>, codes: Uint32Array): FillSlice {
  return (from, to) => {
    for (let row = from; row < to; row++) codes[row] = placeAt(rule, row)
  }
}

function withinFiller(rule: Rule<'within'>, codes: Uint32Array): FillSlice {
  return (from, to) => {
    for (let row = from; row < to; row++) codes[row] = placeWithin(rule, row)
  }
}

function settleTexts({ bytes, offsets }: TextBlock, allocate: Allocate): TextBlock {
  return { bytes: settle(bytes, allocate), offsets: settle(offsets, allocate) }
}

const SPACE = new Uint8Array([32])

/** Remarks put together from the bytes of their words; text by text this costs five times as much. */
class RemarkTexts {
  private readonly rule: Rule<'remark'>
  private readonly words: readonly Uint8Array[]
  private readonly firstWords: readonly Uint8Array[]
  private readonly bytes = new GrowBytes()
  private readonly offsets: Uint32Array

  constructor(rule: Rule<'remark'>, rows: number) {
    const encoder = new TextEncoder()
    this.rule = rule
    this.words = rule.words.map(word => encoder.encode(word))
    this.firstWords = rule.words.map(word => encoder.encode(word[0].toUpperCase() + word.slice(1)))
    this.offsets = new Uint32Array(rows + 1)
  }

  make(from: number, to: number, missing: Bits | null): void {
    const { rule, words, firstWords, bytes, offsets } = this
    for (let row = from; row < to; row++) {
      if (!missing || ((missing[row >>> 5] >>> (row & 31)) & 1) === 0) {
        const count = wordCount(rule, row)
        const first = firstWords[wordAt(rule, row, 1)]
        bytes.push(first, 0, first.length)
        for (let i = 2; i <= count; i++) {
          const word = words[wordAt(rule, row, i)]
          bytes.push(SPACE, 0, 1)
          bytes.push(word, 0, word.length)
        }
      }
      offsets[row + 1] = bytes.length
    }
  }

  finish(): TextBlock {
    return { bytes: this.bytes.view(), offsets: this.offsets }
  }
}
