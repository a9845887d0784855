import { privateMemory, type Allocate } from '../../table/allocate.ts'
import type { Column, Table } from '../../table/column.ts'
import { runSliced } from '../../work/work.ts'
import { shareOut } from '../../work/share-out.ts'
import { fieldsOf, makeColumns } from './make-table.ts'
import type { Recipe, RecipeColumn } from './recipe.ts'

/** What a helping thread is asked, and what it answers: columns in memory that all threads see. */
export interface MakeQuestions {
  'make-columns': {
    asked: { readonly recipe: Recipe; readonly places: readonly number[] }
    answer: readonly Column[]
  }
}

export interface MakeHelper {
  ask(
    question: { readonly call: 'make-columns' } & MakeQuestions['make-columns']['asked'],
  ): Promise<readonly Column[]>
}

export interface MakeCall {
  readonly allocate?: Allocate
  readonly cancelled?: () => boolean
  readonly helpers?: readonly MakeHelper[]
  /** Hears how many of the rows are made, going by the columns of this thread. */
  readonly onRows?: (rows: number) => void
}

/** Makes the table of a recipe, its columns shared out among this thread and others. */
export async function makeByThreads(
  recipe: Recipe,
  { allocate = privateMemory, cancelled, helpers = [], onRows }: MakeCall,
): Promise<Table> {
  const owners = shareOut(recipe.columns.map(costOf), 0, helpers.length)
  const placesOf = (thread: number): number[] => owners.flatMap((owner, i) => (owner === thread ? [i] : []))
  const columns: Column[] = []
  const take = (places: readonly number[], made: readonly Column[]): void =>
    places.forEach((place, i) => (columns[place] = made[i]))
  const make = async (places: readonly number[]): Promise<void> => {
    const work = makeColumns(recipe, places, allocate, cells => onRows?.(cells / places.length))
    take(places, await runSliced(work, { cancelled }))
  }
  const others = helpers.map(async (helper, i) => {
    const places = placesOf(i + 1)
    const made = await helper.ask({ call: 'make-columns', recipe, places }).catch(() => null)
    // What a helper could not make is made here.
    if (made) take(places, made)
    else await make(places)
  })
  await Promise.all([make(placesOf(0)), ...others])
  return { rows: recipe.rows, fields: fieldsOf(recipe), columns }
}

/** What a column's cells cost beside each other: words of a remark are drawn one by one. */
function costOf(column: RecipeColumn): number {
  switch (column.kind) {
    case 'remark':
      return 2 + column.least + column.most
    case 'count':
      return 1
    default:
      return 3
  }
}
