import type { RecipeInput } from '@vast-meadow/engine'

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
  texts: 'meadow, hedge, ditch, copse',
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
