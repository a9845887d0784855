import { words } from '~/words'
import { cellMakers, recipeSchema, shower, type Recipe, type RecipeInput } from '@vast-meadow/engine'

export type MadeUpKind = 'count' | 'number' | 'date' | 'time' | 'yes-no' | 'pick' | 'remark'

/** A column of made-up rows as a form holds it: what its kind does not need is left aside. */
export interface MadeUpColumn {
  key: string
  kind: MadeUpKind
  from: number
  to: number
  decimals: number
  lean: number
  first: string
  last: string
  /** Of 100. */
  yes: number
  missing: number
  /** Parted by commas. */
  texts: string
}

export const newColumn = (key: string, kind: MadeUpKind): MadeUpColumn => ({
  key,
  kind,
  from: 0,
  to: 100,
  decimals: 1,
  lean: 1,
  first: '2024-01-01',
  last: '2025-12-31',
  yes: 50,
  missing: 0,
  texts: words.madeUpColumns.meadowHedgeDitchCopse,
})

/** The recipe's column for a form's. */
export function recipeColumn(column: MadeUpColumn): RecipeInput['columns'][number] {
  const { kind, from, to, decimals, first, last, yes } = column
  const texts = column.texts.split(',').flatMap(text => text.trim() || [])
  const shared = { key: column.key.trim(), ...(column.missing > 0 ? { missing: column.missing / 100 } : {}) }
  switch (kind) {
    case 'count':
      return { key: shared.key, kind }
    case 'number':
      return { ...shared, kind, from, to, decimals, lean: column.lean }
    case 'date':
    case 'time':
      return { ...shared, kind, from: first, to: last }
    case 'yes-no':
      return { ...shared, kind, yes: yes / 100 }
    case 'pick':
      return { ...shared, kind, of: texts, lean: column.lean }
    case 'remark':
      return { ...shared, kind, words: texts, least: 2, most: 6 }
  }
}

/** The recipe that a form says; throws, with what to do, where it says none. */
export function madeUpRecipe(name: string, rows: number, columns: readonly MadeUpColumn[]): Recipe {
  const recipe = {
    name: name.trim() || words.madeUpColumns.madeUpRows,
    rows,
    columns: columns.map(recipeColumn),
  }
  const keys = recipe.columns.map(({ key }) => key)
  const doubled = keys.find((key, i) => keys.indexOf(key) !== i)
  if (doubled) throw new Error(words.madeUpColumns.twoColumnsAreCalledGive(doubled))
  const read = recipeSchema.safeParse(recipe)
  if (read.success) return read.data
  const [{ path, message }] = read.error.issues
  const nth = path[0] === 'columns' ? Number(path[1]) : -1
  throw new Error(`${nth >= 0 ? `Column ${nth + 1}` : String(path[0])}: ${message}`)
}

/** The first rows of a recipe as they will read; `numeric`: which columns are numbers. */
export interface MadeUpSample {
  readonly titles: readonly string[]
  readonly numeric: readonly boolean[]
  readonly rows: readonly (readonly string[])[]
}

const SAMPLE_ROWS = 4

export function sampleOf(recipe: Recipe): MadeUpSample {
  const makers = cellMakers(recipe)
  const shows = makers.map(({ field }) => shower(field))
  return {
    titles: makers.map(({ field }) => field.key),
    numeric: makers.map(({ field }) => field.type === 'integer' || field.type === 'number'),
    rows: Array.from({ length: Math.min(SAMPLE_ROWS, recipe.rows) }, (_, row) =>
      makers.map((maker, i) => shows[i](maker.value(row))),
    ),
  }
}
