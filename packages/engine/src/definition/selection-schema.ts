import * as z from 'zod/mini'
import '../zod.ts'

/** How rows and cells are picked. */
export const selectionSchema = z.object({
  rows: z
    ._default(z.enum(['none', 'one', 'several']), 'several')
    .check(z.describe('How many rows may be ticked at a time.')),
  by: z
    ._default(z.enum(['box', 'row']), 'box')
    .check(
      z.describe(
        'By a row’s box alone, or also by a click anywhere on the row: it then takes the place of what was ticked, unless Ctrl or Shift adds to it.',
      ),
    ),
  within: z
    ._default(z.enum(['all', 'page']), 'all')
    .check(
      z.describe(
        'Where rows are shown in pages: whether ticks hold over all pages, or for the page that is shown alone.',
      ),
    ),
  notPassing: z
    ._default(z.enum(['keep', 'drop']), 'keep')
    .check(z.describe('Whether ticked rows stay so when they do not pass any more.')),
  cells: z
    ._default(z.boolean(), true)
    .check(z.describe('Whether ranges of cells may be picked, to be summed up and copied.')),
})

export type SelectionRules = z.infer<typeof selectionSchema>
