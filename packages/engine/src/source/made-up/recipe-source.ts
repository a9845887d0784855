import { computedSource } from '../computed-source.ts'
import type { RowSource } from '../row-source.ts'
import { cellMakers } from './make-cells.ts'
import { recipeSchema, type RecipeInput } from './recipe.ts'

/** A recipe's rows without a table: each cell is made when it is looked at, so the length costs nothing. */
export function recipeSource(input: RecipeInput, latencyMs = 0): RowSource {
  const recipe = recipeSchema.parse(input)
  const makers = cellMakers(recipe)
  return computedSource({
    rows: recipe.rows,
    fields: makers.map(maker => maker.field),
    cell: (row, field) => makers[field].value(row),
    latencyMs,
  })
}
