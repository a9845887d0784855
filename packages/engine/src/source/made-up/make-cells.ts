import { DAY_MS } from '../../table/calendar.ts'
import type { Field, Value } from '../../table/column.ts'
import { chance, streamSeed } from './chance.ts'
import { recipeFieldType, type Recipe, type RecipeColumn } from './recipe.ts'

/** Makes the cells of one column, in any order. Columns of few texts also tell each text's number. */
export interface CellMaker {
  readonly field: Field
  /** The value of a row; null where the recipe leaves it out. */
  value(row: number): Value
  /** For texts from a list: the list, and a row's place in it (−1: missing). */
  readonly list?: { readonly texts: readonly string[]; place(row: number): number }
}

const dayOf = (iso: string): number => Date.parse(`${iso}T00:00:00Z`) / DAY_MS

export function cellMakers(recipe: Recipe): CellMaker[] {
  const makers: CellMaker[] = []
  recipe.columns.forEach((column, i) => makers.push(makerOf(column, streamSeed(recipe.seed, i), makers)))
  return makers
}

function makerOf(column: RecipeColumn, stream: number, before: readonly CellMaker[]): CellMaker {
  const absent = (row: number): boolean => !!column.missing && chance(stream, row, 99) < column.missing
  const field = fieldOf(column)
  const list = listOf(column, stream, before)
  if (list) {
    const place = (row: number): number => (absent(row) ? -1 : list.place(row))
    return {
      field,
      list: { texts: list.texts, place },
      value: row => {
        const at = place(row)
        return at < 0 ? null : list.texts[at]
      },
    }
  }
  const make = valueOf(column, stream)
  return { field, value: row => (absent(row) ? null : make(row)) }
}

function fieldOf(column: RecipeColumn): Field {
  const field: Field = { key: column.key, type: recipeFieldType(column) }
  if (column.kind === 'number') return { ...field, decimals: column.decimals }
  return column.kind === 'time' ? { ...field, zoned: true } : field
}

function valueOf(column: RecipeColumn, stream: number): (row: number) => Value {
  switch (column.kind) {
    case 'count':
      return row => row + column.start
    case 'number': {
      const { from, to, lean } = column
      const scale = 10 ** column.decimals
      const span = to - from
      return row => Math.round((from + span * chance(stream, row) ** lean) * scale) / scale
    }
    case 'date': {
      const from = dayOf(column.from)
      const days = dayOf(column.to) - from + 1
      return row => from + Math.floor(chance(stream, row) * days)
    }
    case 'time': {
      const from = dayOf(column.from) * DAY_MS
      const seconds = (dayOf(column.to) + 1) * (DAY_MS / 1000) - from / 1000
      return row => from + Math.floor(chance(stream, row) * seconds) * 1000
    }
    case 'yes-no':
      return row => chance(stream, row) < column.yes
    case 'remark': {
      const { words, least, most } = column
      return row => {
        const count = least + Math.floor(chance(stream, row) * (most - least + 1))
        let text = ''
        for (let i = 1; i <= count; i++) {
          text += (i > 1 ? ' ' : '') + words[Math.floor(chance(stream, row, i) * words.length)]
        }
        return text[0].toUpperCase() + text.slice(1)
      }
    }
    default:
      throw new TypeError(`Columns of kind "${column.kind}" come from a list.`)
  }
}

interface TextList {
  readonly texts: readonly string[]
  place(row: number): number
}

function listOf(column: RecipeColumn, stream: number, before: readonly CellMaker[]): TextList | null {
  switch (column.kind) {
    case 'pick':
      return leaning(column.of, column.lean, stream)
    case 'compose': {
      const texts = column.parts.reduce<string[]>(
        (starts, part) =>
          starts.length === 0 ? [...part] : starts.flatMap(start => part.map(end => start + column.between + end)),
        [],
      )
      return leaning(shuffled(texts, stream), column.lean, stream)
    }
    case 'within': {
      const outer = before.find(maker => maker.field.key === column.column)?.list
      if (!outer) throw new RangeError(`"${column.key}" needs a listed column "${column.column}" before it.`)
      const { count } = column
      const texts = outer.texts.flatMap(text =>
        Array.from({ length: count }, (_, i) => text + column.between + String(i + 1).padStart(2, '0')),
      )
      return { texts, place: row => Math.max(0, outer.place(row)) * count + Math.floor(chance(stream, row) * count) }
    }
    default:
      return null
  }
}

function leaning(texts: readonly string[], lean: number, stream: number): TextList {
  return { texts, place: row => Math.floor(chance(stream, row) ** lean * texts.length) }
}

/** So that the frequent texts of a leaning list do not all begin with the same part. */
function shuffled(texts: string[], stream: number): string[] {
  for (let i = texts.length - 1; i > 0; i--) {
    const j = Math.floor(chance(stream, i, 7) * (i + 1))
    ;[texts[i], texts[j]] = [texts[j], texts[i]]
  }
  return texts
}
