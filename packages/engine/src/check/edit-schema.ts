import * as z from 'zod/mini'
import '../zod.ts'

export const EDITORS = [
  'text',
  'long-text',
  'number',
  'choice',
  'date',
  'datetime',
  'time',
  'truth',
  'tags',
] as const
export type EditorKind = (typeof EDITORS)[number]

/** A bound of values: a number, or a date, time or moment as ISO 8601 writes it. */
const bound = z.union([z.number(), z.string()])

/** What cells of a column may be changed into. */
export const columnEditSchema = z.object({
  editor: z
    .optional(z.enum(EDITORS))
    .check(
      z.describe('What a cell is changed with; default: by the type, `choice` where there are choices.'),
    ),
  when: z
    .optional(z.string())
    .check(z.describe('An expression; cells can be changed in rows where it is true. Default: in all.')),
  required: z._default(z.boolean(), false).check(z.describe('Whether a cell must have a value.')),
  least: z.optional(bound).check(z.describe('The smallest number, or the first date, time or moment.')),
  most: z.optional(bound).check(z.describe('The largest number, or the last date, time or moment.')),
  whole: z._default(z.boolean(), false).check(z.describe('Whether numbers must be whole.')),
  shortest: z
    .optional(z.int().check(z.nonnegative()))
    .check(z.describe('The fewest characters of a text, or the fewest tags.')),
  longest: z
    .optional(z.int().check(z.positive()))
    .check(z.describe('The most characters of a text, or the most tags.')),
  pattern: z
    .optional(z.string())
    .check(
      z.describe('A pattern in RE2 syntax that the text matches somewhere; `^` and `$` hold it to the ends.'),
    ),
  choices: z
    .optional(
      z.union([
        z.array(z.union([z.string(), z.number()])),
        z.object({ of: z.string(), like: z._default(z.array(z.string()), []) }),
        z.object({ own: z.string() }),
      ]),
    )
    .check(
      z.describe(
        'What can be chosen: a list; `{ "of": "site" }`, the values that this field has in all rows, with `"like": ["region"]` in those that have the same there as this row; or `{ "own": "sites" }`, what the function of that name among `parts.choices` answers, which may fetch it.',
      ),
    ),
  onlyChoices: z
    ._default(z.boolean(), true)
    .check(
      z.describe(
        'Whether a value must be one of the choices; else, and where they are `own`, they are proposals.',
      ),
    ),
  unique: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether no two rows may have the same value, pending ones included.')),
  check: z
    .optional(z.string())
    .check(z.describe('An expression over the row that is true where the cell is right.')),
  ownCheck: z
    .optional(z.string())
    .check(z.describe('Name of a check among `parts.checks`, which may answer later.')),
  says: z
    .optional(z.string())
    .check(z.describe('What is said where `pattern` or `check` does not hold; default: that it does not.')),
  start: z
    .optional(z.union([z.string(), z.number(), z.boolean(), z.null()]))
    .check(z.describe('What a new row has in this column.')),
})

/** How rows are changed. */
export const editingSchema = z.object({
  save: z
    ._default(z.enum(['cell', 'row', 'many']), 'many')
    .check(
      z.describe(
        'When what was typed is saved: with each cell, when the reader leaves the row, or when they say so.',
      ),
    ),
  seen: z
    ._default(z.boolean(), true)
    .check(
      z.describe(
        'Whether conditions, order, groups and summaries see what is pending; else they go by what is saved.',
      ),
    ),
  newRows: z
    .optional(z.enum(['head', 'foot', 'group']))
    .check(
      z.describe(
        'Where new rows stand until they are saved: at the head or the foot of what is shown, or below the head of the group that the reader is in, else at the head. Without it, there are none.',
      ),
    ),
  copies: z._default(z.boolean(), true).check(z.describe('Whether rows can be copied as new ones.')),
  remove: z._default(z.boolean(), false).check(z.describe('Whether rows can be deleted.')),
  checks: z
    ._default(
      z.array(
        z.object({
          holds: z
            .string()
            .check(
              z.describe(
                'An expression over the row that is true where it is right. It says nothing of rows in which a field is missing that it speaks of, unless it asks so itself by `has`.',
              ),
            ),
          says: z.string().check(z.describe('What is said where it is not.')),
          columns: z._default(z.array(z.string()), []).check(z.describe('The cells at which it is said.')),
        }),
      ),
      [],
    )
    .check(z.describe('Checks of whole rows.')),
  leaving: z
    ._default(z.boolean(), true)
    .check(z.describe('Whether leaving the page with unsaved changes is asked about.')),
})

export type ColumnEdit = z.infer<typeof columnEditSchema>
export type Editing = z.infer<typeof editingSchema>
