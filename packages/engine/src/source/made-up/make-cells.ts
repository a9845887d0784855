import { DAY_MS } from '../../table/calendar.ts'
import type { Field, Value } from '../../table/column.ts'
import { chance, leaning, streamSeed } from './chance.ts'
import { recipeFieldType, type Recipe, type RecipeColumn } from './recipe.ts'

/** Makes the cells of one column: any single one, or many rows in a tight loop. */
export interface CellMaker {
  readonly field: Field
  readonly rule: CellRule
  /** The value of a row; null where the recipe leaves it out. */
  value(row: number): Value
  /** Whether the recipe leaves the row's value out. */
  isMissing(row: number): boolean
  readonly someMissing: boolean
}

/** How a column's cells come about, with everything worked out that does not depend on the row. */
export type CellRule =
  | { readonly by: 'count'; readonly start: number }
  /** `from + span · chance`, rounded to `1 / scale`. */
  | {
      readonly by: 'number'
      readonly stream: number
      readonly from: number
      readonly span: number
      readonly scale: number
      readonly lean: number
    }
  /** `from + ⌊chance · steps⌋ · step`. */
  | {
      readonly by: 'step'
      readonly stream: number
      readonly from: number
      readonly steps: number
      readonly step: number
    }
  | { readonly by: 'yes-no'; readonly stream: number; readonly yes: number }
  | { readonly by: 'list'; readonly stream: number; readonly texts: readonly string[]; readonly lean: number }
  /** A place in `texts`: the outer list's place times `count`, and one of `count`. */
  | {
      readonly by: 'within'
      readonly stream: number
      readonly texts: readonly string[]
      readonly outer: Extract<CellRule, { by: 'list' }>
      readonly count: number
    }
  | {
      readonly by: 'remark'
      readonly stream: number
      readonly words: readonly string[]
      readonly least: number
      readonly most: number
    }

const MISSING_DRAW = 99
const dayOf = (iso: string): number => Date.parse(`${iso}T00:00:00Z`) / DAY_MS

export function cellMakers(recipe: Recipe): CellMaker[] {
  const makers: CellMaker[] = []
  recipe.columns.forEach((column, i) => makers.push(makerOf(column, streamSeed(recipe.seed, i), makers)))
  return makers
}

function makerOf(column: RecipeColumn, stream: number, before: readonly CellMaker[]): CellMaker {
  const rule = ruleOf(column, stream, before)
  const share = column.missing ?? 0
  const isMissing = (row: number): boolean => share > 0 && chance(stream, row, MISSING_DRAW) < share
  return {
    field: fieldOf(column),
    rule,
    isMissing,
    someMissing: share > 0,
    value: row => (isMissing(row) ? null : cellOf(rule, row)),
  }
}

function fieldOf(column: RecipeColumn): Field {
  const field: Field = { key: column.key, type: recipeFieldType(column) }
  if (column.kind === 'number') return { ...field, decimals: column.decimals }
  return column.kind === 'time' ? { ...field, zoned: true } : field
}

function ruleOf(column: RecipeColumn, stream: number, before: readonly CellMaker[]): CellRule {
  switch (column.kind) {
    case 'count':
      return { by: 'count', start: column.start }
    case 'number':
      return {
        by: 'number',
        stream,
        from: column.from,
        span: column.to - column.from,
        scale: 10 ** column.decimals,
        lean: column.lean,
      }
    case 'date': {
      const from = dayOf(column.from)
      return { by: 'step', stream, from, steps: dayOf(column.to) - from + 1, step: 1 }
    }
    case 'time': {
      const from = dayOf(column.from)
      const steps = ((dayOf(column.to) - from + 1) * DAY_MS) / 1000
      return { by: 'step', stream, from: from * DAY_MS, steps, step: 1000 }
    }
    case 'yes-no':
      return { by: 'yes-no', stream, yes: column.yes }
    case 'pick':
      return { by: 'list', stream, texts: column.of, lean: column.lean }
    case 'compose':
      return {
        by: 'list',
        stream,
        texts: shuffled(combined(column.parts, column.between), stream),
        lean: column.lean,
      }
    case 'within':
      return withinRule(column, stream, before)
    case 'remark':
      return { by: 'remark', stream, words: column.words, least: column.least, most: column.most }
  }
}

function withinRule(
  { key, column, count, between }: Extract<RecipeColumn, { kind: 'within' }>,
  stream: number,
  before: readonly CellMaker[],
): CellRule {
  const outer = before.find(maker => maker.field.key === column)?.rule
  if (outer?.by !== 'list') throw new RangeError(`"${key}" needs a listed column "${column}" before it.`)
  const texts = outer.texts.flatMap(text =>
    Array.from({ length: count }, (_, i) => text + between + String(i + 1).padStart(2, '0')),
  )
  return { by: 'within', stream, texts, outer, count }
}

/** The value of a row that has one. */
function cellOf(rule: CellRule, row: number): Value {
  switch (rule.by) {
    case 'count':
      return row + rule.start
    case 'number':
      return numberAt(rule, row)
    case 'step':
      return stepAt(rule, row)
    case 'yes-no':
      return chance(rule.stream, row) < rule.yes
    case 'list':
      return rule.texts[placeAt(rule, row)]
    case 'within':
      return rule.texts[placeWithin(rule, row)]
    case 'remark':
      return remarkAt(rule, row)
  }
}

type Rule<By extends CellRule['by']> = Extract<CellRule, { by: By }>

export const numberAt = ({ stream, from, span, scale, lean }: Rule<'number'>, row: number): number =>
  Math.round((from + span * leaning(chance(stream, row), lean)) * scale) / scale

export const stepAt = ({ stream, from, steps, step }: Rule<'step'>, row: number): number =>
  from + Math.floor(chance(stream, row) * steps) * step

export const placeAt = ({ stream, texts, lean }: Rule<'list'>, row: number): number =>
  Math.floor(leaning(chance(stream, row), lean) * texts.length)

export const placeWithin = ({ stream, outer, count }: Rule<'within'>, row: number): number =>
  placeAt(outer, row) * count + Math.floor(chance(stream, row) * count)

export const wordCount = ({ stream, least, most }: Rule<'remark'>, row: number): number =>
  least + Math.floor(chance(stream, row) * (most - least + 1))

/** The place of word `i`, counted from 1, in the rule's list. */
export const wordAt = ({ stream, words }: Rule<'remark'>, row: number, i: number): number =>
  Math.floor(chance(stream, row, i) * words.length)

function remarkAt(rule: Rule<'remark'>, row: number): string {
  const count = wordCount(rule, row)
  const text = Array.from({ length: count }, (_, i) => rule.words[wordAt(rule, row, i + 1)]).join(' ')
  return text[0].toUpperCase() + text.slice(1)
}

function combined(parts: readonly (readonly string[])[], between: string): string[] {
  return parts.reduce<string[]>(
    (starts, part) =>
      starts.length === 0 ? [...part] : starts.flatMap(start => part.map(end => start + between + end)),
    [],
  )
}

/** So that the frequent texts of a leaning list do not all begin with the same part. */
function shuffled(texts: string[], stream: number): string[] {
  for (let i = texts.length - 1; i > 0; i--) {
    const j = Math.floor(chance(stream, i, 7) * (i + 1))
    ;[texts[i], texts[j]] = [texts[j], texts[i]]
  }
  return texts
}
